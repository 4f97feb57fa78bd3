/** Frames that a comb remembers: at 48 kHz its lowest tooth is then at 12 Hz. */
export const COMB_FRAMES = 4096;
const MASK = COMB_FRAMES - 1;
/**
 * Places of a comb's settings: delay in frames, how much of what is delayed is added (−1…1), how much of the treble a
 * round loses (0…1), and what scales the whole.
 */
export const COMB_DELAY = 0,
  COMB_SHARE = 1,
  COMB_LOSS = 2,
  COMB_LEVEL = 3,
  COMB_SIZE = 4;

/** The memory of a comb for two channels: made beforehand, lent to voices. */
export class CombLine {
  readonly left = new Float32Array(COMB_FRAMES);
  readonly right = new Float32Array(COMB_FRAMES);
  /** What a voice last asked of it, and how its treble stands. */
  readonly settings = new Float64Array(COMB_SIZE);
  private readonly losses = new Float64Array(2);
  private at = 0;
  taken = false;

  clear(): void {
    this.left.fill(0);
    this.right.fill(0);
    this.losses.fill(0);
    this.at = 0;
  }

  /**
   * Sends a channel, or two, through the comb in place. Forward: y = x + g·x(n − D); feedback: y = x + g·y(n − D), what
   * comes back having lost treble in one pole. Between samples by third-order
   * Lagrange interpolation (T. I. Laakso et al., "Splitting the unit delay", 1996). The delay is counted such that the
   * teeth stand at the multiples of rate / D.
   */
  process(left: Float64Array, right: Float64Array | null, frames: number, feedback: boolean): void {
    this.channel(left, this.left, 0, frames, feedback);
    if (right) this.channel(right, this.right, 1, frames, feedback);
    this.at = (this.at + frames) & MASK;
  }

  private channel(samples: Float64Array, line: Float32Array, loss: number, frames: number, feedback: boolean): void {
    const { settings, losses } = this;
    const share = settings[COMB_SHARE];
    const keeps = 1 - settings[COMB_LOSS];
    const level = settings[COMB_LEVEL];
    // The pole of the loss delays the lower frequencies by loss / (1 − loss) frames.
    const own = feedback ? settings[COMB_LOSS] / keeps : 0;
    const delay = Math.min(COMB_FRAMES - 4, Math.max(3, settings[COMB_DELAY] - own));
    const whole = Math.floor(delay) - 1;
    const d = delay - whole;
    const h0 = (-(d - 1) * (d - 2) * (d - 3)) / 6,
      h1 = (d * (d - 2) * (d - 3)) / 2,
      h2 = (-d * (d - 1) * (d - 3)) / 2,
      h3 = (d * (d - 1) * (d - 2)) / 6;
    let at = this.at;
    let lost = losses[loss];
    for (let i = 0; i < frames; i++) {
      const from = at - whole;
      const delayed =
        h0 * line[from & MASK] +
        h1 * line[(from - 1) & MASK] +
        h2 * line[(from - 2) & MASK] +
        h3 * line[(from - 3) & MASK];
      const x = samples[i];
      if (feedback) {
        lost += keeps * (delayed - lost);
        const y = x + share * lost;
        line[at & MASK] = y > 1e-15 || y < -1e-15 ? y : 0;
        samples[i] = y * level;
      } else {
        line[at & MASK] = x;
        samples[i] = (x + share * delayed) * level;
      }
      at++;
    }
    losses[loss] = lost > 1e-15 || lost < -1e-15 ? lost : 0;
  }
}

/** Combs for so many voices; one that finds none goes without. */
export const MOST_COMBS = 96;
export class CombPool {
  private readonly lines = Array.from({ length: MOST_COMBS }, () => new CombLine());

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
