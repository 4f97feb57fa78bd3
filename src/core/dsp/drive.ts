/**
 * Soft saturation of one channel, in place: y = x / √(1 + x²) at `gain` times the signal, without most of what aliases,
 * by the mean of the curve between neighbouring samples (first-order antiderivative
 * antialiasing, J. D. Parker, V. Zavalishin and E. Le Bivic, "Reducing the aliasing of nonlinear waveshaping using
 * continuous-time convolution", DAFx 2016). The antiderivative of the curve is √(1 + x²), so
 * the mean is (x₀ + x₁) / (√(1 + x₀²) + √(1 + x₁²)). A full-scale sine keeps its peak; `mix` is how much of the signal
 * is replaced.
 * `settings`: gain, mix, and the last sample that went in, which is kept there.
 */
export function saturate(samples: Float64Array, frames: number, settings: Float64Array, lastAt: number): void {
  const gain = settings[DRIVE_GAIN];
  const mix = settings[DRIVE_MIX];
  const level = Math.sqrt(1 + gain * gain) / gain;
  let x0 = settings[lastAt];
  let s0 = Math.sqrt(1 + x0 * x0);
  for (let i = 0; i < frames; i++) {
    const x1 = gain * samples[i];
    const s1 = Math.sqrt(1 + x1 * x1);
    samples[i] += mix * ((level * (x0 + x1)) / (s0 + s1) - samples[i]);
    x0 = x1;
    s0 = s1;
  }
  settings[lastAt] = x0;
}

export const DRIVE_GAIN = 0,
  DRIVE_MIX = 1,
  DRIVE_LAST = 2,
  DRIVE_LAST_RIGHT = 3,
  DRIVE_SIZE = 4;
/** Up to here, in dB, the drive fades in. */
const DRIVE_FULL = 3;

/** Puts a drive of `values[place]` dB into the settings. */
export function setDrive(settings: Float64Array, values: Float64Array, place: number): void {
  settings[DRIVE_GAIN] = 10 ** (values[place] / 20);
  settings[DRIVE_MIX] = values[place] < DRIVE_FULL ? values[place] / DRIVE_FULL : 1;
}
