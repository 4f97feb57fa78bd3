import { array, boolean, mixed, number, object, string, type InferType, type StringSchema, type TestContext } from 'yup';
import { EFFECT_IDS } from '../effects';
import { LFO_SHAPES, MOST_POINTS, MOST_STEPS } from '../movers';
import { CURVE_NAMES, type Curve } from '../space/curve';
import { type FormulaError, namesOfFormula, parseFormula } from '../space/formula';
import { MOST_ANCHORS, MOVER_KINDS, parseSource } from '../space/source';
import { parseControl } from '../music/control';
import { ARPEGGIO_ORDERS, MOST_PATTERN } from '../music/arpeggios';
import { OUTSIDE, SCALES } from '../music/scales';
import { OSCILLATORS } from '../sounds/synth/parameters';
import { DRAWN_POINTS } from '../sounds/grains/shapes';
import { FADE_SHAPES } from '../space/window';
import { GROUP_PARAMETERS, LAYER_PARAMETERS, parseTarget, POOL_PARAMETERS, SECTIONS, SOUND_KINDS, ZONE_PARAMETERS, type LayerParameterId, type Parameter, type ZoneParameterId } from './parameters';

/**
 * The one description of what a rig file holds: the TypeScript types, the check of every file that is read and the written
 * format (docs/rig-format.md) all come from here. Messages say what is wrong; the reader puts the place before them.
 */
/** Ports that layers can tell apart at the most. */
export const MOST_PORTS = 4;

const shown = (value: unknown): string => {
  const text = JSON.stringify(value) ?? String(value);
  return text.length > 40 ? `${text.slice(0, 40)}…` : text;
};

const num = (low: number, high: number, doc: string) =>
  number().meta({ doc, low, high })
    .typeError(({ value }) => `${shown(value)} is not a number`)
    .required('is missing')
    .test('range', (value, context) =>
      value == null ? true
        : value < low ? context.createError({ message: `${value} is below ${low}` })
          : value > high ? context.createError({ message: `${value} is above ${high}` })
            : true);
const whole = (low: number, high: number, doc: string) =>
  num(low, high, doc).test('whole', (value, context) => value == null || Number.isInteger(value) || context.createError({ message: `${value} is not a whole number` }));
/** Characters of a name at the most. */
export const LONGEST_NAME = 200;
const text = (doc: string, longest = LONGEST_NAME) =>
  string().meta({ doc }).typeError(({ value }) => `${shown(value)} is not a text`).defined('is missing').max(longest, `is longer than ${longest} characters`);
const id = (doc: string) => text(doc, 80).matches(/^[A-Za-z0-9_-]+$/, ({ value }) => `${shown(value)} is not an id (letters, digits, - and _)`);
const flag = (doc: string) => boolean().meta({ doc }).typeError(({ value }) => `${shown(value)} is neither true nor false`).required('is missing');
const oneOf = <const T extends string>(values: readonly T[], doc: string): StringSchema<T> =>
  string<T>().meta({ doc }).required('is missing').oneOf(values, ({ value }) => `${shown(value)} is none of ${values.join(', ')}`);
const list = <T extends Parameters<ReturnType<typeof array>['of']>[0]>(schema: T) => schema;

const sourceId = (doc: string) => text(doc).test('source', (value, context) => value === undefined || !!parseSource(value) || context.createError({ message: `"${value}" names no source` }));

/** A rule about a table of values: gives the entry at fault and what is wrong with it, or nothing. Runs before its entries are checked. */
const rule = <T>(check: (value: T) => { at: string; problem: string } | undefined) => (value: unknown, context: TestContext) => {
  const found = check(value as T);
  return found ? context.createError({ path: found.at ? `${context.path}.${found.at}` : context.path, message: found.problem }) : true;
};

/** Holds a field at or below its neighbour; the neighbour has a check of its own. */
const notAbove = (other: string, strictly = false) => (value: number, context: TestContext) => {
  const limit = (context.parent as Record<string, unknown>)[other];
  if (typeof limit !== 'number' || value < limit || (!strictly && value === limit)) return true;
  return context.createError({ message: strictly ? `${value} is not before ${other} (${limit})` : `${value} is above ${other} (${limit})` });
};

const rangeFields = (low: number, high: number) => ({
  low: num(low, high, 'Lowest value inside.').test('order', notAbove('high')),
  high: num(low, high, 'Highest value inside.'),
  fadeIn: num(0, 127, 'Length of the fade upward from low; the gain is 0 at low itself. 0: a hard border.'),
  fadeOut: num(0, 127, 'Length of the fade downward to high; the gain is 0 at high itself. 0: a hard border.'),
  shape: oneOf(FADE_SHAPES, 'How the fades rise: t, sin(πt/2) or √t.'),
});
const keyWindowSchema = object(rangeFields(0, 127)).required('is missing');
const velocityWindowSchema = object(rangeFields(1, 127)).required('is missing');

/** Holds a border of a window inside the range of the source that the window looks at. */
const insideSource = (value: number, context: TestContext) => {
  const source = parseSource(String((context.parent as { source?: unknown }).source));
  if (source && value < source.low) return context.createError({ message: `${value} is below ${source.low}` });
  if (source && value > source.high) return context.createError({ message: `${value} is above ${source.high}` });
  return true;
};

const anyRange = rangeFields(-1, 127);
export const windowSchema = object({
  source: sourceId('What the window looks at: key, velocity, cc.1, macro.1 …'),
  ...anyRange,
  low: anyRange.low.test('source', insideSource),
  high: anyRange.high.test('source', insideSource),
  read: oneOf(['always', 'at-strike'], 'Whether the gain follows the source while a note sounds, or stays as it was at the strike.'),
});

/** The first entry of a table of values that no parameter allows. */
const valueFault = (table: Record<string, unknown>, parameterOf: (id: string) => Parameter | undefined): { at: string; problem: string } | undefined => {
  if (typeof table !== 'object') return { at: '', problem: `${shown(table)} is not a table of values` };
  for (const [at, value] of Object.entries(table)) {
    const parameter = parameterOf(at);
    if (!parameter) return { at, problem: 'no parameter has this name' };
    const { low, high, law } = parameter;
    if (typeof value !== 'number' || Number.isNaN(value)) return { at, problem: `${shown(value)} is not a number` };
    if (value < low) return { at, problem: `${value} is below ${low}` };
    if (value > high) return { at, problem: `${value} is above ${high}` };
    if (law === 'steps' && !Number.isInteger(value)) return { at, problem: `${value} is not a whole number` };
  }
  return undefined;
};

/** Values of parameters of a layer by id, in their units; only those in `allowed`. */
const params = <Id extends LayerParameterId>(allowed: readonly string[], doc: string) =>
  mixed<Partial<Record<Id, number>>>().required('is missing').meta({ doc })
    .test('params', rule<Record<string, unknown>>((table) => valueFault(table, (id) => (allowed.includes(id) ? LAYER_PARAMETERS[id as LayerParameterId] : undefined))));

const loopSchema = object({
  start: whole(0, 2 ** 31, 'First frame of the loop.').test('order', notAbove('end', true)),
  end: whole(1, 2 ** 31, 'The frame after the last one of the loop.'),
  crossfade: whole(0, 2 ** 31, 'Frames before the end that are blended with those before the start.'),
  until: oneOf(['end', 'release'], 'How long it repeats: to the end of the note, or while the key is held, the rest of the sample after that.'),
});

const chokeSchema = object({
  group: whole(0, 2 ** 31, 'The choke group the zone belongs to; null: none.').nullable(),
  by: whole(0, 2 ** 31, 'A strike of a zone of this choke group ends it; null: none does.').nullable(),
  fade: oneOf(['fast', 'release'], 'How it ends: at once without a click, or with its release.'),
});

export const zoneSchema = object({
  sampleId: id('The sample it plays.'),
  root: whole(0, 127, 'Key at which the sample plays at its own pitch.'),
  tune: num(-1200, 1200, 'Cents added to the pitch.'),
  pitchPerKey: num(-1200, 1200, 'Cents that each key above the root adds: 100 follows the keys, 0 always plays at its own pitch.'),
  gain: num(-96, 48, 'dB added to the level.'),
  pan: num(-1, 1, 'Place between left (−1) and right (1).'),
  key: keyWindowSchema,
  velocity: velocityWindowSchema,
  windows: array(list(windowSchema)).required('is missing').meta({ doc: 'Further windows, on controllers, chance and the like.' }),
  start: whole(0, 2 ** 31, 'First frame played.'),
  end: whole(1, 2 ** 31, 'The frame after the last one played.').nullable().meta({ doc: 'The frame after the last one played; null: to the end.' }),
  reverse: flag('Played from its end to its start.'),
  loop: loopSchema.nullable().defined('is missing').meta({ doc: 'What is repeated while the note lasts; null: nothing.' }),
  playback: oneOf(['while-held', 'full-length'], 'Whether the release of the key ends it.'),
  trigger: oneOf(['attack', 'release'], 'Whether it sounds when a key goes down, or when the note ends.'),
  alternate: whole(0, 999, 'Its turn among the alternates that meet on a key and velocity; null: always sounds.').nullable(),
  turns: whole(1, 1000, 'Turns in its round where not all of them sound; null: as many as there are alternates.').nullable(),
  choke: chokeSchema.nullable().defined('is missing').meta({ doc: 'Which strikes end it; null: none.' }),
  fadeIn: num(0, 60, 'Seconds in which it comes in from silence.'),
  fadeOut: num(0, 60, 'Seconds before the end of its sample in which it goes to silence.'),
  params: params<ZoneParameterId>(ZONE_PARAMETERS, 'Its own values of parameters, in their units. They hold where the layer leaves the parameter at its default.'),
});

/** Parameters of a layer that a sound may bring with it. */
const SOUND_PARAMETERS = Object.keys(LAYER_PARAMETERS).filter((each) => each !== 'transpose' && each !== 'touch');

const wavesSchema = object({
  table: text('The row of waves: one that comes with the application, or the id of a sample.', 80),
  length: whole(0, 2 ** 20, 'Of a sample: frames of each wave; 0: found by its length.'),
});
const isDrawn = (value: unknown): boolean => Array.isArray(value) && value.length <= DRAWN_POINTS && value.every((x) => typeof x === 'number' && x >= 0 && x <= 1);

export const soundSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  kind: oneOf(SOUND_KINDS, 'What sort of sound it is: samples, oscillators, or samples in grains.'),
  notes: text('What its maker has to say.', 4000),
  params: params<LayerParameterId>(SOUND_PARAMETERS, 'Values that come with it, in their units. They hold where the layer leaves the parameter at its default.'),
  waves: array(list(wavesSchema)).required('is missing').length(OSCILLATORS, `are not ${OSCILLATORS}`).meta({ doc: 'Of a synth: the waves of each oscillator.' }),
  shape: mixed<readonly number[]>().required('is missing').meta({ doc: `Of grains: the heights of the shape that is drawn, from its beginning to its end, at most ${DRAWN_POINTS}, 0 … 1; empty: none is.` }).test('shape', (value, context) => isDrawn(value) || context.createError({ message: `${shown(value)} are not the heights of a shape` })),
  tags: array(text('A word for finding it.', 40)).required('is missing').max(12, 'has more than 12 tags').meta({ doc: 'Words for finding it.' }),
  favourite: flag('It is among those that are looked for first.'),
  alternation: oneOf(['in-turn', 'random', 'shuffled'], 'How one of several alternates is chosen.'),
  zones: array(list(zoneSchema)).required('is missing'),
});

export const MARK_SHAPES = ['dot', 'triangle', 'square', 'diamond', 'ring', 'bar', 'cross', 'wave'] as const;
export const MARK_COLOURS = ['teal', 'clay', 'indigo', 'ochre', 'plum', 'moss', 'slate', 'rose'] as const;

/** Sounds of a list at the most. */
export const MOST_CHOICES = 128;

const touchSchema = object({
  curve: num(-1, 1, 'Above 0 soft strikes count for more, below 0 for less; 0 is a straight line.'),
  outLow: whole(1, 127, 'What the softest strike becomes.'),
  outHigh: whole(1, 127, 'What the hardest strike becomes.'),
  fixed: whole(1, 127, 'Every strike counts as this velocity; null: it is felt.').nullable(),
});

const receiveSchema = object({
  port: text('Name of the MIDI port it hears, or "any".', 200),
  channel: mixed<'any' | number>().meta({ doc: 'MIDI channel 1…16, or "any".' }).required('is missing')
    .test('channel', (value, context) => value === 'any' || (Number.isInteger(value) && (value as number) >= 1 && (value as number) <= 16)
      || context.createError({ message: `${shown(value)} is neither "any" nor a channel from 1 to 16` })),
  bend: flag('Hears the bend wheel.'),
  sustain: flag('Hears the sustain pedal.'),
  sostenuto: flag('Hears the sostenuto pedal.'),
  wheel: flag('Hears the modulation wheel (CC 1).'),
  pressure: flag('Hears aftertouch.'),
  expression: flag('Hears volume (CC 7) and expression (CC 11).'),
  program: flag('A program change picks a sound of its list.'),
  song: flag('Goes along when a song of a setlist is transposed.'),
});

/** Notes that a chord adds at the most. */
export const MOST_ADDED = 6;
/** Voices that a layer's own limit may allow. */
export const MOST_LIMIT = 64;

const stepSchema = object({
  kind: oneOf(['note', 'tie', 'rest'], 'A note, the last note going on, or nothing.'),
  velocity: num(0, 1.5, 'Share of the velocity that was played.'),
  octave: whole(-2, 2, 'Octaves added.'),
  chance: num(0, 1, 'How likely it sounds.'),
});

const pathSchema = object({
  ranges: oneOf(['played', 'made'], 'Whether windows on keys are meant for the key that is played, or for the one it becomes by transposition.'),
  scale: object({
    on: flag('False: every key stays what it is.'),
    name: oneOf(SCALES.map(({ id }) => id), 'Which scale.'),
    root: whole(0, 11, 'Its root, 0 for C.'),
    outside: oneOf(OUTSIDE, 'What becomes of a note that is not in it.'),
  }).required('is missing'),
  chord: object({
    on: flag('False: nothing is added.'),
    notes: array(whole(-24, 24, 'A note that is added.')).required('is missing').max(MOST_ADDED, `has more than ${MOST_ADDED} notes`).meta({ doc: 'What is added to each note.' }),
    in: oneOf(['semitones', 'steps'], 'Whether they count semitones or steps of the scale.'),
    harmony: oneOf(['written', 'kept', 'drawn'], 'The notes as they are written, as many by chance within the scale and the same for a key each time, or drawn anew at each strike.'),
  }).required('is missing'),
  arpeggio: object({
    on: flag('False: the keys play.'),
    order: oneOf(ARPEGGIO_ORDERS, 'In which order it goes through what is held.'),
    pattern: array(list(stepSchema)).required('is missing').min(1, 'has no step').max(MOST_PATTERN, `has more than ${MOST_PATTERN} steps`),
    hold: flag('Goes on with the keys that were held last.'),
    start: oneOf(['key', 'beat'], 'Begins with the first key, or on the beat of the transport.'),
  }).required('is missing'),
  playing: oneOf(['poly', 'mono', 'legato'], 'All notes, one at a time, or one at a time that goes on to the next key while the last is still held.'),
  glide: oneOf(['time', 'rate'], 'Whether a glide takes its time for the whole way or for an octave of it.'),
  limit: whole(0, MOST_LIMIT, 'Voices it may have at once; 0: as many as there are.'),
  output: text('Name of a MIDI output that gets the notes instead of the sound; empty: the sound plays.'),
  outputChannel: whole(1, 16, 'Channel of those notes.'),
  seed: whole(0, 999999, 'Where its chance begins: the same seed gives the same notes.'),
});

/** Effects in a row at the most. */
export const MOST_CHAIN = 12;
/** Levels of a row of steps at the most. */
export const MOST_LEVELS = 32;
const isLevels = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_LEVELS && value.every((x) => typeof x === 'number' && x >= 0 && x <= 1);

export const effectSchema = object({
  id: id('Never changes; its own among all effects of the patch.'),
  kind: oneOf(EFFECT_IDS, 'What sort of effect it is.'),
  on: flag('False: what comes in goes on as it is.'),
  params: mixed<Readonly<Record<string, number>>>().required('is missing').meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test('params', (table, context) => {
      const { kind } = context.parent as { kind?: string };
      const found = valueFault(table as Record<string, unknown>, (at) => (kind && Object.hasOwn(SECTIONS, kind) && Object.hasOwn(SECTIONS[kind], at) ? SECTIONS[kind][at] : undefined));
      return !found || context.createError({ path: found.at ? `${context.path}.${found.at}` : context.path, message: found.problem });
    }),
  steps: mixed<readonly number[]>().required('is missing').meta({ doc: `Of effects with a pattern: at most ${MOST_LEVELS} levels 0 … 1; empty: that of its kind.` }).test('steps', (value, context) => isLevels(value) || context.createError({ message: `${shown(value)} are not the levels of a pattern` })),
  listens: id('The layer it listens to.').nullable().defined('is missing').meta({ doc: 'The layer it listens to, or plays; null: what comes in.' }),
  sampleId: id('The recording it works with.').nullable().defined('is missing').meta({ doc: 'The recording it works with, as an impulse; null: none.' }),
});
const chainSchema = array(list(effectSchema)).required('is missing').max(MOST_CHAIN, `has more than ${MOST_CHAIN} effects`).meta({ doc: 'What it goes through, in order.' });

export const layerSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  mark: object({ colour: oneOf(MARK_COLOURS, 'Colour of its mark.'), shape: oneOf(MARK_SHAPES, 'Shape of its mark.') }).required('is missing'),
  groupId: id('The group it belongs to; null: none.').nullable().defined('is missing').meta({ doc: 'The group it belongs to; null: none.' }),
  soundId: id('The sound it plays.'),
  list: array(id('Id of a sound.')).required('is missing').max(MOST_CHOICES, `has more than ${MOST_CHOICES} sounds`).meta({ doc: 'Sounds among which the parameter choice picks, instead of the one sound; empty: there is no choice.' }),
  morph: flag('Whether the choice goes on while a note sounds, crossfading between neighbours of the list (of 8 sounds at most); else it is made at the strike.'),
  showsName: flag('Whether the strip of the choice says which sound it is.'),
  kept: whole(0, 2 ** 24 - 1, 'Seed of the strike whose chances every strike has; null: each has its own.').nullable().defined('is missing').meta({ doc: 'Seed of the strike whose chances every strike has; null: each has its own.' }),
  on: flag('False: muted.'),
  windows: array(list(windowSchema)).required('is missing').meta({ doc: 'Where it sounds: the product of these. One on key and one on velocity are always there.' }),
  receive: receiveSchema.required('is missing'),
  transpose: whole(-48, 48, 'Semitones; the samples of the key it lands on are used.'),
  path: pathSchema.required('is missing').meta({ doc: 'What becomes of a note between the key and the sound.' }),
  touch: touchSchema.required('is missing'),
  effects: chainSchema,
  params: params<LayerParameterId>(SOUND_PARAMETERS, 'Values of its parameters in their units; an absent one has its default. See the table of parameters.'),
});

/** Groups of a patch at the most. */
export const MOST_GROUPS = 16;

export const groupSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  mark: object({ colour: oneOf(MARK_COLOURS, 'Colour of its mark.'), shape: oneOf(MARK_SHAPES, 'Shape of its mark.') }).required('is missing'),
  on: flag('False: all its members are muted.'),
  folded: flag('Shown as one lane.'),
  choke: whole(0, 16, 'Strikes of other groups with this number end what sounds of this one; 0: none do.'),
  windows: array(list(windowSchema)).required('is missing').meta({ doc: 'Windows on top of those of its members.' }),
  receive: receiveSchema.required('is missing').meta({ doc: 'What its members may hear at the most; a port or channel holds for members that hear any.' }),
  effects: chainSchema,
  params: mixed<Partial<Record<keyof typeof GROUP_PARAMETERS, number>>>().required('is missing').meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test('params', rule<Record<string, unknown>>((table) => valueFault(table, (at) => (Object.hasOwn(GROUP_PARAMETERS, at) ? GROUP_PARAMETERS[at as 'level'] : undefined)))),
});

/** Shared effects and connections of a patch at the most. */
export const MOST_POOLS = 8, MOST_CONNECTIONS = 96;

const poolSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  on: flag('False: nothing comes out of it.'),
  effects: chainSchema,
  params: mixed<Partial<Record<keyof typeof POOL_PARAMETERS, number>>>().required('is missing').meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test('params', rule<Record<string, unknown>>((table) => valueFault(table, (at) => (Object.hasOwn(POOL_PARAMETERS, at) ? POOL_PARAMETERS[at as 'level'] : undefined)))),
});

/** Where sound comes from and goes to: `layer.ID`, `group.ID`, `pool.ID` or `main`. */
const PLACE = /^(main|home|(layer|group|pool)\.[A-Za-z0-9_-]+)$/;
const placeOf = (doc: string) => text(doc, 90).matches(PLACE, ({ value }) => `${shown(value)} is no place of the mix`);

const connectionSchema = object({
  id: id('Never changes.'),
  kind: oneOf(['output', 'send'], 'The one way that its sound goes, or a branch of it.'),
  from: placeOf('A layer, a group or a shared effect: layer.ID, group.ID, pool.ID.'),
  to: placeOf('A group, a shared effect, or main; of an output also home: where it goes by itself.'),
  level: num(-60, 12, 'dB; the lowest value is nothing.'),
  on: flag('False: nothing goes this way.'),
  tap: oneOf(['before', 'after'], 'Whether it branches off before or after the strip; an output goes after it.'),
});

/** Parts of a take, and notes and moves of a part, at the most. */
export const MOST_PARTS = 16, MOST_NOTES = 20000, MOST_MOVES = 50000;
const isNotes = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_NOTES && value.every((note) => Array.isArray(note) && note.length === 4 && note.every((x) => typeof x === 'number' && x >= 0)
  && note[2] <= 127 && note[3] >= 1 && note[3] <= 127 && Number.isInteger(note[2]) && Number.isInteger(note[3]));
const isMoves = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_MOVES && value.every((move) => Array.isArray(move) && move.length === 3 && typeof move[0] === 'number' && move[0] >= 0
  && typeof move[1] === 'string' && move[1].length <= 160 && typeof move[2] === 'number' && Number.isFinite(move[2]));

const partSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  plays: text('What it plays: "patch", layer.ID or group.ID of the patch, or patch.ID for another one.', 90).matches(/^(patch|(layer|group|patch)\.[A-Za-z0-9_-]+)$/, ({ value }) => `${shown(value)} is nothing that a part can play`),
  on: flag('False: it is not heard.'),
  level: num(-60, 12, 'dB, of a part that another patch plays; the lowest value is silence.'),
  notes: mixed<(readonly [at: number, length: number, key: number, velocity: number])[]>().required('is missing').meta({ doc: '[quarters from the beginning, length in quarters, key, velocity] each, in order.' }).test('notes', (value, context) => isNotes(value) || context.createError({ message: 'holds something that is no note' })),
  moves: mixed<(readonly [at: number, what: string, value: number])[]>().required('is missing').meta({ doc: '[quarters, what moves, value] each, in order: cc.N, bend, channelPressure, macro.N, xy.N.x, xy.N.y, or a target in its unit.' }).test('moves', (value, context) => isMoves(value) || context.createError({ message: 'holds something that is no move' })),
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
});

const isCurve = (value: unknown): boolean => {
  if (typeof value === 'string') return (CURVE_NAMES as readonly string[]).includes(value);
  const points = (value as { points?: unknown } | null)?.points;
  return Array.isArray(points) && points.length >= 2 && points.every((point, i) => Array.isArray(point) && point.length === 2
    && point.every((x) => typeof x === 'number' && x >= 0 && x <= 1) && (i === 0 || point[0] >= points[i - 1][0]));
};

const formulaProblem = (formula: unknown): string | undefined => {
  if (typeof formula !== 'string') return `${shown(formula)} is not a formula`;
  try {
    const unknown = namesOfFormula(parseFormula(formula)).find((name) => !parseSource(name) && name !== 'keyLow' && name !== 'keyHigh');
    return unknown && `"${unknown}" names no source`;
  } catch (error) {
    return (error as FormulaError).message;
  }
};

/** Which of the held notes counts where there can be only one. */
export const NOTES_COUNT = ['last', 'highest', 'lowest', 'loudest', 'mean'] as const;

export const routeSchema = object({
  id: id('Never changes.'),
  source: mixed<string | { formula: string }>().required('is missing').meta({ doc: 'A source id, or { "formula": text } over source ids, keyLow and keyHigh.' })
    .test('source', (value, context) => {
      const problem = typeof value === 'string' ? (parseSource(value) ? undefined : `"${value}" names no source`) : formulaProblem((value as { formula?: unknown }).formula);
      return problem ? context.createError({ message: problem }) : true;
    }),
  target: text('What it moves: layer.ID.PARAMETER, group.ID.PARAMETER, pool.ID.PARAMETER, connection.ID.level, EFFECT.ID.PARAMETER, main.level, macro.N or blend.N.').test('target', (value, context) => !!parseTarget(value) || context.createError({ message: `"${value}" names nothing that a route can move` })),
  depth: num(-1, 1, 'Share of the target’s range.'),
  curve: mixed<Curve>().required('is missing').meta({ doc: `One of ${CURVE_NAMES.join(', ')}, or { "points": [[x, y], …] }.` }).test('curve', (value, context) => isCurve(value) || context.createError({ message: `${shown(value)} is not a curve` })),
  polarity: oneOf(['as-is', 'inverted'], 'Inverted: the source is turned round first.'),
  scaledBy: sourceId('Multiplies the depth by this source’s 0…1.').optional(),
  bound: flag('True: the target never leaves what this route alone can reach, whatever else moves it.'),
  counts: oneOf(NOTES_COUNT, 'Which note counts where a source of notes moves what all notes share.'),
  on: flag('False: does nothing.'),
});

const shareFields = (what: string, most: number) => ({
  number: whole(1, most, `The N of ${what}.N.`),
  name: text('What people call it.'),
  value: num(0, 1, 'Where it rests.'),
});

/** Movers of a patch at the most. */
export const MOST_MOVERS = 16;

const macroSchema = object({
  ...shareFields('macro', 16),
  style: oneOf(['strip', 'momentary', 'latched'], 'A strip to drag, or a button: on while it is pressed, or until it is pressed again.'),
});

const anchorSchema = object({
  name: text('What people call it.'),
  x: num(0, 1, 'From left to right.'),
  y: num(0, 1, 'From bottom to top.'),
  layerId: id('The layer, or group, it stands for; null: none.').nullable().defined('is missing').meta({ doc: 'The layer, or the group, it stands for; null: none.' }),
});

const isPath = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_PATH && value.every((point, i) => Array.isArray(point) && point.length === 3
  && point.every((x) => typeof x === 'number' && x >= 0) && point[1] <= 1 && point[2] <= 1 && (i === 0 || point[0] >= value[i - 1][0]));
/** Points of a recorded path at the most. */
export const MOST_PATH = 2000;

const xyPadSchema = object({
  number: whole(1, 4, 'The N of xy.N.'),
  name: text('What people call it.'),
  x: num(0, 1, 'Where the dot rests from left to right.'),
  y: num(0, 1, 'Where the dot rests from bottom to top.'),
  motion: oneOf(['hand', 'wander', 'path', 'spring'], 'How the dot moves: by hand alone, at random by itself, along a recorded path, or back to its rest when it is let go.'),
  anchors: array(list(anchorSchema)).required('is missing').max(MOST_ANCHORS, `has more than ${MOST_ANCHORS} anchors`),
  path: mixed<(readonly [number, number, number])[]>().required('is missing').meta({ doc: `The recorded path: [seconds, x, y] in order, at most ${MOST_PATH}; it goes round and round.` }).test('path', (value, context) => isPath(value) || context.createError({ message: `${shown(value)} is not a path` })),
  params: mixed<Partial<Record<'speed' | 'radius' | 'spring', number>>>().required('is missing').meta({ doc: 'Values of its other parameters.' })
    .test('params', rule<Record<string, unknown>>((table) => valueFault(table, (at) => (at === 'x' || at === 'y' ? undefined : Object.hasOwn(SECTIONS.xy, at) ? SECTIONS.xy[at] : undefined)))),
});

const isPoints = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_POINTS && value.every((point, i) => Array.isArray(point) && point.length === 3
  && point.every((x) => typeof x === 'number' && x >= -1 && x <= 1) && point[0] >= 0 && (i === 0 || point[0] >= value[i - 1][0]));
const isValues = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_STEPS && value.every((x) => typeof x === 'number' && x >= -1 && x <= 1);

export const moverSchema = object({
  kind: oneOf(MOVER_KINDS, 'What sort of mover it is.'),
  number: whole(1, 16, 'The N of KIND.N.'),
  name: text('What people call it.'),
  on: flag('False: it stays in the middle.'),
  reach: oneOf(['note', 'patch'], 'One for each note, or one for all.'),
  begins: oneOf(['strike', 'phrase', 'beat', 'never'], 'When it begins anew: at each strike, at the first of a phrase, never, or wherever the beat has it.'),
  clock: oneOf(['hz', 'seconds', 'note'], 'Whether its rate, its length in seconds or its note value holds.'),
  shape: oneOf(LFO_SHAPES, 'Shape of an LFO.'),
  loop: flag('Whether a contour goes round and round.'),
  points: mixed<(readonly [number, number, number])[]>().required('is missing').meta({ doc: `Of a contour: [x, y, bend] in order, at most ${MOST_POINTS}; x 0 … 1, y and the bend of the line that follows −1 … 1.` }).test('points', (value, context) => isPoints(value) || context.createError({ message: `${shown(value)} are not the points of a contour` })),
  values: mixed<readonly number[]>().required('is missing').meta({ doc: `Of steps: at most ${MOST_STEPS} values −1 … 1.` }).test('values', (value, context) => isValues(value) || context.createError({ message: `${shown(value)} are not the values of steps` })),
  follows: text('Of sample and hold: a source, or "random". Of a follower: the id of a layer, or "main".', 80),
  params: mixed<Readonly<Record<string, number>>>().required('is missing').meta({ doc: 'Values of its parameters in their units; an absent one has its default.' })
    .test('params', (table, context) => {
      const { kind } = context.parent as { kind?: string };
      const found = valueFault(table as Record<string, unknown>, (at) => (kind && Object.hasOwn(SECTIONS, kind) && Object.hasOwn(SECTIONS[kind], at) ? SECTIONS[kind][at] : undefined));
      return !found || context.createError({ path: found.at ? `${context.path}.${found.at}` : context.path, message: found.problem });
    }),
});

/** Draws of a patch at the most, and what one may change. */
export const MOST_DRAWS = 300, MOST_CHANGES = 2000;
const isChanges = (value: unknown): boolean => Array.isArray(value) && value.length <= MOST_CHANGES && value.every((change) => Array.isArray(change) && change.length === 3 && typeof change[0] === 'string' && change[0].length <= 160
  && [change[1], change[2]].every((x) => (typeof x === 'number' && Number.isFinite(x)) || (typeof x === 'string' && x.length <= 20000)));

const drawSchema = object({
  id: id('Never changes.'),
  name: text('What people call it; empty: nothing.'),
  starred: flag('It is among those that one goes back to.'),
  from: id('The draw that it was made from; null: the patch as it was before any.').nullable().defined('is missing').meta({ doc: 'The draw that it was made from; null: the patch as it was before any.' }),
  seed: whole(0, 2 ** 31 - 1, 'What it was drawn with: the same seed gives the same again.'),
  amount: num(0, 1, 'How far it went, as a share of each parameter’s own range.'),
  scope: text('What was drawn, in words.'),
  changes: mixed<(readonly [what: string, before: number | string, after: number | string])[]>().required('is missing').meta({ doc: '[target, value before, value after] each, in its unit; of what has no number (a pattern, a chord, a sound) its text.' }).test('changes', (value, context) => isChanges(value) || context.createError({ message: 'holds something that is no change' })),
});

const patchFields = {
  id: id('Never changes.'),
  name: text('What people call it.'),
  tempo: num(20, 400, 'Quarter notes in a minute.'),
  notes: text('A line for the player.', 2000),
  layers: array(list(layerSchema)).required('is missing'),
  groups: array(list(groupSchema)).required('is missing').max(MOST_GROUPS, `has more than ${MOST_GROUPS} groups`),
  macros: array(list(macroSchema)).required('is missing').meta({ doc: 'In their order on the pages, eight on each.' }),
  macroPages: array(text('Name of a page of eight macros.')).required('is missing').max(2, 'has more than 2 pages'),
  xyPads: array(list(xyPadSchema)).required('is missing').max(4, 'has more than 4 pads'),
  movers: array(list(moverSchema)).required('is missing').max(MOST_MOVERS, `has more than ${MOST_MOVERS} movers`),
  blends: array(object(shareFields('blend', 8))).required('is missing'),
  routes: array(list(routeSchema)).required('is missing'),
  pools: array(list(poolSchema)).required('is missing').max(MOST_POOLS, `has more than ${MOST_POOLS} shared effects`).meta({ doc: 'Shared effects: what several layers and groups send to.' }),
  connections: array(list(connectionSchema)).required('is missing').max(MOST_CONNECTIONS, `has more than ${MOST_CONNECTIONS} connections`).meta({ doc: 'Sends, and outputs that do not go where they would by themselves: a layer to its group or to main, all else to main.' }),
  main: object({ level: num(-60, 6, 'dB; the lowest value is silence.'), width: num(0, 200, 'Per cent.'), effects: chainSchema }).required('is missing'),
  front: array(text('A target, such as reverb.ID.decay.', 160)).required('is missing').max(16, 'has more than 16 strips').meta({ doc: 'Parameters whose strips stand on the front of the patch, beside its macros.' }),
  draws: array(list(drawSchema)).required('is missing').max(MOST_DRAWS, `has more than ${MOST_DRAWS} draws`).meta({ doc: 'Draws of chance, in the order in which they were made; each one knows from which it was made.' }),
  drawn: id('The draw that the patch stands for now; null: none.').nullable().defined('is missing').meta({ doc: 'The draw that the patch stands for now; null: none.' }),
  locks: array(text('A target, or part of one.', 160)).required('is missing').max(500, 'has more than 500 locks').meta({ doc: 'What draws leave as it is: targets, or the beginnings of some, such as layer.ID.' }),
  takes: array(list(takeSchema)).required('is missing').max(32, 'has more than 32 takes').meta({ doc: 'What was played and drawn.' }),
  backing: array(list(backingSchema)).required('is missing').max(8, 'has more than 8 recordings').meta({ doc: 'Recordings that play along.' }),
};

/** Versions of a patch at the most. */
export const MOST_VERSIONS = 4;

const versionSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  patch: object(patchFields).required('is missing').meta({ doc: 'Everything of the patch as this version has it. Of the version that plays, as it was when it was switched to.' }),
});

export const patchSchema = object({
  ...patchFields,
  versions: array(list(versionSchema)).required('is missing').max(MOST_VERSIONS, `has more than ${MOST_VERSIONS} versions`).meta({ doc: 'Versions kept side by side to compare; none, or two and more.' }),
  version: id('The version that the patch stands for now; null: there are none.').nullable().defined('is missing').meta({ doc: 'The version that the patch stands for now; null: there are none.' }),
});

export const sampleSchema = object({
  id: id('SHA-256 of its WAV file, in hexadecimal.'),
  name: text('The file’s name as it came in.'),
  rate: num(1000, 768000, 'Frames in a second.'),
  channels: whole(1, 2, '1 mono, 2 stereo.'),
  frames: whole(0, 2 ** 31, 'Length.'),
});

/** What a control can be bound to. */
export const isBindable = (target: string): boolean => /^(macro\.([1-9]|1[0-6])|xy\.[1-4]\.[xy]|show\.(next|previous|silence)|show\.step\.[1-9]\d{0,2}|patch\.[A-Za-z0-9_-]{1,80})$/.test(target);

const bindingSchema = object({
  control: text('What is moved: cc.N, cc14.N, nrpn.N, relative.N, note.N, program.N, bend, pressure or keyPressure.', 40).test('control', (value, context) => !!parseControl(value) || context.createError({ message: `"${value}" names no control` })),
  channel: whole(0, 16, 'The MIDI channel it comes on; 0: any.'),
  port: text('Name of the port it comes in by, or "any".'),
  coding: oneOf(['absolute', 'twos', 'offset'], 'How a relative encoder counts: in two’s complement, or from 64; all others are absolute.'),
  target: text('What it moves or does: macro.N, xy.N.x or xy.N.y; show.next, show.previous, show.silence, show.step.N (the N-th step of the setlist), patch.ID.').test('target', (value, context) => isBindable(value) || context.createError({ message: `"${value}" is nothing that a control can be bound to` })),
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

const controllersSchema = object({
  keyLow: whole(0, 127, 'Lowest key of the controller.'),
  keyHigh: whole(0, 127, 'Highest key of the controller.'),
  velocityLow: whole(1, 127, 'Softest strike of the controller.'),
  velocityHigh: whole(1, 127, 'Hardest strike of the controller.'),
  ports: array(text('Name of a port.')).required('is missing').max(MOST_PORTS, `has more than ${MOST_PORTS} ports`).meta({ doc: 'The MIDI ports that layers can tell apart.' }),
  bindings: array(list(bindingSchema)).required('is missing').meta({ doc: 'What was learned: controls that move macros and pads in every patch.' }),
  pedals: array(list(pedalSchema)).required('is missing').meta({ doc: 'Pedals whose polarity or kind was learned.' }),
  takeover: oneOf(['jump', 'pick-up', 'scaled'], 'What an absolute control does when it stands elsewhere than its value: moves it at once, once it has passed it, or in proportion to the way that is left.'),
  mpe: mpeSchema.required('is missing'),
  programs: oneOf(['off', 'setlist', 'patches'], 'What program changes choose (bank · 128 + program, counted from 0): nothing, steps of the setlist, or patches of the rig.'),
  programChannel: whole(0, 16, 'The MIDI channel that program changes choose on; 0: any.'),
});

/** Entries of a setlist, patches of a song and setlists of a rig at the most. */
export const MOST_ENTRIES = 300, MOST_SONG_PATCHES = 16, MOST_SETLISTS = 32;

const entrySchema = object({
  id: id('Never changes.'),
  kind: oneOf(['patch', 'song', 'pause'], 'One patch, several that belong together, or a pause.'),
  name: text('What people call it; empty: as its patch.'),
  notes: text('Lines for the player; empty: those of the patch.', 2000),
  tempo: num(20, 400, 'Quarter notes in a minute instead of the patch’s own; null: its own.').nullable().defined('is missing').meta({ doc: 'Quarter notes in a minute instead of the patch’s own; null: its own.' }),
  transpose: whole(-12, 12, 'Semitones by which it is played higher, for the singer; layers that do not go along stay.'),
  patches: array(id('Id of a patch.')).required('is missing').max(MOST_SONG_PATCHES, `has more than ${MOST_SONG_PATCHES} patches`).meta({ doc: 'Ids of its patches in order; none in a pause.' }),
  minutes: num(0, 600, 'How long a pause or a song is meant to last; 0: nobody knows.'),
});

const setlistSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  notes: text('What is to be known of the evening.', 2000),
  entries: array(list(entrySchema)).required('is missing').max(MOST_ENTRIES, `has more than ${MOST_ENTRIES} entries`).meta({ doc: 'In the order of the show; a patch may stand in many.' }),
});

export const RIG_VERSION = 8;

export const rigSchema = object({
  format: oneOf(['wavicle-rig'], 'Marks the file.'),
  version: whole(1, RIG_VERSION, 'Version of the format.'),
  id: id('Never changes.'),
  name: text('What people call it.'),
  patches: array(list(patchSchema)).required('is missing'),
  sounds: array(list(soundSchema)).required('is missing'),
  samples: array(list(sampleSchema)).required('is missing'),
  setlists: array(list(setlistSchema)).required('is missing').max(MOST_SETLISTS, `has more than ${MOST_SETLISTS} setlists`).meta({ doc: 'Orders in which patches are played.' }),
  setlist: id('The setlist of the next show; null: there is none.').nullable().defined('is missing').meta({ doc: 'The setlist of the next show; null: there is none.' }),
  controllers: controllersSchema.required('is missing'),
});

/** A type as edits see it: nothing is changed in place. */
type Frozen<T> = T extends (infer U)[] ? readonly Frozen<U>[] : T extends object ? { readonly [K in keyof T]: Frozen<T[K]> } : T;

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
