import type { Kernel } from './kernel/kernel';
import {
  COMB_AT,
  COMB_BYTES,
  COMB_DELAY,
  COMB_LEVEL,
  COMB_LINE,
  COMB_LOSS,
  COMB_LOST,
  COMB_SHARE,
  COMBS,
  MOST_COMBS,
} from './kernel/synthLayout';

/**
 * A comb in the kernel's memory, lent to voices. Its settings: delay in frames, how much of what is delayed is added
 * (−1…1), how much of the treble a round loses (0…1), and what scales the whole.
 */
export class CombLine {
  taken = false;

  constructor(
    private readonly kernel: Kernel,
    private readonly place: number,
  ) {}

  /** Takes over its settings from four numbers of `from`: fractions that were handed over would be put on the heap. */
  set(from: Float64Array): void {
    const { numbers } = this.kernel;
    const { place } = this;
    numbers[(place + COMB_DELAY) >> 3] = from[0];
    numbers[(place + COMB_SHARE) >> 3] = from[1];
    numbers[(place + COMB_LOSS) >> 3] = from[2];
    numbers[(place + COMB_LEVEL) >> 3] = from[3];
  }

  /** What was set last, for pictures. */
  get settings(): { delay: number; share: number; loss: number; level: number } {
    const { numbers } = this.kernel;
    const { place } = this;
    return {
      delay: numbers[(place + COMB_DELAY) >> 3],
      share: numbers[(place + COMB_SHARE) >> 3],
      loss: numbers[(place + COMB_LOSS) >> 3],
      level: numbers[(place + COMB_LEVEL) >> 3],
    };
  }

  clear(): void {
    const { floats } = this.kernel;
    floats.fill(0, (this.place + COMB_LOST) >> 2, (this.place + COMB_AT) >> 2);
    floats.fill(0, (this.place + COMB_LINE) >> 2, (this.place + COMB_BYTES) >> 2);
  }

  /** Sends the buffer that begins at `samples`, or the pair (`stereo` 1), through it in place: see `assembly/comb.ts`. */
  process(stereo: number, samples: number, frames: number, feedback: boolean): void {
    this.kernel.loops.comb(this.place, stereo, samples, frames, feedback ? 1 : 0);
  }
}

/** Combs for voices, of a kernel that has room for them. */
export class CombPool {
  private readonly lines: readonly CombLine[];

  constructor(kernel: Kernel) {
    if (kernel.floats.byteLength < COMBS + MOST_COMBS * COMB_BYTES) throw new RangeError('this kernel has no combs');
    this.lines = Array.from({ length: MOST_COMBS }, (_, n) => new CombLine(kernel, COMBS + n * COMB_BYTES));
  }

  take(): CombLine | null {
    for (const line of this.lines) {
      if (line.taken) continue;
      line.taken = true;
      line.clear();
      return line;
    }
    return null;
  }
}
