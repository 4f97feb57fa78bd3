import { array, boolean, mixed, number, object, string, type InferType, type StringSchema, type TestContext } from 'yup';
import { CURVE_NAMES, type Curve } from '../space/curve';
import { type FormulaError, namesOfFormula, parseFormula } from '../space/formula';
import { parseSource } from '../space/source';
import { FADE_SHAPES } from '../space/window';
import { LAYER_PARAMETERS, parseTarget, ZONE_PARAMETERS, type LayerParameterId, type ZoneParameterId } from './parameters';

/**
 * The one description of what a rig file holds: the TypeScript types, the check of every file that is read and the written
 * format (docs/rig-format.md) all come from here. Messages say what is wrong; the reader puts the place before them.
 */
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

/** Values of parameters by id, in their units; only those in `allowed`. */
const params = <Id extends LayerParameterId>(allowed: readonly string[], doc: string) =>
  mixed<Partial<Record<Id, number>>>().required('is missing').meta({ doc })
    .test('params', rule<Record<string, unknown>>((table) => {
      if (typeof table !== 'object') return { at: '', problem: `${shown(table)} is not a table of values` };
      for (const [at, value] of Object.entries(table)) {
        if (!allowed.includes(at)) return { at, problem: 'no parameter has this name' };
        const { low, high } = LAYER_PARAMETERS[at as LayerParameterId];
        if (typeof value !== 'number' || Number.isNaN(value)) return { at, problem: `${shown(value)} is not a number` };
        if (value < low) return { at, problem: `${value} is below ${low}` };
        if (value > high) return { at, problem: `${value} is above ${high}` };
      }
      return undefined;
    }));

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
  params: params<ZoneParameterId>(ZONE_PARAMETERS, 'Its own values of parameters, in their units. They hold where the layer leaves the parameter at its default.'),
});

export const soundSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  kind: oneOf(['multisample'], 'What sort of sound it is.'),
  alternation: oneOf(['in-turn', 'random', 'shuffled'], 'How one of several alternates is chosen.'),
  zones: array(list(zoneSchema)).required('is missing'),
});

export const MARK_SHAPES = ['dot', 'triangle', 'square', 'diamond', 'ring', 'bar', 'cross', 'wave'] as const;
export const MARK_COLOURS = ['teal', 'clay', 'indigo', 'ochre', 'plum', 'moss', 'slate', 'rose'] as const;

const touchSchema = object({
  curve: num(-1, 1, 'Above 0 soft strikes count for more, below 0 for less; 0 is a straight line.'),
  outLow: whole(1, 127, 'What the softest strike becomes.'),
  outHigh: whole(1, 127, 'What the hardest strike becomes.'),
  fixed: whole(1, 127, 'Every strike counts as this velocity; null: it is felt.').nullable(),
});

const receiveSchema = object({
  channel: mixed<'any' | number>().meta({ doc: 'MIDI channel 1…16, or "any".' }).required('is missing')
    .test('channel', (value, context) => value === 'any' || (Number.isInteger(value) && (value as number) >= 1 && (value as number) <= 16)
      || context.createError({ message: `${shown(value)} is neither "any" nor a channel from 1 to 16` })),
  bend: flag('Hears the bend wheel.'),
  sustain: flag('Hears the sustain and sostenuto pedals.'),
  wheel: flag('Hears the modulation wheel (CC 1).'),
  pressure: flag('Hears aftertouch.'),
  expression: flag('Hears volume (CC 7) and expression (CC 11).'),
});

export const layerSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  mark: object({ colour: oneOf(MARK_COLOURS, 'Colour of its mark.'), shape: oneOf(MARK_SHAPES, 'Shape of its mark.') }).required('is missing'),
  soundId: id('The sound it plays.'),
  on: flag('False: muted.'),
  windows: array(list(windowSchema)).required('is missing').meta({ doc: 'Where it sounds: the product of these. One on key and one on velocity are always there.' }),
  receive: receiveSchema.required('is missing'),
  transpose: whole(-48, 48, 'Semitones; the samples of the key it lands on are used.'),
  touch: touchSchema.required('is missing'),
  params: params<LayerParameterId>(Object.keys(LAYER_PARAMETERS), 'Values of its parameters in their units; an absent one has its default. See the table of parameters.'),
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

export const routeSchema = object({
  id: id('Never changes.'),
  source: mixed<string | { formula: string }>().required('is missing').meta({ doc: 'A source id, or { "formula": text } over source ids, keyLow and keyHigh.' })
    .test('source', (value, context) => {
      const problem = typeof value === 'string' ? (parseSource(value) ? undefined : `"${value}" names no source`) : formulaProblem((value as { formula?: unknown }).formula);
      return problem ? context.createError({ message: problem }) : true;
    }),
  target: text('What it moves: layer.ID.PARAMETER, main.level, macro.N or blend.N.').test('target', (value, context) => !!parseTarget(value) || context.createError({ message: `"${value}" names nothing that a route can move` })),
  depth: num(-1, 1, 'Share of the target’s range.'),
  curve: mixed<Curve>().required('is missing').meta({ doc: `One of ${CURVE_NAMES.join(', ')}, or { "points": [[x, y], …] }.` }).test('curve', (value, context) => isCurve(value) || context.createError({ message: `${shown(value)} is not a curve` })),
  polarity: oneOf(['as-is', 'inverted'], 'Inverted: the source is turned round first.'),
  scaledBy: sourceId('Multiplies the depth by this source’s 0…1.').optional(),
  on: flag('False: does nothing.'),
});

const shareFields = (what: string, most: number) => ({
  number: whole(1, most, `The N of ${what}.N.`),
  name: text('What people call it.'),
  value: num(0, 1, 'Where it rests.'),
});

export const patchSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  tempo: num(20, 400, 'Quarter notes in a minute.'),
  notes: text('A line for the player.', 2000),
  layers: array(list(layerSchema)).required('is missing'),
  macros: array(object(shareFields('macro', 16))).required('is missing'),
  blends: array(object(shareFields('blend', 8))).required('is missing'),
  routes: array(list(routeSchema)).required('is missing'),
  main: object({ level: num(-60, 6, 'dB; the lowest value is silence.') }).required('is missing'),
});

export const sampleSchema = object({
  id: id('SHA-256 of its WAV file, in hexadecimal.'),
  name: text('The file’s name as it came in.'),
  rate: num(1000, 768000, 'Frames in a second.'),
  channels: whole(1, 2, '1 mono, 2 stereo.'),
  frames: whole(0, 2 ** 31, 'Length.'),
});

const controllersSchema = object({
  keyLow: whole(0, 127, 'Lowest key of the controller.'),
  keyHigh: whole(0, 127, 'Highest key of the controller.'),
});

export const RIG_VERSION = 3;

export const rigSchema = object({
  format: oneOf(['wavicle-rig'], 'Marks the file.'),
  version: whole(1, RIG_VERSION, 'Version of the format.'),
  id: id('Never changes.'),
  name: text('What people call it.'),
  patches: array(list(patchSchema)).required('is missing'),
  sounds: array(list(soundSchema)).required('is missing'),
  samples: array(list(sampleSchema)).required('is missing'),
  setlist: array(id('Id of a patch.')).required('is missing').meta({ doc: 'Ids of patches in the order of the show.' }),
  controllers: controllersSchema.required('is missing'),
});

/** A type as edits see it: nothing is changed in place. */
type Frozen<T> = T extends (infer U)[] ? readonly Frozen<U>[] : T extends object ? { readonly [K in keyof T]: Frozen<T[K]> } : T;

export type Rig = Frozen<InferType<typeof rigSchema>>;
export type Patch = Rig['patches'][number];
export type Layer = Patch['layers'][number];
export type LayerWindow = Layer['windows'][number];
export type Receive = Layer['receive'];
export type Touch = Layer['touch'];
export type Mark = Layer['mark'];
export type Route = Patch['routes'][number];
export type Macro = Patch['macros'][number];
export type Sound = Rig['sounds'][number];
export type Zone = Sound['zones'][number];
export type ZoneLoop = NonNullable<Zone['loop']>;
export type Choke = NonNullable<Zone['choke']>;
export type Sample = Rig['samples'][number];
