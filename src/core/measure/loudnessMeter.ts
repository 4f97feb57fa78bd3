import { kWeighting } from './loudness';

/** Blocks of 100 ms in 0.4 s and in 3 s. */
const MOMENTARY = 4,
  SHORT_TERM = 30;
/** An hour of windows, a tenth of a second apart. */
const MOST_WINDOWS = 36_000;
const ABSOLUTE_GATE = -70,
  RELATIVE_GATE = -10;

const lufs = (power: number): number => (power > 0 ? -0.691 + 10 * Math.log10(power) : -Infinity);
const meanOf = (powers: readonly number[]): number =>
  powers.length === 0 ? 0 : powers.reduce((sum, power) => sum + power, 0) / powers.length;

/**
 * Loudness of both sides of a sound while it comes, in pieces of any size (ITU-R BS.1770-4, EBU Tech 3341). Its time is
 * that of the sound: how often and how regularly it is given more, or asked, changes nothing.
 */
export class LoudnessMeter {
  /** Mean power of each 100 ms of the last 3 s. */
  private blocks: number[] = [];
  /** Mean power of each 400 ms, a block apart, for what is gated. */
  private windows: number[] = [];
  private count = 0;
  private readonly sections: Float64Array;
  private readonly block: number;
  /** What both sections of both sides hold. */
  private readonly held = new Float64Array(8);
  private power = 0;
  private frames = 0;

  /** `rate`: frames a second. */
  constructor(rate: number) {
    this.sections = kWeighting(rate);
    this.block = Math.round(rate / 10);
  }

  /** Forgets all that came. */
  reset(): void {
    this.blocks = [];
    this.windows = [];
    this.count = 0;
    this.held.fill(0);
    this.power = 0;
    this.frames = 0;
  }

  /** So many frames more of both sides. */
  take(left: ArrayLike<number>, right: ArrayLike<number>, frames: number): void {
    for (let i = 0; i < frames; i++) {
      const l = this.weighted(left[i], 0);
      const r = this.weighted(right[i], 4);
      this.power += l * l + r * r;
      if (++this.frames < this.block) continue;
      this.blocks.push(this.power / this.block);
      if (this.blocks.length > SHORT_TERM) this.blocks.shift();
      if (++this.count >= MOMENTARY) this.windows.push(meanOf(this.blocks.slice(-MOMENTARY)));
      if (this.windows.length > MOST_WINDOWS) this.windows.shift();
      this.power = 0;
      this.frames = 0;
    }
  }

  private weighted(x: number, at: number): number {
    const { sections: s, held } = this;
    const shelved = s[0] * x + held[at];
    held[at] = s[1] * x - s[3] * shelved + held[at + 1];
    held[at + 1] = s[2] * x - s[4] * shelved;
    const y = s[5] * shelved + held[at + 2];
    held[at + 2] = s[6] * shelved - s[8] * y + held[at + 3];
    held[at + 3] = s[7] * shelved - s[9] * y;
    return y;
  }

  /** Seconds of sound that were measured, in steps of 0.1. */
  get seconds(): number {
    return this.count / 10;
  }

  /** LUFS of the last 0.4 s; −Infinity before anything was heard. */
  get momentary(): number {
    return lufs(meanOf(this.blocks.slice(-MOMENTARY)));
  }

  /** LUFS of the last 3 s. */
  get shortTerm(): number {
    return lufs(meanOf(this.blocks));
  }

  /** Integrated loudness in LUFS since the last {@link reset}, gated; of the last hour at the most. */
  get whole(): number {
    const audible = this.windows.filter((power) => lufs(power) > ABSOLUTE_GATE);
    const gate = lufs(meanOf(audible)) + RELATIVE_GATE;
    return lufs(meanOf(audible.filter((power) => lufs(power) > gate)));
  }
}
