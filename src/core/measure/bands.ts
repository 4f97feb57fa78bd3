import FFT from 'fft.js';
import { butterworthQs, HZ, Q, setBiquad } from '../effects/biquad';

/** Middles of thirds of octaves in Hz, from 31.5 to 16 000 (IEC 61260, base 2: 1000 · 2^(n/3)). */
export const THIRDS: readonly number[] = Array.from({ length: 28 }, (_, i) => 1000 * 2 ** ((i - 15) / 3));

const SIZE = 8192;

/** What every spectrum is worked out with; made once. */
let transform: ReturnType<typeof newTransform> | undefined;
function newTransform() {
  const fft = new FFT(SIZE);
  return {
    fft,
    window: Float64Array.from({ length: SIZE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE)),
    part: new Float64Array(SIZE),
    out: fft.createComplexArray() as number[],
  };
}

/**
 * Mean power of a signal in each third of an octave, in dB against a full-scale square; both channels together. −120
 * where there is nothing.
 */
export function thirdsOf(channels: readonly Float32Array[], rate: number): number[] {
  const { fft, window, part, out } = (transform ??= newTransform());
  const sum = new Float64Array(SIZE / 2);
  let count = 0;
  const frames = channels[0].length;
  for (let at = 0; at < Math.max(1, frames - SIZE / 2); at += SIZE / 2) {
    for (const channel of channels) {
      for (let i = 0; i < SIZE; i++) part[i] = (channel[at + i] ?? 0) * window[i];
      fft.realTransform(out, part);
      for (let bin = 0; bin < SIZE / 2; bin++) sum[bin] += out[2 * bin] ** 2 + out[2 * bin + 1] ** 2;
    }
    count++;
  }
  // Twice, for the half of the spectrum that mirrors this one; 3/8 is the mean square of the window.
  const scale = 2 / (count * SIZE * SIZE * 0.375 * channels.length);
  return THIRDS.map((middle) => {
    const low = (middle * 2 ** (-1 / 6) * SIZE) / rate;
    const high = (middle * 2 ** (1 / 6) * SIZE) / rate;
    let power = 0;
    for (let bin = Math.floor(low); bin <= Math.ceil(high) && bin < SIZE / 2; bin++) {
      const share = Math.max(0, Math.min(bin + 0.5, high) - Math.max(bin - 0.5, low));
      power += sum[bin] * share;
    }
    return Math.max(-120, 10 * Math.log10(power * scale + 1e-12));
  });
}

/**
 * Thirds within so many dB of each other count as shared, where both are no further than that below the loudest of
 * either.
 */
export const NEAR_DB = 6;
const FAR_DB = 45;

/** In which thirds of octaves two layers are within 6 dB of each other. */
export function sharedThirds(a: readonly number[], b: readonly number[]): boolean[] {
  const loudest = Math.max(...a, ...b);
  return a.map((level, i) => Math.abs(level - b[i]) <= NEAR_DB && Math.max(level, b[i]) > loudest - FAR_DB);
}

const by = new Float64Array(3);
const section = new Float64Array(5);
/** What a Butterworth cut of fourth order (24 dB an octave) leaves of a frequency, in dB. */
export function cutDb(kind: 'low cut' | 'high cut', cutoff: number, hz: number, rate = 48000): number {
  let db = 0;
  for (const q of butterworthQs(4)) {
    by[HZ] = cutoff;
    by[Q] = q;
    setBiquad(section, 0, kind === 'low cut' ? 'high-pass' : 'low-pass', by, rate);
    const w = (2 * Math.PI * Math.min(hz, 0.49 * rate)) / rate;
    const [b0, b1, b2, a1, a2] = section;
    const power = (x0: number, x1: number, x2: number) =>
      (x0 + x1 * Math.cos(w) + x2 * Math.cos(2 * w)) ** 2 + (x1 * Math.sin(w) + x2 * Math.sin(2 * w)) ** 2;
    db += 10 * Math.log10((power(b0, b1, b2) + 1e-30) / power(1, a1, a2));
  }
  return db;
}

/** Cuts in Hz; null: none is needed there. */
export interface Room {
  lowCutUpper: number | null;
  highCutLower: number | null;
  before: number;
  after: number;
}
/** What changes less than so many dB where both are heard is no room. */
const LEAST_ROOM_DB = 1;

/**
 * A low cut for the upper and a high cut for the lower of two layers after which at most half as many thirds of octaves
 * are shared; among such pairs the one that takes the least away. Undefined where nothing is
 * shared, or no pair does it. A cut that changes less than 1 dB in what is shared is left out.
 */
export function makeRoom(lower: readonly number[], upper: readonly number[]): Room | undefined {
  const shared = sharedThirds(lower, upper);
  const before = shared.filter(Boolean).length;
  if (before === 0) return undefined;
  const cuts = Array.from({ length: 55 }, (_, k) => 31.5 * 2 ** (k / 6));
  const powers = (levels: readonly number[]) => levels.map((db) => 10 ** (db / 10));
  const lost = (levels: readonly number[], left: readonly number[]) => {
    const total = powers(levels).reduce((a, b) => a + b, 0);
    return 1 - powers(left).reduce((a, b) => a + b, 0) / total;
  };
  const lowered = cuts.map((hz) => lower.map((db, i) => db + cutDb('high cut', hz, THIRDS[i])));
  const raised = cuts.map((hz) => upper.map((db, i) => db + cutDb('low cut', hz, THIRDS[i])));
  let best: { lowCutUpper: number; highCutLower: number; before: number; after: number; cost: number } | undefined;
  for (let l = 0; l < cuts.length; l++) {
    const costLower = lost(lower, lowered[l]);
    for (let u = 0; u < cuts.length; u++) {
      const cost = costLower + lost(upper, raised[u]);
      if (best && cost >= best.cost) continue;
      const after = sharedThirds(lowered[l], raised[u]).filter(Boolean).length;
      if (after * 2 <= before) best = { lowCutUpper: cuts[u], highCutLower: cuts[l], before, after, cost };
    }
  }
  if (!best) return undefined;
  const needed = (kind: 'low cut' | 'high cut', hz: number) =>
    THIRDS.some((third, i) => shared[i] && cutDb(kind, hz, third) <= -LEAST_ROOM_DB) ? Math.round(hz) : null;
  return {
    lowCutUpper: needed('low cut', best.lowCutUpper),
    highCutLower: needed('high cut', best.highCutLower),
    before: best.before,
    after: best.after,
  };
}

/** Where most of the power of a layer lies, in Hz: the middle of its thirds by their power on a scale of octaves. */
export function middleOf(levels: readonly number[]): number {
  let sum = 0,
    at = 0;
  levels.forEach((db, i) => {
    const power = 10 ** (db / 20);
    sum += power;
    at += power * i;
  });
  return 1000 * 2 ** ((at / sum - 15) / 3);
}
