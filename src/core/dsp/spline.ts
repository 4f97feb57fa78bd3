/**
 * Reading between frames with cubic B-splines: the recording is turned once, beforehand, into spline coefficients whose
 * curve passes through every frame;
 * reading then costs four neighbours and a cubic, and suppresses the images of a tone at frequency f by (f / (rate −
 * f))⁴, which is −133 dB at
 * 1 kHz and −75 dB at 5 kHz for 48 000 frames a second. Source: M. Unser, "Splines: a perfect fit for signal and image
 * processing",
 * IEEE Signal Processing Magazine 16 (1999), 22–38.
 */
const POLE = Math.sqrt(3) - 2;

/** Frames after which the recursion has forgotten where it began: |POLE|³² is below 10⁻¹⁸. */
export const SPLINE_MEMORY = 32;

/** Frames needed before and after the frame that is read. */
export const TAPS_BEFORE = 1;
export const TAPS_AFTER = 2;

/**
 * Turns `count` frames of one channel into sixths of their spline coefficients, so that a reader has nothing to divide,
 * in place: element i is `data[first + i · stride]`. What lies outside counts as silence.
 */
export function toSpline(data: Float32Array | Float64Array, first: number, stride: number, count: number): void {
  let previous = 0;
  for (let i = 0, at = first; i < count; i++, at += stride) data[at] = previous = data[at] + POLE * previous;
  let next = (POLE / (POLE * POLE - 1)) * previous;
  for (let i = count - 1, at = first + i * stride; i >= 0; i--, at -= stride) {
    next = i === count - 1 ? next : POLE * (next - data[at]);
    data[at] = next;
  }
}
