import fc from 'fast-check';
import { gainOfWindow, type FadeShape, type WindowRange } from './window';
import { figure } from '../../../tests/kit/figure';

const window = (low: number, high: number, fadeIn = 0, fadeOut = 0, shape: FadeShape = 'sine'): WindowRange => ({
  low,
  high,
  fadeIn,
  fadeOut,
  shape,
});

test('both borders are inside, everything beyond is silent', () => {
  const hard = window(40, 60);
  expect([39, 39.999, 40, 50, 60, 60.001, 61].map((x) => gainOfWindow(hard, x))).toEqual([0, 0, 1, 1, 1, 0, 0]);
  expect(gainOfWindow(hard, NaN)).toBe(0);
});

test('with a fade the gain is 0 at the border and 1 a fade’s length further in', () => {
  const soft = window(40, 80, 10, 20);
  expect(gainOfWindow(soft, 40)).toBe(0);
  expect(gainOfWindow(soft, 50)).toBe(1);
  expect(gainOfWindow(soft, 60)).toBe(1);
  expect(gainOfWindow(soft, 80)).toBe(0);
});

test('the three shapes half-way: t, sin(πt/2), √t', () => {
  expect(gainOfWindow(window(0, 10, 10, 0, 'linear'), 5)).toBeCloseTo(0.5, 12);
  expect(gainOfWindow(window(0, 10, 10, 0, 'sine'), 5)).toBeCloseTo(Math.SQRT1_2, 12);
  expect(gainOfWindow(window(0, 10, 10, 0, 'root'), 5)).toBeCloseTo(Math.SQRT1_2, 12);
  expect(gainOfWindow(window(0, 9, 9, 0, 'sine'), 3)).toBeCloseTo(0.5, 12);
});

// Signal theory: an equal-power crossfade has −3.01 dB each in the middle and a sum of squares of 1; a linear one −6.02
// dB and a sum of 1.
test.each<[FadeShape, number, number]>([
  ['sine', 2, -3.0103],
  ['root', 2, -3.0103],
  ['linear', 1, -6.0206],
])('%s fades over one span add up everywhere', (shape, power, middleDb) => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 90 }),
      fc.integer({ min: 1, max: 37 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (from, span, share) => {
        const x = from + share * span;
        const out = gainOfWindow(window(0, from + span, 0, span, shape), x);
        const into = gainOfWindow(window(from, 127, span, 0, shape), x);
        const sum = Math.abs(out ** power + into ** power - 1);
        expect(
          figure('crossfades: sum of powers, or of gains where they are straight', sum, 'from 1', 'signal theory'),
        ).toBeLessThan(1e-9);
      },
    ),
  );
  expect(20 * Math.log10(gainOfWindow(window(0, 10, 10, 0, shape), 5))).toBeCloseTo(middleDb, 3);
});

test('fades longer than the window multiply', () => {
  expect(gainOfWindow(window(0, 10, 20, 20, 'linear'), 5)).toBeCloseTo(1 / 16, 12);
});
