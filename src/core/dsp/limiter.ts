/** Nothing leaves above this (−0.1 dBFS). */
export const CEILING = 10 ** (-0.1 / 20);

/**
 * A safety limiter for two channels: it looks ahead, so its gain is down before a peak arrives, and below the ceiling it passes every sample
 * unchanged, only later by `delay` frames. The gain is the smallest one needed within the look-ahead, let go slowly, then averaged over the
 * look-ahead, which leaves no corner in it and never exceeds what a peak allows.
 */
export class Limiter {
  readonly delay: number;
  /** The smallest gain since it was last set back to 1: what the meter shows. */
  lowestGain = 1;
  private readonly left: Float64Array;
  private readonly right: Float64Array;
  private readonly needed: Float64Array;
  private readonly windowed: Float64Array;
  private readonly releaseShare: number;
  private at = 0;
  private minimum = 1;
  private held = 1;
  private sum: number;
  private reducing = 0;

  constructor(rate: number) {
    this.delay = Math.max(2, Math.round(rate * 0.001));
    this.left = new Float64Array(this.delay);
    this.right = new Float64Array(this.delay);
    this.needed = new Float64Array(this.delay).fill(1);
    this.windowed = new Float64Array(this.delay).fill(1);
    this.sum = this.delay;
    this.releaseShare = 1 - Math.exp(-1 / (0.1 * rate));
  }

  /** Limits in place. Anything that is not a finite number becomes silence; anything too small to hear becomes 0. */
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { delay, needed, windowed } = this;
    for (let i = from; i < to; i++) {
      const l = clean(left[i]);
      const r = clean(right[i]);
      const peak = Math.max(Math.abs(l), Math.abs(r));
      const need = peak > CEILING ? CEILING / peak : 1;
      if (need < 1) this.reducing = delay * 3;
      const outL = this.left[this.at];
      const outR = this.right[this.at];
      this.left[this.at] = l;
      this.right[this.at] = r;
      const leaving = needed[this.at];
      needed[this.at] = need;
      if (this.reducing > 0) {
        if (need <= this.minimum) this.minimum = need;
        else if (leaving <= this.minimum) {
          this.minimum = 1;
          for (let k = 0; k < delay; k++) if (needed[k] < this.minimum) this.minimum = needed[k];
        }
        this.held = this.minimum < this.held ? this.minimum : Math.min(this.minimum, this.held + (1 - this.held) * this.releaseShare);
        if (this.held < 0.99999) this.reducing = delay * 3;
        else {
          this.held = this.minimum;
          this.reducing--;
        }
        const gain = Math.min(1, this.sum / delay);
        this.sum += this.held - windowed[this.at];
        windowed[this.at] = this.held;
        if (gain < this.lowestGain) this.lowestGain = gain;
        left[i] = clamp(outL * gain);
        right[i] = clamp(outR * gain);
        if (this.reducing === 0) {
          this.held = this.minimum = 1;
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
