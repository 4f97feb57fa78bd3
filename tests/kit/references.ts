import { type prepareSample } from '../../src/core/dsp/sample';
import FFT from 'fft.js';
import { effectKind, type Effect } from '../../src/core/effects/index';
import { roomAlone } from '../../src/core/effects/picture';

export const RATE = 48000;
export const valuesOf = (kindId: string, values: Record<string, number> = {}) =>
  Float64Array.from(
    Object.values(effectKind(kindId).parameters),
    (parameter) => values[parameter.id] ?? parameter.default,
  );
export const make = (
  kindId: string,
  values: Record<string, number> = {},
  more: {
    side?: { left: Float32Array; right: Float32Array } | null;
    impulse?: ReturnType<typeof prepareSample> | null;
    key?: number;
    tempo?: number;
  } = {},
): Effect => {
  const kind = effectKind(kindId);
  const effect = kind.make({
    rate: RATE,
    seed: 1,
    room: roomAlone(kind, RATE),
    time: Float64Array.of(0, (more.tempo ?? 120) / 60 / RATE),
    key: Float64Array.of(more.key ?? NaN),
    cents: new Float64Array(128),
    steps: new Float64Array(33),
    side: more.side ?? null,
    impulse: more.impulse ?? null,
  });
  effect.aim(valuesOf(kindId, values));
  return effect;
};
export const process = (effect: Effect, left: Float32Array, right = left.slice()) => {
  for (let at = 0; at < left.length; at += 32) effect.process(left, right, at, Math.min(left.length, at + 32));
  return { left, right };
};
export const sine = (hz: number, seconds: number, height = 1) =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => height * Math.sin((2 * Math.PI * hz * i) / RATE));
export const noise = (frames: number, height = 1, seed = 1) => {
  let s = seed;
  return Float32Array.from({ length: frames }, () => {
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    return (height * s) / 2 ** 31;
  });
};
export const db = (x: number) => 20 * Math.log10(x + 1e-12);
export const rms = (x: Float32Array, from = 0, to = x.length) =>
  Math.sqrt(x.subarray(from, to).reduce((sum, y) => sum + y * y, 0) / (to - from));
/** Gain at a frequency, by a sine that has settled. */
export const gainAt = (kindId: string, values: Record<string, number>, hz: number, more = {}) => {
  const x = sine(hz, 0.6, 0.1);
  const was = rms(x, 19200);
  return db(rms(process(make(kindId, values, more), x).left, 19200) / was);
};
export const spectrum = (x: Float32Array, size: number, from = 0): Float64Array => {
  const fft = new FFT(size);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(
    out,
    Float64Array.from(
      { length: size },
      (_, i) =>
        (x[from + i] ?? 0) *
        (0.35875 -
          0.48829 * Math.cos((2 * Math.PI * i) / size) +
          0.14128 * Math.cos((4 * Math.PI * i) / size) -
          0.01168 * Math.cos((6 * Math.PI * i) / size)),
    ),
  );
  return Float64Array.from(
    { length: size / 2 },
    (_, k) => Math.hypot(out[2 * k], out[2 * k + 1]) / ((size * 0.35875) / 2),
  );
};
