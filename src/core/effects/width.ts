import { define } from '../space/parameter';
import { HZ, Q, runBiquad, SECTION, setBiquad } from './biquad';
import type { EffectContext, EffectKind } from './effect';
import { hertz, mix, percent } from './parameters';
import { Worked } from './worked';

const WIDE = 1,
  MONO = 2,
  TURN = 3;

/**
 * Middle and side apart (A. D. Blumlein, 1931: half the sum, half the difference), and nothing on the side below a
 * frequency.
 */
export const width: EffectKind = {
  id: 'width',
  label: 'width',
  family: 'space',
  picture: 'response',
  help: 'Narrower or wider, with the low tones in the middle.',
  parameters: define({
    mix: mix(),
    width: percent('width', 100, '0 % mono, 100 % as it is, 200 % twice as far apart.', 0, 200),
    mono: hertz('mono below', 20, 500, 20, 'What lies below stands in the middle.'),
    turn: percent('turn', 0, 'Turns the whole picture to one side.', -100, 100),
  }),
  tail: () => 0.15,
  make: (context) => new Width(context),
  presets: [
    { name: 'low tones in the middle', values: { mono: 140 } },
    { name: 'wider', values: { width: 150, mono: 120 } },
    { name: 'narrow', values: { width: 40 } },
    { name: 'mono', values: { width: 0 } },
    { name: 'as wide as it goes', values: { width: 200, mono: 180 } },
  ],
};

class Width extends Worked {
  private readonly section = new Float64Array(SECTION);
  private readonly states = new Float64Array(4);
  private readonly by = new Float64Array(3);
  private readonly side = new Float32Array(64);
  constructor(context: EffectContext) {
    super(context, 4);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    this.by[HZ] = values[MONO];
    this.by[Q] = Math.SQRT1_2;
    setBiquad(this.section, 0, 'high-pass', this.by, this.rate);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, side } = this;
    const frames = to - from;
    const wide = values[WIDE] / 100;
    for (let i = 0; i < frames; i++) side[i] = 0.5 * (left[from + i] - right[from + i]) * wide;
    if (values[MONO] > 20) {
      runBiquad(this.section, 0, this.states, 0, side, 0, frames);
      runBiquad(this.section, 0, this.states, 2, side, 0, frames);
    }
    const turn = values[TURN] / 100;
    const toLeft = turn > 0 ? 1 - turn : 1,
      toRight = turn < 0 ? 1 + turn : 1;
    for (let i = 0; i < frames; i++) {
      const middle = 0.5 * (left[from + i] + right[from + i]);
      left[from + i] = (middle + side[i]) * toLeft;
      right[from + i] = (middle - side[i]) * toRight;
    }
  }
  reset(): void {
    this.states.fill(0);
  }
}
