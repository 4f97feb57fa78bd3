/** Convolution in blocks, left and right at once. See `effectLayout.ts` for its room. */
import {
  CONVOLUTION_DELAY, CONVOLUTION_DIRECT, CONVOLUTION_FILTERS, CONVOLUTION_FRAME, CONVOLUTION_GAIN, CONVOLUTION_HIGH,
  CONVOLUTION_LINE, CONVOLUTION_LONG_IN, CONVOLUTION_LONG_NEWEST, CONVOLUTION_LONG_NEXT, CONVOLUTION_LONG_OUT,
  CONVOLUTION_LONG_READY, CONVOLUTION_LONG_SUM, CONVOLUTION_LONGS, CONVOLUTION_LOW, CONVOLUTION_MASK, CONVOLUTION_PLACE,
  CONVOLUTION_RECENT, CONVOLUTION_SHORT_NEWEST, CONVOLUTION_SHORT_OUT, CONVOLUTION_SHORT_PAST, CONVOLUTION_SHORT_READY,
  CONVOLUTION_SHORT_RESPONSE, CONVOLUTION_SHORT_SUM, CONVOLUTION_WIDE, LINE_FRAME_BYTES, LONG, LONG_PART, LONG_SPECTRUM,
  PAIRS, RECENT_BYTES, SCRATCH, SHORT, SHORT_PART, SHORT_SPECTRUM, SHORTS, TRANSFORM,
} from '../../effectLayout';
import { muladd, settledPair, splat } from './pairs';
import { soundOf, spectrumOf } from './transform';

/** Where the transformed recording begins in long blocks, and where their past does. */
@inline
function longResponse(at: usize): usize {
  return at + CONVOLUTION_LINE + LINE_FRAME_BYTES * (<usize>load<i32>(at, CONVOLUTION_MASK) + 1);
}
@inline
function longPast(at: usize): usize {
  return longResponse(at) + LONG_SPECTRUM * <usize>load<i32>(at, CONVOLUTION_LONGS);
}

/** Transforms a block of the recording, which stands where blocks to be transformed stand: two frames in a place. */
export function convolveRespond(at: usize, isLong: i32, block: i32): void {
  if (isLong) spectrumOf(LONG, longResponse(at) + LONG_SPECTRUM * <usize>block, LONG_PART);
  else spectrumOf(SHORT, at + CONVOLUTION_SHORT_RESPONSE + SHORT_SPECTRUM * <usize>block, SHORT_PART);
}

/** Lays 2·size frames of two rows out for the transform. */
@inline
function lay(size: i32, left: usize, right: usize): void {
  for (let k: usize = 0; k < 8 * <usize>size; k += 16) {
    const l = v128.load(left + k), r = v128.load(right + k);
    v128.store(TRANSFORM + 2 * k, v128.shuffle<f32>(l, r, 0, 1, 4, 5));
    v128.store(TRANSFORM + 2 * k + 16, v128.shuffle<f32>(l, r, 2, 3, 6, 7));
  }
}

/** The second half of what comes back is what is wanted: as two rows. */
@inline
function fetch(size: i32, sum: usize, part: usize, left: usize, right: usize): void {
  const z = soundOf(size, sum, part) + 8 * <usize>size;
  for (let k: usize = 0; k < 4 * <usize>size; k += 16) {
    const a = v128.load(z + 2 * k), b = v128.load(z + 2 * k + 16);
    v128.store(left + k, v128.shuffle<f32>(a, b, 1, 0, 5, 4));
    v128.store(right + k, v128.shuffle<f32>(a, b, 3, 2, 7, 6));
  }
}

/** Adds the product of two spectra of one side to a sum: real and imaginary rows lie `part` bytes apart. */
@inline
function multiply(bytes: usize, part: usize, sum: usize, p: usize, h: usize): void {
  for (let k: usize = 0; k < bytes; k += 16) {
    const pr = v128.load(p + k), pi = v128.load(p + part + k), hr = v128.load(h + k), hi = v128.load(h + part + k);
    v128.store(sum + k, f32x4.add(v128.load(sum + k), f32x4.sub(f32x4.mul(pr, hr), f32x4.mul(pi, hi))));
    v128.store(sum + part + k, f32x4.add(v128.load(sum + part + k), f32x4.add(f32x4.mul(pr, hi), f32x4.mul(pi, hr))));
  }
}

/** The same of two pairs of spectra at once: the sum is fetched and put back half as often. */
@inline
function multiplyTwo(bytes: usize, part: usize, sum: usize, p: usize, h: usize, q: usize, g: usize): void {
  for (let k: usize = 0; k < bytes; k += 16) {
    const pr = v128.load(p + k), pi = v128.load(p + part + k), hr = v128.load(h + k), hi = v128.load(h + part + k);
    const qr = v128.load(q + k), qi = v128.load(q + part + k), gr = v128.load(g + k), gi = v128.load(g + part + k);
    const re = f32x4.add(f32x4.sub(f32x4.mul(pr, hr), f32x4.mul(pi, hi)), f32x4.sub(f32x4.mul(qr, gr), f32x4.mul(qi, gi)));
    const im = f32x4.add(f32x4.add(f32x4.mul(pr, hi), f32x4.mul(pi, hr)), f32x4.add(f32x4.mul(qr, gi), f32x4.mul(qi, gr)));
    v128.store(sum + k, f32x4.add(v128.load(sum + k), re));
    v128.store(sum + part + k, f32x4.add(v128.load(sum + part + k), im));
  }
}

/** Adds to a sum of spectra what the blocks `from` to `to` of the recording make of their past, of `count` blocks. */
@inline
function gather(size: i32, part: usize, sum: usize, response: usize, past: usize, newest: i32, from: i32, to: i32, count: i32): void {
  const bytes = 4 * part;
  for (let side: usize = 0; side < 2; side++) {
    const off = 2 * part * side;
    // The lowest and the highest frequency are real: they are multiplied apart.
    let low = load<f32>(sum + off), high = load<f32>(sum + off + part);
    let block = from;
    while (block < to) {
      const p = past + bytes * <usize>slotOf(newest - block, count) + off, h = response + bytes * <usize>block + off;
      low += load<f32>(p) * load<f32>(h);
      high += load<f32>(p + part) * load<f32>(h + part);
      if (block + 1 < to) {
        const q = past + bytes * <usize>slotOf(newest - block - 1, count) + off, g = h + bytes;
        low += load<f32>(q) * load<f32>(g);
        high += load<f32>(q + part) * load<f32>(g + part);
        multiplyTwo(4 * size, part, sum + off, p, h, q, g);
        block += 2;
      } else {
        multiply(4 * size, part, sum + off, p, h);
        block++;
      }
    }
    store<f32>(sum + off, low);
    store<f32>(sum + off + part, high);
  }
}

@inline
function slotOf(n: i32, count: i32): i32 {
  return n < 0 ? n + count : n;
}

/**
 * At the beginning of each short block: what the last one brought goes in, and what is due comes out. Long blocks go in
 * at the first of their sixteen turns and come out at the last; between them each turn does a share of their work.
 */
export function convolveTurn(at: usize): void {
  const frame = load<i32>(at, CONVOLUTION_FRAME);
  const turn = frame / SHORT;
  const recent = at + CONVOLUTION_RECENT;
  let newest = load<i32>(at, CONVOLUTION_SHORT_NEWEST) + 1;
  if (newest >= SHORTS) newest = 0;
  store<i32>(at, newest, CONVOLUTION_SHORT_NEWEST);
  lay(SHORT, recent, recent + RECENT_BYTES);
  const shortPast = at + CONVOLUTION_SHORT_PAST;
  spectrumOf(SHORT, shortPast + SHORT_SPECTRUM * <usize>newest, SHORT_PART);
  const shortSum = at + CONVOLUTION_SHORT_SUM;
  memory.fill(shortSum, 0, SHORT_SPECTRUM);
  gather(SHORT, SHORT_PART, shortSum, at + CONVOLUTION_SHORT_RESPONSE, shortPast, newest, 0, load<i32>(at, CONVOLUTION_SHORT_READY), SHORTS);
  fetch(SHORT, shortSum, SHORT_PART, at + CONVOLUTION_SHORT_OUT, at + CONVOLUTION_SHORT_OUT + 4 * SHORT);
  memory.copy(recent, recent + 4 * SHORT, 4 * SHORT);
  memory.copy(recent + RECENT_BYTES, recent + RECENT_BYTES + 4 * SHORT, 4 * SHORT);

  const longs = load<i32>(at, CONVOLUTION_LONGS);
  const longSum = at + CONVOLUTION_LONG_SUM;
  let longNewest = load<i32>(at, CONVOLUTION_LONG_NEWEST);
  if (turn === 0) {
    memory.copy(at + CONVOLUTION_LONG_OUT, at + CONVOLUTION_LONG_NEXT, 8 * LONG);
    longNewest++;
    if (longNewest >= longs) longNewest = 0;
    store<i32>(at, longNewest, CONVOLUTION_LONG_NEWEST);
    const input = at + CONVOLUTION_LONG_IN;
    lay(LONG, input, input + 8 * LONG);
    spectrumOf(LONG, longPast(at) + LONG_SPECTRUM * <usize>longNewest, LONG_PART);
    memory.fill(longSum, 0, LONG_SPECTRUM);
    memory.copy(input, input + 4 * LONG, 4 * LONG);
    memory.copy(input + 8 * LONG, input + 12 * LONG, 4 * LONG);
    return;
  }
  const turns = LONG / SHORT;
  const share = (longs + turns - 3) / (turns - 2);
  const from = (turn - 1) * share;
  const to = min(min(from + share, longs), load<i32>(at, CONVOLUTION_LONG_READY));
  if (turn < turns - 1) {
    if (from < to) gather(LONG, LONG_PART, longSum, longResponse(at), longPast(at), longNewest, from, to, longs);
  } else fetch(LONG, longSum, LONG_PART, at + CONVOLUTION_LONG_NEXT, at + CONVOLUTION_LONG_NEXT + 4 * LONG);
}

/** Takes pairs from frame `first` of a span on through it, in place: `frames` of them, within one short block. */
export function convolve(at: usize, first: i32, frames: i32): void {
  const mask = load<i32>(at, CONVOLUTION_MASK), delay = load<i32>(at, CONVOLUTION_DELAY);
  const line = at + CONVOLUTION_LINE;
  let place = load<i32>(at, CONVOLUTION_PLACE);
  const frame = load<i32>(at, CONVOLUTION_FRAME);
  const within = frame & (SHORT - 1);
  const lowShare = v128.load64_splat(at + CONVOLUTION_LOW), highShare = v128.load64_splat(at + CONVOLUTION_HIGH);
  let low = v128.load(at + CONVOLUTION_FILTERS), high = v128.load(at + CONVOLUTION_FILTERS + 16);
  const pairs = PAIRS + 16 * <usize>first;
  const recent = at + CONVOLUTION_RECENT + 4 * <usize>(SHORT + within);
  const input = at + CONVOLUTION_LONG_IN + 4 * <usize>(LONG + (frame & (LONG - 1)));
  for (let i: usize = 0; i < <usize>frames; i++) {
    v128.store64_lane(line + LINE_FRAME_BYTES * <usize>(place & mask), f32x4.demote_f64x2_zero(v128.load(pairs + 16 * i)), 0);
    let x = f64x2.promote_low_f32x4(v128.load64_zero(line + LINE_FRAME_BYTES * <usize>((place - delay) & mask)));
    place++;
    low = muladd(f64x2.sub(x, low), lowShare, low);
    x = f64x2.sub(x, low);
    const single = f32x4.demote_f64x2_zero(x);
    v128.store32_lane(recent + 4 * i, single, 0);
    v128.store32_lane(recent + RECENT_BYTES + 4 * i, single, 1);
    v128.store32_lane(input + 4 * i, single, 0);
    v128.store32_lane(input + 8 * LONG + 4 * i, single, 1);
  }
  store<i32>(at, place & mask, CONVOLUTION_PLACE);
  for (let side: usize = 0; side < 2; side++) {
    const past = recent + RECENT_BYTES * side, response = at + CONVOLUTION_DIRECT + 4 * SHORT * side;
    for (let i: usize = 0; i < <usize>frames; i += 4) {
      let even = f32x4.splat(0), odd = f32x4.splat(0);
      const newest = past + 4 * i;
      for (let k: usize = 0; k < 4 * SHORT; k += 8) {
        even = f32x4.add(even, f32x4.mul(v128.load32_splat(response + k), v128.load(newest - k)));
        odd = f32x4.add(odd, f32x4.mul(v128.load32_splat(response + k + 4), v128.load(newest - k - 4)));
      }
      v128.store(SCRATCH + 4 * i + 256 * side, f32x4.add(even, odd));
    }
  }
  const short = at + CONVOLUTION_SHORT_OUT + 4 * <usize>within;
  const long = at + CONVOLUTION_LONG_OUT + 4 * <usize>(frame & (LONG - 1));
  const gain = load<f64>(at, CONVOLUTION_GAIN), wide = load<f64>(at, CONVOLUTION_WIDE);
  const straight = splat(0.5 * gain * (1 + wide)), across = splat(0.5 * gain * (1 - wide));
  const cuts = load<f64>(at, CONVOLUTION_HIGH) < 1;
  for (let i: usize = 0; i < <usize>frames; i++) {
    let y = f64x2(
      <f64>load<f32>(SCRATCH + 4 * i) + <f64>load<f32>(short + 4 * i) + <f64>load<f32>(long + 4 * i),
      <f64>load<f32>(SCRATCH + 256 + 4 * i) + <f64>load<f32>(short + 4 * SHORT + 4 * i) + <f64>load<f32>(long + 4 * LONG + 4 * i));
    if (cuts) {
      high = muladd(f64x2.sub(y, high), highShare, high);
      y = high;
    }
    v128.store(pairs + 16 * i, f64x2.add(f64x2.mul(y, straight), f64x2.mul(v128.shuffle<f64>(y, y, 1, 0), across)));
  }
  v128.store(at + CONVOLUTION_FILTERS, settledPair(low));
  v128.store(at + CONVOLUTION_FILTERS + 16, settledPair(high));
  store<i32>(at, (frame + frames) & (LONG - 1), CONVOLUTION_FRAME);
}
