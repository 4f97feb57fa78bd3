import { define } from '../space/parameter';
import { HZ, Q, runBiquad, SECTION, setBiquad } from './biquad';
import type { EffectContext, EffectKind } from './effect';
import { count, factor, hertz, mix, semitones } from './parameters';
import { Worked } from './worked';

const COUNT = 1,
  CENTRE = 2,
  SPACING = 3,
  NARROW = 4,
  RATE = 5,
  DEPTH = 6,
  MOST = 12;

/** Notches in a row ("Audio EQ Cookbook") that keep their distances while they move. */
export const notches: EffectKind = {
  id: 'notches',
  label: 'notches',
  family: 'tone',
  picture: 'response',
  help: 'Four to twelve notches that move together, by themselves or by what is routed to their middle.',
  parameters: define({
    mix: mix(),
    count: count('notches', 4, MOST, 6, 'How many.'),
    centre: hertz('middle', 80, 8000, 800, 'Where the middle of them is.'),
    spacing: semitones('distance', 1, 24, 7, 'Semitones from one to the next.'),
    narrow: factor('narrowness', 0.5, 30, 4, 'Q of each notch.'),
    rate: hertz('rate', 0.01, 8, 0.15, 'How often they go up and down in a second.'),
    depth: semitones('depth', 0, 24, 0, 'How far they go.'),
  }),
  remakes: ['count'],
  tail: () => 0.3,
  make: (context) => new Notches(context),
  presets: [
    { name: 'slow comb', values: { depth: 9, rate: 0.12 } },
    { name: 'still', values: { depth: 0, count: 8 } },
    { name: 'wide swell', values: { count: 5, spacing: 14, narrow: 1.5, depth: 14, rate: 0.3 } },
    { name: 'needles', values: { count: 12, spacing: 4, narrow: 18, depth: 6, rate: 0.5 } },
    { name: 'hurried', values: { depth: 5, rate: 4, narrow: 3 } },
  ],
};

class Notches extends Worked {
  private readonly sections = new Float64Array(MOST * SECTION);
  private readonly states = new Float64Array(MOST * 4);
  private readonly by = new Float64Array(3);
  private readonly phase = new Float64Array(1);
  constructor(context: EffectContext) {
    super(context, 7);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    this.place();
  }
  private place(): void {
    const { values, by } = this;
    const sway = values[DEPTH] * Math.sin(2 * Math.PI * this.phase[0]);
    by[Q] = values[NARROW];
    for (let n = 0; n < values[COUNT]; n++) {
      by[HZ] = Math.max(
        20,
        Math.min(
          0.45 * this.rate,
          values[CENTRE] * 2 ** (((n - (values[COUNT] - 1) / 2) * values[SPACING] + sway) / 12),
        ),
      );
      setBiquad(this.sections, n * SECTION, 'notch', by, this.rate);
    }
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, phase } = this;
    if (values[DEPTH] > 0) {
      phase[0] = (phase[0] + (values[RATE] * (to - from)) / this.rate) % 1;
      this.place();
    }
    for (let n = 0; n < values[COUNT]; n++) {
      runBiquad(this.sections, n * SECTION, this.states, n * 4, left, from, to);
      runBiquad(this.sections, n * SECTION, this.states, n * 4 + 2, right, from, to);
    }
  }
  reset(): void {
    this.states.fill(0);
    this.phase[0] = 0;
  }
}
