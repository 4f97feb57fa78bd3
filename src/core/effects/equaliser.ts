import { define, type Parameter } from '../space/parameter';
import { butterworthQs, DB, HZ, Q, runBiquad, SECTION, setBiquad, STATE, type BiquadKind } from './biquad';
import type { EffectContext, Effect, EffectKind } from './effect';
import { choice, decibels, factor, hertz, mix } from './parameters';

export const MOST_BANDS = 8;
export const BAND_KINDS = ['off', 'low cut', 'high cut', 'low shelf', 'high shelf', 'bell'] as const;
/** Slopes of cuts. */
export const SLOPES = ['6 dB', '12 dB', '18 dB', '24 dB', '36 dB', '48 dB'] as const;
const ORDERS = [1, 2, 3, 4, 6, 8];
const QS = ORDERS.map(butterworthQs);
/** Numbers of a band among the values. */
export const BAND_VALUES = 5,
  KIND = 0,
  FREQUENCY = 1,
  GAIN = 2,
  WIDTH = 3,
  SLOPE = 4;
const SECTIONS = 4;
const RESTS = [80, 150, 300, 700, 1500, 3000, 6000, 12000];

const bands: Record<string, Omit<Parameter, 'id'>> = {};
for (let n = 1; n <= MOST_BANDS; n++) {
  bands[`kind${n}`] = choice(`band ${n}`, BAND_KINDS, 'off', 'What the band does.');
  bands[`frequency${n}`] = hertz(`frequency ${n}`, 20, 20000, RESTS[n - 1], 'Where the band is.');
  bands[`gain${n}`] = decibels(`gain ${n}`, -24, 24, 0, 'How far a bell or a shelf lifts or lowers.');
  bands[`q${n}`] = factor(
    `Q ${n}`,
    0.1,
    20,
    Math.SQRT1_2,
    'How narrow a bell is, how steep a shelf; a cut of 12 dB and more rings at its corner above 0.71.',
  );
  bands[`slope${n}`] = choice(`slope ${n}`, SLOPES, '12 dB', 'How many dB an octave a cut takes away.');
}

/**
 * Up to eight bands, each a cut, a shelf or a bell. Sections after the "Audio EQ Cookbook"; cuts of higher order are
 * Butterworth filters in sections.
 */
export const equaliser: EffectKind = {
  id: 'equaliser',
  label: 'equaliser',
  family: 'tone',
  picture: 'response',
  help: 'Lifts and lowers up to eight bands: cuts, shelves and bells, drawn over the spectrum.',
  parameters: define({ mix: mix(), ...bands }),
  remakes: Array.from({ length: MOST_BANDS }, (_, n) => [`kind${n + 1}`, `slope${n + 1}`]).flat(),
  tail: () => 0.3,
  make: (context) => new Equaliser(context),
  presets: [
    { name: 'make room below', values: { kind1: 1, frequency1: 200, slope1: 3 } },
    { name: 'make room above', values: { kind1: 2, frequency1: 4000, slope1: 3 } },
    {
      name: 'less mud',
      values: { kind1: 1, frequency1: 40, slope1: 3, kind3: 5, frequency3: 280, gain3: -4, q3: 0.9 },
    },
    { name: 'more air', values: { kind8: 4, frequency8: 9000, gain8: 5 } },
    { name: 'through the wall', values: { kind1: 2, frequency1: 600, slope1: 4, kind2: 3, frequency2: 120, gain2: 4 } },
    {
      name: 'small speaker',
      values: {
        kind1: 1,
        frequency1: 350,
        slope1: 3,
        kind2: 2,
        frequency2: 3800,
        slope2: 3,
        kind5: 5,
        frequency5: 1400,
        gain5: 6,
        q5: 1.2,
      },
    },
  ],
};

class Equaliser implements Effect {
  private readonly sections = new Float64Array(MOST_BANDS * SECTIONS * SECTION);
  private readonly states = new Float64Array(MOST_BANDS * SECTIONS * STATE * 2);
  /** Sections in use, as places. */
  private readonly used = new Uint8Array(MOST_BANDS * SECTIONS);
  private count = 0;
  private readonly by = new Float64Array(3);
  private readonly rate: number;

  constructor({ rate }: EffectContext) {
    this.rate = rate;
  }

  aim(values: Float64Array): void {
    const { by } = this;
    this.count = 0;
    for (let band = 0; band < MOST_BANDS; band++) {
      const at = 1 + band * BAND_VALUES;
      const kind = values[at + KIND];
      if (kind === 0) continue;
      by[HZ] = values[at + FREQUENCY];
      by[DB] = values[at + GAIN];
      const q = values[at + WIDTH];
      by[Q] = q;
      const first = band * SECTIONS;
      if (kind >= 3) {
        this.set(first, kind === 3 ? 'low-shelf' : kind === 4 ? 'high-shelf' : 'bell');
        continue;
      }
      const slope = values[at + SLOPE];
      const qs = QS[slope];
      let place = first;
      if (ORDERS[slope] % 2 === 1) this.set(place++, kind === 1 ? 'high-pass-6' : 'low-pass-6');
      for (let s = 0; s < qs.length; s++) {
        // The last section is the one that rings.
        by[Q] = s === qs.length - 1 ? qs[s] * q * Math.SQRT2 : qs[s];
        this.set(place++, kind === 1 ? 'high-pass' : 'low-pass');
      }
    }
  }

  private set(place: number, kind: BiquadKind): void {
    setBiquad(this.sections, place * SECTION, kind, this.by, this.rate);
    this.used[this.count++] = place;
  }

  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    for (let n = 0; n < this.count; n++) {
      const place = this.used[n];
      runBiquad(this.sections, place * SECTION, this.states, place * 4, left, from, to);
      runBiquad(this.sections, place * SECTION, this.states, place * 4 + 2, right, from, to);
    }
  }

  reset(): void {
    this.states.fill(0);
  }
}
