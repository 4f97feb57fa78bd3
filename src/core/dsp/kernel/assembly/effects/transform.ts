/**
 * The Fourier transform of real blocks, two channels at once: every place holds left and right, real and imaginary.
 * Source: Stockham's self-sorting form, radix 4 (C. Van Loan, "Computational Frameworks for the Fast Fourier Transform",
 * 1992); a real block of 2n as a complex one of n (W. Press et al., "Numerical Recipes", 12.3).
 */
import { TRANSFORM, TRANSFORM_OTHER, TURN_COUNT, TURNS } from '../../effectLayout';

/** A turn of the circle: cosine and minus sine, for both channels. */
@inline
function turn(k: i32): v128 {
  return v128.load64_splat(TURNS + 8 * <usize>k);
}

/** (a + ib)(c + id) of both channels. */
@inline
function times(a: v128, w: v128): v128 {
  const cos = v128.shuffle<f32>(w, w, 0, 0, 2, 2);
  const sin = f32x4.mul(v128.shuffle<f32>(w, w, 1, 1, 3, 3), f32x4(-1, 1, -1, 1));
  return f32x4.add(f32x4.mul(a, cos), f32x4.mul(v128.shuffle<f32>(a, a, 1, 0, 3, 2), sin));
}

@inline
function timesI(a: v128): v128 {
  return f32x4.mul(v128.shuffle<f32>(a, a, 1, 0, 3, 2), f32x4(-1, 1, -1, 1));
}

@inline
function conjugate(a: v128): v128 {
  return f32x4.mul(a, f32x4(1, -1, 1, -1));
}

/** Transforms `size` places (a power of two up to 2048) from TRANSFORM on. Gives where the result begins. */
function transform(size: i32): usize {
  let from: usize = TRANSFORM, to: usize = TRANSFORM_OTHER;
  let n = size, stride = 1;
  while (n >= 4) {
    const quarter = n >> 2;
    const step = TURN_COUNT / n;
    const off: usize = 16 * <usize>(stride * quarter);
    for (let p = 0; p < quarter; p++) {
      const w1 = turn(p * step), w2 = turn(2 * p * step), w3 = turn(3 * p * step);
      let x = from + 16 * <usize>(stride * p);
      let y = to + 64 * <usize>(stride * p);
      const by = 16 * <usize>stride;
      for (let q = 0; q < stride; q++) {
        const a = v128.load(x), b = v128.load(x + off), c = v128.load(x + 2 * off), d = v128.load(x + 3 * off);
        const ac = f32x4.add(a, c), aLessC = f32x4.sub(a, c);
        const bd = f32x4.add(b, d), turned = timesI(f32x4.sub(b, d));
        v128.store(y, f32x4.add(ac, bd));
        v128.store(y + by, times(f32x4.sub(aLessC, turned), w1));
        v128.store(y + 2 * by, times(f32x4.sub(ac, bd), w2));
        v128.store(y + 3 * by, times(f32x4.add(aLessC, turned), w3));
        x += 16;
        y += 16;
      }
    }
    const other = from;
    from = to;
    to = other;
    n >>= 2;
    stride <<= 2;
  }
  if (n === 2) {
    const off: usize = 16 * <usize>stride;
    for (let q: usize = 0; q < off; q += 16) {
      const a = v128.load(from + q), b = v128.load(from + q + off);
      v128.store(to + q, f32x4.add(a, b));
      v128.store(to + q + off, f32x4.sub(a, b));
    }
    return to;
  }
  return from;
}

/**
 * From 2·size real frames of both channels, two in a place from TRANSFORM on, to their spectrum at `to`: four rows, left
 * and right, real and imaginary, `part` bytes apart. The highest frequency, which is real, stands as the imaginary part
 * of the lowest.
 */
export function spectrumOf(size: i32, to: usize, part: usize): void {
  const z = transform(size);
  const step = TURN_COUNT / (2 * size);
  const half = f32x4.splat(0.5);
  const zero = v128.load(z);
  const other = v128.shuffle<f32>(zero, zero, 1, 0, 3, 2);
  putBin(to, part, v128.shuffle<f32>(f32x4.add(zero, other), f32x4.sub(zero, other), 0, 4, 2, 6));
  for (let k = 1; k < size; k++) {
    const a = v128.load(z + 16 * <usize>k);
    const b = conjugate(v128.load(z + 16 * <usize>(size - k)));
    const even = f32x4.mul(half, f32x4.add(a, b));
    const odd = f32x4.mul(half, f32x4.sub(a, b));
    putBin(to + 4 * <usize>k, part, f32x4.sub(even, times(timesI(odd), turn(k * step))));
  }
}

@inline
function putBin(to: usize, part: usize, x: v128): void {
  v128.store32_lane(to, x, 0);
  v128.store32_lane(to + part, x, 1);
  v128.store32_lane(to + 2 * part, x, 2);
  v128.store32_lane(to + 3 * part, x, 3);
}

@inline
function binAt(from: usize, part: usize): v128 {
  let x = v128.load32_splat(from);
  x = f32x4.replace_lane(x, 1, load<f32>(from + part));
  x = f32x4.replace_lane(x, 2, load<f32>(from + 2 * part));
  return f32x4.replace_lane(x, 3, load<f32>(from + 3 * part));
}

/**
 * The way back: gives where 2·size frames begin, two in a place; real and imaginary stand exchanged, so that of each
 * channel the later frame comes first.
 */
export function soundOf(size: i32, from: usize, part: usize): usize {
  const step = TURN_COUNT / (2 * size);
  const half = f32x4.splat(0.5 / <f32>size);
  for (let k = 0; k < size; k++) {
    let a = binAt(from + 4 * <usize>k, part);
    let b: v128;
    if (k === 0) {
      // The lowest and the highest frequency are real.
      b = f32x4.mul(v128.shuffle<f32>(a, a, 1, 1, 3, 3), f32x4(1, 0, 1, 0));
      a = f32x4.mul(a, f32x4(1, 0, 1, 0));
    } else b = conjugate(binAt(from + 4 * <usize>(size - k), part));
    const z = f32x4.add(f32x4.add(a, b), times(timesI(f32x4.sub(a, b)), conjugate(turn(k * step))));
    v128.store(TRANSFORM + 16 * <usize>k, f32x4.mul(half, v128.shuffle<f32>(z, z, 1, 0, 3, 2)));
  }
  return transform(size);
}
