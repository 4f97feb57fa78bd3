/** Second-order sections after the "Audio EQ Cookbook" (R. Bristow-Johnson, W3C Note). */
export type BiquadKind =
  | 'low-pass'
  | 'high-pass'
  | 'band-pass'
  | 'notch'
  | 'all-pass'
  | 'bell'
  | 'low-shelf'
  | 'high-shelf'
  | 'low-pass-6'
  | 'high-pass-6';
/** Numbers of a section: b0, b1, b2, a1, a2, over a0. */
export const SECTION = 5;
/** Numbers of its state for one channel. */
export const STATE = 2;
/** Places in what a section is set by. */
export const HZ = 0,
  Q = 1,
  DB = 2;

/**
 * Writes a section to `into[at]`… by `by`: frequency in Hz (held under 0.49 of the rate), Q, and gain in dB where it
 * has one. Those ending in 6 are of first order.
 */
export function setBiquad(into: Float64Array, at: number, kind: BiquadKind, by: Float64Array, rate: number): void {
  const w = (2 * Math.PI * Math.min(by[HZ], 0.49 * rate)) / rate;
  const cos = Math.cos(w);
  const sin = Math.sin(w);
  const alpha = sin / (2 * by[Q]);
  let b0 = 1,
    b1 = 0,
    b2 = 0,
    a0 = 1,
    a1 = 0,
    a2 = 0;
  switch (kind) {
    case 'low-pass':
      b1 = 1 - cos;
      b0 = b2 = b1 / 2;
      a0 = 1 + alpha;
      a1 = -2 * cos;
      a2 = 1 - alpha;
      break;
    case 'high-pass':
      b1 = -(1 + cos);
      b0 = b2 = -b1 / 2;
      a0 = 1 + alpha;
      a1 = -2 * cos;
      a2 = 1 - alpha;
      break;
    case 'band-pass':
      b0 = alpha;
      b2 = -alpha;
      a0 = 1 + alpha;
      a1 = -2 * cos;
      a2 = 1 - alpha;
      break;
    case 'notch':
      b0 = b2 = 1;
      b1 = a1 = -2 * cos;
      a0 = 1 + alpha;
      a2 = 1 - alpha;
      break;
    case 'all-pass':
      b0 = a2 = 1 - alpha;
      b1 = a1 = -2 * cos;
      b2 = a0 = 1 + alpha;
      break;
    case 'bell': {
      const root = 10 ** (by[DB] / 40);
      b0 = 1 + alpha * root;
      b1 = a1 = -2 * cos;
      b2 = 1 - alpha * root;
      a0 = 1 + alpha / root;
      a2 = 1 - alpha / root;
      break;
    }
    case 'low-shelf':
    case 'high-shelf': {
      const root = 10 ** (by[DB] / 40);
      const way = kind === 'low-shelf' ? -cos : cos;
      const slope = 2 * Math.sqrt(root) * alpha;
      const turn = kind === 'low-shelf' ? 1 : -1;
      b0 = root * (root + 1 + (root - 1) * way + slope);
      b1 = turn * 2 * root * (root - 1 + (root + 1) * way);
      b2 = root * (root + 1 + (root - 1) * way - slope);
      a0 = root + 1 - (root - 1) * way + slope;
      a1 = -turn * 2 * (root - 1 - (root + 1) * way);
      a2 = root + 1 - (root - 1) * way - slope;
      break;
    }
    default: {
      // One pole and one zero by the bilinear transform.
      const k = Math.tan(w / 2);
      a0 = 1 + k;
      a1 = k - 1;
      if (kind === 'low-pass-6') b0 = b1 = k;
      else {
        b0 = 1;
        b1 = -1;
      }
    }
  }
  into[at] = b0 / a0;
  into[at + 1] = b1 / a0;
  into[at + 2] = b2 / a0;
  into[at + 3] = a1 / a0;
  into[at + 4] = a2 / a0;
}

/** Takes a stretch of one channel through a section in place; transposed second direct form. */
export function runBiquad(
  sections: Float64Array,
  at: number,
  state: Float64Array,
  s: number,
  buffer: Float32Array | Float64Array,
  from: number,
  to: number,
): void {
  const b0 = sections[at],
    b1 = sections[at + 1],
    b2 = sections[at + 2],
    a1 = sections[at + 3],
    a2 = sections[at + 4];
  let z1 = state[s];
  let z2 = state[s + 1];
  for (let i = from; i < to; i++) {
    const x = buffer[i];
    const y = b0 * x + z1;
    z1 = b1 * x - a1 * y + z2;
    z2 = b2 * x - a2 * y;
    buffer[i] = y;
  }
  // Numbers too small for the processor's fast way are as good as none.
  state[s] = z1 < 1e-18 && z1 > -1e-18 ? 0 : z1;
  state[s + 1] = z2 < 1e-18 && z2 > -1e-18 ? 0 : z2;
}

/**
 * Q of each of the second-order sections of a Butterworth filter of an order; an odd order has a section of first order
 * besides.
 */
export const butterworthQs = (order: number): number[] =>
  Array.from(
    { length: Math.floor(order / 2) },
    (_, k) => 1 / (2 * Math.cos((Math.PI * (2 * k + 1 + (order % 2))) / (2 * order))),
  );
