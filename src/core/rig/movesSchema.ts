import { array, mixed, object } from 'yup';
import { LFO_SHAPES, MOST_POINTS, MOST_STEPS } from '../movers';
import { type Curve, CURVE_NAMES } from '../space/curve';
import { type FormulaError, namesOfFormula, parseFormula } from '../space/formula';
import { MOST_ANCHORS, MOVER_KINDS, parseSource } from '../space/source';
import { parseTarget, SECTIONS } from './parameters';
import { flag, id, list, num, oneOf, rule, shown, sourceId, text, valueFault, whole } from './schemaFields';
import { MOST_PATH, NOTES_COUNT } from './limits';

/** What of the written format moves: routes, macros, XY pads, movers. */

export const isCurve = (value: unknown): boolean => {
  if (typeof value === 'string') return (CURVE_NAMES as readonly string[]).includes(value);
  const points = (value as { points?: unknown } | null)?.points;
  return (
    Array.isArray(points) &&
    points.length >= 2 &&
    points.every(
      (point, i) =>
        Array.isArray(point) &&
        point.length === 2 &&
        point.every((x) => typeof x === 'number' && x >= 0 && x <= 1) &&
        (i === 0 || point[0] >= points[i - 1][0]),
    )
  );
};

export const formulaProblem = (formula: unknown): string | undefined => {
  if (typeof formula !== 'string') return `${shown(formula)} is not a formula`;
  try {
    const unknown = namesOfFormula(parseFormula(formula)).find(
      (name) => !parseSource(name) && name !== 'keyLow' && name !== 'keyHigh',
    );
    return unknown && `"${unknown}" names no source`;
  } catch (error) {
    return (error as FormulaError).message;
  }
};

export const routeSchema = object({
  id: id('Never changes.'),
  source: mixed<string | { formula: string }>()
    .required('is missing')
    .meta({ doc: 'A source id, or { "formula": text } over source ids, keyLow and keyHigh.' })
    .test('source', (value, context) => {
      const problem =
        typeof value === 'string'
          ? parseSource(value)
            ? undefined
            : `"${value}" names no source`
          : formulaProblem((value as { formula?: unknown }).formula);
      return problem ? context.createError({ message: problem }) : true;
    }),
  target: text(
    'What it moves: layer.ID.PARAMETER, group.ID.PARAMETER, pool.ID.PARAMETER, connection.ID.level, knob.ID.value, EFFECT.ID.PARAMETER, main.level, macro.N or blend.N.',
  ).test(
    'target',
    (value, context) =>
      !!parseTarget(value) || context.createError({ message: `"${value}" names nothing that a route can move` }),
  ),
  depth: num(-1, 1, 'Share of the target’s range.'),
  curve: mixed<Curve>()
    .required('is missing')
    .meta({ doc: `One of ${CURVE_NAMES.join(', ')}, or { "points": [[x, y], …] }.` })
    .test(
      'curve',
      (value, context) => isCurve(value) || context.createError({ message: `${shown(value)} is not a curve` }),
    ),
  polarity: oneOf(['as-is', 'inverted'], 'Inverted: the source is turned round first.'),
  scaledBy: sourceId('Multiplies the depth by this source’s 0…1.').optional(),
  bound: flag('True: the target never leaves what this route alone can reach, whatever else moves it.'),
  counts: oneOf(NOTES_COUNT, 'Which note counts where a source of notes moves what all notes share.'),
  on: flag('False: does nothing.'),
});

export const shareFields = (what: string, most: number) => ({
  number: whole(1, most, `The N of ${what}.N.`),
  name: text('What people call it.'),
  value: num(0, 1, 'Where it rests.'),
});

export const macroSchema = object({
  ...shareFields('macro', 16),
  style: oneOf(
    ['strip', 'momentary', 'latched'],
    'A strip to drag, or a button: on while it is pressed, or until it is pressed again.',
  ),
});

export const anchorSchema = object({
  name: text('What people call it.'),
  x: num(0, 1, 'From left to right.'),
  y: num(0, 1, 'From bottom to top.'),
  layerId: id('The layer, or group, it stands for; null: none.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The layer, or the group, it stands for; null: none.' }),
});

export const isPath = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= MOST_PATH &&
  value.every(
    (point, i) =>
      Array.isArray(point) &&
      point.length === 3 &&
      point.every((x) => typeof x === 'number' && x >= 0) &&
      point[1] <= 1 &&
      point[2] <= 1 &&
      (i === 0 || point[0] >= value[i - 1][0]),
  );

export const xyPadSchema = object({
  number: whole(1, 4, 'The N of xy.N.'),
  name: text('What people call it.'),
  x: num(0, 1, 'Where the dot rests from left to right.'),
  y: num(0, 1, 'Where the dot rests from bottom to top.'),
  motion: oneOf(
    ['hand', 'wander', 'path', 'spring'],
    'How the dot moves: by hand alone, at random by itself, along a recorded path, or back to its rest when it is let go.',
  ),
  anchors: array(list(anchorSchema)).required('is missing').max(MOST_ANCHORS, `has more than ${MOST_ANCHORS} anchors`),
  path: mixed<(readonly [number, number, number])[]>()
    .required('is missing')
    .meta({ doc: `The recorded path: [seconds, x, y] in order, at most ${MOST_PATH}; it goes round and round.` })
    .test(
      'path',
      (value, context) => isPath(value) || context.createError({ message: `${shown(value)} is not a path` }),
    ),
  params: mixed<Partial<Record<'speed' | 'radius' | 'spring', number>>>()
    .required('is missing')
    .meta({ doc: 'Values of its other parameters.' })
    .test(
      'params',
      rule<Record<string, unknown>>((table) =>
        valueFault(table, (at) =>
          at === 'x' || at === 'y' ? undefined : Object.hasOwn(SECTIONS.xy, at) ? SECTIONS.xy[at] : undefined,
        ),
      ),
    ),
});

export const isPoints = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= MOST_POINTS &&
  value.every(
    (point, i) =>
      Array.isArray(point) &&
      point.length === 3 &&
      point.every((x) => typeof x === 'number' && x >= -1 && x <= 1) &&
      point[0] >= 0 &&
      (i === 0 || point[0] >= value[i - 1][0]),
  );
export const isValues = (value: unknown): boolean =>
  Array.isArray(value) && value.length <= MOST_STEPS && value.every((x) => typeof x === 'number' && x >= -1 && x <= 1);

export const moverSchema = object({
  kind: oneOf(MOVER_KINDS, 'What sort of mover it is.'),
  number: whole(1, 16, 'The N of KIND.N.'),
  name: text('What people call it.'),
  on: flag('False: it stays in the middle.'),
  reach: oneOf(['note', 'patch'], 'One for each note, or one for all.'),
  begins: oneOf(
    ['strike', 'phrase', 'beat', 'never'],
    'When it begins anew: at each strike, at the first of a phrase, never, or wherever the beat has it.',
  ),
  clock: oneOf(['hz', 'seconds', 'note'], 'Whether its rate, its length in seconds or its note value holds.'),
  shape: oneOf(LFO_SHAPES, 'Shape of an LFO.'),
  loop: flag('Whether a contour goes round and round.'),
  points: mixed<(readonly [number, number, number])[]>()
    .required('is missing')
    .meta({
      doc: `Of a contour: [x, y, bend] in order, at most ${MOST_POINTS}; x 0 … 1, y and the bend of the line that follows −1 … 1.`,
    })
    .test(
      'points',
      (value, context) =>
        isPoints(value) || context.createError({ message: `${shown(value)} are not the points of a contour` }),
    ),
  values: mixed<readonly number[]>()
    .required('is missing')
    .meta({ doc: `Of steps: at most ${MOST_STEPS} values −1 … 1.` })
    .test(
      'values',
      (value, context) =>
        isValues(value) || context.createError({ message: `${shown(value)} are not the values of steps` }),
    ),
  follows: text('Of sample and hold: a source, or "random". Of a follower: the id of a layer, or "main".', 80),
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
});
