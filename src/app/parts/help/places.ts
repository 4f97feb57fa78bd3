import type { Sheet } from '../../hands/deskSlice';

/** What a view or a sheet is, in one sentence, and the page of the handbook that it belongs to. */
export interface Place {
  title: string;
  says: string;
  /** The heading in the handbook. */
  page: string;
}

export const VIEWS = {
  stage: { title: 'Stage', says: 'Plays the show: what sounds, what comes next, and nothing to break.', page: 'Stage' },
  layers: { title: 'Layers', says: 'Who sounds where, on keys and velocities and with what hands do.', page: 'Layers' },
  sounds: { title: 'Sounds', says: 'What layers play: recordings on keys, a synth, grains.', page: 'Sounds' },
  control: { title: 'Control', says: 'What moves what: macros, pads, movers, controllers.', page: 'Control' },
  mix: { title: 'Mix', says: 'How the sound flows from the layers to the output, through effects.', page: 'Mix' },
  check: { title: 'Check', says: 'What would be heard as a fault, told before the audience hears it.', page: 'Check' },
} as const satisfies Record<string, Place>;
export type ViewName = keyof typeof VIEWS;

export const SHEETS: Readonly<Record<Sheet, Place>> = {
  help: { title: 'Shortcuts', says: 'Every key that does something, view by view.', page: 'Every view' },
  settings: {
    title: 'Settings',
    says: 'Theme, middle C, the sound device, the room in this browser.',
    page: 'Every sheet',
  },
  rigs: {
    title: 'Rigs in this browser',
    says: 'Every rig that is kept here, its earlier states, what comes along.',
    page: 'What is kept',
  },
  monitor: { title: 'Monitor', says: 'Every MIDI message that comes and goes, in words.', page: 'Every sheet' },
  controllers: {
    title: 'Controllers',
    says: 'The keys that are there, velocity, takeover, what is learned.',
    page: 'Control',
  },
  receives: {
    title: 'Who hears what',
    says: 'Ports, channels, pedals, bend and wheel of all layers in one table.',
    page: 'Every sheet',
  },
  search: { title: 'Go to', says: 'Anything by parts of its name: Ctrl K.', page: 'Begin' },
  edits: { title: 'Edits', says: 'What was done in this session, to go back to.', page: 'What is kept' },
  paste: { title: 'Paste', says: 'What was copied, before it goes in.', page: 'Layers' },
  templates: { title: 'Templates', says: 'Patches to begin with, and what you kept.', page: 'Every sheet' },
  store: {
    title: 'Harbour Store',
    says: 'Thirty patches and their sounds that come along, heard before they are taken.',
    page: 'Begin',
  },
  start: { title: 'Start your own', says: 'A patch of your own, named at once, empty or not.', page: 'Begin' },
  tuning: { title: 'Tuning', says: 'Concert pitch, temperaments, scales from files.', page: 'Every sheet' },
  outside: {
    title: 'Instruments outside',
    says: 'Racks and other computers: outputs, what patches tell them, values that move.',
    page: 'Instruments outside',
  },
  outputs: {
    title: 'Outputs',
    says: 'The sound device, its latency, pairs of outputs by name, the click.',
    page: 'Outputs',
  },
  draws: { title: 'Chance', says: 'Draws of values, and what each strike scatters.', page: 'Chance' },
  bounce: {
    title: 'Bounce to samples',
    says: 'Renders a patch or a part of it into a sound of samples.',
    page: 'Bounce and hand over',
  },
  handOver: {
    title: 'Hand over',
    says: 'Takes, stems, a page, an archive: for others.',
    page: 'Bounce and hand over',
  },
  handbook: { title: 'Handbook', says: 'The whole job, step by step, and everything to look up.', page: 'Begin' },
};

/** The anchor of a heading of the handbook. */
export const slugOf = (title: string): string =>
  title
    .toLowerCase()
    .replace(/[^a-z]+/g, '-')
    .replace(/^-|-$/g, '');
