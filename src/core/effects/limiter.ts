import { CEILING, Limiter } from '../dsp/limiter';
import { define } from '../space/parameter';
import type { Effect, EffectContext, EffectKind } from './effect';
import { decibels, mix } from './parameters';

const GAIN = 1,
  TOP = 2;

/**
 * The safety limiter of the output with a ceiling of one's own: it looks ahead by a millisecond, and nothing leaves
 * above its ceiling.
 */
export const limiter: EffectKind = {
  id: 'limiter',
  label: 'limiter',
  family: 'dynamics',
  picture: 'curve',
  help: 'Nothing leaves above its ceiling; what is below it stays as it is.',
  parameters: define({
    mix: mix(),
    gain: decibels('gain', 0, 24, 0, 'Gain before it.'),
    ceiling: decibels('ceiling', -24, -0.1, -1, 'The highest peak that leaves.'),
  }),
  tail: () => 0.05,
  latency: (rate) => new Limiter(rate).delay,
  make: (context) => new LimiterEffect(context),
  readings: [{ label: 'takes away', unit: 'dB' }],
  presets: [
    { name: 'safety', values: {} },
    { name: 'a little louder', values: { gain: 3 } },
    { name: 'pressed', values: { gain: 9, ceiling: -2 } },
    { name: 'lower ceiling', values: { ceiling: -9 } },
    { name: 'wall', values: { gain: 18, ceiling: -3 } },
  ],
};

class LimiterEffect implements Effect {
  readonly readings = new Float32Array(1);
  private readonly inner: Limiter;
  private readonly gains = Float64Array.of(1, 1);
  constructor({ rate }: EffectContext) {
    this.inner = new Limiter(rate);
  }
  aim(values: Float64Array): void {
    const top = 10 ** (values[TOP] / 20) / CEILING;
    this.gains[0] = 10 ** (values[GAIN] / 20) / top;
    this.gains[1] = top;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { inner, gains } = this;
    for (let i = from; i < to; i++) {
      left[i] *= gains[0];
      right[i] *= gains[0];
    }
    inner.lowestGain = 1;
    inner.process(left, right, from, to);
    for (let i = from; i < to; i++) {
      left[i] *= gains[1];
      right[i] *= gains[1];
    }
    this.readings[0] = -20 * Math.log10(inner.lowestGain);
  }
  reset(): void {
    this.inner.reset();
  }
}
