/**
 * Gains of a crossfade at t in 0…1 that keeps the power of what is faded whatever both sides have in common: with
 * correlation r,
 * in² + out² + 2r·in·out = 1. For r = 1 these are straight lines, for r = 0 a constant-power pair. Negative
 * correlations count as 0.
 */
export function crossfadeGains(t: number, correlation: number): { fadeIn: number; fadeOut: number } {
  const r = Math.min(1, Math.max(0, correlation));
  const norm = 1 / Math.sqrt(t * t + (1 - t) * (1 - t) + 2 * r * t * (1 - t));
  return { fadeIn: t * norm, fadeOut: (1 - t) * norm };
}

/** Correlation −1…1 of two stretches of interleaved signal of equal length; 0 where one is silent. */
export function correlationOf(data: ArrayLike<number>, first: number, second: number, length: number): number {
  let both = 0;
  let a = 0;
  let b = 0;
  for (let i = 0; i < length; i++) {
    const x = data[first + i];
    const y = data[second + i];
    both += x * y;
    a += x * x;
    b += y * y;
  }
  return a > 0 && b > 0 ? both / Math.sqrt(a * b) : 0;
}

/** Longest crossfade a loop can have: it needs as many frames before its start, and no more than it repeats. */
export const longestCrossfade = ({ start, end }: { start: number; end: number }): number =>
  Math.min(start, end - start);

/**
 * A copy of the recording (interleaved) whose frames before the loop's end have been blended with those before its
 * start; the recording itself where there is no crossfade.
 */
export function crossfadedLoop(
  data: Float32Array,
  channels: number,
  loop: { start: number; end: number; crossfade?: number },
): Float32Array {
  const frames = Math.min(loop.crossfade ?? 0, longestCrossfade(loop));
  if (frames <= 0) return data;
  const out = data.slice();
  const tail = (loop.end - frames) * channels;
  const head = (loop.start - frames) * channels;
  const correlation = correlationOf(data, tail, head, frames * channels);
  for (let i = 0; i < frames; i++) {
    const { fadeIn, fadeOut } = crossfadeGains((i + 1) / (frames + 1), correlation);
    for (let c = 0; c < channels; c++)
      out[tail + i * channels + c] = fadeOut * data[tail + i * channels + c] + fadeIn * data[head + i * channels + c];
  }
  return out;
}
