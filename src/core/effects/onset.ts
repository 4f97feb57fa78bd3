import { define } from '../space/parameter';
import type { EffectContext, EffectKind } from './effect';
import { decibels, mix, seconds } from './parameters';
import { Worked } from './worked';

const ATTACK = 1,
  SUSTAIN = 2,
  TIME = 3;

/**
 * Two envelopes of different speed, compared: where the quick one is above the slow one a sound begins, where below it
 * goes on (common practice, no source).
 */
export const onset: EffectKind = {
  id: 'onset',
  label: 'onset',
  family: 'dynamics',
  picture: 'decay',
  help: 'Sharpens or softens how sounds begin, and how long they go on, whatever their level.',
  parameters: define({
    mix: mix(),
    attack: decibels('attack', -18, 18, 0, 'How much louder or softer the beginnings are.'),
    sustain: decibels('sustain', -24, 24, 0, 'How much louder or softer what follows is.'),
    time: seconds('beginning', 0.005, 0.2, 0.03, 'How long a beginning is.'),
  }),
  tail: () => 0.05,
  make: (context) => new Onset(context),
  readings: [{ label: 'gain', unit: 'dB' }],
  presets: [
    { name: 'snappier', values: { attack: 6 } },
    { name: 'rounder', values: { attack: -8, time: 0.05 } },
    { name: 'dry', values: { sustain: -12 } },
    { name: 'longer', values: { sustain: 9 } },
    { name: 'bowed', values: { attack: -16, sustain: 6, time: 0.12 } },
  ],
};

class Onset extends Worked {
  readonly readings = new Float32Array(1);
  /** Quick, slow to rise, slow to fall; the gain in dB. */
  private readonly state = new Float64Array(4);
  constructor(context: EffectContext) {
    super(context, 4);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, rate } = this;
    // How near each gets in a frame; written out, for what a function gives back in fractions is put on the heap.
    const quickUp = 1 - Math.exp(-1 / (0.0008 * rate)),
      fall = 1 - Math.exp(-1 / (0.06 * rate)),
      slowUp = 1 - Math.exp(-1 / (values[TIME] * rate)),
      slowFall = 1 - Math.exp(-1 / (0.6 * rate)),
      smooth = 1 - Math.exp(-1 / (0.002 * rate));
    let quick = state[0],
      slow = state[1],
      held = state[2],
      gain = state[3];
    for (let i = from; i < to; i++) {
      const height = Math.max(left[i] < 0 ? -left[i] : left[i], right[i] < 0 ? -right[i] : right[i]) + 1e-9;
      quick += (height - quick) * (height > quick ? quickUp : fall);
      slow += (height - slow) * (height > slow ? slowUp : fall);
      held += (height - held) * (height > held ? quickUp : slowFall);
      // How far the quick one is above or below, as a share of some dB; a steady tone, whose waves they follow
      // differently, is neither.
      const begins = Math.min(1, Math.max(0, (8.685889638065037 * Math.log((quick + 1e-6) / (slow + 1e-6)) - 3) / 9));
      const goesOn = Math.min(1, Math.max(0, (8.685889638065037 * Math.log((held + 1e-6) / (quick + 1e-6)) - 1) / 11));
      gain += (values[ATTACK] * begins + values[SUSTAIN] * goesOn - gain) * smooth;
      const factor = Math.exp(gain * 0.1151292546497023);
      left[i] *= factor;
      right[i] *= factor;
    }
    state[0] = quick;
    state[1] = slow;
    state[2] = held;
    state[3] = gain;
    this.readings[0] = gain;
  }
  reset(): void {
    this.state.fill(0);
  }
}
