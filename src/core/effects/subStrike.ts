import { define } from '../space/parameter';
import { keyAsTuned, type EffectContext, type EffectKind } from './effect';
import { decibels, hertz, key, keyFrom, mix, seconds, semitones } from './parameters';
import { Worked } from './worked';

const TUNING = 1,
  FREQUENCY = 2,
  KEY = 3,
  LEVEL = 4,
  THRESHOLD = 5,
  DECAY = 6,
  BEND = 7;

/**
 * A sine that begins anew with each strike: where a quick envelope rises by 6 dB above a slow one and above the
 * threshold (common practice, no source).
 */
export const subStrike: EffectKind = {
  id: 'subStrike',
  label: 'sub strike',
  family: 'colour',
  picture: 'decay',
  help: 'A tuned low sine under each strike, as loud as the strike is.',
  parameters: define({
    mix: mix(),
    tuning: keyFrom(),
    frequency: hertz('frequency', 20, 400, 55, 'The tone of the sine.'),
    key: key(33),
    level: decibels('level', -36, 12, -3, 'How loud against the strike.'),
    threshold: decibels('threshold', -60, 0, -34, 'Strikes below are left alone.'),
    decay: seconds('decay', 0.03, 3, 0.35, 'Time in which it dies away by 60 dB.'),
    bend: semitones('falls from', 0, 36, 7, 'Semitones above its tone at which it begins.'),
  }),
  tail: (values) => values[DECAY] * 1.8 + 0.05,
  make: (context) => new SubStrike(context),
  presets: [
    { name: 'under the drum', values: {} },
    { name: 'boom', values: { frequency: 41, decay: 1.2, bend: 12 } },
    { name: 'knock', values: { frequency: 90, decay: 0.12, bend: 24, level: 0 } },
    { name: 'follows the bass', values: { tuning: 1, decay: 0.6, bend: 0, level: -9 } },
    { name: 'far thunder', values: { frequency: 30, decay: 2.6, bend: 3, level: 3 } },
  ],
};

class SubStrike extends Worked {
  private readonly note: Float64Array;
  private readonly cents: Float64Array;
  /** Quick and slow envelope, phase, amplitude, share of the bend left, frames until it may be struck again. */
  private readonly state = new Float64Array(6);
  constructor(context: EffectContext) {
    super(context, 8);
    this.note = context.key;
    this.cents = context.cents;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, rate, note } = this;
    const hz =
      values[TUNING] === 0
        ? values[FREQUENCY]
        : fold(440 * 2 ** ((keyAsTuned(note, values[KEY], this.cents) - 69) / 12));
    const threshold = 10 ** (values[THRESHOLD] / 20),
      level = 10 ** (values[LEVEL] / 20);
    const fade = 10 ** (-3 / (values[DECAY] * rate)),
      bendFade = Math.exp(-1 / (0.02 * rate));
    const up = 1 - Math.exp(-1 / (0.0006 * rate)),
      slow = 1 - Math.exp(-1 / (0.04 * rate)),
      down = 1 - Math.exp(-1 / (0.06 * rate));
    let quick = state[0],
      lazy = state[1],
      phase = state[2],
      amplitude = state[3],
      bend = state[4],
      wait = state[5];
    for (let i = from; i < to; i++) {
      const height = Math.max(left[i] < 0 ? -left[i] : left[i], right[i] < 0 ? -right[i] : right[i]);
      quick += (height - quick) * (height > quick ? up : down);
      lazy += (height - lazy) * (height > lazy ? slow : down);
      if (wait > 0) wait--;
      else if (quick > threshold && quick > 2 * lazy) {
        if (amplitude < 1e-3) phase = 0;
        amplitude = Math.max(amplitude, quick * level);
        bend = 1;
        wait = 0.04 * rate;
      } else if (bend > 0.5 && quick * level > amplitude) amplitude = quick * level;
      phase += (hz * 2 ** ((values[BEND] * bend) / 12)) / rate;
      if (phase >= 1) phase -= 1;
      const y = amplitude * Math.sin(2 * Math.PI * phase);
      amplitude *= fade;
      bend *= bendFade;
      left[i] += y;
      right[i] += y;
    }
    state[0] = quick < 1e-12 ? 0 : quick;
    state[1] = lazy < 1e-12 ? 0 : lazy;
    state[2] = phase;
    state[3] = amplitude < 1e-7 ? 0 : amplitude;
    state[4] = bend < 1e-6 ? 0 : bend;
    state[5] = wait;
  }
  reset(): void {
    this.state.fill(0);
  }
}

/** Down by octaves to below 90 Hz. */
function fold(hz: number): number {
  let low = hz;
  while (low > 90) low /= 2;
  return low;
}
