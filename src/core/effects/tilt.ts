import { define } from '../space/parameter';
import type { Effect, EffectContext, EffectKind } from './effect';
import { decibels, hertz, mix } from './parameters';

const SLOPE = 1,
  PIVOT = 2,
  SECTIONS = 6,
  LOW = 20,
  OCTAVES = 10;

/**
 * A slope of so many dB an octave through 0 dB at a pivot: real poles and zeros at equal distances on a scale of
 * octaves (J. O. Smith and H. F. Smith, "Closed form fractional integration and
 * differentiation via real exponentially spaced pole-zero pairs", 2016).
 */
export const tilt: EffectKind = {
  id: 'tilt',
  label: 'tilt',
  family: 'tone',
  picture: 'response',
  help: 'Leans the whole spectrum to the dark or the bright side, around a pivot.',
  parameters: define({
    mix: mix(),
    slope: decibels('slope', -6, 6, 0, 'dB that each octave above the pivot gains, and each one below it loses.'),
    pivot: hertz('pivot', 100, 5000, 800, 'The frequency that stays as loud as it is.'),
  }),
  tail: () => 0.2,
  make: (context) => new Tilt(context),
  presets: [
    { name: 'a little warmer', values: { slope: -0.7 } },
    { name: 'dark water', values: { slope: -2.2, pivot: 600 } },
    { name: 'a little brighter', values: { slope: 0.8 } },
    { name: 'glassy', values: { slope: 2, pivot: 1200 } },
    { name: 'under the floor', values: { slope: -5, pivot: 300 } },
  ],
};

class Tilt implements Effect {
  private readonly sections = new Float64Array(3 * SECTIONS);
  private readonly states = new Float64Array(2 * SECTIONS);
  private readonly rate: number;
  constructor({ rate }: EffectContext) {
    this.rate = rate;
  }
  aim(values: Float64Array): void {
    const { sections, rate } = this;
    const spacing = OCTAVES / SECTIONS;
    const half = (values[SLOPE] / (20 * Math.log10(2))) * (spacing / 2);
    const w = (2 * Math.PI * values[PIVOT]) / rate;
    let gain = 1;
    for (let s = 0; s < SECTIONS; s++) {
      const middle = LOW * 2 ** (spacing * (s + 0.5));
      const zero = Math.tan(Math.PI * Math.min(0.49, (middle * 2 ** -half) / rate));
      const pole = Math.tan(Math.PI * Math.min(0.49, (middle * 2 ** half) / rate));
      const k = pole / (zero * (1 + pole));
      const b0 = k * (1 + zero),
        b1 = k * (zero - 1),
        a = (pole - 1) / (pole + 1);
      sections[3 * s] = b0;
      sections[3 * s + 1] = b1;
      sections[3 * s + 2] = a;
      gain *= Math.sqrt((b0 * b0 + b1 * b1 + 2 * b0 * b1 * Math.cos(w)) / (1 + a * a + 2 * a * Math.cos(w)));
    }
    sections[0] /= gain;
    sections[1] /= gain;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    this.run(left, 0, from, to);
    this.run(right, SECTIONS, from, to);
  }
  private run(buffer: Float32Array, state: number, from: number, to: number): void {
    const { sections, states } = this;
    for (let s = 0; s < SECTIONS; s++) {
      const b0 = sections[3 * s],
        b1 = sections[3 * s + 1],
        a = sections[3 * s + 2];
      let z = states[state + s];
      for (let i = from; i < to; i++) {
        const x = buffer[i];
        const y = b0 * x + z;
        z = b1 * x - a * y;
        buffer[i] = y;
      }
      states[state + s] = z < 1e-18 && z > -1e-18 ? 0 : z;
    }
  }
  reset(): void {
    this.states.fill(0);
  }
}
