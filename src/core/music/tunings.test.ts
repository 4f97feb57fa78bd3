import { frequencyOfKey } from './pitch';
import { beatsOf, centsOfTuning, EQUAL, isPlain, stretchCents, TEMPERAMENTS, type Tuning } from './tunings';
import { figure } from '../../../tests/kit/figure';

const tuned = (scale: string, more: Partial<Tuning> = {}): Tuning => ({ ...EQUAL, scale, ...more });
const hzOf = (cents: Float64Array, key: number) => frequencyOfKey(key + cents[key] / 100);

/**
 * Cents from C of the tunings in J. M. Barbour, "Tuning and temperament" (1951), and in the scales of the Scala archive
 * (pyth_12, meanquar, werck3, kirnberger3, vallotti, young2, ji_12 by their usual names): values from memory.
 */
const PUBLISHED: Readonly<Record<string, readonly number[]>> = {
  pythagorean: [113.685, 203.91, 294.135, 407.82, 498.045, 611.73, 701.955, 815.64, 905.865, 996.09, 1109.775],
  meantone: [76.049, 193.157, 310.265, 386.314, 503.422, 579.471, 696.578, 772.627, 889.735, 1006.843, 1082.892],
  'werckmeister-3': [90.225, 192.18, 294.135, 390.225, 498.045, 588.27, 696.09, 792.18, 888.27, 996.09, 1092.18],
  'kirnberger-3': [90.225, 193.157, 294.135, 386.314, 498.045, 590.224, 696.578, 792.18, 889.735, 996.09, 1088.269],
  vallotti: [94.135, 196.09, 298.045, 392.18, 501.955, 592.18, 698.045, 796.09, 894.135, 1000, 1090.225],
  young: [90.225, 196.09, 294.135, 392.18, 498.045, 588.27, 698.045, 792.18, 894.135, 996.09, 1090.225],
  just: [111.731, 203.91, 315.641, 386.314, 498.045, 590.224, 701.955, 813.686, 884.359, 1017.596, 1088.269],
};

test.each(Object.entries(PUBLISHED))('%s is as it is published, within a hundredth of a cent', (id, published) => {
  const { degrees } = TEMPERAMENTS.find((each) => each.id === id)!;
  expect(degrees).toHaveLength(12);
  for (const [i, cents] of published.entries()) {
    const off = figure(
      'tunings',
      Math.abs(degrees[i] - cents),
      'cents',
      'J. M. Barbour 1951, Scala archive (from memory)',
    );
    expect(off).toBeLessThan(0.01);
  }
  expect(degrees[11]).toBe(1200);
});

test.each(TEMPERAMENTS.map(({ id }) => id))('%s: the A is the A of concert pitch, octaves are pure', (id) => {
  const cents = centsOfTuning(tuned(id), 442);
  expect(hzOf(cents, 69)).toBeCloseTo(442, 9);
  for (let key = 0; key < 116; key++) expect(hzOf(cents, key + 12) / hzOf(cents, key)).toBeCloseTo(2, 9);
});

test('on another root the whole goes there with it: a pure fifth on D in just intonation', () => {
  const cents = centsOfTuning(tuned('just', { root: 2 }), 440);
  expect(hzOf(cents, 69) / hzOf(cents, 62)).toBeCloseTo(3 / 2, 9);
  expect(hzOf(cents, 66) / hzOf(cents, 62)).toBeCloseTo(5 / 4, 9);
});

test('twelve equal at 440 leaves every key as it is; a kammerton of 415 is 101.27 cents lower', () => {
  expect([...centsOfTuning(EQUAL, 440)].every((cents) => Math.abs(cents) < 1e-9)).toBe(true);
  expect(isPlain(EQUAL, 440)).toBe(true);
  expect(isPlain(EQUAL, 442)).toBe(false);
  for (const cents of centsOfTuning(EQUAL, 415)) expect(cents).toBeCloseTo(1200 * Math.log2(415 / 440), 9);
});

test('nineteen equal degrees without a mapping: neighbours a nineteenth of an octave apart, the A where it was', () => {
  const degrees = Array.from({ length: 19 }, (_, i) => ((i + 1) * 1200) / 19);
  const cents = centsOfTuning(tuned('own', { degrees }), 440);
  expect(hzOf(cents, 69)).toBeCloseTo(440, 9);
  for (let key = 0; key < 127; key++)
    expect(1200 * Math.log2(hzOf(cents, key + 1) / hzOf(cents, key))).toBeCloseTo(1200 / 19, 6);
});

test('a mapping says where degrees lie, from which key and frequency, and which keys are silent', () => {
  const degrees = [200, 400, 500, 700, 900, 1100, 1200];
  const mapping = {
    size: 12,
    first: 24,
    last: 96,
    middle: 60,
    reference: 60,
    referenceHz: 264,
    octave: 7,
    keys: [0, null, 1, null, 2, 3, null, 4, null, 5, null, 6],
  };
  const cents = centsOfTuning(tuned('own', { degrees, mapping }), 440);
  expect(hzOf(cents, 60)).toBeCloseTo(264, 9);
  expect(hzOf(cents, 72)).toBeCloseTo(528, 9);
  expect(hzOf(cents, 67)).toBeCloseTo(264 * 2 ** (7 / 12), 9);
  for (const key of [61, 23, 97]) expect(cents[key]).toBeNaN();
  // Concert pitch moves it like everything else.
  expect(hzOf(centsOfTuning(tuned('own', { degrees, mapping }), 442), 60)).toBeCloseTo((264 * 442) / 440, 9);
});

test('stretched octaves: nothing at the A, wider the farther from it, thirty cents at the ends at most', () => {
  expect(stretchCents(69, 1)).toBe(0);
  expect(stretchCents(108, 1)).toBeCloseTo(30, 9);
  expect(stretchCents(21, 1)).toBeCloseTo(-30, 9);
  const cents = centsOfTuning({ ...EQUAL, stretch: 100 }, 440);
  for (let key = 22; key < 108; key++) expect(cents[key]).toBeGreaterThanOrEqual(cents[key - 1]);
});

test('beats: a fifth on A3 in equal temperament beats 0.74 times a second, a pure one not at all', () => {
  // H. Helmholtz, "On the sensations of tone", appendix XX (A. J. Ellis): slow beats of tempered fifths; 0.74 computed.
  expect(beatsOf(220, 220 * 2 ** (7 / 12), 3, 2)).toBeCloseTo(0.7446, 3);
  expect(beatsOf(220, 330, 3, 2)).toBe(0);
});
