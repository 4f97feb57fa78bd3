/** Sections of second order, left and right at once: in a row, beside each other, and as bands. */
import {
  BESIDE_SECTIONS, PAIRS, SCRATCH, SECTION_BYTES, SECTION_STATE, SIDE_PAIRS, THREE_ABOVE, THREE_AMOUNT, THREE_ATTACK,
  THREE_BELOW, THREE_FORGET, THREE_GAIN, THREE_NOW, THREE_PEAK, THREE_RELEASE, THREE_SECTIONS, THREE_SLOPE,
  THREE_STATES, VOCODER_A1, VOCODER_A2, VOCODER_ATTACK, VOCODER_B0, VOCODER_BREATH, VOCODER_COUNT, VOCODER_GAIN,
  VOCODER_LEVELS, VOCODER_PAST, VOCODER_PLAYED, VOCODER_RELEASE, VOCODER_VOICE,
} from '../../effectLayout';
import { exp, ln, muladd, settledPair, splat } from './pairs';

@inline
function number(place: usize): v128 {
  return v128.load64_splat(place);
}

/** One section, in the transposed second direct form. */
@inline
function run(section: usize, state: usize, from: usize, to: usize, frames: i32): void {
  const b0 = number(section), b1 = number(section + 8), b2 = number(section + 16), a1 = number(section + 24), a2 = number(section + 32);
  let z1 = v128.load(state), z2 = v128.load(state, 16);
  for (let i: usize = 0; i < 16 * <usize>frames; i += 16) {
    const x = v128.load(from + i);
    const y = muladd(b0, x, z1);
    z1 = f64x2.sub(muladd(b1, x, z2), f64x2.mul(a1, y));
    z2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
    v128.store(to + i, y);
  }
  v128.store(state, settledPair(z1));
  v128.store(state, settledPair(z2), 16);
}

/** Two in a row, of which each waits for itself while the other works. */
@inline
function runTwo(section: usize, state: usize, next: usize, nextState: usize, from: usize, to: usize, frames: i32): void {
  const b0 = number(section), b1 = number(section + 8), b2 = number(section + 16), a1 = number(section + 24), a2 = number(section + 32);
  const c0 = number(next), c1 = number(next + 8), c2 = number(next + 16), d1 = number(next + 24), d2 = number(next + 32);
  let z1 = v128.load(state), z2 = v128.load(state, 16), w1 = v128.load(nextState), w2 = v128.load(nextState, 16);
  for (let i: usize = 0; i < 16 * <usize>frames; i += 16) {
    const x = v128.load(from + i);
    const y = muladd(b0, x, z1);
    z1 = f64x2.sub(muladd(b1, x, z2), f64x2.mul(a1, y));
    z2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
    const v = muladd(c0, y, w1);
    w1 = f64x2.sub(muladd(c1, y, w2), f64x2.mul(d1, v));
    w2 = f64x2.sub(f64x2.mul(c2, y), f64x2.mul(d2, v));
    v128.store(to + i, v);
  }
  v128.store(state, settledPair(z1));
  v128.store(state, settledPair(z2), 16);
  v128.store(nextState, settledPair(w1));
  v128.store(nextState, settledPair(w2), 16);
}

/** Takes the pairs of a span through `count` sections one after another. */
export function inARow(at: usize, count: i32, frames: i32): void {
  let n = 0;
  for (; n + 2 <= count; n += 2) {
    const a = at + SECTION_BYTES * <usize>n, b = a + SECTION_BYTES;
    runTwo(a, a + SECTION_STATE, b, b + SECTION_STATE, PAIRS, PAIRS, frames);
  }
  if (n === count) return;
  const last = at + SECTION_BYTES * <usize>n;
  run(last, last + SECTION_STATE, PAIRS, PAIRS, frames);
}

/** The sum of what `count` sections make of the pairs of a span, each with its gain. */
export function besideEachOther(at: usize, count: i32, frames: i32): void {
  const sum = SCRATCH, part = SCRATCH + 1024;
  memory.fill(sum, 0, 16 * <usize>frames);
  for (let n: usize = 0; n < <usize>count; n++) {
    const section = at + BESIDE_SECTIONS + SECTION_BYTES * n;
    run(section, section + SECTION_STATE, PAIRS, part, frames);
    const gain = v128.load64_splat(at + 8 * n);
    for (let i: usize = 0; i < 16 * <usize>frames; i += 16) v128.store(sum + i, muladd(gain, v128.load(part + i), v128.load(sum + i)));
  }
  memory.copy(PAIRS, sum, 16 * <usize>frames);
}

/** A band-pass twice, one after the other: b1 is 0 and b2 is −b0. */
@inline
function twice(b0: v128, a1: v128, a2: v128, state: usize, from: usize, to: usize, frames: i32): void {
  let z1 = v128.load(state), z2 = v128.load(state, 16), w1 = v128.load(state, 32), w2 = v128.load(state, 48);
  for (let i: usize = 0; i < 16 * <usize>frames; i += 16) {
    const x = f64x2.mul(b0, v128.load(from + i));
    const y = f64x2.add(x, z1);
    z1 = f64x2.sub(z2, f64x2.mul(a1, y));
    z2 = f64x2.sub(f64x2.neg(x), f64x2.mul(a2, y));
    const u = f64x2.mul(b0, y);
    const v = f64x2.add(u, w1);
    w1 = f64x2.sub(w2, f64x2.mul(a1, v));
    w2 = f64x2.sub(f64x2.neg(u), f64x2.mul(a2, v));
    v128.store(to + i, v);
  }
  v128.store(state, settledPair(z1));
  v128.store(state, settledPair(z2), 16);
  v128.store(state, settledPair(w1), 32);
  v128.store(state, settledPair(w2), 48);
}

/** The levels of a voice, band by band, laid on what is played: the pairs of the span; the voice is the side's. */
export function vocode(at: usize, frames: i32): void {
  const sum = SCRATCH, voice = SCRATCH + 1024;
  const end: usize = 16 * <usize>frames;
  for (let i: usize = 0; i < end; i += 16) {
    const x = v128.load(SIDE_PAIRS + i);
    v128.store(voice + i, f64x2.mul(splat(0.5), f64x2.add(x, v128.shuffle<f64>(x, x, 1, 0))));
  }
  memory.fill(sum, 0, end);
  const count = <usize>load<i32>(at, VOCODER_COUNT);
  const gain = v128.load64_splat(at + VOCODER_GAIN);
  const attack = v128.load64_splat(at + VOCODER_ATTACK), release = v128.load64_splat(at + VOCODER_RELEASE);
  for (let b: usize = 0; b < count; b += 2) {
    const bands = at + 8 * b;
    const v0 = v128.load(bands + VOCODER_B0), v1 = v128.load(bands + VOCODER_A1), v2 = v128.load(bands + VOCODER_A2);
    const p0 = v128.load64_splat(bands + VOCODER_B0), p1 = v128.load64_splat(bands + VOCODER_A1), p2 = v128.load64_splat(bands + VOCODER_A2);
    const q0 = v128.load64_splat(bands + VOCODER_B0 + 8), q1 = v128.load64_splat(bands + VOCODER_A1 + 8), q2 = v128.load64_splat(bands + VOCODER_A2 + 8);
    const heard = SCRATCH + 2048, one = SCRATCH + 3072, other = SCRATCH + 4096;
    twice(v0, v1, v2, at + VOCODER_VOICE + 32 * b, voice, heard, frames);
    twice(p0, p1, p2, at + VOCODER_PLAYED + 64 * b, PAIRS, one, frames);
    twice(q0, q1, q2, at + VOCODER_PLAYED + 64 * b + 64, PAIRS, other, frames);
    let level = v128.load(bands + VOCODER_LEVELS);
    for (let i: usize = 0; i < end; i += 16) {
      const way = f64x2.sub(f64x2.abs(v128.load(heard + i)), level);
      level = muladd(way, v128.bitselect(attack, release, f64x2.gt(way, splat(0))), level);
      const loud = f64x2.mul(level, gain);
      let x = muladd(v128.load(one + i), v128.shuffle<f64>(loud, loud, 0, 0), v128.load(sum + i));
      x = muladd(v128.load(other + i), v128.shuffle<f64>(loud, loud, 1, 1), x);
      v128.store(sum + i, x);
    }
    v128.store(bands + VOCODER_LEVELS, v128.and(level, f64x2.gt(level, splat(1e-12))));
  }
  const breath = load<f64>(at, VOCODER_BREATH);
  if (breath > 0) {
    const past = at + VOCODER_PAST;
    run(past, past + SECTION_STATE, voice, voice, frames);
    for (let i: usize = 0; i < end; i += 16) v128.store(sum + i, muladd(splat(breath), v128.load(voice + i), v128.load(sum + i)));
  }
  memory.copy(PAIRS, sum, end);
}

/** Two bands of the compressor: what comes in of both, and the gain of each by frame, added to the sum. */
@inline
function squeeze(at: usize, first: usize, one: usize, other: usize, sum: usize, frames: i32): void {
  const attack = v128.load64_splat(at + THREE_ATTACK), release = v128.load64_splat(at + THREE_RELEASE);
  const forget = v128.load64_splat(at + THREE_FORGET), amount = v128.load64_splat(at + THREE_AMOUNT);
  const above = v128.load(at + first + THREE_ABOVE), slope = v128.load(at + first + THREE_SLOPE);
  const below = v128.load(at + first + THREE_BELOW), makeup = v128.load(at + first + THREE_GAIN);
  let peak = v128.load(at + first + THREE_PEAK), gain = v128.load(at + first + THREE_NOW);
  const zero = splat(0);
  for (let i: usize = 0; i < 16 * <usize>frames; i += 16) {
    const a = v128.load(one + i), b = v128.load(other + i);
    const left = f64x2.abs(v128.shuffle<f64>(a, b, 0, 2)), right = f64x2.abs(v128.shuffle<f64>(a, b, 1, 3));
    const height = f64x2.max(left, right);
    peak = v128.bitselect(height, f64x2.mul(peak, forget), f64x2.gt(height, peak));
    const level = f64x2.mul(splat(8.685889638065037), ln(f64x2.add(peak, splat(1e-12))));
    let target = v128.and(f64x2.mul(slope, f64x2.sub(level, above)), f64x2.gt(level, above));
    // Silence is not brought up.
    const raised = f64x2.min(splat(18), f64x2.mul(splat(0.5), f64x2.sub(below, level)));
    target = f64x2.add(target, v128.and(raised, v128.and(f64x2.lt(level, below), f64x2.gt(level, splat(-90)))));
    const way = f64x2.sub(target, gain);
    gain = muladd(way, v128.bitselect(attack, release, f64x2.lt(way, zero)), gain);
    const factor = exp(f64x2.mul(f64x2.mul(f64x2.add(gain, makeup), amount), splat(0.1151292546497023)));
    v128.store(sum + i, muladd(b, v128.shuffle<f64>(factor, factor, 1, 1), muladd(a, v128.shuffle<f64>(factor, factor, 0, 0), v128.load(sum + i))));
  }
  v128.store(at + first + THREE_PEAK, v128.and(peak, f64x2.gt(peak, splat(1e-12))));
  v128.store(at + first + THREE_NOW, gain);
}

/** Three bands that add up to an all-pass, each louder or softer by its level. */
export function threeBands(at: usize, frames: i32): void {
  const low = SCRATCH, middle = SCRATCH + 640, high = SCRATCH + 1280, none = SCRATCH + 1920;
  const section = at + THREE_SECTIONS, state = at + THREE_STATES;
  const lowPass = section, highPass = section + 48, secondLow = section + 96, secondHigh = section + 144, allPass = section + 192;
  runTwo(lowPass, state, lowPass, state + 32, PAIRS, low, frames);
  run(allPass, state + 64, low, low, frames);
  runTwo(highPass, state + 96, highPass, state + 128, PAIRS, middle, frames);
  runTwo(secondHigh, state + 224, secondHigh, state + 256, middle, high, frames);
  runTwo(secondLow, state + 160, secondLow, state + 192, middle, middle, frames);
  memory.fill(none, 0, 16 * <usize>frames);
  memory.fill(PAIRS, 0, 16 * <usize>frames);
  squeeze(at, 0, low, middle, PAIRS, frames);
  squeeze(at, 16, high, none, PAIRS, frames);
}
