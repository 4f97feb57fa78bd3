import fc from 'fast-check';
import { EFFECTS, effectKind, FAMILIES, MOST_EFFECT_PARAMETERS } from './index';
import { effectForPicture, pictureOf } from './picture';

const RATE = 48000;
/** Runs an effect over both sides in spans of 32 frames, or as they are given. */
function run(
  kind: string,
  values: Record<string, number>,
  left: Float32Array,
  right = left.slice(),
  spans: readonly number[] = [32],
  tempo = 120,
  steps: readonly number[] = [],
) {
  const made = effectForPicture(kind, values, steps, tempo);
  for (let at = 0, n = 0; at < left.length; n++) {
    const to = Math.min(left.length, at + spans[n % spans.length]);
    made.time[0] = at * made.time[1];
    made.effect.process(left, right, at, to);
    at = to;
  }
  return { left, right, effect: made.effect };
}
const noise = (frames: number, height = 1, seed = 1) => {
  let s = seed;
  return Float32Array.from({ length: frames }, () => {
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    return (height * s) / 2 ** 31;
  });
};
const peak = (x: Float32Array, from = 0) => x.subarray(from).reduce((most, y) => Math.max(most, Math.abs(y)), 0);

describe.each(EFFECTS.map((kind) => [kind.id, kind] as const))('%s', (id, kind) => {
  const all = [{}, ...kind.presets.map(({ values }) => values)];
  test('has what every effect has: a mix, words, five presets within their ranges', () => {
    const parameters = Object.values(kind.parameters);
    expect(parameters[0].id).toBe('mix');
    expect(parameters.length).toBeLessThanOrEqual(MOST_EFFECT_PARAMETERS);
    expect(FAMILIES).toContain(kind.family);
    expect(kind.presets.length).toBeGreaterThanOrEqual(5);
    expect(new Set(kind.presets.map(({ name }) => name)).size).toBe(kind.presets.length);
    for (const { values } of kind.presets) {
      for (const [name, value] of Object.entries(values)) {
        expect(kind.parameters[name]).toBeDefined();
        expect(value).toBeGreaterThanOrEqual(kind.parameters[name].low);
        expect(value).toBeLessThanOrEqual(kind.parameters[name].high);
      }
    }
    for (const parameter of parameters) expect(parameter.help.length).toBeGreaterThan(8);
  });
  test('silence in gives silence out', () => {
    for (const values of all) {
      const { left, right } = run(id, values, new Float32Array(4800));
      expect(peak(left)).toBe(0);
      expect(peak(right)).toBe(0);
    }
  });
  test('after its tail it is silent, below −100 dB', () => {
    for (const values of all) {
      const list = Float64Array.from(
        Object.values(kind.parameters),
        (parameter) => (values as Record<string, number>)[parameter.id] ?? parameter.default,
      );
      const tail = kind.tail ? kind.tail(list, 120) : 0.02;
      if (tail > 12) continue;
      const frames = Math.ceil((0.3 + tail) * RATE);
      const signal = new Float32Array(frames + 4800);
      signal.set(noise(Math.round(0.3 * RATE), 0.5));
      const { left, right } = run(id, values, signal);
      expect(20 * Math.log10(Math.max(peak(left, frames), peak(right, frames)) + 1e-12)).toBeLessThan(-100);
    }
  });
  test('no input makes it anything but finite: full-scale noise, steps, single frames', () => {
    for (const values of all) {
      const signal = noise(12000);
      signal.fill(1, 2000, 4000);
      signal.fill(0, 6000, 8000);
      signal[7000] = -1;
      const { left, right } = run(id, values, signal, noise(12000, 1, 7));
      expect(left.every(Number.isFinite) && right.every(Number.isFinite)).toBe(true);
      expect(Math.max(peak(left), peak(right))).toBeLessThan(64);
    }
  });
  test('values at the ends of their ranges do no harm', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(0, 1, 0.5), { minLength: 48, maxLength: 48 }), (places) => {
        const values = Object.fromEntries(
          Object.values(kind.parameters).map(({ id: name, low, high, law }, i) => [
            name,
            law === 'steps' ? Math.round(low + (high - low) * places[i]) : low + (high - low) * places[i],
          ]),
        );
        const { left, right } = run(id, values, noise(6000, 0.7), noise(6000, 0.7, 3));
        return left.every(Number.isFinite) && right.every(Number.isFinite);
      }),
      { numRuns: 12 },
    );
  });
  test('the same again, bit by bit, and after a reset', () => {
    const values = kind.presets[0].values;
    const once = run(id, values, noise(6000, 0.5), noise(6000, 0.5, 3));
    expect(run(id, values, noise(6000, 0.5), noise(6000, 0.5, 3)).left).toEqual(once.left);
  });
  test('what is no number does not stay after a reset', () => {
    for (const values of all) {
      const { effect } = effectForPicture(id, values, [], 120);
      const bad = new Float32Array(640).fill(NaN);
      for (let at = 0; at < 640; at += 32) effect.process(bad, bad.slice(), at, at + 32);
      effect.reset();
      const [left, right] = [noise(9600), noise(9600)];
      for (let at = 0; at < 9600; at += 32) effect.process(left, right, at, at + 32);
      expect(left.every(Number.isFinite) && right.every(Number.isFinite)).toBe(true);
    }
  });
  test('where in a run its span lies changes no bit', () => {
    for (const values of all) {
      const [signal, frames] = [noise(9600), 128];
      const play = (first: number) => {
        const { effect } = effectForPicture(id, values, [], 120);
        const out = new Float32Array(signal.length);
        for (let done = 0, at = first; done < signal.length; at = at + 64 > frames ? first : at + 32, done += 32) {
          const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
          left.set(signal.subarray(done, done + 32), at);
          right.set(signal.subarray(done, done + 32), at);
          effect.process(left, right, at, at + 32);
          out.set(left.subarray(at, at + 32), done);
        }
        return out;
      };
      const [here, there] = [play(0), play(5)];
      expect(here.findIndex((x, i) => x !== there[i])).toBe(-1);
    }
  });
  test('its picture is measured', () => {
    const picture = pictureOf(id, {});
    expect(picture.x.length).toBeGreaterThan(10);
    expect(picture.y.every(Number.isFinite)).toBe(true);
  });
});

test('every effect is found by its id', () => {
  for (const kind of EFFECTS) expect(effectKind(kind.id)).toBe(kind);
  expect(new Set(EFFECTS.map(({ id }) => id)).size).toBe(EFFECTS.length);
});
