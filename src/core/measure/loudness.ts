/** Second-order sections of the K-weighting at 48 kHz, from the analogue parameters that give the coefficients tabled in ITU-R BS.1770-4 at any rate. */
interface Section { b0: number; b1: number; b2: number; a1: number; a2: number }

function shelf(rate: number): Section {
  const k = Math.tan((Math.PI * 1681.974450955533) / rate);
  const q = 0.7071752369554196;
  const high = 10 ** (3.999843853973347 / 20);
  const mid = high ** 0.4996667741545416;
  const a0 = 1 + k / q + k * k;
  return { b0: (high + (mid * k) / q + k * k) / a0, b1: (2 * (k * k - high)) / a0, b2: (high - (mid * k) / q + k * k) / a0, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}

function lowCut(rate: number): Section {
  const k = Math.tan((Math.PI * 38.13547087602444) / rate);
  const q = 0.5003270373238773;
  const a0 = 1 + k / q + k * k;
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}

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
 * Integrated loudness in LUFS of one or two channels (ITU-R BS.1770-4): K-weighting, blocks of 400 ms every 100 ms, gates at −70 LUFS and
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
  for (let at = 0; at + block <= frames; at += hop) powers.push(sums.reduce((power, sum) => power + (sum[at + block] - sum[at]) / block, 0));
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  const audible = powers.filter((power) => lufs(power) > -70);
  if (audible.length === 0) return -Infinity;
  const gate = lufs(mean(audible)) - 10;
  return lufs(mean(audible.filter((power) => lufs(power) > gate)));
}

const lufs = (power: number): number => -0.691 + 10 * Math.log10(power);

/** The greatest sample of all channels as an amplitude. */
export function peakOf(channels: readonly ArrayLike<number>[]): number {
  let peak = 0;
  for (const channel of channels) for (let i = 0; i < channel.length; i++) peak = Math.max(peak, Math.abs(channel[i]));
  return peak;
}
