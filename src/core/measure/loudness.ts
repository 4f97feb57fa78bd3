/**
 * Second-order sections of the K-weighting at 48 kHz, from the analogue parameters that give the coefficients tabled in
 * ITU-R BS.1770-4 at any rate.
 */
interface Section {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

function shelf(rate: number): Section {
  const k = Math.tan((Math.PI * 1681.974450955533) / rate);
  const q = 0.7071752369554196;
  const high = 10 ** (3.999843853973347 / 20);
  const mid = high ** 0.4996667741545416;
  const a0 = 1 + k / q + k * k;
  return {
    b0: (high + (mid * k) / q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (mid * k) / q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / q + k * k) / a0,
  };
}

function lowCut(rate: number): Section {
  const k = Math.tan((Math.PI * 38.13547087602444) / rate);
  const q = 0.5003270373238773;
  const a0 = 1 + k / q + k * k;
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}

/** Both sections of the K-weighting at a rate, as b0, b1, b2, a1, a2 each: for what measures as it plays. */
export function kWeighting(rate: number): Float64Array {
  const known = weightings.get(rate);
  if (known) return known;
  const made = Float64Array.from([shelf(rate), lowCut(rate)].flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1, b2, a1, a2]));
  weightings.set(rate, made);
  return made;
}
/** Worked out once for each rate: a patch is put together while another sounds. */
const weightings = new Map<number, Float64Array>();

function filtered(samples: ArrayLike<number>, { b0, b1, b2, a1, a2 }: Section): Float64Array {
  const out = new Float64Array(samples.length);
  let z1 = 0;
  let z2 = 0;
  for (let i = 0; i < out.length; i++) {
    const x = samples[i];
    const y = b0 * x + z1;
    z1 = b1 * x - a1 * y + z2;
    z2 = b2 * x - a2 * y;
    out[i] = y;
  }
  return out;
}

/**
 * Integrated loudness in LUFS of one or two channels (ITU-R BS.1770-4): K-weighting, blocks of 400 ms every 100 ms,
 * gates at −70 LUFS and
 * 10 LU below the mean of what passes the first. −Infinity for silence or less than one block.
 */
export function loudnessOf(channels: readonly ArrayLike<number>[], rate: number): number {
  const block = Math.round(rate * 0.4);
  const hop = Math.round(rate * 0.1);
  const frames = channels[0].length;
  const powers: number[] = [];
  const weighted = channels.map((channel) => filtered(filtered(channel, shelf(rate)), lowCut(rate)));
  const sums = weighted.map((samples) => {
    const sum = new Float64Array(frames + 1);
    for (let i = 0; i < frames; i++) sum[i + 1] = sum[i] + samples[i] * samples[i];
    return sum;
  });
  for (let at = 0; at + block <= frames; at += hop)
    powers.push(sums.reduce((power, sum) => power + (sum[at + block] - sum[at]) / block, 0));
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  const audible = powers.filter((power) => lufs(power) > -70);
  if (audible.length === 0) return -Infinity;
  const gate = lufs(mean(audible)) - 10;
  return lufs(mean(audible.filter((power) => lufs(power) > gate)));
}

/**
 * Loudness of the last 400 ms of a signal in LUFS, not gated, or of as much as there is (BS.1770: momentary; with 3 s:
 * short-term).
 */
export function loudnessNow(channels: readonly ArrayLike<number>[], rate: number, seconds = 0.4): number {
  const frames = Math.min(channels[0].length, Math.round(rate * seconds));
  let power = 0;
  for (const channel of channels) {
    const weighted = filtered(filtered(channel, shelf(rate)), lowCut(rate));
    for (let i = weighted.length - frames; i < weighted.length; i++) power += weighted[i] ** 2 / frames;
  }
  return lufs(power);
}

/**
 * Loudness range in LU (EBU Tech 3342): short-term loudness over 3 s, each second or oftener, gated at −70 LUFS and 20
 * LU below the mean of what passes; the distance from the 10th to the 95th hundredth of what is left.
 * 0 for less than 3 s.
 */
export function loudnessRangeOf(channels: readonly ArrayLike<number>[], rate: number): number {
  const block = Math.round(rate * 3);
  const hop = Math.round(rate * 0.1);
  const sums = channels.map((channel) => {
    const weighted = filtered(filtered(channel, shelf(rate)), lowCut(rate));
    const sum = new Float64Array(weighted.length + 1);
    for (let i = 0; i < weighted.length; i++) sum[i + 1] = sum[i] + weighted[i] ** 2;
    return sum;
  });
  const powers: number[] = [];
  for (let at = 0; at + block <= channels[0].length; at += hop)
    powers.push(sums.reduce((power, sum) => power + (sum[at + block] - sum[at]) / block, 0));
  const audible = powers.filter((power) => lufs(power) > -70);
  if (audible.length === 0) return 0;
  const gate = lufs(audible.reduce((a, b) => a + b, 0) / audible.length) - 20;
  const left = audible
    .map(lufs)
    .filter((level) => level > gate)
    .sort((a, b) => a - b);
  const at = (share: number) => left[Math.round((left.length - 1) * share)];
  return left.length === 0 ? 0 : at(0.95) - at(0.1);
}

const TRUE_PEAK_TAPS = 24;
/**
 * Four phases of 24 taps each by which a signal is read between its samples (ITU-R BS.1770-4, annex 2: the table there;
 * this is a windowed sinc, of twice its length).
 */
const PHASES: readonly Float64Array[] = [0, 0.25, 0.5, 0.75].map((shift) => {
  const taps = Float64Array.from({ length: TRUE_PEAK_TAPS }, (_, t) => {
    const x = t - TRUE_PEAK_TAPS / 2 + 1 - shift;
    const window = 0.5 + 0.5 * Math.cos((Math.PI * x) / (TRUE_PEAK_TAPS / 2));
    return (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) * window;
  });
  const sum = taps.reduce((a, b) => a + b);
  return taps.map((tap) => tap / sum);
});

/** A channel read between its samples: `phase` weighs those up to frame `i`. */
function readBetween(channel: ArrayLike<number>, i: number, phase: ArrayLike<number>): number {
  const first = i - TRUE_PEAK_TAPS + 1;
  let sum = 0;
  for (let t = Math.max(0, -first); t < TRUE_PEAK_TAPS && first + t < channel.length; t++)
    sum += phase[t] * channel[first + t];
  return sum;
}

/**
 * The greatest value between and on the samples of all channels, as an amplitude: read four times as often (ITU-R
 * BS.1770-4, annex 2).
 */
export function truePeakOf(channels: readonly ArrayLike<number>[]): number {
  let peak = peakOf(channels);
  for (const channel of channels) {
    for (let from = 0; from < channel.length + TRUE_PEAK_TAPS; from += STRETCH) {
      // What lies between samples is at most so many times the greatest of those it is read from.
      let around = 0;
      const end = Math.min(channel.length, from + STRETCH);
      for (let i = Math.max(0, from - TRUE_PEAK_TAPS + 1); i < end; i++)
        around = Math.max(around, Math.abs(channel[i]));
      if (around * MOST_BETWEEN <= peak) continue;
      for (let i = from; i < from + STRETCH; i++)
        for (const phase of PHASES) peak = Math.max(peak, Math.abs(readBetween(channel, i, phase)));
    }
  }
  return peak;
}
/** Frames that are looked at together. */
const STRETCH = 64;
const MOST_BETWEEN = Math.max(...PHASES.map((phase) => phase.reduce((sum, tap) => sum + Math.abs(tap), 0)));

/**
 * The same where it is asked for again and again: only around samples that come near the greatest one (within 3 dB) is
 * it looked between them.
 */
export function truePeakNear(channels: readonly ArrayLike<number>[]): number {
  const greatest = peakOf(channels);
  let peak = greatest;
  for (const channel of channels) {
    for (let n = 1; n < channel.length - 1; n++) {
      if (
        Math.abs(channel[n]) < 0.7 * greatest ||
        greatest < 1e-6 ||
        Math.abs(channel[n]) < Math.abs(channel[n - 1]) ||
        Math.abs(channel[n]) < Math.abs(channel[n + 1])
      )
        continue;
      for (let i = n + TRUE_PEAK_TAPS / 2 - 1; i <= n + TRUE_PEAK_TAPS / 2; i++) {
        for (const phase of PHASES) peak = Math.max(peak, Math.abs(readBetween(channel, i, phase)));
      }
    }
  }
  return peak;
}

/** How alike both sides are: 1 the same, 0 strangers, −1 opposite. 1 for silence. */
export function correlationOf(left: ArrayLike<number>, right: ArrayLike<number>): number {
  let both = 0,
    l = 0,
    r = 0;
  for (let i = 0; i < left.length; i++) {
    both += left[i] * right[i];
    l += left[i] * left[i];
    r += right[i] * right[i];
  }
  return l * r < 1e-16 ? 1 : both / Math.sqrt(l * r);
}

const lufs = (power: number): number => -0.691 + 10 * Math.log10(power);

/** The greatest sample of all channels as an amplitude. */
export function peakOf(channels: readonly ArrayLike<number>[]): number {
  let peak = 0;
  for (const channel of channels) for (let i = 0; i < channel.length; i++) peak = Math.max(peak, Math.abs(channel[i]));
  return peak;
}

/**
 * Power of the sum of both sides against that of the sides, in dB: 0 where they are equal, −3 where they are strangers,
 * far below where they cancel; null: silence.
 */
export function lostInMono(left: Float32Array, right: Float32Array): number | null {
  let both = 0;
  let sum = 0;
  for (let i = 0; i < left.length; i++) {
    both += left[i] ** 2 + right[i] ** 2;
    sum += (left[i] + right[i]) ** 2;
  }
  return both < 1e-9 ? null : 10 * Math.log10(Math.max(1e-12, sum / (2 * both)));
}
