/**
 * Sixteen delay lines that feed each other, a span at a time: every line is longer than a span, so that what is read in
 * it was written before it began. See `effectLayout.ts` for the room.
 */
import {
  GUARD, PAIRS, REVERB_AT, REVERB_ATTACK, REVERB_CUT, REVERB_DISPERSE, REVERB_DISPERSERS, REVERB_DUCK, REVERB_DUCKED,
  REVERB_EARLY, REVERB_ENVELOPE, REVERB_GAINS, REVERB_IS_SPRING, REVERB_LATE, REVERB_LINE_MASK, REVERB_LINES,
  REVERB_LOWS, REVERB_MEMORY, REVERB_OFFSETS, REVERB_POLES, REVERB_PRE_MASK, REVERB_PREDELAY, REVERB_RELEASE,
  REVERB_RING, REVERB_RINGS, REVERB_SPREAD_FRAMES, REVERB_SPREAD_MASK, REVERB_SPREADS, REVERB_STEPS, REVERB_TAP_FRAMES,
  REVERB_TAP_GAINS, REVERB_TAPS, REVERB_WIDE, SCRATCH,
} from '../../effectLayout';
import { exp, ln, splat } from './pairs';
import { inARow } from './sections';

/** Rows of 40 frames, as 32-bit floats. */
const ROW: usize = 160;
const READ: usize = SCRATCH;
const IN_LEFT: usize = READ + 16 * ROW, IN_RIGHT: usize = IN_LEFT + ROW;
const DIRECT_LEFT: usize = IN_RIGHT + ROW, DIRECT_RIGHT: usize = DIRECT_LEFT + ROW;
const EARLY_LEFT: usize = DIRECT_RIGHT + ROW, EARLY_RIGHT: usize = EARLY_LEFT + ROW;
const LATE_LEFT: usize = EARLY_RIGHT + ROW, LATE_RIGHT: usize = LATE_LEFT + ROW;
const DUCKING: usize = LATE_RIGHT + ROW;
const WORK: usize = DUCKING + ROW;

@inline
function lengthOf(mask: i32): usize {
  return 4 * <usize>(mask + 1 + GUARD);
}

/** Writes a row into a line from frame `at` on, and what lies at its beginning once more behind its end. */
@inline
function put(line: usize, mask: i32, at: i32, row: usize, frames: i32): void {
  const first = at & mask;
  const left = mask + 1 - first;
  if (frames <= left) memory.copy(line + 4 * <usize>first, row, 4 * <usize>frames);
  else {
    memory.copy(line + 4 * <usize>first, row, 4 * <usize>left);
    memory.copy(line, row + 4 * <usize>left, 4 * <usize>(frames - left));
  }
  if (frames > left || first < GUARD) memory.copy(line + 4 * <usize>(mask + 1), line, 4 * GUARD);
}

/** Where a line is read that many frames behind `at`. */
@inline
function behind(line: usize, mask: i32, at: i32, frames: i32): usize {
  return line + 4 * <usize>((at - frames) & mask);
}

/** A line read where it moves: third-order Lagrange between the frames, four at a time. */
@inline
function readMoving(line: usize, mask: i32, at: i32, offset: f64, step: f64, to: usize, frames: i32): void {
  const one = f32x4.splat(1), two = f32x4.splat(2);
  for (let i = 0; i < frames; i += 4) {
    const o0 = offset + step * <f64>(i + 1), o1 = offset + step * <f64>(i + 2), o2 = offset + step * <f64>(i + 3), o3 = offset + step * <f64>(i + 4);
    const w0 = <i32>o0, w1 = <i32>o1, w2 = <i32>o2, w3 = <i32>o3;
    let s = f32x4.splat(<f32>(o0 - <f64>w0));
    s = f32x4.replace_lane(s, 1, <f32>(o1 - <f64>w1));
    s = f32x4.replace_lane(s, 2, <f32>(o2 - <f64>w2));
    s = f32x4.replace_lane(s, 3, <f32>(o3 - <f64>w3));
    const a = v128.load(behind(line, mask, at + i - 2, w0)), b = v128.load(behind(line, mask, at + i - 1, w1));
    const c = v128.load(behind(line, mask, at + i, w2)), d = v128.load(behind(line, mask, at + i + 1, w3));
    const ab01 = v128.shuffle<f32>(a, b, 0, 4, 1, 5), ab23 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
    const cd01 = v128.shuffle<f32>(c, d, 0, 4, 1, 5), cd23 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
    const before2 = v128.shuffle<f32>(ab01, cd01, 0, 1, 4, 5), before1 = v128.shuffle<f32>(ab01, cd01, 2, 3, 6, 7);
    const here = v128.shuffle<f32>(ab23, cd23, 0, 1, 4, 5), after = v128.shuffle<f32>(ab23, cd23, 2, 3, 6, 7);
    const up = f32x4.add(s, one), down = f32x4.sub(s, one), far = f32x4.sub(s, two);
    const downFar = f32x4.mul(down, far), upS = f32x4.mul(up, s);
    let x = f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(-1.0 / 6.0), s), downFar), after);
    x = f32x4.add(x, f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(0.5), up), downFar), here));
    x = f32x4.add(x, f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(-0.5), upS), far), before1));
    x = f32x4.add(x, f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(1.0 / 6.0), upS), down), before2));
    v128.store(to + 4 * <usize>i, x);
  }
}

/** Four lines through their damping: rows of frames in, rows of frames out. Frames are handed on one by one. */
@inline
function damp(at: usize, first: usize, frames: i32): void {
  const gain = v128.load(at + REVERB_GAINS + 4 * first), pole = v128.load(at + REVERB_POLES + 4 * first);
  let low = v128.load(at + REVERB_LOWS + 4 * first);
  const row = READ + ROW * first;
  for (let i = 0; i < frames; i += 4) {
    const place = row + 4 * <usize>i;
    const a = v128.load(place), b = v128.load(place + ROW), c = v128.load(place + 2 * ROW), d = v128.load(place + 3 * ROW);
    const ab01 = v128.shuffle<f32>(a, b, 0, 4, 1, 5), ab23 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
    const cd01 = v128.shuffle<f32>(c, d, 0, 4, 1, 5), cd23 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
    const f0 = f32x4.add(f32x4.mul(gain, v128.shuffle<f32>(ab01, cd01, 0, 1, 4, 5)), f32x4.mul(pole, low));
    const f1 = f32x4.add(f32x4.mul(gain, v128.shuffle<f32>(ab01, cd01, 2, 3, 6, 7)), f32x4.mul(pole, f0));
    const f2 = f32x4.add(f32x4.mul(gain, v128.shuffle<f32>(ab23, cd23, 0, 1, 4, 5)), f32x4.mul(pole, f1));
    const f3 = f32x4.add(f32x4.mul(gain, v128.shuffle<f32>(ab23, cd23, 2, 3, 6, 7)), f32x4.mul(pole, f2));
    const left = frames - i;
    low = left >= 4 ? f3 : left === 3 ? f2 : left === 2 ? f1 : f0;
    const g01 = v128.shuffle<f32>(f0, f1, 0, 4, 1, 5), g23 = v128.shuffle<f32>(f0, f1, 2, 6, 3, 7);
    const h01 = v128.shuffle<f32>(f2, f3, 0, 4, 1, 5), h23 = v128.shuffle<f32>(f2, f3, 2, 6, 3, 7);
    v128.store(place, v128.shuffle<f32>(g01, h01, 0, 1, 4, 5));
    v128.store(place + ROW, v128.shuffle<f32>(g01, h01, 2, 3, 6, 7));
    v128.store(place + 2 * ROW, v128.shuffle<f32>(g23, h23, 0, 1, 4, 5));
    v128.store(place + 3 * ROW, v128.shuffle<f32>(g23, h23, 2, 3, 6, 7));
  }
  // Numbers too small for the processor's fast way are as good as none.
  v128.store(at + REVERB_LOWS + 4 * first, v128.and(low, f32x4.gt(f32x4.abs(low), f32x4.splat(1e-18))));
}

/** A chain of all-pass sections that lets low tones pass later than high ones, as a spring does. */
@inline
function disperse(at: usize, frame: i32, frames: i32): void {
  const late = load<i32>(at, REVERB_DISPERSE);
  const by = splat(0.62);
  for (let i = 0; i < frames; i++) {
    let x = f64x2(<f64>load<f32>(DIRECT_LEFT + 4 * <usize>i), <f64>load<f32>(DIRECT_RIGHT + 4 * <usize>i));
    const write = 16 * <usize>((frame + i) & (REVERB_RING - 1)), read = 16 * <usize>((frame + i - late) & (REVERB_RING - 1));
    let ring = at + REVERB_RINGS;
    for (let n = 0; n < REVERB_DISPERSERS; n++) {
      const held = v128.load(ring + read);
      const v = f64x2.add(x, f64x2.mul(by, held));
      v128.store(ring + write, v128.and(v, f64x2.gt(f64x2.abs(v), splat(1e-30))));
      x = f64x2.sub(held, f64x2.mul(by, v));
      ring += 16 * REVERB_RING;
    }
    store<f32>(DIRECT_LEFT + 4 * <usize>i, <f32>f64x2.extract_lane(x, 0));
    store<f32>(DIRECT_RIGHT + 4 * <usize>i, <f32>f64x2.extract_lane(x, 1));
  }
}

/** All-passes that spread each sound before it enters the lines. */
@inline
function spread(line: usize, mask: i32, frame: i32, late: i32, row: usize, frames: i32): void {
  const by = f32x4.splat(0.6);
  const past = behind(line, mask, frame, late);
  for (let i: usize = 0; i < 4 * <usize>frames; i += 16) {
    const held = v128.load(past + i);
    const v = f32x4.add(v128.load(row + i), f32x4.mul(by, held));
    v128.store(WORK + i, v);
    v128.store(row + i, f32x4.sub(held, f32x4.mul(by, v)));
  }
  put(line, mask, frame, WORK, frames);
}

@inline
function earlyOf(at: usize, line: usize, mask: i32, frame: i32, first: usize, row: usize, frames: i32): void {
  memory.fill(row, 0, ROW);
  for (let n = first; n < first + REVERB_TAPS; n++) {
    const gain = v128.load32_splat(at + REVERB_TAP_GAINS + 4 * n);
    const past = behind(line, mask, frame, load<i32>(at + REVERB_TAP_FRAMES + 4 * n));
    for (let i: usize = 0; i < 4 * <usize>frames; i += 16) v128.store(row + i, f32x4.add(v128.load(row + i), f32x4.mul(gain, v128.load(past + i))));
  }
}

/** How far it is turned down by what comes in, frame by frame. */
@inline
function duck(at: usize, frames: i32): void {
  const attack = load<f64>(at, REVERB_ATTACK), release = load<f64>(at, REVERB_RELEASE), depth = load<f64>(at, REVERB_DUCK);
  let envelope = load<f64>(at, REVERB_ENVELOPE), ducked: f64 = 0;
  for (let i: usize = 0; i < 4 * <usize>frames; i += 4) {
    const height = <f64>max(Mathf.abs(load<f32>(IN_LEFT + i)), Mathf.abs(load<f32>(IN_RIGHT + i)));
    envelope += (height - envelope) * (height > envelope ? attack : release);
    let gain: f32 = 1;
    if (depth > 0) {
      // Ducked in full from −24 dBFS on, not at all below −54.
      const level = 8.685889638065037 * f64x2.extract_lane(ln(splat(envelope + 1e-9)), 0);
      ducked = depth * max<f64>(0, min<f64>(1, (level + 54) / 30));
      gain = <f32>f64x2.extract_lane(exp(splat(-ducked * 0.1151292546497023)), 0);
    }
    store<f32>(DUCKING + i, gain);
  }
  store<f64>(at, envelope < 1e-12 ? 0 : envelope, REVERB_ENVELOPE);
  store<f64>(at, ducked, REVERB_DUCKED);
}

/** Takes the pairs of a span through it, in place. */
export function reverberate(at: usize, frames: i32): void {
  const frame = load<i32>(at, REVERB_AT);
  const lineMask = load<i32>(at, REVERB_LINE_MASK), preMask = load<i32>(at, REVERB_PRE_MASK), spreadMask = load<i32>(at, REVERB_SPREAD_MASK);
  const lineBytes = lengthOf(lineMask), preBytes = lengthOf(preMask), spreadBytes = lengthOf(spreadMask);
  const lines = at + REVERB_MEMORY, pre = lines + REVERB_LINES * lineBytes, spreads = pre + 2 * preBytes;
  inARow(at + REVERB_CUT, 1, frames);
  for (let i: usize = 0; i < <usize>frames; i++) {
    store<f32>(IN_LEFT + 4 * i, <f32>load<f64>(PAIRS + 16 * i));
    store<f32>(IN_RIGHT + 4 * i, <f32>load<f64>(PAIRS + 16 * i + 8));
  }
  put(pre, preMask, frame, IN_LEFT, frames);
  put(pre + preBytes, preMask, frame, IN_RIGHT, frames);
  earlyOf(at, pre, preMask, frame, 0, EARLY_LEFT, frames);
  earlyOf(at, pre + preBytes, preMask, frame, REVERB_TAPS, EARLY_RIGHT, frames);
  const predelay = load<i32>(at, REVERB_PREDELAY);
  memory.copy(DIRECT_LEFT, behind(pre, preMask, frame, predelay), 4 * <usize>frames);
  memory.copy(DIRECT_RIGHT, behind(pre + preBytes, preMask, frame, predelay), 4 * <usize>frames);
  if (load<i32>(at, REVERB_IS_SPRING)) disperse(at, frame, frames);
  for (let n: usize = 0; n < <usize>REVERB_SPREADS; n++) {
    const late = at + REVERB_SPREAD_FRAMES + 4 * n;
    spread(spreads + n * spreadBytes, spreadMask, frame, load<i32>(late), DIRECT_LEFT, frames);
    spread(spreads + (n + REVERB_SPREADS) * spreadBytes, spreadMask, frame, load<i32>(late + 4 * REVERB_SPREADS), DIRECT_RIGHT, frames);
  }
  for (let n: usize = 0; n < <usize>REVERB_LINES; n++) {
    const line = lines + n * lineBytes;
    const offset = load<f64>(at + REVERB_OFFSETS + 8 * n), step = load<f64>(at + REVERB_STEPS + 8 * n);
    if (step === 0 && offset === Math.floor(offset)) memory.copy(READ + ROW * n, behind(line, lineMask, frame, <i32>offset), 4 * <usize>frames);
    else readMoving(line, lineMask, frame, offset, step, READ + ROW * n, frames);
    store<f64>(at + REVERB_OFFSETS + 8 * n, offset + step * <f64>frames);
  }
  for (let n: usize = 0; n < <usize>REVERB_LINES; n += 4) damp(at, n, frames);
  for (let i: usize = 0; i < 4 * <usize>frames; i += 16) mingle(i);
  for (let n: usize = 0; n < <usize>REVERB_LINES; n++) put(lines + n * lineBytes, lineMask, frame, READ + ROW * n, frames);
  duck(at, frames);
  const early = f32x4.splat(<f32>load<f64>(at, REVERB_EARLY)), late = f32x4.splat(<f32>load<f64>(at, REVERB_LATE));
  const wide = <f32>load<f64>(at, REVERB_WIDE);
  const straight = f32x4.splat(0.5 * (1 + wide)), across = f32x4.splat(0.5 * (1 - wide));
  for (let i: usize = 0; i < 4 * <usize>frames; i += 16) {
    const gain = v128.load(DUCKING + i);
    const l = f32x4.mul(gain, f32x4.add(f32x4.mul(early, v128.load(EARLY_LEFT + i)), f32x4.mul(late, v128.load(LATE_LEFT + i))));
    const r = f32x4.mul(gain, f32x4.add(f32x4.mul(early, v128.load(EARLY_RIGHT + i)), f32x4.mul(late, v128.load(LATE_RIGHT + i))));
    const left = f32x4.add(f32x4.mul(straight, l), f32x4.mul(across, r)), right = f32x4.add(f32x4.mul(straight, r), f32x4.mul(across, l));
    const a = v128.shuffle<f32>(left, right, 0, 4, 1, 5), b = v128.shuffle<f32>(left, right, 2, 6, 3, 7);
    const to = PAIRS + 4 * i;
    v128.store(to, f64x2.promote_low_f32x4(a));
    v128.store(to + 16, f64x2.promote_low_f32x4(v128.shuffle<f32>(a, a, 2, 3, 2, 3)));
    v128.store(to + 32, f64x2.promote_low_f32x4(b));
    v128.store(to + 48, f64x2.promote_low_f32x4(v128.shuffle<f32>(b, b, 2, 3, 2, 3)));
  }
  store<i32>(at, frame + frames, REVERB_AT);
}

/**
 * Four frames of all lines, `i` bytes into their rows: each is heard on one side, with signs that make both sides
 * strangers to each other; then a Hadamard matrix, and what comes in.
 */
@inline
function mingle(i: usize): void {
  const row = READ + i;
  let left = f32x4.splat(0), right = f32x4.splat(0);
  for (let n: usize = 0; n < <usize>REVERB_LINES; n += 4) {
    const even = v128.load(row + ROW * n), odd = v128.load(row + ROW * (n + 1)), evenTurned = v128.load(row + ROW * (n + 2)), oddNext = v128.load(row + ROW * (n + 3));
    left = f32x4.add(left, f32x4.sub(even, evenTurned));
    const both = f32x4.add(odd, oddNext);
    right = (n & 4) === 0 ? f32x4.add(right, both) : f32x4.sub(right, both);
  }
  v128.store(LATE_LEFT + i, left);
  v128.store(LATE_RIGHT + i, right);
  for (let half: usize = 1; half < <usize>REVERB_LINES; half *= 2) {
    for (let n: usize = 0; n < <usize>REVERB_LINES; n += 2 * half) {
      for (let k = n; k < n + half; k++) {
        const a = v128.load(row + ROW * k), b = v128.load(row + ROW * (k + half));
        v128.store(row + ROW * k, f32x4.add(a, b));
        v128.store(row + ROW * (k + half), f32x4.sub(a, b));
      }
    }
  }
  const quarter = f32x4.splat(0.25), by = f32x4.splat(0.35);
  const fromLeft = f32x4.mul(by, v128.load(DIRECT_LEFT + i)), fromRight = f32x4.mul(by, v128.load(DIRECT_RIGHT + i));
  for (let n: usize = 0; n < <usize>REVERB_LINES; n++) {
    const x = f32x4.mul(quarter, v128.load(row + ROW * n));
    const brought = (n & 1) === 0 ? fromLeft : fromRight;
    v128.store(row + ROW * n, (n & 8) === 0 ? f32x4.add(x, brought) : f32x4.sub(x, brought));
  }
}
