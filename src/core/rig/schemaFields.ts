import { type array, boolean, mixed, number, object, string, type StringSchema, type TestContext } from 'yup';
import { parseSource } from '../space/source';
import { FADE_SHAPES } from '../space/window';
import type { LayerParameterId, Parameter } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import { LONGEST_NAME } from './limits';

/** Fields of the written format: each knows its range and what it means, and says what is wrong with a value. */

export const shown = (value: unknown): string => {
  const text = JSON.stringify(value) ?? String(value);
  return text.length > 40 ? `${text.slice(0, 40)}…` : text;
};

export const num = (low: number, high: number, doc: string) =>
  number()
    .meta({ doc, low, high })
    .typeError(({ value }) => `${shown(value)} is not a number`)
    .required('is missing')
    .test('range', (value, context) =>
      value == null
        ? true
        : value < low
          ? context.createError({ message: `${value} is below ${low}` })
          : value > high
            ? context.createError({ message: `${value} is above ${high}` })
            : true,
    );
export const whole = (low: number, high: number, doc: string) =>
  num(low, high, doc).test(
    'whole',
    (value, context) =>
      value == null || Number.isInteger(value) || context.createError({ message: `${value} is not a whole number` }),
  );
export const text = (doc: string, longest = LONGEST_NAME) =>
  string()
    .meta({ doc })
    .typeError(({ value }) => `${shown(value)} is not a text`)
    .defined('is missing')
    .max(longest, `is longer than ${longest} characters`);
export const id = (doc: string) =>
  text(doc, 80).matches(/^[A-Za-z0-9_-]+$/, ({ value }) => `${shown(value)} is not an id (letters, digits, - and _)`);
export const flag = (doc: string) =>
  boolean()
    .meta({ doc })
    .typeError(({ value }) => `${shown(value)} is neither true nor false`)
    .required('is missing');
export const oneOf = <const T extends string>(values: readonly T[], doc: string): StringSchema<T> =>
  string<T>()
    .meta({ doc })
    .required('is missing')
    .oneOf(values, ({ value }) => `${shown(value)} is none of ${values.join(', ')}`);
export const list = <T extends Parameters<ReturnType<typeof array>['of']>[0]>(schema: T) => schema;

export const sourceId = (doc: string) =>
  text(doc).test(
    'source',
    (value, context) =>
      value === undefined || !!parseSource(value) || context.createError({ message: `"${value}" names no source` }),
  );

/**
 * A rule about a table of values: gives the entry at fault and what is wrong with it, or nothing. Runs before its
 * entries are checked.
 */
export const rule =
  <T>(check: (value: T) => { at: string; problem: string } | undefined) =>
  (value: unknown, context: TestContext) => {
    const found = check(value as T);
    return found
      ? context.createError({ path: found.at ? `${context.path}.${found.at}` : context.path, message: found.problem })
      : true;
  };

/** Holds a field at or below its neighbour; the neighbour has a check of its own. */
export const notAbove =
  (other: string, strictly = false) =>
  (value: number, context: TestContext) => {
    const limit = (context.parent as Record<string, unknown>)[other];
    if (typeof limit !== 'number' || value < limit || (!strictly && value === limit)) return true;
    return context.createError({
      message: strictly ? `${value} is not before ${other} (${limit})` : `${value} is above ${other} (${limit})`,
    });
  };

export const rangeFields = (low: number, high: number) => ({
  low: num(low, high, 'Lowest value inside.').test('order', notAbove('high')),
  high: num(low, high, 'Highest value inside.'),
  fadeIn: num(0, 127, 'Length of the fade upward from low; the gain is 0 at low itself. 0: a hard border.'),
  fadeOut: num(0, 127, 'Length of the fade downward to high; the gain is 0 at high itself. 0: a hard border.'),
  shape: oneOf(FADE_SHAPES, 'How the fades rise: t, sin(πt/2) or √t.'),
});
export const keyWindowSchema = object(rangeFields(0, 127)).required('is missing');
export const velocityWindowSchema = object(rangeFields(1, 127)).required('is missing');

/** Holds a border of a window inside the range of the source that the window looks at. */
export const insideSource = (value: number, context: TestContext) => {
  const source = parseSource(String((context.parent as { source?: unknown }).source));
  if (source && value < source.low) return context.createError({ message: `${value} is below ${source.low}` });
  if (source && value > source.high) return context.createError({ message: `${value} is above ${source.high}` });
  return true;
};

export const anyRange = rangeFields(-1, 127);
export const windowSchema = object({
  source: sourceId('What the window looks at: key, velocity, cc.1, macro.1 …'),
  ...anyRange,
  low: anyRange.low.test('source', insideSource),
  high: anyRange.high.test('source', insideSource),
  read: oneOf(
    ['always', 'at-strike'],
    'Whether the gain follows the source while a note sounds, or stays as it was at the strike.',
  ),
});

/** The first entry of a table of values that no parameter allows. */
export const valueFault = (
  table: Record<string, unknown>,
  parameterOf: (id: string) => Parameter | undefined,
): { at: string; problem: string } | undefined => {
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
export const params = <Id extends LayerParameterId>(allowed: readonly string[], doc: string) =>
  mixed<Partial<Record<Id, number>>>()
    .required('is missing')
    .meta({ doc })
    .test(
      'params',
      rule<Record<string, unknown>>((table) =>
        valueFault(table, (id) => (allowed.includes(id) ? LAYER_PARAMETERS[id as LayerParameterId] : undefined)),
      ),
    );
