/** Mean square of both channels over a span. */
export function rmsOver(left: Float32Array, right: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += left[i] * left[i] + right[i] * right[i];
  return sum / (2 * (to - from));
}
