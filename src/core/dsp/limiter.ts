/** Nothing leaves above this (−0.1 dBFS). */
export const CEILING = 10 ** (-0.1 / 20);

/**
 * The gain stays down this long after a peak: half a wave of 33 Hz, so that a steady tone is turned down once and not
 * shaken by each of its waves.
 */
const HOLD_SECONDS = 0.015;
const RELEASE_SECONDS = 0.1;

/**
 * A safety limiter for two channels: it looks ahead, so its gain is down before a peak arrives, and below the ceiling
 * it passes every sample
 * unchanged, only later by `delay` frames. The gain is the smallest one needed within the look-ahead and the hold, let
 * go slowly, then averaged over the
 * look-ahead, which leaves no corner in it and never exceeds what a peak allows.
 */
export class Limiter {
  readonly delay: number;
  /** The smallest gain since it was last set back to 1: what the meter shows. */
  lowestGain = 1;
  private readonly left: Float64Array;
  private readonly right: Float64Array;
  private readonly windowed: Float64Array;
  private readonly releaseShare: number;
  /** Frames in which a peak counts: the look-ahead and the hold. */
  private readonly span: number;
  /**
   * Peaks that count, each lower in gain than all before it: gains and the frames in which they cease to count, from
   * `oldest` on, `peaks` of them, round and round.
   */
  private readonly gains: Float64Array;
  private readonly until: Float64Array;
  private oldest = 0;
  private peaks = 0;
  private frame = 0;
  private at = 0;
  private held = 1;
  private sum: number;
  private reducing = 0;

  constructor(rate: number) {
    this.delay = Math.max(2, Math.round(rate * 0.001));
    this.span = this.delay + Math.round(rate * HOLD_SECONDS);
    this.left = new Float64Array(this.delay);
    this.right = new Float64Array(this.delay);
    this.windowed = new Float64Array(this.delay).fill(1);
    this.gains = new Float64Array(this.span + 1);
    this.until = new Float64Array(this.span + 1);
    this.sum = this.delay;
    this.releaseShare = 1 - Math.exp(-1 / (RELEASE_SECONDS * rate));
  }

  /** As it was when it was made. */
  reset(): void {
    this.left.fill(0);
    this.right.fill(0);
    this.windowed.fill(1);
    this.oldest = this.peaks = this.frame = this.at = this.reducing = 0;
    this.held = this.lowestGain = 1;
    this.sum = this.delay;
  }

  /** Limits in place. Anything that is not a finite number becomes silence; anything too small to hear becomes 0. */
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { delay, windowed, gains, until, span } = this;
    const room = span + 1;
    for (let i = from; i < to; i++) {
      const l = clean(left[i]);
      const r = clean(right[i]);
      const peak = Math.max(Math.abs(l), Math.abs(r));
      const outL = this.left[this.at];
      const outR = this.right[this.at];
      this.left[this.at] = l;
      this.right[this.at] = r;
      this.frame++;
      if (peak > CEILING) {
        const need = CEILING / peak;
        while (this.peaks > 0 && gains[(this.oldest + this.peaks - 1) % room] >= need) this.peaks--;
        const place = (this.oldest + this.peaks++) % room;
        gains[place] = need;
        until[place] = this.frame + span;
        this.reducing = delay * 3;
      }
      if (this.reducing > 0) {
        while (this.peaks > 0 && until[this.oldest] <= this.frame) {
          this.oldest = (this.oldest + 1) % room;
          this.peaks--;
        }
        const minimum = this.peaks > 0 ? gains[this.oldest] : 1;
        this.held = minimum < this.held ? minimum : Math.min(minimum, this.held + (1 - this.held) * this.releaseShare);
        if (this.held < 0.99999) this.reducing = delay * 3;
        else {
          this.held = minimum;
          this.reducing--;
        }
        const gain = Math.min(1, this.sum / delay);
        this.sum += this.held - windowed[this.at];
        windowed[this.at] = this.held;
        if (gain < this.lowestGain) this.lowestGain = gain;
        left[i] = clamp(outL * gain);
        right[i] = clamp(outR * gain);
        if (this.reducing === 0) {
          this.held = 1;
          this.sum = delay;
          windowed.fill(1);
        }
      } else {
        left[i] = outL;
        right[i] = outR;
      }
      if (++this.at === delay) this.at = 0;
    }
  }
}

const clean = (x: number): number => (x > 1e-20 || x < -1e-20 ? (x < 1e9 && x > -1e9 ? x : 0) : 0);
/** Rounding alone could lift a limited peak over the ceiling; by no more than the last bit. */
const clamp = (x: number): number => (x > CEILING ? CEILING : x < -CEILING ? -CEILING : x);
