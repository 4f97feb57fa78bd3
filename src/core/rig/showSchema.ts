import { array, object } from 'yup';
import { parseControl } from '../music/control';
import { flag, id, list, num, oneOf, text, whole } from './schemaFields';
import { LONGEST_PAGE, MOST_ENTRIES, MOST_PORTS, MOST_SONG_PATCHES } from './limits';

/** What of the written format concerns the show: controllers with what was learned of them, and setlists. */

/** What a control can be bound to. */
export const isBindable = (target: string): boolean =>
  /^(macro\.([1-9]|1[0-6])|xy\.[1-4]\.[xy]|show\.(next|previous|silence|page|page\.back|lead)|show\.step\.[1-9]\d{0,2}|patch\.[A-Za-z0-9_-]{1,80})$/.test(
    target,
  );

const bindingSchema = object({
  control: text(
    'What is moved: cc.N, cc14.N, nrpn.N, relative.N, note.N, program.N, bend, pressure or keyPressure.',
    40,
  ).test(
    'control',
    (value, context) => !!parseControl(value) || context.createError({ message: `"${value}" names no control` }),
  ),
  channel: whole(0, 16, 'The MIDI channel it comes on; 0: any.'),
  port: text('Name of the port it comes in by, or "any".'),
  coding: oneOf(
    ['absolute', 'twos', 'offset'],
    'How a relative encoder counts: in two’s complement, or from 64; all others are absolute.',
  ),
  target: text(
    'What it moves or does: macro.N, xy.N.x or xy.N.y; show.next, show.previous, show.silence, show.page and show.page.back (the player’s page on and back), show.lead (of two machines in step this one takes over), show.step.N (the N-th step of the setlist), patch.ID.',
  ).test(
    'target',
    (value, context) =>
      isBindable(value) || context.createError({ message: `"${value}" is nothing that a control can be bound to` }),
  ),
});

const pedalSchema = object({
  controller: whole(0, 127, 'The CC it sends.'),
  inverted: flag('It sends its highest value when it is up.'),
  kind: oneOf(['switch', 'continuous'], 'Whether it knows only up and down.'),
});

const mpeSchema = object({
  lower: whole(0, 15, 'Member channels of the lower zone, from 2 upward; 0: there is none.'),
  upper: whole(0, 15, 'Member channels of the upper zone, from 15 downward; 0: there is none.'),
  bendRange: num(0, 96, 'Semitones that a member channel’s bend reaches.'),
});

export const controllersSchema = object({
  keyLow: whole(0, 127, 'Lowest key of the controller.'),
  keyHigh: whole(0, 127, 'Highest key of the controller.'),
  velocityLow: whole(1, 127, 'Softest strike of the controller.'),
  velocityHigh: whole(1, 127, 'Hardest strike of the controller.'),
  ports: array(text('Name of a port.'))
    .required('is missing')
    .max(MOST_PORTS, `has more than ${MOST_PORTS} ports`)
    .meta({ doc: 'The MIDI ports that layers can tell apart.' }),
  bindings: array(list(bindingSchema))
    .required('is missing')
    .meta({ doc: 'What was learned: controls that move macros and pads in every patch.' }),
  pedals: array(list(pedalSchema)).required('is missing').meta({ doc: 'Pedals whose polarity or kind was learned.' }),
  takeover: oneOf(
    ['jump', 'pick-up', 'scaled'],
    'What an absolute control does when it stands elsewhere than its value: moves it at once, once it has passed it, or in proportion to the way that is left.',
  ),
  mpe: mpeSchema.required('is missing'),
  programs: oneOf(
    ['off', 'setlist', 'patches'],
    'What program changes choose (bank · 128 + program, counted from 0): nothing, steps of the setlist, or patches of the rig.',
  ),
  programChannel: whole(0, 16, 'The MIDI channel that program changes choose on; 0: any.'),
});

const entrySchema = object({
  id: id('Never changes.'),
  kind: oneOf(['patch', 'song', 'pause'], 'One patch, several that belong together, or a pause.'),
  name: text('What people call it; empty: as its patch.'),
  notes: text('Lines for the player; empty: those of the patch.', 2000),
  page: text('Words and chords for the player, in ChordPro, as they are sung untransposed.', LONGEST_PAGE),
  tempo: num(20, 400, 'Quarter notes in a minute instead of the patch’s own; null: its own.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'Quarter notes in a minute instead of the patch’s own; null: its own.' }),
  transpose: whole(
    -12,
    12,
    'Semitones by which it is played higher, for the singer; layers that do not go along stay.',
  ),
  patches: array(id('Id of a patch.'))
    .required('is missing')
    .max(MOST_SONG_PATCHES, `has more than ${MOST_SONG_PATCHES} patches`)
    .meta({ doc: 'Ids of its patches in order; none in a pause.' }),
  minutes: num(0, 600, 'How long a pause or a song is meant to last; 0: nobody knows.'),
});

export const setlistSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  notes: text('What is to be known of the evening.', 2000),
  entries: array(list(entrySchema))
    .required('is missing')
    .max(MOST_ENTRIES, `has more than ${MOST_ENTRIES} entries`)
    .meta({ doc: 'In the order of the show; a patch may stand in many.' }),
});
