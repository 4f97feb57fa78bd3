import { LEVEL_FRAMES } from './loop';
import type { Audio } from '../dsp/sample';

/** More than this is noise that is raised, in dB. */
export const MOST_EVENED_DB = 40;

/**
 * A copy of a recording whose loop stays as loud as it begins: what sinks (or swells) by `levelDb` from the start of
 * the loop to its end is raised by as many dB, in a straight line of dB (an exponential decay is one), and
 * what follows by all of them. What leads up to the loop is left as it is. Where the result would pass full scale all
 * of it is turned down.
 */
export function evenedLoop(
  { rate, channels, data }: Audio,
  { start, end }: { start: number; end: number },
  levelDb: number,
): Audio {
  const raise = Math.max(-MOST_EVENED_DB, Math.min(MOST_EVENED_DB, -levelDb));
  // The stretch that leads up to the start is what the end goes over into: it is as even as the loop.
  const lead = Math.min(start, LEVEL_FRAMES, end - start);
  const out = data.slice();
  const frames = data.length / channels;
  let peak = 0;
  for (let frame = 0; frame < frames; frame++) {
    const share = Math.min(end - start + lead, Math.max(0, frame - start + lead)) / (end - start);
    const gain = 10 ** ((raise * share) / 20);
    for (let c = 0; c < channels; c++) {
      const i = frame * channels + c;
      out[i] *= gain;
      peak = Math.max(peak, Math.abs(out[i]));
    }
  }
  if (peak > 1) for (let i = 0; i < out.length; i++) out[i] /= peak;
  return { rate, channels, data: out };
}
