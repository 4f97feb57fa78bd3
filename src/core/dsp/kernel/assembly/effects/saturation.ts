/** Saturation: up to eight times the rate, through a curve, and back. Left and right side by side. */
import {
  FIRST_TAPS, HALF_FIRST, HALF_SECOND, HALF_THIRD, PAIRS, SATURATION_CURVE, SATURATION_DOWN_FIRST,
  SATURATION_DOWN_FIRST_BYTES, SATURATION_DOWN_SECOND, SATURATION_DOWN_SECOND_BYTES, SATURATION_DOWN_SHARP,
  SATURATION_DOWN_SHARP_BYTES, SATURATION_GAIN, SATURATION_STATE, SATURATION_UP_FIRST, SATURATION_UP_SECOND,
  SATURATION_UP_THIRD, SCRATCH, SECOND_TAPS, SHARP, SHARP_REACH, THIRD_TAPS,
} from '../../effectLayout';
import { ln, muladd, sin, splat } from './pairs';

/** Left and right of a frame, as 32-bit floats: two frames to a vector. */
const FRAME: usize = 8;
const ONCE: usize = SCRATCH, TWICE: usize = ONCE + 512, FOURFOLD: usize = TWICE + 1024, HIGH: usize = FOURFOLD + 2048;
const NEAR: f64 = 1e-3;
/** How far the tube-like curve is bent out of its middle. */
const BIAS: f64 = 0.45;
const BENT: f64 = 1.0965856099730655;
const SOFT = 0, TUBE = 1, FOLD = 2;

/** Twice as many: between two samples the odd taps on as many to each side, on a sample the sample itself. */
@inline
function up(line: usize, taps: usize, half: i32, from: usize, to: usize, count: i32): void {
  const reach: usize = 2 * half - 1;
  memory.copy(line + FRAME * reach, from, FRAME * <usize>count);
  for (let i: usize = 0; i < <usize>count; i += 2) {
    const middle = line + FRAME * (i + half);
    let sum = f32x4.splat(0);
    for (let t: usize = 0; t < <usize>half; t++)
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + 4 * t), f32x4.add(v128.load(middle - FRAME * (t + 1)), v128.load(middle + FRAME * t))));
    const between = f32x4.add(sum, sum), on = v128.load(middle);
    v128.store(to + 2 * FRAME * i, v128.shuffle<f64>(between, on, 0, 2));
    v128.store(to + 2 * FRAME * i + 16, v128.shuffle<f64>(between, on, 1, 3));
  }
  memory.copy(line, line + FRAME * <usize>count, FRAME * reach);
}

/** Parts frames into every first and every second, behind what both lines keep. */
@inline
function part(firsts: usize, seconds: usize, keep: i32, from: usize, count: i32): void {
  for (let i: usize = 0; i < <usize>count / 2; i += 2) {
    const a = v128.load(from + 2 * FRAME * i), b = v128.load(from + 2 * FRAME * i + 16);
    v128.store(firsts + FRAME * (keep + i), v128.shuffle<f64>(a, b, 0, 2));
    v128.store(seconds + FRAME * (keep + i), v128.shuffle<f64>(a, b, 1, 3));
  }
}

/** Half as many, by the odd taps on every second frame and the middle on a first. */
@inline
function down(line: usize, bytes: usize, taps: usize, half: i32, from: usize, to: usize, count: i32): void {
  const keep = 2 * half - 1;
  const seconds = line + bytes;
  part(line, seconds, keep, from, count);
  const halved = <usize>count / 2;
  for (let i: usize = 0; i < halved; i += 2) {
    const around = seconds + FRAME * (i + half);
    let sum = f32x4.mul(f32x4.splat(0.5), v128.load(line + FRAME * (i + half)));
    for (let t: usize = 0; t < <usize>half; t++)
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + 4 * t), f32x4.add(v128.load(around - FRAME * (t + 1)), v128.load(around + FRAME * t))));
    v128.store(to + FRAME * i, sum);
  }
  memory.copy(line, line + FRAME * halved, FRAME * keep);
  memory.copy(seconds, seconds + FRAME * halved, FRAME * keep);
}

/** Half as many for the last time, by a filter whose taps are all there: as pairs. */
@inline
function downSharply(line: usize, bytes: usize, count: i32): void {
  const seconds = line + bytes;
  part(line, seconds, SHARP_REACH, TWICE, count);
  const halved = <usize>count / 2;
  const middle = (SHARP_REACH + 1) / 2;
  for (let i: usize = 0; i < halved; i += 2) {
    const at = line + FRAME * (i + middle), beside = seconds + FRAME * (i + middle);
    let even = f32x4.mul(v128.load32_splat(SHARP), v128.load(at)), odd = f32x4.splat(0);
    for (let t: usize = 0; t < <usize>((SHARP_REACH - 1) / 2); t++) {
      odd = f32x4.add(odd, f32x4.mul(v128.load32_splat(SHARP + 8 * t + 4), f32x4.add(v128.load(beside - FRAME * (t + 1)), v128.load(beside + FRAME * t))));
      even = f32x4.add(even, f32x4.mul(v128.load32_splat(SHARP + 8 * t + 8), f32x4.add(v128.load(at - FRAME * (t + 1)), v128.load(at + FRAME * (t + 1)))));
    }
    const last: usize = (SHARP_REACH - 1) / 2;
    odd = f32x4.add(odd, f32x4.mul(v128.load32_splat(SHARP + 4 * SHARP_REACH), f32x4.add(v128.load(beside - FRAME * (last + 1)), v128.load(beside + FRAME * last))));
    const sum = f32x4.add(even, odd);
    v128.store(PAIRS + 16 * i, f64x2.promote_low_f32x4(sum));
    v128.store(PAIRS + 16 * i + 16, f64x2.promote_low_f32x4(v128.shuffle<f64>(sum, sum, 1, 1)));
  }
  memory.copy(line, line + FRAME * halved, FRAME * SHARP_REACH);
  memory.copy(seconds, seconds + FRAME * halved, FRAME * SHARP_REACH);
}

/** The curve itself. */
@inline
function plain(curve: i32, x: v128): v128 {
  if (curve === SOFT) return f64x2.div(x, f64x2.sqrt(muladd(x, x, splat(1))));
  if (curve === TUBE) {
    const b = f64x2.add(x, splat(BIAS));
    return f64x2.mul(splat(BENT), f64x2.sub(f64x2.div(b, f64x2.sqrt(muladd(b, b, splat(1)))), splat(BIAS / BENT)));
  }
  if (curve === FOLD) return sin(x);
  return f64x2.min(splat(1), f64x2.max(splat(-1), x));
}

/** Its antiderivative. */
@inline
function first(curve: i32, x: v128): v128 {
  if (curve === SOFT) return f64x2.sqrt(muladd(x, x, splat(1)));
  if (curve === TUBE) {
    const b = f64x2.add(x, splat(BIAS));
    return f64x2.mul(splat(BENT), f64x2.sub(f64x2.sqrt(muladd(b, b, splat(1))), f64x2.mul(splat(BIAS / BENT), x)));
  }
  if (curve === FOLD) return f64x2.neg(sin(f64x2.add(x, splat(Math.PI / 2))));
  const size = f64x2.abs(x);
  return v128.bitselect(f64x2.sub(size, splat(0.5)), f64x2.mul(splat(0.5), f64x2.mul(x, x)), f64x2.gt(size, splat(1)));
}

/** And that of its antiderivative. */
@inline
function second(curve: i32, x: v128): v128 {
  const half = splat(0.5);
  if (curve <= TUBE) {
    const b = curve === SOFT ? x : f64x2.add(x, splat(BIAS));
    const size = f64x2.abs(b);
    const s = f64x2.sqrt(muladd(b, b, splat(1)));
    const f = f64x2.mul(half, muladd(size, s, ln(f64x2.add(size, s))));
    const signed = v128.or(f, v128.and(b, i64x2.splat(0x8000000000000000)));
    if (curve === SOFT) return signed;
    return f64x2.mul(splat(BENT), f64x2.sub(signed, f64x2.mul(splat((BIAS / BENT) * 0.5), f64x2.mul(x, x))));
  }
  if (curve === FOLD) return f64x2.neg(sin(x));
  const size = f64x2.abs(x);
  const beyond = f64x2.add(f64x2.mul(half, f64x2.mul(size, f64x2.sub(size, splat(1)))), splat(1.0 / 6.0));
  const signed = v128.or(beyond, v128.and(x, i64x2.splat(0x8000000000000000)));
  return v128.bitselect(signed, f64x2.mul(splat(1.0 / 6.0), f64x2.mul(x, f64x2.mul(x, x))), f64x2.gt(size, splat(1)));
}

/** The curve, through its antiderivatives. The second one is worked out once for each sample, and kept for the next. */
@inline
function bendBy(curve: i32, at: usize, count: i32): void {
  const gain = v128.load64_splat(at + SATURATION_GAIN);
  const near = splat(NEAR);
  let x1 = v128.load(at + SATURATION_STATE), x2 = v128.load(at + SATURATION_STATE + 16);
  let d1 = v128.load(at + SATURATION_STATE + 32), f1 = v128.load(at + SATURATION_STATE + 48);
  for (let place = HIGH; place < HIGH + FRAME * <usize>count; place += FRAME) {
    const x0 = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(place)), gain);
    const f0 = second(curve, x0);
    const way = f64x2.sub(x0, x1);
    let d0 = f64x2.div(f64x2.sub(f0, f1), way);
    const isNear = f64x2.lt(f64x2.abs(way), near);
    if (v128.any_true(isNear)) d0 = v128.bitselect(first(curve, f64x2.mul(splat(0.5), f64x2.add(x0, x1))), d0, isNear);
    const both = f64x2.sub(x0, x2);
    let y = f64x2.mul(f64x2.div(splat(2), both), f64x2.sub(d0, d1));
    const isBothNear = f64x2.lt(f64x2.abs(both), near);
    if (v128.any_true(isBothNear)) {
      const middle = f64x2.mul(splat(0.5), f64x2.add(x0, x2));
      const off = f64x2.sub(middle, x1);
      const isStill = f64x2.lt(f64x2.abs(off), near);
      let other = plain(curve, f64x2.mul(splat(0.5), f64x2.add(middle, x1)));
      if (v128.any_true(v128.andnot(isBothNear, isStill))) {
        const turned = f64x2.mul(f64x2.div(splat(2), off), f64x2.add(first(curve, middle), f64x2.div(f64x2.sub(f1, second(curve, middle)), off)));
        other = v128.bitselect(other, turned, isStill);
      }
      y = v128.bitselect(other, y, isBothNear);
    }
    v128.store64_lane(place, f32x4.demote_f64x2_zero(y), 0);
    x2 = x1;
    x1 = x0;
    d1 = d0;
    f1 = f0;
  }
  v128.store(at + SATURATION_STATE, x1);
  v128.store(at + SATURATION_STATE + 16, x2);
  v128.store(at + SATURATION_STATE + 32, d1);
  v128.store(at + SATURATION_STATE + 48, f1);
}

/** What the differences of antiderivatives are at rest. */
export function saturateRest(at: usize): void {
  const curve = load<i32>(at, SATURATION_CURVE);
  const zero = splat(0);
  v128.store(at + SATURATION_STATE, zero);
  v128.store(at + SATURATION_STATE + 16, zero);
  if (curve === SOFT) rest(SOFT, at);
  else if (curve === TUBE) rest(TUBE, at);
  else if (curve === FOLD) rest(FOLD, at);
  else rest(3, at);
}
@inline
function rest(curve: i32, at: usize): void {
  v128.store(at + SATURATION_STATE + 32, first(curve, splat(0)));
  v128.store(at + SATURATION_STATE + 48, second(curve, splat(0)));
}

/** Takes the pairs of a span through the curve, in place. */
export function saturate(at: usize, frames: i32): void {
  for (let i: usize = 0; i < <usize>frames; i++) v128.store64_lane(ONCE + FRAME * i, f32x4.demote_f64x2_zero(v128.load(PAIRS + 16 * i)), 0);
  up(at + SATURATION_UP_FIRST, HALF_FIRST, FIRST_TAPS, ONCE, TWICE, frames);
  up(at + SATURATION_UP_SECOND, HALF_SECOND, SECOND_TAPS, TWICE, FOURFOLD, 2 * frames);
  up(at + SATURATION_UP_THIRD, HALF_THIRD, THIRD_TAPS, FOURFOLD, HIGH, 4 * frames);
  const curve = load<i32>(at, SATURATION_CURVE);
  if (curve === SOFT) bendBy(SOFT, at, 8 * frames);
  else if (curve === TUBE) bendBy(TUBE, at, 8 * frames);
  else if (curve === FOLD) bendBy(FOLD, at, 8 * frames);
  else bendBy(3, at, 8 * frames);
  down(at + SATURATION_DOWN_FIRST, SATURATION_DOWN_FIRST_BYTES, HALF_THIRD, THIRD_TAPS, HIGH, FOURFOLD, 8 * frames);
  down(at + SATURATION_DOWN_SECOND, SATURATION_DOWN_SECOND_BYTES, HALF_SECOND, SECOND_TAPS, FOURFOLD, TWICE, 4 * frames);
  downSharply(at + SATURATION_DOWN_SHARP, SATURATION_DOWN_SHARP_BYTES, 2 * frames);
}
