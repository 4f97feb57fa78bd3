import type { WaveSet } from '../waves';
import type { Kernel } from './kernel';
import { SYNTH_PAGES, SYNTH_VOICE_BYTES, SYNTH_VOICES, STEP_PHASES, STEP_TAPS, STEPS, WAVES } from './synthLayout';

const PAGE = 65536;

/** The part of a kernel's memory that holds waves and the oscillators of all voices. */
export class SynthMemory {
  /** What is held, by key: where it begins and ends, in bytes; in their order. */
  private readonly held: { key: string; set: WaveSet; at: number; end: number }[] = [];

  constructor(readonly kernel: Kernel) {
    kernel.floats.set(steps, STEPS >> 2);
  }

  /** Where the block of the n-th voice begins. */
  voiceAt(n: number): number {
    return SYNTH_VOICES + n * SYNTH_VOICE_BYTES;
  }

  /** The byte at which waves begin that were put here; 0: they were not. */
  placeOf(key: string): number {
    for (let i = 0; i < this.held.length; i++) if (this.held[i].key === key) return this.held[i].at;
    return 0;
  }

  /** The waves that were put here under a key. */
  setOf(key: string): WaveSet | null {
    for (let i = 0; i < this.held.length; i++) if (this.held[i].key === key) return this.held[i].set;
    return null;
  }

  /**
   * Puts waves here, where there is room, or where what is not wanted makes room for them (nothing does without
   * `isWanted`); otherwise they stay away, and what plays them plays a saw. What nobody needs stays while it takes no
   * room from others: the next patch may need it.
   */
  hold(key: string, set: WaveSet, isWanted?: (key: string, set: WaveSet) => boolean): boolean {
    if (this.placeOf(key) > 0 || this.put(key, set)) return true;
    if (!isWanted) return false;
    this.keep(isWanted);
    return this.put(key, set);
  }

  private put(key: string, set: WaveSet): boolean {
    const bytes = set.data.length * 4;
    let at = WAVES;
    let i = 0;
    for (; i < this.held.length; i++) {
      if (this.held[i].at - at >= bytes) break;
      at = this.held[i].end;
    }
    if (at + bytes > SYNTH_PAGES * PAGE) return false;
    this.kernel.floats.set(set.data, at >> 2);
    this.held.splice(i, 0, { key, set, at, end: at + bytes });
    return true;
  }

  /** Forgets all waves but those that are wanted. */
  keep(isWanted: (key: string, set: WaveSet) => boolean): void {
    for (let i = this.held.length - 1; i >= 0; i--)
      if (!isWanted(this.held[i].key, this.held[i].set)) this.held.splice(i, 1);
  }
}

/**
 * How a step of 1 differs from one without anything above half of the rate: the running sum of a windowed sinc, less
 * the step. Rows for each place of the step between two frames, and one more.
 * Source: E. Brandt, "Hard sync without aliasing", ICMC 2001; here with a symmetrical kernel (Kaiser, β = 9) that
 * begins {@link STEP_TAPS} / 2 frames before the step.
 */
function stepTable(): Float32Array {
  const HALF = STEP_TAPS / 2;
  const FINE = 256;
  const bessel = (x: number) => {
    let sum = 1;
    for (let term = 1, k = 1; k < 40; k++) sum += term *= (x / (2 * k)) ** 2;
    return sum;
  };
  const CUTOFF = 0.9;
  const kernel = (t: number) =>
    Math.abs(t) >= HALF
      ? 0
      : (t === 0 ? 1 : Math.sin(Math.PI * CUTOFF * t) / (Math.PI * CUTOFF * t)) *
        bessel(9 * Math.sqrt(1 - (t / HALF) ** 2));
  // The running sum, by the trapezoid rule.
  const sums = new Float64Array(STEP_TAPS * FINE + 1);
  for (let i = 1; i < sums.length; i++)
    sums[i] = sums[i - 1] + (kernel((i - 1) / FINE - HALF) + kernel(i / FINE - HALF)) / 2;
  const whole = sums[sums.length - 1];
  const stepAt = (t: number) => (t <= -HALF ? 0 : t >= HALF ? 1 : sums[Math.round((t + HALF) * FINE)] / whole);
  const table = new Float32Array((STEP_PHASES + 1) * STEP_TAPS);
  for (let row = 0; row <= STEP_PHASES; row++) {
    const since = row / STEP_PHASES;
    // The step was `since` frames before frame HALF of the row.
    for (let k = 0; k < STEP_TAPS; k++) table[row * STEP_TAPS + k] = stepAt(k - HALF + since) - (k >= HALF ? 1 : 0);
  }
  return table;
}

/** Worked out once, when this is loaded: it takes longer than a block. */
const steps = stepTable();
