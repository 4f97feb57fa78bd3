/**
 * The innermost loops of every voice, in AssemblyScript with 128-bit vectors. Whole numbers go in and nothing comes out; everything else is in the memory,
 * laid out as `layout.ts` says, so that a call puts nothing on the heap. No operation here depends on the processor: the bits are the same everywhere.
 */
import {
  BUS, BUS_RIGHT, FRACTION_BITS, GAINS, HIGH_PASS, HIGH_PASS_STATES, LOW_PASS, LOW_PASS_STATES, MADE, MADE_RIGHT, READING, SLOPES, WINDOW, WINDOW_RIGHT,
} from '../layout';

const FRACTION: u32 = (1 << FRACTION_BITS) - 1;

/**
 * Reads `frames` frames out of the window, the cubic spline through four taps for each; four frames at a time, so up to three more are written.
 * `position` and `step` count 2⁻²⁵ taps.
 */
@inline
function interpolate(window: usize, out: usize, position: u32, step: u32, frames: i32): void {
  let at = i32x4(position, position + step, position + 2 * step, position + 3 * step);
  const stride = i32x4.splat(4 * step);
  const mask = i32x4.splat(FRACTION);
  const unit = f32x4.splat(1.0 / <f32>(1 << FRACTION_BITS));
  const three = f32x4.splat(3);
  for (let i = 0; i < frames; i += 4) {
    const tap = i32x4.shl(i32x4.shr_u(at, FRACTION_BITS), 2);
    const t = f32x4.mul(f32x4.convert_i32x4_s(v128.and(at, mask)), unit);
    const a = v128.load(window + i32x4.extract_lane(tap, 0));
    const b = v128.load(window + i32x4.extract_lane(tap, 1));
    const c = v128.load(window + i32x4.extract_lane(tap, 2));
    const d = v128.load(window + i32x4.extract_lane(tap, 3));
    const ab01 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
    const ab23 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
    const cd01 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
    const cd23 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
    const y0 = v128.shuffle<f32>(ab01, cd01, 0, 1, 4, 5);
    const y1 = v128.shuffle<f32>(ab01, cd01, 2, 3, 6, 7);
    const y2 = v128.shuffle<f32>(ab23, cd23, 0, 1, 4, 5);
    const y3 = v128.shuffle<f32>(ab23, cd23, 2, 3, 6, 7);
    const sum = f32x4.add(y0, y2);
    const k3 = f32x4.add(f32x4.sub(y3, y0), f32x4.mul(three, f32x4.sub(y1, y2)));
    const k2 = f32x4.mul(three, f32x4.sub(sum, f32x4.add(y1, y1)));
    const k1 = f32x4.mul(three, f32x4.sub(y2, y0));
    const k0 = f32x4.add(sum, f32x4.mul(f32x4.splat(4), y1));
    const y = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(k3, t), k2), t), k1), t), k0);
    v128.store(out, f64x2.promote_low_f32x4(y));
    v128.store(out, f64x2.promote_low_f32x4(v128.shuffle<f32>(y, y, 2, 3, 2, 3)), 16);
    out += 32;
    at = i32x4.add(at, stride);
  }
}

/** Reads `frames` frames of one or two channels from the window, which begins one frame before the reading's, and moves the reading on. `out` is the left channel's place. */
export function read(reading: usize, stereo: i32, out: usize, frames: i32): void {
  const position = load<f64>(reading);
  const step = load<f64>(reading, 8);
  const first = <u32>((position - Math.floor(position)) * <f64>(1 << FRACTION_BITS));
  const fixed = <u32>(step * <f64>(1 << FRACTION_BITS) + 0.5);
  interpolate(WINDOW, out, first, fixed, frames);
  if (stereo) interpolate(WINDOW_RIGHT, out + (MADE_RIGHT - MADE), first, fixed, frames);
  store<f64>(reading, position + step * <f64>frames);
}

/** What has died must not linger in numbers so small that processors slow down, and what has broken must not last. */
@inline
function settled(x: f64): f64 {
  const size = Math.abs(x);
  return size > 1e-18 && size < 1e6 ? x : 0;
}

/** Sends one channel through a second-order section, two frames at a time. */
@inline
function section(coefficients: usize, state: usize, samples: usize, frames: i32): void {
  const stateByBand = v128.load(coefficients);
  const stateByLow = v128.load(coefficients, 16);
  const stateByFirst = v128.load(coefficients, 32);
  const stateBySecond = v128.load(coefficients, 48);
  const outByBand = v128.load(coefficients, 64);
  const outByLow = v128.load(coefficients, 80);
  const outByFirst = v128.load(coefficients, 96);
  const outBySecond = v128.load(coefficients, 112);
  let now = v128.load(state);
  let i = 0;
  for (; i + 2 <= frames; i += 2) {
    const band = v128.shuffle<f64>(now, now, 0, 0);
    const low = v128.shuffle<f64>(now, now, 1, 1);
    const first = v128.load64_splat(samples);
    const second = v128.load64_splat(samples, 8);
    v128.store(samples, f64x2.add(f64x2.add(f64x2.mul(outByFirst, first), f64x2.mul(outBySecond, second)), f64x2.add(f64x2.mul(outByBand, band), f64x2.mul(outByLow, low))));
    now = f64x2.add(f64x2.add(f64x2.mul(stateByFirst, first), f64x2.mul(stateBySecond, second)), f64x2.add(f64x2.mul(stateByBand, band), f64x2.mul(stateByLow, low)));
    samples += 16;
  }
  if (i < frames) {
    // One frame left: its output is the first of a pair's, its state moves by a single step.
    const band = v128.shuffle<f64>(now, now, 0, 0);
    const low = v128.shuffle<f64>(now, now, 1, 1);
    const only = v128.load64_splat(samples);
    v128.store64_lane(samples, f64x2.add(f64x2.mul(outByFirst, only), f64x2.add(f64x2.mul(outByBand, band), f64x2.mul(outByLow, low))), 0);
    now = f64x2.add(f64x2.mul(stateBySecond, only), f64x2.add(f64x2.mul(v128.load(coefficients, 128), band), f64x2.mul(v128.load(coefficients, 144), low)));
  }
  store<f64>(state, settled(f64x2.extract_lane(now, 0)));
  store<f64>(state, settled(f64x2.extract_lane(now, 1)), 8);
}

/** Adds one channel to one side of the bus, its gain moving in a straight line from the frame before the first. */
@inline
function add(samples: usize, bus: usize, gain: f64, slope: f64, frames: i32): void {
  let gains = f64x2(gain + slope, gain + 2 * slope);
  const stride = f64x2.splat(2 * slope);
  for (let i = 0; i < frames; i += 2) {
    v128.store(bus, f64x2.add(v128.load(bus), f64x2.mul(v128.load(samples), gains)));
    gains = f64x2.add(gains, stride);
    samples += 16;
    bus += 16;
  }
}

/** Takes what was made for a voice through its filters. */
export function filter(voice: usize, stereo: i32, frames: i32, lowPass: i32, highPass: i32): void {
  if (lowPass) {
    section(voice + LOW_PASS, voice + LOW_PASS_STATES, MADE, frames);
    if (stereo) section(voice + LOW_PASS, voice + LOW_PASS_STATES + 16, MADE_RIGHT, frames);
  }
  if (highPass) {
    section(voice + HIGH_PASS, voice + HIGH_PASS_STATES, MADE, frames);
    if (stereo) section(voice + HIGH_PASS, voice + HIGH_PASS_STATES + 16, MADE_RIGHT, frames);
  }
}

/** Filters what was made for a voice and adds it to the bus. */
export function finish(voice: usize, stereo: i32, frames: i32, lowPass: i32, highPass: i32): void {
  filter(voice, stereo, frames, lowPass, highPass);
  add(MADE, BUS, load<f64>(voice, GAINS), load<f64>(voice, SLOPES), frames);
  add(MADE, BUS_RIGHT, load<f64>(voice, GAINS + 8), load<f64>(voice, SLOPES + 8), frames);
  if (!stereo) return;
  add(MADE_RIGHT, BUS, load<f64>(voice, GAINS + 16), load<f64>(voice, SLOPES + 16), frames);
  add(MADE_RIGHT, BUS_RIGHT, load<f64>(voice, GAINS + 24), load<f64>(voice, SLOPES + 24), frames);
}

/** The whole way of a voice that needs nothing in between. */
export function play(voice: usize, stereo: i32, frames: i32, lowPass: i32, highPass: i32): void {
  read(voice + READING, stereo, MADE, frames);
  finish(voice, stereo, frames, lowPass, highPass);
}
