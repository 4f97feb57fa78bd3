import type { FilterCoefficients, FilterState } from './filter';
import type { PanGains } from './pan';
import { PAD, type SampleLevel } from './sample';

/**
 * Reads samples into a stereo bus: interpolation, low-pass and gains in one loop for each case, because a processor reads the next frame while the filter still waits
 * for its own last result, and nothing is written down in between. The loops are alike on purpose; a shared one with switches inside is half as fast.
 */

/** What one span of a voice needs. The gains move in straight lines from `gains` by `slopes` for each frame. */
export interface ReadState {
  /** In frames of the level. */
  position: number;
  /** Frames of the level for each frame of output. */
  step: number;
  readonly gains: PanGains;
  readonly slopes: PanGains;
  filter: FilterCoefficients | null;
  readonly filterStates: readonly [FilterState, FilterState];
}

const SIXTH = 1 / 6;

/** Jumps back by the loop's length once its end is passed. */
export function foldIntoLoop(level: SampleLevel, state: ReadState): void {
  const { loop } = level;
  if (loop && state.position >= loop.end) state.position = loop.start + ((state.position - loop.start) % (loop.end - loop.start));
}

/** Adds a mono or stereo level to the frames `begin … frames` of the bus. Past the end of the sample there is silence. */
export function addSample(level: SampleLevel, channels: 1 | 2, state: ReadState, left: Float64Array, right: Float64Array, frames: number, begin = 0): void {
  let done = begin;
  while (done < frames) {
    foldIntoLoop(level, state);
    const end = level.loop ? level.loop.end : level.frames;
    const { step } = state;
    if (state.position >= end) {
      state.position += step * (frames - done);
      return;
    }
    const to = state.position + step * (frames - done) < end ? frames : Math.min(frames, done + Math.ceil((end - state.position) / step));
    if (channels === 1) {
      if (state.filter) addMonoFiltered(level.data, state, state.filter, left, right, done, to);
      else addMono(level.data, state, left, right, done, to);
    } else if (state.filter) addStereoFiltered(level.data, state, state.filter, left, right, done, to);
    else addStereo(level.data, state, left, right, done, to);
    done = to;
  }
}

function addMono(data: Float32Array, state: ReadState, left: Float64Array, right: Float64Array, from: number, to: number): void {
  const { step, gains, slopes } = state;
  const base = PAD - 1;
  const slopeL = slopes.ll, slopeR = slopes.lr;
  let { position } = state;
  let gainL = gains.ll, gainR = gains.lr;
  for (let i = from; i < to; i++) {
    const frame = position | 0;
    const t = position - frame;
    const j = frame + base;
    const y0 = data[j], y1 = data[j + 1], y2 = data[j + 2], y3 = data[j + 3];
    const sum = y0 + y2;
    const y = ((((y3 - y0 + 3 * (y1 - y2)) * t + 3 * (sum - 2 * y1)) * t + 3 * (y2 - y0)) * t + sum + 4 * y1) * SIXTH;
    gainL += slopeL;
    gainR += slopeR;
    left[i] += y * gainL;
    right[i] += y * gainR;
    position += step;
  }
  state.position = position;
  gains.ll = gainL;
  gains.lr = gainR;
}

function addMonoFiltered(data: Float32Array, state: ReadState, { a1, a2, a3 }: FilterCoefficients, left: Float64Array, right: Float64Array, from: number, to: number): void {
  const { step, gains, slopes } = state;
  const base = PAD - 1;
  const [filter] = state.filterStates;
  const slopeL = slopes.ll, slopeR = slopes.lr;
  let { position } = state;
  let { band, low } = filter;
  let gainL = gains.ll, gainR = gains.lr;
  for (let i = from; i < to; i++) {
    const frame = position | 0;
    const t = position - frame;
    const j = frame + base;
    const y0 = data[j], y1 = data[j + 1], y2 = data[j + 2], y3 = data[j + 3];
    const sum = y0 + y2;
    const v3 = ((((y3 - y0 + 3 * (y1 - y2)) * t + 3 * (sum - 2 * y1)) * t + 3 * (y2 - y0)) * t + sum + 4 * y1) * SIXTH - low;
    const v1 = a1 * band + a2 * v3;
    const y = low + a2 * band + a3 * v3;
    band = 2 * v1 - band;
    low = 2 * y - low;
    gainL += slopeL;
    gainR += slopeR;
    left[i] += y * gainL;
    right[i] += y * gainR;
    position += step;
  }
  state.position = position;
  filter.band = band;
  filter.low = low;
  gains.ll = gainL;
  gains.lr = gainR;
}

function addStereo(data: Float32Array, state: ReadState, left: Float64Array, right: Float64Array, from: number, to: number): void {
  const { step, gains, slopes } = state;
  const base = PAD - 1;
  const slopeLL = slopes.ll, slopeRL = slopes.rl, slopeLR = slopes.lr, slopeRR = slopes.rr;
  let { position } = state;
  let gainLL = gains.ll, gainRL = gains.rl, gainLR = gains.lr, gainRR = gains.rr;
  for (let i = from; i < to; i++) {
    const frame = position | 0;
    const t = position - frame;
    const j = (frame + base) * 2;
    const l0 = data[j], l1 = data[j + 2], l2 = data[j + 4], l3 = data[j + 6];
    const r0 = data[j + 1], r1 = data[j + 3], r2 = data[j + 5], r3 = data[j + 7];
    const sumL = l0 + l2, sumR = r0 + r2;
    const l = ((((l3 - l0 + 3 * (l1 - l2)) * t + 3 * (sumL - 2 * l1)) * t + 3 * (l2 - l0)) * t + sumL + 4 * l1) * SIXTH;
    const r = ((((r3 - r0 + 3 * (r1 - r2)) * t + 3 * (sumR - 2 * r1)) * t + 3 * (r2 - r0)) * t + sumR + 4 * r1) * SIXTH;
    gainLL += slopeLL;
    gainRL += slopeRL;
    gainLR += slopeLR;
    gainRR += slopeRR;
    left[i] += l * gainLL + r * gainRL;
    right[i] += l * gainLR + r * gainRR;
    position += step;
  }
  state.position = position;
  gains.ll = gainLL;
  gains.rl = gainRL;
  gains.lr = gainLR;
  gains.rr = gainRR;
}

function addStereoFiltered(data: Float32Array, state: ReadState, { a1, a2, a3 }: FilterCoefficients, left: Float64Array, right: Float64Array, from: number, to: number): void {
  const { step, gains, slopes } = state;
  const base = PAD - 1;
  const [filterL, filterR] = state.filterStates;
  const slopeLL = slopes.ll, slopeRL = slopes.rl, slopeLR = slopes.lr, slopeRR = slopes.rr;
  let { position } = state;
  let bandL = filterL.band, lowL = filterL.low, bandR = filterR.band, lowR = filterR.low;
  let gainLL = gains.ll, gainRL = gains.rl, gainLR = gains.lr, gainRR = gains.rr;
  for (let i = from; i < to; i++) {
    const frame = position | 0;
    const t = position - frame;
    const j = (frame + base) * 2;
    const l0 = data[j], l1 = data[j + 2], l2 = data[j + 4], l3 = data[j + 6];
    const r0 = data[j + 1], r1 = data[j + 3], r2 = data[j + 5], r3 = data[j + 7];
    const sumL = l0 + l2, sumR = r0 + r2;
    const v3L = ((((l3 - l0 + 3 * (l1 - l2)) * t + 3 * (sumL - 2 * l1)) * t + 3 * (l2 - l0)) * t + sumL + 4 * l1) * SIXTH - lowL;
    const v3R = ((((r3 - r0 + 3 * (r1 - r2)) * t + 3 * (sumR - 2 * r1)) * t + 3 * (r2 - r0)) * t + sumR + 4 * r1) * SIXTH - lowR;
    const v1L = a1 * bandL + a2 * v3L;
    const v1R = a1 * bandR + a2 * v3R;
    const l = lowL + a2 * bandL + a3 * v3L;
    const r = lowR + a2 * bandR + a3 * v3R;
    bandL = 2 * v1L - bandL;
    lowL = 2 * l - lowL;
    bandR = 2 * v1R - bandR;
    lowR = 2 * r - lowR;
    gainLL += slopeLL;
    gainRL += slopeRL;
    gainLR += slopeLR;
    gainRR += slopeRR;
    left[i] += l * gainLL + r * gainRL;
    right[i] += l * gainLR + r * gainRR;
    position += step;
  }
  state.position = position;
  filterL.band = bandL;
  filterL.low = lowL;
  filterR.band = bandR;
  filterR.low = lowR;
  gains.ll = gainLL;
  gains.rl = gainRL;
  gains.lr = gainLR;
  gains.rr = gainRR;
}
