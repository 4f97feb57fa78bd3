/**
 * Whether all of a stretch of two channels are numbers: infinities and what is none make the sum of nothings none
 * either. For the audio thread: it allocates nothing.
 */
export function areNumbers(
  left: Float32Array | Float64Array,
  right: Float32Array | Float64Array,
  from: number,
  to: number,
): boolean {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (left[i] + right[i]) * 0;
  return sum === 0;
}
