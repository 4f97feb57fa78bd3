import { LAYER_PARAMETERS } from '../../core/rig/layerParameters';
import { SHARE } from '../../core/rig/parameters';
import { FIRST_KEY, keyScaleOf, LAST_KEY, draggedKey } from './keyScale';
import { formatDb, formatValue, readValue } from './format';

describe('values in words', () => {
  const { level, cutoff, attack, pan } = LAYER_PARAMETERS;
  test.each([
    [level, -6.5, '−6.5 dB'],
    [level, -60, 'silent'],
    [cutoff, 2400, '2.4 kHz'],
    [cutoff, 180, '180 Hz'],
    [attack, 0.18, '180 ms'],
    [attack, 1.9, '1.9 s'],
    [pan, 0, 'centre'],
    [pan, -0.12, '12 left'],
    [SHARE, 0.5, '50'],
    [SHARE, 1, '100'],
  ] as const)('%# %f', (parameter, value, text) => {
    expect(formatValue(parameter, value)).toBe(text);
    expect(readValue(parameter, text)).toBeCloseTo(value, 6);
  });
  test('typed in other ways', () => {
    expect([
      readValue(cutoff, '2.4k'),
      readValue(attack, '20ms'),
      readValue(level, '-3,5'),
      readValue(pan, '30 right'),
    ]).toEqual([2400, 0.02, -3.5, 0.3]);
    expect(['L 40', '40 left', '-40', 'l40', 'left 40'].map((text) => readValue(pan, text))).toEqual([
      -0.4, -0.4, -0.4, -0.4, -0.4,
    ]);
    expect(readValue(pan, 'R 25')).toBe(0.25);
  });
  test('three figures count, and what is shown as an end of the range is taken for it', () => {
    expect([0.119, 1.234, 12.34, 123.4, 1234, 12345].map((value) => formatValue(cutoff, value))).toEqual([
      '0.119 Hz',
      '1.23 Hz',
      '12.3 Hz',
      '123 Hz',
      '1.23 kHz',
      '12.3 kHz',
    ]);
    expect(readValue(cutoff, '20.5 kHz')).toBe(cutoff.high);
  });
  test('what cannot be read or is out of range is said, not held in silence', () => {
    expect(readValue(cutoff, '99999999')).toBe('a value from 20 Hz to 20.5 kHz');
    expect(readValue(level, 'loud')).toBe('a value from silent to 6.0 dB');
  });
  test('nothing is not minus nothing', () => {
    expect(formatDb(-0.04)).toBe('0.0 dB');
    expect(formatValue(level, -0.01)).toBe('0.0 dB');
    expect(formatValue(LAYER_PARAMETERS.tune, -0.001)).toBe('0 ct');
    expect(formatDb(-0.06)).toBe('−0.1 dB');
  });
});

describe('the key scale', () => {
  const scale = keyScaleOf(880);
  test('keys are equally wide at the back, and seven whites share an octave in front', () => {
    expect(scale.keyWidth).toBeCloseTo(10, 9);
    expect(scale.left(FIRST_KEY)).toBe(0);
    expect(scale.left(LAST_KEY + 1)).toBeCloseTo(880, 9);
    for (const [white, next] of [
      [60, 62],
      [64, 65],
      [71, 72],
    ])
      expect(scale.frontLeft(next) - scale.frontLeft(white)).toBeCloseTo(120 / 7, 9);
    for (let key = 24; key <= 108; key += 12) expect(scale.frontLeft(key)).toBeCloseTo(scale.left(key), 9);
  });
  test('a drag past an end means the end of all keys', () =>
    expect([draggedKey(scale, -5), draggedKey(scale, 5), draggedKey(scale, 905)]).toEqual([0, 21, 127]));
});
