import type { Kernel } from './kernel/kernel';
import { LONGEST_SPAN, WINDOW_TAPS } from './kernel/layout';
import { PAD, type SampleLevel } from './sample';
import { TAPS_AFTER, TAPS_BEFORE } from './spline';

/**
 * Readings of samples: where a reading stands and how fast it goes lies in the kernel's memory, the sample itself outside it. The few taps that a span
 * needs are copied into the kernel's window; a loop is followed while copying, so that the kernel never knows of one.
 */

const POSITION = 0;
const STEP = 1;
const TAPS = TAPS_BEFORE + 1 + TAPS_AFTER;
/** Up to this step a whole span fits into the window. */
const WIDE_STEP = (WINDOW_TAPS - TAPS - 2) / LONGEST_SPAN;

/** Jumps back by the loop's length once its end is passed. `reading` is the reading's byte in the kernel's memory. */
export function foldIntoLoop({ loop }: SampleLevel, { numbers }: Kernel, reading: number): void {
  const at = (reading >> 3) + POSITION;
  if (loop && numbers[at] >= loop.end) numbers[at] = loop.start + ((numbers[at] - loop.start) % (loop.end - loop.start));
}

/** How many of the next frames one window holds: all, unless the sample is read so fast that even its coarsest level is skipped through. */
export function framesInWindow({ numbers }: Kernel, reading: number, frames: number): number {
  const step = numbers[(reading >> 3) + STEP];
  return step <= WIDE_STEP ? frames : Math.max(1, Math.min(frames, Math.floor((WINDOW_TAPS - TAPS - 2) / step)));
}

/** Copies into the window what the next frames of a reading need; before and after the sample there is silence. */
export function fillWindow(level: SampleLevel, channels: 1 | 2, kernel: Kernel, reading: number, frames: number): void {
  foldIntoLoop(level, kernel, reading);
  const { data, loop } = level;
  const { numbers, window, windowRight } = kernel;
  const position = numbers[(reading >> 3) + POSITION];
  const frame = Math.floor(position);
  const taps = Math.min(WINDOW_TAPS, Math.floor(position - frame + numbers[(reading >> 3) + STEP] * frames) + TAPS);
  const last = loop ? loop.end : level.frames + PAD;
  let at = frame - TAPS_BEFORE;
  let tap = 0;
  while (tap < taps) {
    if (loop && at >= loop.end) at = loop.start + ((at - loop.start) % (loop.end - loop.start));
    const to = Math.min(taps, tap + last - at);
    if (to <= tap) break;
    let j = (at + PAD) * channels;
    at += to - tap;
    if (channels === 1) for (; tap < to; tap++, j++) window[tap] = data[j];
    else {
      for (; tap < to; tap++, j += 2) {
        window[tap] = data[j];
        windowRight[tap] = data[j + 1];
      }
    }
  }
  for (; tap < taps; tap++) window[tap] = windowRight[tap] = 0;
}

/** Reads `from … to` of the next frames into a pair of the kernel's buffers, whose left channel begins at byte `out`. */
export function readSample(level: SampleLevel, channels: 1 | 2, kernel: Kernel, reading: number, out: number, from: number, to: number): void {
  for (let done = from; done < to; ) {
    const frames = framesInWindow(kernel, reading, to - done);
    fillWindow(level, channels, kernel, reading, frames);
    kernel.loops.read(reading, channels - 1, out + done * 8, frames);
    done += frames;
  }
}
