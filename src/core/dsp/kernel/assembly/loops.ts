/**
 * The innermost loops of every voice, in AssemblyScript with 128-bit vectors. Whole numbers go in and nothing comes
 * out; everything else is in the memory,
 * laid out as `layout.ts` says, so that a call puts nothing on the heap. No operation here depends on the processor:
 * the bits are the same everywhere.
 */
export { comb } from './comb';
export { grain } from './grain';
export { synth } from './synth';
export { convolve, convolveRespond, convolveTurn } from './effects/convolution';
export { reverberate } from './effects/reverb';
export { saturate, saturateRest } from './effects/saturation';
export { besideEachOther, inARow, threeBands, vocode } from './effects/sections';
export { lagged, seekJump, shift } from './effects/shifter';
import {
  AMPLITUDE, BUS, BUS_RIGHT, COEFFICIENTS, FRACTION_BITS, GAINS, MADE, MADE_RIGHT, PAN_GAINS, READING, SECTION_BYTES,
  STATE_BYTES, STATES, WINDOW,
} from '../layout';

/** From a place in the left channel's buffer to the same in the right one's. */
const ASIDE: usize = MADE_RIGHT - MADE;
const FRACTION: u32 = (1 << FRACTION_BITS) - 1;

/**
 * Four cubics at once, each through its four taps at `t` of the way from the second to the third; as 64-bit floats to
 * `out`.
 */
@inline
function cubic(y0: v128, y1: v128, y2: v128, y3: v128, t: v128, out: usize): void {
  const three = f32x4.splat(3);
  const sum = f32x4.add(y0, y2);
  const k3 = f32x4.add(f32x4.sub(y3, y0), f32x4.mul(three, f32x4.sub(y1, y2)));
  const k2 = f32x4.mul(three, f32x4.sub(sum, f32x4.add(y1, y1)));
  const k1 = f32x4.mul(three, f32x4.sub(y2, y0));
  const k0 = f32x4.add(sum, f32x4.mul(f32x4.splat(4), y1));
  const y = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(k3, t), k2), t), k1), t), k0);
  v128.store(out, f64x2.promote_low_f32x4(y));
  v128.store(out, f64x2.promote_low_f32x4(v128.shuffle<f32>(y, y, 2, 3, 2, 3)), 16);
}

/**
 * Reads `frames` frames of one or two channels from the window and moves the reading on. `out` is the left channel's
 * place; four frames are made at a time,
 * so up to three more are written. Within the window, positions are whole numbers of 2⁻²⁵ frames.
 */
export function read(reading: usize, stereo: i32, out: usize, frames: i32): void {
  const position = load<f64>(reading);
  const step = load<f64>(reading, 8);
  const first = <u32>((position - 2 * Math.floor(position * 0.5)) * <f64>(1 << FRACTION_BITS));
  const fixed = <u32>(step * <f64>(1 << FRACTION_BITS) + 0.5);
  const stride = i32x4.splat(4 * fixed);
  const mask = i32x4.splat(FRACTION);
  const unit = f32x4.splat(1.0 / <f32>(1 << FRACTION_BITS));
  let at = i32x4(first, first + fixed, first + 2 * fixed, first + 3 * fixed);
  for (let i = 0; i < frames; i += 4) {
    const t = f32x4.mul(f32x4.convert_i32x4_s(v128.and(at, mask)), unit);
    const frame = i32x4.shl(i32x4.shr_u(at, FRACTION_BITS), 2 + stereo);
    const a = WINDOW + i32x4.extract_lane(frame, 0);
    const b = WINDOW + i32x4.extract_lane(frame, 1);
    const c = WINDOW + i32x4.extract_lane(frame, 2);
    const d = WINDOW + i32x4.extract_lane(frame, 3);
    // What belongs together of a and b, and of c and d: two taps of one channel, or one tap of two.
    const ab01 = v128.shuffle<f32>(v128.load(a), v128.load(b), 0, 4, 1, 5);
    const ab23 = v128.shuffle<f32>(v128.load(a), v128.load(b), 2, 6, 3, 7);
    const cd01 = v128.shuffle<f32>(v128.load(c), v128.load(d), 0, 4, 1, 5);
    const cd23 = v128.shuffle<f32>(v128.load(c), v128.load(d), 2, 6, 3, 7);
    const y0 = v128.shuffle<f32>(ab01, cd01, 0, 1, 4, 5);
    const y1 = v128.shuffle<f32>(ab01, cd01, 2, 3, 6, 7);
    const y2 = v128.shuffle<f32>(ab23, cd23, 0, 1, 4, 5);
    const y3 = v128.shuffle<f32>(ab23, cd23, 2, 3, 6, 7);
    if (stereo) {
      const ab45 = v128.shuffle<f32>(v128.load(a, 16), v128.load(b, 16), 0, 4, 1, 5);
      const ab67 = v128.shuffle<f32>(v128.load(a, 16), v128.load(b, 16), 2, 6, 3, 7);
      const cd45 = v128.shuffle<f32>(v128.load(c, 16), v128.load(d, 16), 0, 4, 1, 5);
      const cd67 = v128.shuffle<f32>(v128.load(c, 16), v128.load(d, 16), 2, 6, 3, 7);
      const left2 = v128.shuffle<f32>(ab45, cd45, 0, 1, 4, 5);
      const right2 = v128.shuffle<f32>(ab45, cd45, 2, 3, 6, 7);
      const left3 = v128.shuffle<f32>(ab67, cd67, 0, 1, 4, 5);
      const right3 = v128.shuffle<f32>(ab67, cd67, 2, 3, 6, 7);
      cubic(y0, y2, left2, left3, t, out);
      cubic(y1, y3, right2, right3, t, out + ASIDE);
    } else cubic(y0, y1, y2, y3, t, out);
    out += 32;
    at = i32x4.add(at, stride);
  }
  store<f64>(reading, position + step * <f64>frames);
}

/** What has died must not linger in numbers so small that processors slow down, and what has broken must not last. */
@inline
function settled(x: f64): f64 {
  const size = Math.abs(x);
  return size > 1e-18 && size < 1e6 ? x : 0;
}

/**
 * Sends one channel through a second-order section, two frames at a time; with `pair`, also the other one, whose state
 * and samples lie behind: two that wait for themselves take no longer than one.
 */
@inline
function section(coefficients: usize, state: usize, samples: usize, pair: bool, frames: i32): void {
  const stateByBand = v128.load(coefficients);
  const stateByLow = v128.load(coefficients, 16);
  const stateByFirst = v128.load(coefficients, 32);
  const stateBySecond = v128.load(coefficients, 48);
  const outByBand = v128.load(coefficients, 64);
  const outByLow = v128.load(coefficients, 80);
  const outByFirst = v128.load(coefficients, 96);
  const outBySecond = v128.load(coefficients, 112);
  let now = v128.load(state);
  let other = v128.load(state, 16);
  let i = 0;
  for (; i + 2 <= frames; i += 2) {
    const band = v128.shuffle<f64>(now, now, 0, 0);
    const low = v128.shuffle<f64>(now, now, 1, 1);
    const first = v128.load64_splat(samples);
    const second = v128.load64_splat(samples, 8);
    v128.store(samples, f64x2.add(f64x2.add(f64x2.mul(outByFirst, first), f64x2.mul(outBySecond, second)), f64x2.add(f64x2.mul(outByBand, band), f64x2.mul(outByLow, low))));
    now = f64x2.add(f64x2.add(f64x2.mul(stateByFirst, first), f64x2.mul(stateBySecond, second)), f64x2.add(f64x2.mul(stateByBand, band), f64x2.mul(stateByLow, low)));
    if (pair) {
      const band = v128.shuffle<f64>(other, other, 0, 0);
      const low = v128.shuffle<f64>(other, other, 1, 1);
      const first = v128.load64_splat(samples, ASIDE);
      const second = v128.load64_splat(samples, ASIDE + 8);
      v128.store(samples, f64x2.add(f64x2.add(f64x2.mul(outByFirst, first), f64x2.mul(outBySecond, second)), f64x2.add(f64x2.mul(outByBand, band), f64x2.mul(outByLow, low))), ASIDE);
      other = f64x2.add(f64x2.add(f64x2.mul(stateByFirst, first), f64x2.mul(stateBySecond, second)), f64x2.add(f64x2.mul(stateByBand, band), f64x2.mul(stateByLow, low)));
    }
    samples += 16;
  }
  if (i < frames) {
    now = single(coefficients, now, samples);
    if (pair) other = single(coefficients, other, samples + ASIDE);
  }
  store<f64>(state, settled(f64x2.extract_lane(now, 0)));
  store<f64>(state, settled(f64x2.extract_lane(now, 1)), 8);
  if (!pair) return;
  store<f64>(state, settled(f64x2.extract_lane(other, 0)), 16);
  store<f64>(state, settled(f64x2.extract_lane(other, 1)), 24);
}

/** One frame left: its output is the first of a pair's, its state moves by a single step. Gives the state. */
@inline
function single(coefficients: usize, state: v128, sample: usize): v128 {
  const band = v128.shuffle<f64>(state, state, 0, 0);
  const low = v128.shuffle<f64>(state, state, 1, 1);
  const only = v128.load64_splat(sample);
  v128.store64_lane(sample, f64x2.add(f64x2.mul(v128.load(coefficients, 96), only), f64x2.add(f64x2.mul(v128.load(coefficients, 64), band), f64x2.mul(v128.load(coefficients, 80), low))), 0);
  return f64x2.add(f64x2.mul(v128.load(coefficients, 48), only), f64x2.add(f64x2.mul(v128.load(coefficients, 128), band), f64x2.mul(v128.load(coefficients, 144), low)));
}

/**
 * Adds what was made to both sides of the bus from frame `at` on, the four gains moving in straight lines to where they
 * are heading. Of a mono voice there is the left channel alone, with two gains.
 */
@inline
function mix(voice: usize, stereo: bool, at: i32, frames: i32): void {
  const amplitude = load<f64>(voice, AMPLITUDE);
  const span = 1.0 / <f64>frames;
  const ll0 = load<f64>(voice, GAINS), ll1 = amplitude * load<f64>(voice, PAN_GAINS), llStep = (ll1 - ll0) * span;
  const lr0 = load<f64>(voice, GAINS + 8), lr1 = amplitude * load<f64>(voice, PAN_GAINS + 8), lrStep = (lr1 - lr0) * span;
  const rl0 = load<f64>(voice, GAINS + 16), rl1 = amplitude * load<f64>(voice, PAN_GAINS + 16), rlStep = (rl1 - rl0) * span;
  const rr0 = load<f64>(voice, GAINS + 24), rr1 = amplitude * load<f64>(voice, PAN_GAINS + 24), rrStep = (rr1 - rr0) * span;
  store<f64>(voice, ll1, GAINS);
  store<f64>(voice, lr1, GAINS + 8);
  let ll = f64x2(ll0 + llStep, ll0 + 2 * llStep);
  let lr = f64x2(lr0 + lrStep, lr0 + 2 * lrStep);
  let rl = f64x2(rl0 + rlStep, rl0 + 2 * rlStep);
  let rr = f64x2(rr0 + rrStep, rr0 + 2 * rrStep);
  if (stereo) {
    store<f64>(voice, rl1, GAINS + 16);
    store<f64>(voice, rr1, GAINS + 24);
  }
  let bus: usize = BUS + 8 * at;
  let samples: usize = MADE;
  let i = 0;
  for (; i + 2 <= frames; i += 2) {
    const left = v128.load(samples);
    let toLeft = f64x2.add(v128.load(bus), f64x2.mul(left, ll));
    let toRight = f64x2.add(v128.load(bus, BUS_RIGHT - BUS), f64x2.mul(left, lr));
    ll = f64x2.add(ll, f64x2.splat(2 * llStep));
    lr = f64x2.add(lr, f64x2.splat(2 * lrStep));
    if (stereo) {
      const right = v128.load(samples, ASIDE);
      toLeft = f64x2.add(toLeft, f64x2.mul(right, rl));
      toRight = f64x2.add(toRight, f64x2.mul(right, rr));
      rl = f64x2.add(rl, f64x2.splat(2 * rlStep));
      rr = f64x2.add(rr, f64x2.splat(2 * rrStep));
    }
    v128.store(bus, toLeft);
    v128.store(bus, toRight, BUS_RIGHT - BUS);
    samples += 16;
    bus += 16;
  }
  if (i === frames) return;
  // One frame left; the next one belongs to another span.
  const left = load<f64>(samples);
  const right = stereo ? load<f64>(samples, ASIDE) : 0;
  store<f64>(bus, load<f64>(bus) + left * f64x2.extract_lane(ll, 0) + (stereo ? right * f64x2.extract_lane(rl, 0) : 0));
  store<f64>(bus, load<f64>(bus, BUS_RIGHT - BUS) + left * f64x2.extract_lane(lr, 0) + (stereo ? right * f64x2.extract_lane(rr, 0) : 0), BUS_RIGHT - BUS);
}

/**
 * Takes a pair of buffers, whose left channel begins at `samples`, through the sections of a voice that have a bit in
 * `sections`, in their order.
 */
export function filter(voice: usize, stereo: i32, samples: usize, frames: i32, sections: u32): void {
  while (sections) {
    const n = ctz(sections);
    sections &= sections - 1;
    if (stereo) section(voice + COEFFICIENTS + n * SECTION_BYTES, voice + STATES + n * STATE_BYTES, samples, true, frames);
    else section(voice + COEFFICIENTS + n * SECTION_BYTES, voice + STATES + n * STATE_BYTES, samples, false, frames);
  }
}

/** Filters what was made for a voice and adds it to the bus. */
export function finish(voice: usize, stereo: i32, at: i32, frames: i32, sections: u32): void {
  if (sections) filter(voice, stereo, MADE, frames, sections);
  if (stereo) mix(voice, true, at, frames);
  else mix(voice, false, at, frames);
}

/** The whole way of a voice that needs nothing in between. */
export function play(voice: usize, stereo: i32, at: i32, frames: i32, sections: u32): void {
  read(voice + READING, stereo, MADE, frames);
  finish(voice, stereo, at, frames, sections);
}
