/** How much higher the highest place of a correlation must stand than all that is not near it. Common practice, no source. */
const CLEAR = 4;
/** Frames beside the highest place that belong to it. */
const NEAR = 48;

/**
 * Frames by which `heard` is later than `sent`: where their cross-correlation is highest. `sent` is short, wide-band and
 * near its beginning (a burst of noise). Undefined where it is not heard: nothing stands out.
 */
export function loopDelay(sent: Float32Array, heard: Float32Array, most: number): number | undefined {
  const from = sent.findIndex((x) => x !== 0);
  if (from < 0) return undefined;
  let to = sent.length;
  while (to > from && sent[to - 1] === 0) to--;
  const height = new Float64Array(Math.max(0, Math.min(most, heard.length - to)));
  let best = 0;
  for (let lag = 0; lag < height.length; lag++) {
    let sum = 0;
    for (let i = from; i < to; i++) sum += sent[i] * heard[i + lag];
    height[lag] = Math.abs(sum);
    if (height[lag] > height[best]) best = lag;
  }
  let other = 0;
  for (let lag = 0; lag < height.length; lag++)
    if (Math.abs(lag - best) > NEAR && height[lag] > other) other = height[lag];
  return height.length > 0 && height[best] > CLEAR * other && height[best] > 0 ? best : undefined;
}

/** Metres that sound goes in some ms, at 343 m/s (air at 20 °C, any handbook): a latency as a distance. */
export const metresOf = (ms: number): number => 0.343 * ms;
