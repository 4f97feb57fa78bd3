import { define } from '../space/parameter';
import type { EffectContext, EffectKind } from './effect';
import { factor, hertz, mix } from './parameters';
import { Worked } from './worked';

const BITS = 1,
  RATE = 2;

/** Rounds to fewer steps (2^bits from −1 to 1) and holds each value for longer: both alias by intent. */
export const reducer: EffectKind = {
  id: 'reducer',
  label: 'bit and rate reducer',
  family: 'colour',
  picture: 'curve',
  help: 'Fewer steps and fewer samples: from a little grain to ruins.',
  parameters: define({
    mix: mix(),
    bits: factor('bits', 1, 16, 10, 'Bits of each sample; between whole numbers too.'),
    rate: hertz('rate', 200, 48000, 48000, 'Samples in a second that are kept.'),
  }),
  make: (context) => new Reducer(context),
  presets: [
    { name: 'grain', values: { bits: 9 } },
    { name: 'old sampler', values: { bits: 12, rate: 26000 } },
    { name: 'toy', values: { bits: 8, rate: 9000 } },
    { name: 'ruins', values: { bits: 4, rate: 3500 } },
    { name: 'telegraph', values: { bits: 1.4, rate: 6000, mix: 50 } },
  ],
};

class Reducer extends Worked {
  /** Both values that are held, and how far the time is to the next. */
  private readonly state = Float64Array.of(0, 0, 1);
  constructor(context: EffectContext) {
    super(context, 3);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state } = this;
    const steps = 2 ** (values[BITS] - 1);
    const per = Math.min(1, values[RATE] / this.rate);
    const all = values[RATE] >= 47999;
    let l = state[0],
      r = state[1],
      phase = state[2];
    for (let i = from; i < to; i++) {
      phase += per;
      if (phase >= 1 || all) {
        phase = all ? 1 : phase - Math.floor(phase);
        l = Math.round(left[i] * steps) / steps;
        r = Math.round(right[i] * steps) / steps;
      }
      left[i] = l;
      right[i] = r;
    }
    state[0] = l;
    state[1] = r;
    state[2] = phase;
  }
  reset(): void {
    this.state[0] = this.state[1] = 0;
    this.state[2] = 1;
  }
}
