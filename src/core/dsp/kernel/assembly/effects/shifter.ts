/** Lines read faster or slower than they are written, and how alike a stretch is to itself some frames later. */
import {
  JUMP_BEST, JUMP_LIKENESS, LAG_FRAMES, LAG_RESULT, PAIRS, SHIFT_DELAY, SHIFT_FARTHEST, SHIFT_GROWTH, SHIFT_NEAREST,
  SHIFT_OTHER, SHIFT_SHARE, SHIFT_SHARE_STEP,
} from '../../effectLayout';

/** Four frames of a line from `first` on, which may go round its end. */
@inline
function four(line: usize, mask: i32, first: i32): v128 {
  if (first + 3 <= mask) return v128.load(line + 4 * <usize>first);
  let x = v128.load32_splat(line + 4 * <usize>first);
  x = f32x4.replace_lane(x, 1, load<f32>(line + 4 * <usize>((first + 1) & mask)));
  x = f32x4.replace_lane(x, 2, load<f32>(line + 4 * <usize>((first + 2) & mask)));
  return f32x4.replace_lane(x, 3, load<f32>(line + 4 * <usize>((first + 3) & mask)));
}

/** Both lines `delay` frames behind `at`: third-order Lagrange between the frames. */
@inline
function both(line: usize, mask: i32, at: i32, delay: f64): v128 {
  const whole = <i32>delay;
  const x = delay - <f64>whole;
  let weights = f32x4.splat(<f32>(((x + 1) * x * (x - 1)) / 6));
  weights = f32x4.replace_lane(weights, 1, <f32>((-(x + 1) * x * (x - 2)) / 2));
  weights = f32x4.replace_lane(weights, 2, <f32>(((x + 1) * (x - 1) * (x - 2)) / 2));
  weights = f32x4.replace_lane(weights, 3, <f32>((-x * (x - 1) * (x - 2)) / 6));
  const first = (at - whole - 2) & mask;
  const l = f32x4.mul(weights, four(line, mask, first));
  const r = f32x4.mul(weights, four(line + 4 * <usize>(mask + 1), mask, first));
  const halves = f32x4.add(v128.shuffle<f32>(l, r, 0, 4, 1, 5), v128.shuffle<f32>(l, r, 2, 6, 3, 7));
  return f64x2.promote_low_f32x4(f32x4.add(halves, v128.shuffle<f32>(halves, halves, 2, 3, 2, 3)));
}

/**
 * Reads `frames` pairs of the lines at `line` (mask + 1 frames of left, then of right), the first as of frame `at`, to
 * the pairs from `first` on. Gives how many were read: it stops where the delay leaves its bounds, to jump.
 */
export function shift(line: usize, mask: i32, at: i32, first: i32, frames: i32): i32 {
  let delay = load<f64>(SHIFT_DELAY), other = load<f64>(SHIFT_OTHER), share = load<f64>(SHIFT_SHARE);
  const growth = load<f64>(SHIFT_GROWTH), shareStep = load<f64>(SHIFT_SHARE_STEP);
  const nearest = load<f64>(SHIFT_NEAREST), farthest = load<f64>(SHIFT_FARTHEST);
  let i = 0;
  for (; i < frames; i++) {
    const next = delay + growth;
    if (share >= 1 && (next < nearest || next > farthest)) break;
    delay = next;
    if (share < 1) {
      other += growth;
      share = min<f64>(1, share + shareStep);
    }
    let y = both(line, mask, at + i, delay);
    if (share < 1) y = f64x2.add(f64x2.mul(y, f64x2.splat(share)), f64x2.mul(both(line, mask, at + i, other), f64x2.splat(1 - share)));
    v128.store(PAIRS + 16 * <usize>(first + i), y);
  }
  store<f64>(SHIFT_DELAY, delay);
  store<f64>(SHIFT_OTHER, other);
  store<f64>(SHIFT_SHARE, share);
  return i;
}

/** Both lines at a frame, added. */
@inline
function sumAt(line: usize, mask: i32, frame: i32): f64 {
  const place = line + 4 * <usize>(frame & mask);
  return <f64>load<f32>(place) + <f64>load<f32>(place + 4 * <usize>(mask + 1));
}

/**
 * Looks which jump takes the reading, `now` frames behind `at`, to a past that is most like what it reads: of `low`,
 * `low + step` … below `high` frames, further back (`way` 1) or nearer (−1), over `span` frames of which every eighth is
 * compared; never nearer than `nearest`. What was best before stays where nothing is better.
 */
export function seekJump(line: usize, mask: i32, at: i32, now: i32, way: i32, low: i32, high: i32, step: i32, span: i32, nearest: i32): void {
  let highest = load<f64>(JUMP_LIKENESS);
  for (let jump = low; jump < high; jump += step) {
    const to = now + way * jump;
    if (to < nearest) return;
    let both: f64 = 0, mine: f64 = 1e-12;
    for (let k = 0; k < span; k += 8) {
      const a = sumAt(line, mask, at - now - k), b = sumAt(line, mask, at - to - k);
      both += a * b;
      mine += b * b;
    }
    const likeness = both / Math.sqrt(mine);
    if (likeness > highest || highest === -2) {
      highest = likeness;
      store<i32>(JUMP_BEST, way * jump);
      store<f64>(JUMP_LIKENESS, highest);
    }
  }
}

/** The sum of squares of how much `width` frames differ from those `lag` later. */
export function lagged(lag: i32, width: i32): void {
  const off = 8 * <usize>lag;
  let even = f64x2.splat(0), odd = f64x2.splat(0);
  let n = 0;
  let place: usize = LAG_FRAMES;
  for (; n + 4 <= width; n += 4) {
    const a = f64x2.sub(v128.load(place), v128.load(place + off)), b = f64x2.sub(v128.load(place + 16), v128.load(place + 16 + off));
    even = f64x2.add(even, f64x2.mul(a, a));
    odd = f64x2.add(odd, f64x2.mul(b, b));
    place += 32;
  }
  const sums = f64x2.add(even, odd);
  let sum = f64x2.extract_lane(sums, 0) + f64x2.extract_lane(sums, 1);
  for (; n < width; n++) {
    const d = load<f64>(place) - load<f64>(place + off);
    sum += d * d;
    place += 8;
  }
  store<f64>(LAG_RESULT, sum);
}
