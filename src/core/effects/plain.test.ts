/** What the kernel makes of effects against the same written plainly, sample by sample in double precision. */
import { PlainPartials } from '../../../tests/kit/plain/partials';
import { PlainReverb } from '../../../tests/kit/plain/reverb';
import { PlainSaturation } from '../../../tests/kit/plain/saturation';
import { PlainThreeBand } from '../../../tests/kit/plain/threeBand';
import { PlainVocoder } from '../../../tests/kit/plain/vocoder';
import { prepareSample } from '../dsp/sample';
import type { Effect, EffectContext } from './effect';
import { effectKind } from './index';
import { roomAlone } from './picture';

const RATE = 48000;
const SECONDS = 2;
const FRAMES = RATE * SECONDS;

/** Struck tones, a gap, noise, and silence at the end. */
function signal(hz: number, seed: number): Float32Array {
  let s = seed;
  return Float32Array.from({ length: FRAMES }, (_, i) => {
    const t = i / RATE;
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    if (t < 1) return 0.35 * Math.sin(2 * Math.PI * hz * t) * Math.exp(-4 * (t % 0.4));
    if (t < 1.2) return 0;
    return t < 1.7 ? (0.4 * s) / 2 ** 31 : 0;
  });
}
const side = { left: signal(131, 5), right: signal(98, 9) };
const contextFor = (id: string, rest: Partial<EffectContext> = {}): EffectContext => {
  const kind = effectKind(id);
  return {
    rate: RATE,
    seed: 1,
    room: roomAlone(kind, RATE),
    time: Float64Array.of(0, 2 / RATE),
    key: Float64Array.of(52),
    cents: new Float64Array(128),
    steps: new Float64Array(33),
    side: kind.listens ? side : null,
    impulse: null,
    ...rest,
  };
};
/** Whole spans mostly, and some that events cut short. */
function run(effect: Effect, values: Float64Array): { left: Float32Array; right: Float32Array } {
  effect.aim(values);
  const [left, right] = [signal(220, 1), signal(277, 3)];
  for (let at = 0, n = 0; at < FRAMES; n++) {
    const to = Math.min(FRAMES, at + (n % 10 === 0 ? 1 + (n % 31) : 32));
    effect.process(left, right, at, to);
    at = to;
  }
  return { left, right };
}
const valuesOf = (id: string, values: Readonly<Record<string, number>>): Float64Array =>
  Float64Array.from(Object.values(effectKind(id).parameters), (parameter) => values[parameter.id] ?? parameter.default);
/** The greatest difference, in dB below the greatest sample. */
function apart(a: ReturnType<typeof run>, b: ReturnType<typeof run>): number {
  let most = 0,
    peak = 0;
  for (const channel of ['left', 'right'] as const)
    for (let i = 0; i < FRAMES; i++) {
      most = Math.max(most, Math.abs(a[channel][i] - b[channel][i]));
      peak = Math.max(peak, Math.abs(b[channel][i]));
    }
  expect(peak).toBeGreaterThan(0.001);
  return 20 * Math.log10(most / peak + 1e-20);
}

const PLAIN: Readonly<Record<string, (context: EffectContext) => Effect>> = {
  saturation: (context) => new PlainSaturation(context),
  reverb: (context) => new PlainReverb(context),
  vocoder: (context) => new PlainVocoder(context),
  threeBand: (context) => new PlainThreeBand(context),
  partials: (context) => new PlainPartials(context),
};

const cases = Object.keys(PLAIN).flatMap((id) =>
  [{ name: 'as it comes', values: {} }, ...effectKind(id).presets].map(
    ({ name, values }) => [id, name, values as Record<string, number>] as const,
  ),
);

// 32-bit filters around the saturation's curve, 32-bit lines of the reverb: 24 bits hold −144 dB of each operation.
test.each(cases)('%s, %s: within −110 dB of the plain one', (id, _, values) => {
  const list = valuesOf(id, values);
  const kernel = run(effectKind(id).make(contextFor(id)), list);
  expect(apart(kernel, run(PLAIN[id](contextFor(id)), list))).toBeLessThan(-110);
});

test.each([
  ['saturation', 'drive', 3],
  ['reverb', 'size', 0],
  ['vocoder', 'bands', 0],
  ['threeBand', 'amount', 0],
  ['partials', 'narrow', 0],
])('%s: a value at either end is within −100 dB as well', (id, parameter, curve) => {
  const { low, high } = effectKind(id).parameters[parameter];
  for (const value of [low, high]) {
    const list = valuesOf(id, { [parameter]: value, curve });
    const kernel = run(effectKind(id).make(contextFor(id)), list);
    expect(apart(kernel, run(PLAIN[id](contextFor(id)), list))).toBeLessThan(-100);
  }
});

test('convolution: all its blocks, a pre-delay and both cuts against the plain sum, left and right apart', () => {
  const length = 15_000;
  const audio = Float32Array.from({ length: 2 * length }, (_, i) => Math.sin(i * i * 0.31) * Math.exp(-i / 9000) * 0.1);
  const impulse = prepareSample({ rate: RATE, channels: 2, data: audio }, null);
  const values = valuesOf('convolution', { predelay: 0.0123, lowCut: 150, highCut: 7000, gain: -6, width: 80 });
  const list = run(effectKind('convolution').make(contextFor('convolution', { impulse })), values);
  const plain = [signal(220, 1), signal(277, 3)].map((x, c) => {
    const share = (hz: number) => 1 - Math.exp((-2 * Math.PI * hz) / RATE);
    const delay = Math.round(0.0123 * RATE);
    let low = 0,
      high = 0;
    const cut = x.map((_, i) => {
      const now = i >= delay ? x[i - delay] : 0;
      low += (now - low) * share(150);
      return now - low;
    });
    const at = [...Array(60).keys()].map((n) => Math.round(1000 + n * 1570.3));
    // The high cut remembers: so far back as it does (7000 Hz: 0.1 ms), the sum is worked out before each place.
    return at.map((place) => {
      high = 0;
      for (let i = Math.max(0, place - 60); i <= place; i++) {
        let sum = 0;
        for (let k = 0; k < length && k <= i; k++) sum += audio[2 * k + c] * cut[i - k];
        high += (sum - high) * share(7000);
      }
      return { place, y: high * 10 ** (-6 / 20) };
    });
  });
  const peak = Math.max(...plain.flat().map(({ y }) => Math.abs(y)));
  plain[0].forEach(({ place, y }, n) => {
    const other = plain[1][n].y;
    const [middle, apartBy] = [(y + other) / 2, ((y - other) / 2) * 0.8];
    expect(Math.abs(list.left[place] - middle - apartBy) / peak).toBeLessThan(1e-4);
    expect(Math.abs(list.right[place] - middle + apartBy) / peak).toBeLessThan(1e-4);
  });
});
