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

  constructor(
    private readonly memory: Float32Array,
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

  /** One frame: `at` is the place that was written last. Both channels go to `out`. */
  next(at: number, out: Float64Array): void {
    const { state, ratio } = this;
    state[0] += 1 - ratio[0];
    if (state[2] < 1) {
      state[1] += 1 - ratio[0];
      state[2] = Math.min(1, state[2] + 1 / this.overlap);
    } else {
      // What is read must stay behind what is written for as long as a crossfade lasts, and not fall back too far.
      const margin = this.least + this.overlap * Math.max(0, ratio[0] - 1);
      if (state[0] < margin) this.jump(at, 1);
      else if (state[0] > this.most + this.overlap) this.jump(at, -1);
    }
    this.read(at, state[0], out, 0);
    if (state[2] < 1) {
      this.read(at, state[1], out, 2);
      const share = state[2];
      // The better both are alike, the nearer to a straight crossfade: they were looked for so.
      out[0] = out[0] * share + out[2] * (1 - share);
      out[1] = out[1] * share + out[3] * (1 - share);
    }
  }

  private read(at: number, delay: number, out: Float64Array, to: number): void {
    const { memory, mask } = this;
    const room = mask + 1;
    const whole = Math.floor(delay);
    const x = delay - whole;
    const c0 = (-x * (x - 1) * (x - 2)) / 6,
      c1 = ((x + 1) * (x - 1) * (x - 2)) / 2,
      c2 = (-(x + 1) * x * (x - 2)) / 2,
      c3 = ((x + 1) * x * (x - 1)) / 6;
    const p0 = (at - whole + 1) & mask,
      p1 = (at - whole) & mask,
      p2 = (at - whole - 1) & mask,
      p3 = (at - whole - 2) & mask;
    out[to] = c0 * memory[p0] + c1 * memory[p1] + c2 * memory[p2] + c3 * memory[p3];
    out[to + 1] = c0 * memory[room + p0] + c1 * memory[room + p1] + c2 * memory[room + p2] + c3 * memory[room + p3];
  }

  /** To another delay: further back (`way` 1), or nearer (−1). */
  private jump(at: number, way: number): void {
    const { state, memory, mask, period } = this;
    const room = mask + 1;
    const now = Math.round(state[0]);
    let best = way * Math.round(this.most * 0.5);
    if (period[0] > 0) {
      const waves = Math.max(1, Math.round((this.most * 0.5) / period[0]));
      best = way * waves * period[0];
    } else {
      let highest = -2;
      const span = this.overlap;
      const nearest = Math.round(this.most * 0.25),
        farthest = Math.round(this.most * 0.95);
      for (let pass = 0; pass < 2; pass++) {
        // Roughly first, then frame by frame around the best.
        const around = best;
        const low = pass === 0 ? nearest : Math.abs(around) - SEARCH_STEP + 1,
          high = pass === 0 ? farthest : Math.abs(around) + SEARCH_STEP;
        for (let jump = low; jump < high; jump += pass === 0 ? SEARCH_STEP : 1) {
          const to = now + way * jump;
          if (to < this.least + 2) break;
          let both = 0,
            mine = 1e-12;
          for (let k = 0; k < span; k += 8) {
            const a = memory[(at - now - k) & mask] + memory[room + ((at - now - k) & mask)];
            const b = memory[(at - to - k) & mask] + memory[room + ((at - to - k) & mask)];
            both += a * b;
            mine += b * b;
          }
          const likeness = both / Math.sqrt(mine);
          if (likeness > highest || highest === -2) {
            highest = likeness;
            best = way * jump;
          }
        }
      }
    }
    state[1] = state[0];
    state[0] = Math.max(this.least + 1, state[0] + best);
    state[2] = 0;
  }
}
