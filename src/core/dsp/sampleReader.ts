import type { Kernel } from './kernel/kernel';
import { LONGEST_SPAN, WINDOW_FRAMES } from './kernel/layout';
import { PAD, type SampleLevel } from './sample';
import { TAPS_AFTER, TAPS_BEFORE } from './spline';

/**
 * Readings of samples: where a reading stands and how fast it goes lies in the kernel's memory, the sample itself
 * outside it. The few frames that a span
 * needs are copied into the kernel's window; a loop is followed while copying, so that the kernel never knows of one.
 */

const POSITION = 0;
const STEP = 1;
/** Frames around a position that its value takes, and one more because the window begins at an even frame. */
const AROUND = TAPS_BEFORE + 1 + TAPS_AFTER + 1;
/** Up to this step a whole span fits into the window; the kernel counts up to 128 frames in it. */
const REACH = Math.min(WINDOW_FRAMES, 128) - AROUND;
const WIDE_STEP = REACH / LONGEST_SPAN;

/** Jumps back by the loop's length once its end is passed. `reading` is the reading's byte in the kernel's memory. */
export function foldIntoLoop({ loop }: SampleLevel, { numbers }: Kernel, reading: number): void {
  const at = (reading >> 3) + POSITION;
  if (loop && numbers[at] >= loop.end)
    numbers[at] = loop.start + ((numbers[at] - loop.start) % (loop.end - loop.start));
}

/**
 * How many of the next frames one window holds: all, unless the sample is read so fast that even its coarsest level is
 * skipped through.
 */
export function framesInWindow({ numbers }: Kernel, reading: number, frames: number): number {
  const step = numbers[(reading >> 3) + STEP];
  return step <= WIDE_STEP ? frames : Math.max(1, Math.min(frames, Math.floor(REACH / step)));
}

/** Copies into the window what the next frames of a reading need; before and after the sample there is silence. */
export function fillWindow(level: SampleLevel, channels: 1 | 2, kernel: Kernel, reading: number, frames: number): void {
  foldIntoLoop(level, kernel, reading);
  const { pairs, loop } = level;
  const { numbers, windowPairs } = kernel;
  const position = numbers[(reading >> 3) + POSITION];
  const even = 2 * Math.floor(position / 2);
  const count = Math.min(WINDOW_FRAMES, Math.floor(position - even + numbers[(reading >> 3) + STEP] * frames) + AROUND);
  const from = even - TAPS_BEFORE;
  if (from + count > (loop ? loop.end : level.frames + PAD)) {
    fillAroundEnd(level, channels, kernel, from, count);
    return;
  }
  // Two floats at a time, as one number that is never looked at: one frame of two channels, or two of one. See
  // SampleLevel.
  const first = channels === 1 ? (from + PAD) >> 1 : from + PAD;
  const elements = channels === 1 ? (count + 1) >> 1 : count;
  for (let i = 0; i < elements; i++) windowPairs[i] = pairs[first + i];
}

/** The same where a loop's end or the end of the sample comes within the window. */
function fillAroundEnd(
  { data, loop, frames }: SampleLevel,
  channels: 1 | 2,
  { window }: Kernel,
  from: number,
  count: number,
): void {
  for (let i = 0; i < count; i++) {
    let frame = from + i;
    if (loop && frame >= loop.end) frame = loop.start + ((frame - loop.start) % (loop.end - loop.start));
    const silent = frame >= frames + PAD;
    for (let c = 0; c < channels; c++) window[i * channels + c] = silent ? 0 : data[(frame + PAD) * channels + c];
  }
}

/**
 * Reads `from … to` of the next frames into a pair of the kernel's buffers, whose left channel begins at byte `out`.
 */
export function readSample(
  level: SampleLevel,
  channels: 1 | 2,
  kernel: Kernel,
  reading: number,
  out: number,
  from: number,
  to: number,
): void {
  for (let done = from; done < to;) {
    const frames = framesInWindow(kernel, reading, to - done);
    fillWindow(level, channels, kernel, reading, frames);
    kernel.loops.read(reading, channels - 1, out + done * 8, frames);
    done += frames;
  }
}
