import type { Audio } from '../dsp/sample';
import { correlationOf, longestCrossfade } from '../dsp/loopCrossfade';

/**
 * How well a loop closes. Steps are those that its joint has beyond what the signal does anyway, as shares of the
 * signal's greatest amplitude near it.
 */
export interface LoopQuality {
  /** Jump of the level at the joint. */
  levelStep: number;
  /** Jump of the slope at the joint, per frame. */
  slopeStep: number;
  /** Likeness −1…1 of what surrounds the end to what surrounds the start. */
  correlation: number;
  /**
   * By how many dB the end is louder than the start (negative: softer): what is heard to jump each time round, and to
   * sink in between.
   */
  levelDb: number;
}

/** From so many dB on a loop is heard to pump. */
export const PUMPS_DB = 1.5;

export interface FoundLoop {
  start: number;
  end: number;
  quality: LoopQuality;
}

const mono = ({ channels, data }: Audio): Float32Array => {
  if (channels === 1) return data;
  const out = new Float32Array(data.length / 2);
  for (let i = 0; i < out.length; i++) out[i] = (data[2 * i] + data[2 * i + 1]) / 2;
  return out;
};

/** The joint of a loop looked at from both sides. Frames outside the recording count as silence. */
export function loopQuality(audio: Audio, start: number, end: number): LoopQuality {
  return qualityOf(mono(audio), start, end);
}

function qualityOf(samples: Float32Array, start: number, end: number): LoopQuality {
  const at = (i: number) => (i >= 0 && i < samples.length ? samples[i] : 0);
  const reach = Math.max(16, Math.min(2048, end - start));
  const half = reach >> 1;
  let peak = 1e-9;
  for (let i = -half; i < half; i++) peak = Math.max(peak, Math.abs(at(start + i)), Math.abs(at(end + i)));
  // What leads up to the end should lead up to the start as well; at the very beginning, what follows should follow.
  const [a, b] = start >= 2 ? [end - 1, start - 1] : [end, start];
  const levelStep = Math.abs(at(a) - at(b)) / peak;
  const slopeStep = Math.abs(at(a) - at(a - 1) - (at(b) - at(b - 1))) / peak;
  const from = Math.max(0, start - half);
  const length = Math.min(start + half, samples.length - (end - start)) - from;
  const correlation = length > 8 ? correlationOf(samples, from, from + end - start, length) : 0;
  return { levelStep, slopeStep, correlation, levelDb: levelOver(samples, start, end) };
}

/**
 * The level near the end against that near the start, in dB: of the same stretch of a period, so that what is compared
 * is the level and not the place in it.
 */
function levelOver(samples: Float32Array, start: number, end: number): number {
  const frames = Math.max(16, Math.min(LEVEL_FRAMES, end - start));
  // What leads up to both, as far as it is there; else what follows both.
  const before = Math.min(frames, start);
  const after = Math.min(frames - before, samples.length - end);
  let first = SILENT;
  let last = SILENT;
  for (let i = -before; i < after; i++) {
    first += samples[start + i] ** 2;
    last += samples[end + i] ** 2;
  }
  return 10 * Math.log10(last / first);
}
/** Over so many frames a level is taken. */
export const LEVEL_FRAMES = 4096;
const SILENT = 1e-12;

/** One dB of level counts as much as five hundredths of likeness. */
const costOf = ({ levelStep, slopeStep, correlation, levelDb }: LoopQuality): number =>
  levelStep + 2 * slopeStep + 3 * (1 - correlation) + 0.15 * Math.abs(levelDb);

/**
 * Good loops near the given points: both ends may move by up to `reach` frames. Starts are tried at rising zero
 * crossings; for each, the ends that look most like it
 * are refined frame by frame. At most `most`, best first, and none worse than the loop as it is.
 */
export function findLoops(audio: Audio, start: number, end: number, reach: number, most = 5): FoundLoop[] {
  const samples = mono(audio);
  const frames = samples.length;
  if (frames < 32) return [];
  const held = (x: number) => Math.max(1, Math.min(frames - 1, Math.round(x)));
  const starts = spread(risingCrossings(samples, held(start - reach), held(start + reach)), start, 24);
  const ends = spread(risingCrossings(samples, held(end - reach), held(end + reach)), end, 160);
  const candidates: FoundLoop[] = [];
  for (const s of starts) {
    for (const e of ends) if (e - s >= 16) candidates.push({ start: s, end: e, quality: qualityOf(samples, s, e) });
  }
  candidates.sort((a, b) => costOf(a.quality) - costOf(b.quality));
  const refined = candidates
    .slice(0, 24)
    .map(({ start: s, end: e }) => {
      let best: FoundLoop = { start: s, end: e, quality: qualityOf(samples, s, e) };
      for (let d = -3; d <= 3; d++) {
        const quality = qualityOf(samples, s, e + d);
        if (e + d <= frames && e + d > s && costOf(quality) < costOf(best.quality))
          best = { start: s, end: e + d, quality };
      }
      return best;
    })
    .sort((a, b) => costOf(a.quality) - costOf(b.quality));
  const now = end > start && end <= frames ? costOf(qualityOf(samples, start, end)) : Infinity;
  const out: FoundLoop[] = [];
  for (const loop of refined) {
    if (out.length >= most || costOf(loop.quality) > now) break;
    if (!out.some((other) => Math.abs(other.start - loop.start) < 8 && Math.abs(other.end - loop.end) < 8))
      out.push(loop);
  }
  return out;
}

/** Frames at which the signal passes from below zero to zero or above. */
function risingCrossings(samples: Float32Array, from: number, to: number): number[] {
  const found: number[] = [];
  for (let i = Math.max(1, from); i <= to && i < samples.length; i++)
    if (samples[i - 1] < 0 && samples[i] >= 0) found.push(i);
  return found;
}

/** The nearest ones, and others evenly over the rest. */
function spread(points: readonly number[], near: number, most: number): number[] {
  if (points.length <= most) return [...points];
  const sorted = [...points].sort((a, b) => Math.abs(a - near) - Math.abs(b - near));
  const nearest = sorted.slice(0, most >> 1);
  const rest = sorted.slice(most >> 1);
  return [
    ...nearest,
    ...Array.from(
      { length: most - nearest.length },
      (_, i) => rest[Math.floor((i * rest.length) / (most - nearest.length))],
    ),
  ];
}

/**
 * The nearest frame at which the first channel crosses zero, upward or downward; the frame itself where there is none
 * within `reach`.
 */
export function nearestZeroCrossing({ channels, data }: Audio, frame: number, reach: number): number {
  const frames = data.length / channels;
  const crosses = (i: number) => i > 0 && i < frames && data[(i - 1) * channels] < 0 !== data[i * channels] < 0;
  for (let d = 0; d <= reach; d++) {
    if (crosses(frame + d)) return frame + d;
    if (crosses(frame - d)) return frame - d;
  }
  return frame;
}

/**
 * The crossfade, in frames, that mends most of what is heard at the joint: half of the loop, as far as there is room
 * before its start.
 */
export const mendingCrossfade = (loop: { start: number; end: number }): number =>
  Math.min(longestCrossfade(loop), (loop.end - loop.start) >> 1);

/** Rate at which a loop repeats, in Hz: a short one is heard at this pitch. */
export const loopHz = (rate: number, start: number, end: number): number => rate / (end - start);
