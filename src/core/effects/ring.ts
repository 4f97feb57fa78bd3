import { define } from '../space/parameter';
import { keyAsTuned, type EffectContext, type EffectKind } from './effect';
import { hertz, key, keyFrom, mix, percent, semitones } from './parameters';
import { Worked } from './worked';

const TUNING = 1,
  FREQUENCY = 2,
  KEY = 3,
  SHIFT = 4,
  APART = 5;

/** The sound times a sine: each tone f becomes f + c and f − c. */
export const ring: EffectKind = {
  id: 'ring',
  label: 'ring modulator',
  family: 'motion',
  picture: 'response',
  help: 'Sums and differences with a sine: bells, robots, dissonance on demand.',
  parameters: define({
    mix: mix(60),
    tuning: keyFrom(),
    frequency: hertz('frequency', 0.5, 8000, 180, 'The sine.'),
    key: key(60),
    shift: semitones('shift', -36, 36, 0, 'Semitones between the key and the sine.'),
    apart: percent('sides apart', 0, 'How far apart in phase the sines of both sides are.'),
  }),
  make: (context) => new Ring(context),
  inChain: { mix: 25 },
  presets: [
    { name: 'bell metal', values: { frequency: 620, mix: 45 } },
    { name: 'with the keys', values: { tuning: 1, shift: 7, mix: 60 } },
    { name: 'robot', values: { frequency: 45, mix: 90 } },
    { name: 'slow throb', values: { frequency: 3, mix: 70, apart: 50 } },
    { name: 'octave below', values: { tuning: 1, shift: -12, mix: 50 } },
  ],
};

class Ring extends Worked {
  private readonly note: Float64Array;
  private readonly cents: Float64Array;
  private readonly phase = new Float64Array(1);
  constructor(context: EffectContext) {
    super(context, 6);
    this.note = context.key;
    this.cents = context.cents;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, phase, note } = this;
    const hz =
      values[TUNING] === 0
        ? values[FREQUENCY]
        : 440 * 2 ** ((keyAsTuned(note, values[KEY], this.cents) + values[SHIFT] - 69) / 12);
    const step = hz / this.rate,
      apart = values[APART] / 200;
    let at = phase[0];
    for (let i = from; i < to; i++) {
      at += step;
      left[i] *= Math.sin(2 * Math.PI * at);
      right[i] *= Math.sin(2 * Math.PI * (at + apart));
    }
    phase[0] = at % 1;
  }
  reset(): void {
    this.phase[0] = 0;
  }
}
