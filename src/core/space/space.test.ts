import { bendByCurve } from './curve';
import { FORMULA_DEPTH, FormulaError, namesOfFormula, parseFormula, runFormula } from './formula';
import { CycleError, topologicalOrder } from './order';
import { labelOfSource, normalisedOf, parseSource } from './source';

describe('sources', () => {
  test('ids and their ranges', () => {
    expect(parseSource('key')).toMatchObject({ reach: 'note', low: 0, high: 127 });
    expect(parseSource('velocity')).toMatchObject({ reach: 'note', low: 1, high: 127 });
    expect(parseSource('cc.1')).toMatchObject({ reach: 'patch', index: 1, rest: 0 });
    expect(parseSource('cc.11')).toMatchObject({ rest: 127 });
    expect(parseSource('macro.16')).toMatchObject({ low: 0, high: 1 });
  });
  test.each(['', 'cc', 'cc.128', 'cc.1x', 'macro.0', 'macro.17', 'key.1', 'constructor', 'wheel', 'cc.-1'])(
    '"%s" names none',
    (id) => expect(parseSource(id)).toBeUndefined(),
  );
  test('normalised 0…1, or −1…1 for two-sided ones', () => {
    expect(normalisedOf(parseSource('cc.1')!, 127)).toBe(1);
    expect(normalisedOf(parseSource('velocity')!, 1)).toBe(0);
    expect(normalisedOf(parseSource('bend')!, -0.5)).toBe(-0.5);
  });
  test('labels', () =>
    expect(['cc.1', 'cc.20', 'macro.2', 'channelPressure'].map(labelOfSource)).toEqual([
      'wheel (CC 1)',
      'CC 20',
      'macro 2',
      'channel pressure',
    ]));
});

test('curves keep their ends and mirror below 0', () => {
  for (const curve of ['linear', 'slow', 'fast', 'smooth'] as const) {
    expect([bendByCurve(curve, 0), bendByCurve(curve, 1), bendByCurve(curve, -1)].map((x) => x + 0)).toEqual([
      0, 1, -1,
    ]);
  }
  expect(bendByCurve('slow', 0.5)).toBe(0.25);
  expect(bendByCurve('fast', 0.25)).toBe(0.5);
  expect(bendByCurve('smooth', 0.25)).toBeCloseTo(0.15625, 12);
  const limits = {
    points: [
      [0, 0.2],
      [0.5, 0.2],
      [1, 0.8],
    ],
  } as const;
  expect([0, 0.5, 0.75, 1].map((t) => bendByCurve(limits, t))).toEqual([0.2, 0.2, expect.closeTo(0.5, 12), 0.8]);
});

describe('order', () => {
  const movers: Record<string, string[]> = { a: ['b'], b: ['c'], c: [], x: ['y'], y: ['z'], z: ['x'] };
  test('everything comes after what moves it', () =>
    expect(topologicalOrder(['a', 'b', 'c'], (node) => movers[node])).toEqual(['c', 'b', 'a']));
  test('a circle is refused with its members', () => {
    expect(() => topologicalOrder(['x'], (node) => movers[node])).toThrow(CycleError);
    expect(() => topologicalOrder(['x'], (node) => movers[node])).toThrow(/z → y → x → z/);
  });
});

describe('formulas', () => {
  const value = (text: string, names: Record<string, number> = {}) =>
    runFormula(parseFormula(text), (name) => names[name], new Float64Array(FORMULA_DEPTH));
  // Common practice, no source: a key scaled to the learned range of a controller, 39 … 84.
  test('the key scaled to the controller’s range', () => {
    const at = (key: number) => value('2 * (key − keyLow) / (keyHigh - keyLow) - 1', { key, keyLow: 39, keyHigh: 84 });
    expect([39, 84].map(at)).toEqual([-1, 1]);
    expect(at(60)).toBeCloseTo((2 * 21) / 45 - 1, 12);
  });
  test.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['-2 * -3', 6],
    ['8 / 4 / 2', 1],
    ['7 - 2 - 1', 4],
    ['min(3, max(1, 2))', 2],
    ['abs(-4)', 4],
    ['1 / 0', 0],
    ['--1', 1],
  ])('%s = %f', (text, result) => expect(value(text)).toBe(result));
  test('names are told apart', () =>
    expect(namesOfFormula(parseFormula('cc.1 + cc.1 * macro.2'))).toEqual(['cc.1', 'macro.2']));
  test.each(['', '1 +', '(1', '1 2', 'min(1)', '1 $ 2', 'key key', ')', `${'('.repeat(600)}1`])(
    '"%s" is refused with a place',
    (text) => expect(() => parseFormula(text)).toThrow(FormulaError),
  );
});
