import { HALF_REACHES, SHARP_REACH, TURN_COUNT } from './effectLayout';

/** It passes to 20 kHz and stops at 24 kHz, of 48 000 frames a second. */
const SHARP_CUT = 22 / 96;

const bessel = (x: number): number => {
  let sum = 1;
  for (let term = 1, k = 1; k < 40; k++) sum += term *= (x / (2 * k)) ** 2;
  return sum;
};
const kaiser = (i: number, reach: number): number => bessel(9 * Math.sqrt(1 - (i / (reach + 1)) ** 2)) / bessel(9);

/** Half-band filters: the odd taps of one side; the middle is a half and the even ones are 0. */
function halfBand(reach: number): Float64Array {
  const taps = Float64Array.from({ length: (reach + 1) / 2 }, (_, n) => {
    const i = 2 * n + 1;
    return (Math.sin((Math.PI * i) / 2) / (Math.PI * i)) * kaiser(i, reach);
  });
  const sum = taps.reduce((a, b) => a + b);
  return taps.map((tap) => (tap * 0.25) / sum);
}

/** The middle, then one side. */
function sharpBand(): Float64Array {
  const taps = Float64Array.from(
    { length: SHARP_REACH + 1 },
    (_, i) =>
      (i === 0 ? 2 * SHARP_CUT : Math.sin(2 * Math.PI * SHARP_CUT * i) / (Math.PI * i)) * kaiser(i, SHARP_REACH),
  );
  const sum = taps.reduce((a, b) => a + 2 * b);
  return taps.map((tap) => tap / sum);
}

/**
 * What loops of effects read: the filters of oversampling (windowed sinc, Kaiser β = 9: more than 90 dB), and the turns
 * of the Fourier transform. Worked out once, when this is loaded: it takes longer than a block.
 */
export const bandTables = {
  halves: HALF_REACHES.map(halfBand),
  sharp: sharpBand(),
  turns: Float32Array.from({ length: 2 * TURN_COUNT }, (_, i) => {
    const angle = (2 * Math.PI * (i >> 1)) / TURN_COUNT;
    return i % 2 === 0 ? Math.cos(angle) : -Math.sin(angle);
  }),
};
