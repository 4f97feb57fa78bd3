/**
 * Eight times as many samples, and back, through three half-band filters each way (windowed sinc, Kaiser β = 9: more
 * than 90 dB). The last one back is a filter of its own: half-band ones let through what lies
 * just above half the rate, which would fold to just below it.
 */
const REACHES = [31, 9, 5];
export const TIMES = 8;
/** It passes to 20 kHz and stops at 24 kHz, of 48 000 frames a second. */
const SHARP_REACH = 69,
  SHARP_CUT = 22 / 96;
/** Samples, at the high rate, by which what comes back is later: made a whole number of frames. */
const FILTER_DELAY = (REACHES[0] + SHARP_REACH) * 4 + 2 * (REACHES[1] * 2 + REACHES[2]) - (TIMES - 1);
export const OVERSAMPLER_FRAMES = Math.ceil((FILTER_DELAY + 1) / TIMES);
/** One sample of the delay is left to what is done at the high rate. */
const PADDING = OVERSAMPLER_FRAMES * TIMES - FILTER_DELAY - 1;
const SPAN = 32;

const bessel = (x: number): number => {
  let sum = 1;
  for (let term = 1, k = 1; k < 40; k++) sum += term *= (x / (2 * k)) ** 2;
  return sum;
};

/** The middle, then one side. */
const SHARP: Float64Array = (() => {
  const taps = Float64Array.from(
    { length: SHARP_REACH + 1 },
    (_, i) =>
      (i === 0 ? 2 * SHARP_CUT : Math.sin(2 * Math.PI * SHARP_CUT * i) / (Math.PI * i)) *
      (bessel(9 * Math.sqrt(1 - (i / (SHARP_REACH + 1)) ** 2)) / bessel(9)),
  );
  const sum = taps.reduce((a, b) => a + 2 * b);
  return taps.map((tap) => tap / sum);
})();

const TAPS: readonly Float64Array[] = REACHES.map((reach) => {
  // The odd taps of one side; the middle is a half and the even ones are 0.
  const taps = Float64Array.from({ length: (reach + 1) / 2 }, (_, n) => {
    const i = 2 * n + 1;
    return (
      (Math.sin((Math.PI * i) / 2) / (Math.PI * i)) * (bessel(9 * Math.sqrt(1 - (i / (reach + 1)) ** 2)) / bessel(9))
    );
  });
  const sum = taps.reduce((a, b) => a + b);
  return taps.map((tap) => (tap * 0.25) / sum);
});

/** One channel of it. `high` holds eight samples for each frame of the span between {@link up} and {@link down}. */
export class Oversampler {
  readonly high = new Float64Array(SPAN * TIMES);
  private readonly ups = REACHES.map((reach, n) => new Float64Array(reach + SPAN * 2 ** n + 1));
  private readonly downs = REACHES.map(
    (reach, n) => new Float64Array(2 * (n === 0 ? SHARP_REACH : reach) + SPAN * 2 ** (n + 1) + 2),
  );
  private readonly work = [new Float64Array(SPAN * 2), new Float64Array(SPAN * 4), new Float64Array(SPAN * 8)];
  private readonly pad = new Float64Array(PADDING + SPAN * TIMES);

  up(buffer: Float32Array, from: number, to: number): void {
    let count = to - from;
    for (let n = 0; n < 3; n++) {
      const reach = REACHES[n];
      const line = this.ups[n];
      const out = n === 2 ? this.high : this.work[n];
      const input = n === 0 ? null : this.work[n - 1];
      for (let i = 0; i < count; i++) line[reach + i] = input ? input[i] : buffer[from + i];
      const taps = TAPS[n];
      const half = (reach + 1) / 2;
      for (let i = 0; i < count; i++) {
        // Between two samples: the odd taps, on as many samples to each side. On a sample: the sample itself.
        let sum = 0;
        for (let t = 0; t < half; t++) sum += taps[t] * (line[i + half - 1 - t] + line[i + half + t]);
        out[2 * i] = 2 * sum;
        out[2 * i + 1] = line[i + half];
      }
      line.copyWithin(0, count, count + reach);
      count *= 2;
    }
  }

  down(buffer: Float32Array, from: number, to: number): void {
    let count = (to - from) * TIMES;
    const { pad, high } = this;
    for (let i = 0; i < count; i++) pad[PADDING + i] = high[i];
    for (let i = 0; i < count; i++) high[i] = pad[i];
    pad.copyWithin(0, count, count + PADDING);
    for (let n = 2; n >= 0; n--) {
      const reach = n === 0 ? SHARP_REACH : REACHES[n];
      const line = this.downs[n];
      const input = n === 2 ? high : this.work[n];
      const taps = TAPS[n];
      const keep = 2 * reach;
      for (let i = 0; i < count; i++) line[keep + i] = input[i];
      const half = (reach + 1) / 2;
      for (let i = 0; i < count / 2; i++) {
        const middle = 2 * i + reach + 1;
        if (n === 0) {
          let sum = SHARP[0] * line[middle];
          for (let t = 1; t <= SHARP_REACH; t++) sum += SHARP[t] * (line[middle - t] + line[middle + t]);
          buffer[from + i] = sum;
          continue;
        }
        let sum = 0.5 * line[middle];
        for (let t = 0; t < half; t++) sum += taps[t] * (line[middle - 2 * t - 1] + line[middle + 2 * t + 1]);
        this.work[n - 1][i] = sum;
      }
      line.copyWithin(0, count, count + keep);
      count /= 2;
    }
  }

  reset(): void {
    for (const line of [...this.ups, ...this.downs, this.pad]) line.fill(0);
  }
}
