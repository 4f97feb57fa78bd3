import {
  JUMP_BEST,
  JUMP_LIKENESS,
  SHIFT_DELAY,
  SHIFT_FARTHEST,
  SHIFT_GROWTH,
  SHIFT_NEAREST,
  SHIFT_OTHER,
  SHIFT_SHARE,
  SHIFT_SHARE_STEP,
} from '../dsp/kernel/effectLayout';
import type { Room } from '../dsp/kernel/effectRooms';

/** How long two readings overlap where one takes over from the other. */
const OVERLAP_SECONDS = 0.012;
const SEARCH_STEP = 4;

/**
 * Reads a line of memory faster or slower than it is written, and jumps back by what is alike: at each jump the place
 * is looked for at which the past resembles what is read now (waveform similarity,
 * W. Verhelst and M. Roelands, ICASSP 1993), and both are crossfaded. Two channels that jump together.
 */
export class Shifter {
  /**
   * Where it reads, behind what was written last; where the reading that fades out is; share of the crossfade; how far
   * the delay may go.
   */
  private readonly state = new Float64Array(4);
  readonly ratio = Float64Array.of(1);
  /** Length of the wave that is played, in frames, where that is known; 0: it is looked for. */
  readonly period = new Float64Array(1);
  private readonly overlap: number;
  private readonly least: number;
  private readonly most: number;

  /** The lines lie at the beginning of the room, left and then right, mask + 1 frames each. */
  constructor(
    private readonly room: Room,
    private readonly mask: number,
    rate: number,
    windowSeconds: number,
  ) {
    this.overlap = Math.round(OVERLAP_SECONDS * rate);
    this.least = 8;
    this.most = Math.round(windowSeconds * rate);
    this.reset();
  }

  /** Frames of memory that a window of so many seconds needs for a channel. */
  static frames(rate: number, windowSeconds: number): number {
    return Math.ceil((2.2 * windowSeconds + 0.1) * rate);
  }

  reset(): void {
    this.state[0] = this.least + this.overlap;
    this.state[2] = 1;
  }

  /**
   * Reads so many frames of the lines, in which they were written, the first as frame `at`: to the pairs of the kernel
   * from `first` on.
   */
  run(at: number, first: number, frames: number): void {
    const { state, ratio, room, mask, overlap, least, most } = this;
    const { numbers, loops } = room.kernel;
    const growth = 1 - ratio[0],
      step = 1 / overlap;
    // What is read must stay behind what is written for as long as a crossfade lasts, and not fall back too far.
    const nearest = least + overlap * Math.max(0, ratio[0] - 1);
    let done = 0;
    for (;;) {
      numbers[SHIFT_DELAY >> 3] = state[0];
      numbers[SHIFT_OTHER >> 3] = state[1];
      numbers[SHIFT_SHARE >> 3] = state[2];
      numbers[SHIFT_GROWTH >> 3] = growth;
      numbers[SHIFT_SHARE_STEP >> 3] = step;
      numbers[SHIFT_NEAREST >> 3] = nearest;
      numbers[SHIFT_FARTHEST >> 3] = most + overlap;
      done += loops.shift(room.memory.byteOffset, mask, at + done, first + done, frames - done);
      state[0] = numbers[SHIFT_DELAY >> 3];
      state[1] = numbers[SHIFT_OTHER >> 3];
      state[2] = numbers[SHIFT_SHARE >> 3];
      if (done >= frames) return;
      state[0] += growth;
      this.jump(at + done, state[0] < nearest ? 1 : -1);
      // The frame that jumps is still to be read, and moves all by as much.
      state[0] -= growth;
      state[1] -= growth;
      state[2] = -step;
    }
  }

  /** To another delay: further back (`way` 1), or nearer (−1). */
  private jump(at: number, way: number): void {
    const { state, period } = this;
    const line = this.room.memory.byteOffset;
    const now = Math.round(state[0]);
    let best = way * Math.round(this.most * 0.5);
    if (period[0] > 0) {
      const waves = Math.max(1, Math.round((this.most * 0.5) / period[0]));
      best = way * waves * period[0];
    } else {
      const { mask, overlap } = this;
      const { numbers, words, loops } = this.room.kernel;
      const low = Math.round(this.most * 0.25),
        high = Math.round(this.most * 0.95),
        least = this.least + 2;
      words[JUMP_BEST >> 2] = best;
      numbers[JUMP_LIKENESS >> 3] = -2;
      // Roughly first, then frame by frame around the best.
      loops.seekJump(line, mask, at, now, way, low, high, SEARCH_STEP, overlap, least);
      const around = Math.abs(words[JUMP_BEST >> 2]);
      loops.seekJump(line, mask, at, now, way, around - SEARCH_STEP + 1, around + SEARCH_STEP, 1, overlap, least);
      best = words[JUMP_BEST >> 2];
    }
    state[1] = state[0];
    state[0] = Math.max(this.least + 1, state[0] + best);
    state[2] = 0;
  }
}
