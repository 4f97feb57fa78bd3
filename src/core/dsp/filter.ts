/** State of one channel of a second-order filter. */
export interface FilterState { band: number; low: number }

/** Coefficients shared by both channels. */
export interface FilterCoefficients { damping: number; a1: number; a2: number; a3: number }

/**
 * State-variable filter by trapezoidal integration (A. Simper, "Linear trapezoidal state variable filter", 2013). Its response equals that of
 * the bilinear low-pass and high-pass of the "Audio EQ Cookbook" (W3C Note), and it stays stable while cutoff and Q move.
 */
export function setFilter(coefficients: FilterCoefficients, cutoffHz: number, q: number, rate: number): void {
  const g = Math.tan((Math.PI * Math.min(cutoffHz, 0.49 * rate)) / rate);
  coefficients.damping = 1 / q;
  coefficients.a1 = 1 / (1 + g * (g + coefficients.damping));
  coefficients.a2 = g * coefficients.a1;
  coefficients.a3 = g * coefficients.a2;
}

export function lowPass({ a1, a2, a3 }: FilterCoefficients, state: FilterState, samples: Float64Array, frames: number): void {
  let { band, low } = state;
  for (let i = 0; i < frames; i++) {
    const v3 = samples[i] - low;
    const v1 = a1 * band + a2 * v3;
    const v2 = low + a2 * band + a3 * v3;
    band = 2 * v1 - band;
    low = 2 * v2 - low;
    samples[i] = v2;
  }
  state.band = band;
  state.low = low;
}

export function highPass({ damping, a1, a2, a3 }: FilterCoefficients, state: FilterState, samples: Float64Array, frames: number): void {
  let { band, low } = state;
  for (let i = 0; i < frames; i++) {
    const x = samples[i];
    const v3 = x - low;
    const v1 = a1 * band + a2 * v3;
    const v2 = low + a2 * band + a3 * v3;
    band = 2 * v1 - band;
    low = 2 * v2 - low;
    samples[i] = x - damping * v1 - v2;
  }
  state.band = band;
  state.low = low;
}

/** Keeps a dying state from lingering in numbers so small that processors slow down, and a broken one from lasting. To be called now and then. */
export function settleFilter(state: FilterState): void {
  state.band = settled(state.band);
  state.low = settled(state.low);
}

const settled = (x: number): number => (x > 1e-18 || x < -1e-18 ? (x < 1e6 && x > -1e6 ? x : 0) : 0);
