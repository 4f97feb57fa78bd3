import { array, type InferType, mixed, object } from 'yup';
import { EFFECT_IDS } from '../effects';
import { ARPEGGIO_ORDERS, MOST_PATTERN } from '../music/arpeggios';
import { OUTSIDE, SCALES } from '../music/scales';
import { checksSchema } from './checksSchema';
import { ownPitch, ownTuning, pitchSchema, staysEqualSchema } from './tuningSchema';
import { macroSchema, moverSchema, routeSchema, shareFields, xyPadSchema } from './movesSchema';
import { GROUP_PARAMETERS, type LayerParameterId, POOL_PARAMETERS, SECTIONS } from './parameters';
import { flag, id, list, num, oneOf, params, rule, shown, text, valueFault, whole, windowSchema } from './schemaFields';
import { instrumentSchema, knobSchema, toldSchema } from './outsideSchema';
import { clickSchema, pairsSchema } from './pairsSchema';
import { controllersSchema, setlistSchema } from './showSchema';
import { sampleSchema, SOUND_PARAMETERS, soundSchema } from './soundSchema';
import {
  MARK_COLOURS,
  MARK_SHAPES,
  MOST_ADDED,
  MOST_CHAIN,
  MOST_CHANGES,
  MOST_CHOICES,
  MOST_CONNECTIONS,
  MOST_DRAWS,
  MOST_GROUPS,
  MOST_INSTRUMENTS,
  MOST_KNOBS,
  MOST_LEVELS,
  MOST_LIMIT,
  MOST_MOVERS,
  MOST_MOVES,
  MOST_NOTES,
  MOST_PARTS,
  MOST_POOLS,
  MOST_SETLISTS,
  MOST_VERSIONS,
  RIG_VERSION,
  ROLES,
} from './limits';

export { windowSchema } from './schemaFields';
export { zoneSchema, soundSchema, sampleSchema } from './soundSchema';
export { routeSchema, moverSchema } from './movesSchema';
export { isBindable } from './showSchema';

/**
 * The one description of what a rig file holds: the TypeScript types, the check of every file that is read and the
 * written
 * format (docs/rig-format.md) all come from here. Messages say what is wrong; the reader puts the place before them.
 */

const touchSchema = object({
  curve: num(-1, 1, 'Above 0 soft strikes count for more, below 0 for less; 0 is a straight line.'),
  outLow: whole(1, 127, 'What the softest strike becomes.'),
  outHigh: whole(1, 127, 'What the hardest strike becomes.'),
  fixed: whole(1, 127, 'Every strike counts as this velocity; null: it is felt.').nullable(),
});

const receiveSchema = object({
  port: text('Name of the MIDI port it hears, or "any".', 200),
  channel: mixed<'any' | number>()
    .meta({ doc: 'MIDI channel 1…16, or "any".' })
    .required('is missing')
    .test(
      'channel',
      (value, context) =>
        value === 'any' ||
        (Number.isInteger(value) && (value as number) >= 1 && (value as number) <= 16) ||
        context.createError({ message: `${shown(value)} is neither "any" nor a channel from 1 to 16` }),
    ),
  bend: flag('Hears the bend wheel.'),
  sustain: flag('Hears the sustain pedal.'),
  sostenuto: flag('Hears the sostenuto pedal.'),
  wheel: flag('Hears the modulation wheel (CC 1).'),
  pressure: flag('Hears aftertouch.'),
  expression: flag('Hears volume (CC 7) and expression (CC 11).'),
  program: flag('A program change picks a sound of its list.'),
  song: flag('Goes along when a song of a setlist is transposed.'),
});

const stepSchema = object({
  kind: oneOf(['note', 'tie', 'rest'], 'A note, the last note going on, or nothing.'),
  velocity: num(0, 1.5, 'Share of the velocity that was played.'),
  octave: whole(-2, 2, 'Octaves added.'),
  chance: num(0, 1, 'How likely it sounds.'),
});

const pathSchema = object({
  ranges: oneOf(
    ['played', 'made'],
    'Whether windows on keys are meant for the key that is played, or for the one it becomes by transposition.',
  ),
  scale: object({
    on: flag('False: every key stays what it is.'),
    name: oneOf(
      SCALES.map(({ id }) => id),
      'Which scale.',
    ),
    root: whole(0, 11, 'Its root, 0 for C.'),
    outside: oneOf(OUTSIDE, 'What becomes of a note that is not in it.'),
  }).required('is missing'),
  chord: object({
    on: flag('False: nothing is added.'),
    notes: array(whole(-24, 24, 'A note that is added.'))
      .required('is missing')
      .max(MOST_ADDED, `has more than ${MOST_ADDED} notes`)
      .meta({ doc: 'What is added to each note.' }),
    in: oneOf(['semitones', 'steps'], 'Whether they count semitones or steps of the scale.'),
    harmony: oneOf(
      ['written', 'kept', 'drawn'],
      'The notes as they are written, as many by chance within the scale and the same for a key each time, or drawn anew at each strike.',
    ),
  }).required('is missing'),
  arpeggio: object({
    on: flag('False: the keys play.'),
    order: oneOf(ARPEGGIO_ORDERS, 'In which order it goes through what is held.'),
    pattern: array(list(stepSchema))
      .required('is missing')
      .min(1, 'has no step')
      .max(MOST_PATTERN, `has more than ${MOST_PATTERN} steps`),
    hold: flag('Goes on with the keys that were held last.'),
    start: oneOf(['key', 'beat'], 'Begins with the first key, or on the beat of the transport.'),
  }).required('is missing'),
  playing: oneOf(
    ['poly', 'mono', 'legato'],
    'All notes, one at a time, or one at a time that goes on to the next key while the last is still held.',
  ),
  glide: oneOf(['time', 'rate'], 'Whether a glide takes its time for the whole way or for an octave of it.'),
  limit: whole(0, MOST_LIMIT, 'Voices it may have at once; 0: as many as there are.'),
  instrument: id('The instrument outside that gets the notes instead of the sound; null: the sound plays.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The instrument outside that gets the notes instead of the sound; null: the sound plays.' }),
  seed: whole(0, 999999, 'Where its chance begins: the same seed gives the same notes.'),
});

const isLevels = (value: unknown): boolean =>
  Array.isArray(value) && value.length <= MOST_LEVELS && value.every((x) => typeof x === 'number' && x >= 0 && x <= 1);

export const effectSchema = object({
  id: id('Never changes; its own among all effects of the patch.'),
  kind: oneOf(EFFECT_IDS, 'What sort of effect it is.'),
  on: flag('False: what comes in goes on as it is.'),
  params: mixed<Readonly<Record<string, number>>>()
    .required('is missing')
    .meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test('params', (table, context) => {
      const { kind } = context.parent as { kind?: string };
      const found = valueFault(table as Record<string, unknown>, (at) =>
        kind && Object.hasOwn(SECTIONS, kind) && Object.hasOwn(SECTIONS[kind], at) ? SECTIONS[kind][at] : undefined,
      );
      return (
        !found ||
        context.createError({ path: found.at ? `${context.path}.${found.at}` : context.path, message: found.problem })
      );
    }),
  steps: mixed<readonly number[]>()
    .required('is missing')
    .meta({ doc: `Of effects with a pattern: at most ${MOST_LEVELS} levels 0 … 1; empty: that of its kind.` })
    .test(
      'steps',
      (value, context) =>
        isLevels(value) || context.createError({ message: `${shown(value)} are not the levels of a pattern` }),
    ),
  listens: id('The layer it listens to.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The layer it listens to, or plays; null: what comes in.' }),
  sampleId: id('The recording it works with.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The recording it works with, as an impulse; null: none.' }),
});
const chainSchema = array(list(effectSchema))
  .required('is missing')
  .max(MOST_CHAIN, `has more than ${MOST_CHAIN} effects`)
  .meta({ doc: 'What it goes through, in order.' });

export const layerSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  mark: object({
    colour: oneOf(MARK_COLOURS, 'Colour of its mark.'),
    shape: oneOf(MARK_SHAPES, 'Shape of its mark.'),
  }).required('is missing'),
  groupId: id('The group it belongs to; null: none.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The group it belongs to; null: none.' }),
  soundId: id('The sound it plays.'),
  list: array(id('Id of a sound.'))
    .required('is missing')
    .max(MOST_CHOICES, `has more than ${MOST_CHOICES} sounds`)
    .meta({
      doc: 'Sounds among which the parameter choice picks, instead of the one sound; empty: there is no choice.',
    }),
  morph: flag(
    'Whether the choice goes on while a note sounds, crossfading between neighbours of the list (of 8 sounds at most); else it is made at the strike.',
  ),
  showsName: flag('Whether the strip of the choice says which sound it is.'),
  role: oneOf(ROLES, 'What it is for, as the player says: rules of Check go by it; unsaid: they guess.'),
  kept: whole(0, 2 ** 24 - 1, 'Seed of the strike whose chances every strike has; null: each has its own.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'Seed of the strike whose chances every strike has; null: each has its own.' }),
  on: flag('False: muted.'),
  windows: array(list(windowSchema))
    .required('is missing')
    .meta({ doc: 'Where it sounds: the product of these. One on key and one on velocity are always there.' }),
  receive: receiveSchema.required('is missing'),
  transpose: whole(-48, 48, 'Semitones; the samples of the key it lands on are used.'),
  tuning: ownTuning('patch'),
  staysEqual: staysEqualSchema,
  path: pathSchema.required('is missing').meta({ doc: 'What becomes of a note between the key and the sound.' }),
  touch: touchSchema.required('is missing'),
  effects: chainSchema,
  params: params<LayerParameterId>(
    SOUND_PARAMETERS,
    'Values of its parameters in their units; an absent one has its default. See the table of parameters.',
  ),
});

export const groupSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  mark: object({
    colour: oneOf(MARK_COLOURS, 'Colour of its mark.'),
    shape: oneOf(MARK_SHAPES, 'Shape of its mark.'),
  }).required('is missing'),
  on: flag('False: all its members are muted.'),
  folded: flag('Shown as one lane.'),
  choke: whole(0, 16, 'Strikes of other groups with this number end what sounds of this one; 0: none do.'),
  windows: array(list(windowSchema)).required('is missing').meta({ doc: 'Windows on top of those of its members.' }),
  receive: receiveSchema
    .required('is missing')
    .meta({ doc: 'What its members may hear at the most; a port or channel holds for members that hear any.' }),
  effects: chainSchema,
  params: mixed<Partial<Record<keyof typeof GROUP_PARAMETERS, number>>>()
    .required('is missing')
    .meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test(
      'params',
      rule<Record<string, unknown>>((table) =>
        valueFault(table, (at) => (Object.hasOwn(GROUP_PARAMETERS, at) ? GROUP_PARAMETERS[at as 'level'] : undefined)),
      ),
    ),
});

const poolSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  on: flag('False: nothing comes out of it.'),
  effects: chainSchema,
  params: mixed<Partial<Record<keyof typeof POOL_PARAMETERS, number>>>()
    .required('is missing')
    .meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test(
      'params',
      rule<Record<string, unknown>>((table) =>
        valueFault(table, (at) => (Object.hasOwn(POOL_PARAMETERS, at) ? POOL_PARAMETERS[at as 'level'] : undefined)),
      ),
    ),
});

/** Where sound comes from and goes to: `layer.ID`, `group.ID`, `pool.ID` or `main`. */
const PLACE = /^(main|home|(layer|group|pool|pair)\.[A-Za-z0-9_-]+)$/;
const placeOf = (doc: string) => text(doc, 90).matches(PLACE, ({ value }) => `${shown(value)} is no place of the mix`);

const connectionSchema = object({
  id: id('Never changes.'),
  kind: oneOf(['output', 'send'], 'The one way that its sound goes, or a branch of it.'),
  from: placeOf('A layer, a group or a shared effect: layer.ID, group.ID, pool.ID; of a send to a pair also main.'),
  to: placeOf(
    'A group, a shared effect, main, or a pair of outputs: pair.ID; of an output also home: where it goes by itself.',
  ),
  level: num(-60, 12, 'dB; the lowest value is nothing.'),
  on: flag('False: nothing goes this way.'),
  tap: oneOf(['before', 'after'], 'Whether it branches off before or after the strip; an output goes after it.'),
});

const isNotes = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= MOST_NOTES &&
  value.every(
    (note) =>
      Array.isArray(note) &&
      note.length === 4 &&
      note.every((x) => typeof x === 'number' && x >= 0) &&
      note[2] <= 127 &&
      note[3] >= 1 &&
      note[3] <= 127 &&
      Number.isInteger(note[2]) &&
      Number.isInteger(note[3]),
  );
const isMoves = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= MOST_MOVES &&
  value.every(
    (move) =>
      Array.isArray(move) &&
      move.length === 3 &&
      typeof move[0] === 'number' &&
      move[0] >= 0 &&
      typeof move[1] === 'string' &&
      move[1].length <= 160 &&
      typeof move[2] === 'number' &&
      Number.isFinite(move[2]),
  );

const partSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  plays: text(
    'What it plays: "patch", layer.ID or group.ID of the patch, notes.ID for a layer past its scale, chord and arpeggio, or patch.ID for another patch.',
    90,
  ).matches(
    /^(patch|(layer|group|notes|patch)\.[A-Za-z0-9_-]+)$/,
    ({ value }) => `${shown(value)} is nothing that a part can play`,
  ),
  on: flag('False: it is not heard.'),
  level: num(-60, 12, 'dB, of a part that another patch plays; the lowest value is silence.'),
  notes: mixed<(readonly [at: number, length: number, key: number, velocity: number])[]>()
    .required('is missing')
    .meta({ doc: '[quarters from the beginning, length in quarters, key, velocity] each, in order.' })
    .test(
      'notes',
      (value, context) => isNotes(value) || context.createError({ message: 'holds something that is no note' }),
    ),
  moves: mixed<(readonly [at: number, what: string, value: number])[]>()
    .required('is missing')
    .meta({
      doc: '[quarters, what moves, value] each, in order: cc.N, bend, channelPressure, macro.N, xy.N.x, xy.N.y, or a target in its unit.',
    })
    .test(
      'moves',
      (value, context) => isMoves(value) || context.createError({ message: 'holds something that is no move' }),
    ),
});

const takeSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  quarters: num(1, 4096, 'Its length in quarters: there it begins again.'),
  tempo: num(20, 400, 'Quarter notes in a minute at which it was played.'),
  parts: array(list(partSchema)).required('is missing').max(MOST_PARTS, `has more than ${MOST_PARTS} parts`),
});

const backingSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  sampleId: id('The recording.'),
  on: flag('False: it is not heard.'),
  level: num(-60, 12, 'dB; the lowest value is silence.'),
  tempo: num(20, 400, 'Quarter notes in a minute of the recording; it is played faster or slower with the patch.'),
  start: num(0, 4096, 'Quarters after the beginning of the take at which it begins.'),
  loop: flag('It begins again at its end, until the take does.'),
  pair: id('The pair of outputs that it goes to.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The pair of outputs that it goes to; null: the first.' }),
});

const isChanges = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= MOST_CHANGES &&
  value.every(
    (change) =>
      Array.isArray(change) &&
      change.length === 3 &&
      typeof change[0] === 'string' &&
      change[0].length <= 160 &&
      [change[1], change[2]].every(
        (x) => (typeof x === 'number' && Number.isFinite(x)) || (typeof x === 'string' && x.length <= 20000),
      ),
  );

const drawSchema = object({
  id: id('Never changes.'),
  name: text('What people call it; empty: nothing.'),
  starred: flag('It is among those that one goes back to.'),
  from: id('The draw that it was made from; null: the patch as it was before any.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The draw that it was made from; null: the patch as it was before any.' }),
  seed: whole(0, 2 ** 31 - 1, 'What it was drawn with: the same seed gives the same again.'),
  amount: num(0, 1, 'How far it went, as a share of each parameter’s own range.'),
  scope: text('What was drawn, in words.'),
  changes: mixed<(readonly [what: string, before: number | string, after: number | string])[]>()
    .required('is missing')
    .meta({
      doc: '[target, value before, value after] each, in its unit; of what has no number (a pattern, a chord, a sound) its text.',
    })
    .test(
      'changes',
      (value, context) => isChanges(value) || context.createError({ message: 'holds something that is no change' }),
    ),
});

const patchFields = {
  id: id('Never changes.'),
  name: text('What people call it.'),
  tempo: num(20, 400, 'Quarter notes in a minute.'),
  notes: text('A line for the player.', 2000),
  tuning: ownTuning('rig'),
  a4: ownPitch,
  layers: array(list(layerSchema)).required('is missing'),
  groups: array(list(groupSchema)).required('is missing').max(MOST_GROUPS, `has more than ${MOST_GROUPS} groups`),
  macros: array(list(macroSchema)).required('is missing').meta({ doc: 'In their order on the pages, eight on each.' }),
  macroPages: array(text('Name of a page of eight macros.')).required('is missing').max(2, 'has more than 2 pages'),
  xyPads: array(list(xyPadSchema)).required('is missing').max(4, 'has more than 4 pads'),
  movers: array(list(moverSchema)).required('is missing').max(MOST_MOVERS, `has more than ${MOST_MOVERS} movers`),
  blends: array(object(shareFields('blend', 8))).required('is missing'),
  routes: array(list(routeSchema)).required('is missing'),
  pools: array(list(poolSchema))
    .required('is missing')
    .max(MOST_POOLS, `has more than ${MOST_POOLS} shared effects`)
    .meta({ doc: 'Shared effects: what several layers and groups send to.' }),
  connections: array(list(connectionSchema))
    .required('is missing')
    .max(MOST_CONNECTIONS, `has more than ${MOST_CONNECTIONS} connections`)
    .meta({
      doc: 'Sends, and outputs that do not go where they would by themselves: a layer to its group or to main, all else to main.',
    }),
  main: object({
    level: num(-60, 6, 'dB; the lowest value is silence.'),
    width: num(0, 200, 'Per cent.'),
    effects: chainSchema,
  }).required('is missing'),
  front: array(text('A target, such as reverb.ID.decay.', 160))
    .required('is missing')
    .max(16, 'has more than 16 strips')
    .meta({ doc: 'Parameters whose strips stand on the front of the patch, beside its macros.' }),
  draws: array(list(drawSchema))
    .required('is missing')
    .max(MOST_DRAWS, `has more than ${MOST_DRAWS} draws`)
    .meta({ doc: 'Draws of chance, in the order in which they were made; each one knows from which it was made.' }),
  drawn: id('The draw that the patch stands for now; null: none.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The draw that the patch stands for now; null: none.' }),
  locks: array(text('A target, or part of one.', 160))
    .required('is missing')
    .max(500, 'has more than 500 locks')
    .meta({ doc: 'What draws leave as it is: targets, or the beginnings of some, such as layer.ID.' }),
  takes: array(list(takeSchema))
    .required('is missing')
    .max(32, 'has more than 32 takes')
    .meta({ doc: 'What was played and drawn.' }),
  backing: array(list(backingSchema))
    .required('is missing')
    .max(8, 'has more than 8 recordings')
    .meta({ doc: 'Recordings that play along.' }),
  told: array(list(toldSchema))
    .required('is missing')
    .max(MOST_INSTRUMENTS, `tells more than ${MOST_INSTRUMENTS} instruments`)
    .meta({ doc: 'What instruments outside are told when the patch is entered and left.' }),
  knobs: array(list(knobSchema))
    .required('is missing')
    .max(MOST_KNOBS, `has more than ${MOST_KNOBS} values outside`)
    .meta({ doc: 'Values of instruments outside that rest somewhere in this patch and can be moved: knob.ID.value.' }),
};

const versionSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  patch: object(patchFields).required('is missing').meta({
    doc: 'Everything of the patch as this version has it. Of the version that plays, as it was when it was switched to.',
  }),
});

export const patchSchema = object({
  ...patchFields,
  versions: array(list(versionSchema))
    .required('is missing')
    .max(MOST_VERSIONS, `has more than ${MOST_VERSIONS} versions`)
    .meta({ doc: 'Versions kept side by side to compare; none, or two and more.' }),
  version: id('The version that the patch stands for now; null: there are none.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The version that the patch stands for now; null: there are none.' }),
});

export const rigSchema = object({
  format: oneOf(['wavicle-rig'], 'Marks the file.'),
  version: whole(1, RIG_VERSION, 'Version of the format.'),
  id: id('Never changes.'),
  name: text('What people call it.'),
  patches: array(list(patchSchema)).required('is missing'),
  sounds: array(list(soundSchema)).required('is missing'),
  samples: array(list(sampleSchema)).required('is missing'),
  setlists: array(list(setlistSchema))
    .required('is missing')
    .max(MOST_SETLISTS, `has more than ${MOST_SETLISTS} setlists`)
    .meta({ doc: 'Orders in which patches are played.' }),
  setlist: id('The setlist of the next show; null: there is none.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The setlist of the next show; null: there is none.' }),
  controllers: controllersSchema.required('is missing'),
  checks: checksSchema.required('is missing'),
  pitch: pitchSchema.required('is missing').meta({ doc: 'What everything is tuned to.' }),
  instruments: array(list(instrumentSchema))
    .required('is missing')
    .max(MOST_INSTRUMENTS, `has more than ${MOST_INSTRUMENTS} instruments outside`)
    .meta({ doc: 'Instruments outside that play along.' }),
  pairs: pairsSchema,
  click: clickSchema.required('is missing').meta({ doc: 'The click, for building, takes and Stage.' }),
});

/** A type as edits see it: nothing is changed in place. */
type Frozen<T> = T extends (infer U)[]
  ? readonly Frozen<U>[]
  : T extends object
    ? { readonly [K in keyof T]: Frozen<T[K]> }
    : T;

export type Rig = Frozen<InferType<typeof rigSchema>>;
export type Patch = Rig['patches'][number];
export type Version = Patch['versions'][number];
/** A patch without its versions. */
export type PatchContent = Version['patch'];
export type Layer = Patch['layers'][number];
export type Group = Patch['groups'][number];
export type LayerWindow = Layer['windows'][number];
export type Receive = Layer['receive'];
export type Touch = Layer['touch'];
export type NotePath = Layer['path'];
export type RigPitch = Rig['pitch'];
export type Mark = Layer['mark'];
export type Route = Patch['routes'][number];
export type XyPad = Patch['xyPads'][number];
export type Anchor = XyPad['anchors'][number];
export type Mover = Patch['movers'][number];
export type ControllerSetup = Rig['controllers'];
export type Binding = ControllerSetup['bindings'][number];
export type EffectSpec = Layer['effects'][number];
export type Pool = Patch['pools'][number];
export type Connection = Patch['connections'][number];
export type Draw = Patch['draws'][number];
export type PatchTake = Patch['takes'][number];
export type Part = PatchTake['parts'][number];
export type Backing = Patch['backing'][number];
export type Macro = Patch['macros'][number];
export type Sound = Rig['sounds'][number];
export type Zone = Sound['zones'][number];
export type Waves = Sound['waves'][number];
export type ZoneLoop = NonNullable<Zone['loop']>;
export type Choke = NonNullable<Zone['choke']>;
export type Sample = Rig['samples'][number];
export type Setlist = Rig['setlists'][number];
export type Entry = Setlist['entries'][number];
export type Role = Layer['role'];
export type Checks = Rig['checks'];
export type Pair = Rig['pairs'][number];
export type Click = Rig['click'];
export type Instrument = Rig['instruments'][number];
export type Told = Patch['told'][number];
export type Message = Told['enter'][number];
export type Knob = Patch['knobs'][number];
