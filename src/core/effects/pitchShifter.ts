import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { mix, percent, seconds, semitones } from './parameters';
import { Shifter } from './shifter';
import { WorkedInKernel } from './worked';

const SHIFT = 1,
  FINE = 2,
  FEEDBACK = 3,
  DELAY = 4,
  WINDOW_SECONDS = 0.05,
  LONGEST = 1;

/**
 * Reads what was heard faster or slower, with jumps where it is alike; what it makes may go in again after a delay, a
 * step higher each time.
 */
export const pitchShifter: EffectKind = {
  id: 'pitchShifter',
  label: 'pitch shifter',
  family: 'pitch and time',
  picture: 'decay',
  help: 'Up or down by up to two octaves; in its own loop it shimmers.',
  parameters: define({
    mix: mix(50),
    shift: semitones('shift', -24, 24, 12, 'How far up or down.'),
    fine: {
      label: 'fine',
      unit: 'cents',
      low: -100,
      high: 100,
      default: 0,
      law: 'linear',
      reach: 'patch',
      sides: 2,
      help: 'Cents more or less.',
    },
    feedback: percent('feedback', 0, 'How much of it is shifted again.', 0, 95),
    delay: seconds('delay', 0, LONGEST, 0, 'Time before that.'),
  }),
  tail: (values) =>
    0.25 +
    (values[DELAY] + 0.08) *
      (values[FEEDBACK] > 0 ? Math.min(60, 5 / Math.max(0.05, -Math.log10(values[FEEDBACK] / 100))) : 1),
  room: (rate) => 2 * roomFor(Shifter.frames(rate, WINDOW_SECONDS)) + 2 * roomFor(LONGEST * rate + 8),
  make: (context) => new PitchShifter(context),
  inChain: { mix: 30 },
  presets: [
    { name: 'octave above', values: {} },
    { name: 'octave below', values: { shift: -12 } },
    { name: 'fifth', values: { shift: 7, mix: 40 } },
    { name: 'shimmer', values: { shift: 12, feedback: 60, delay: 0.28, mix: 40 } },
    { name: 'a hair beside', values: { shift: 0, fine: 11, mix: 50 } },
  ],
};

class PitchShifter extends WorkedInKernel {
  private readonly mask: number;
  private readonly loopMask: number;
  private readonly loopAt: number;
  private readonly shifter: Shifter;
  private at = 0;
  constructor(context: EffectContext) {
    super(context, 5);
    const { rate } = context;
    const room = roomFor(Shifter.frames(rate, WINDOW_SECONDS));
    this.mask = room - 1;
    this.loopAt = 2 * room;
    this.loopMask = roomFor(LONGEST * rate + 8) - 1;
    this.shifter = new Shifter(context.room!, this.mask, rate, WINDOW_SECONDS);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    this.shifter.ratio[0] = 2 ** ((values[SHIFT] + values[FINE] / 100) / 12);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { memory, mask, loopMask, loopAt, values, shifter, kernel } = this;
    const room = mask + 1,
      loopRoom = loopMask + 1;
    const feedback = values[FEEDBACK] / 100,
      delay = Math.max(1, Math.round(values[DELAY] * this.rate));
    // What comes back must have been made before: then no further than the delay at once.
    const most = feedback > 0 ? delay : to - from;
    for (let first = from; first < to; first += most) {
      const end = Math.min(to, first + most);
      const began = this.at;
      for (let i = first; i < end; i++) {
        const at = this.at++;
        const bl = feedback > 0 ? memory[loopAt + ((at - delay) & loopMask)] * feedback : 0,
          br = feedback > 0 ? memory[loopAt + loopRoom + ((at - delay) & loopMask)] * feedback : 0;
        memory[at & mask] = left[i] + bl;
        memory[room + (at & mask)] = right[i] + br;
      }
      shifter.run(began, 0, end - first);
      kernel.take(left, right, first, end);
      for (let i = first; i < end; i++) {
        const at = began + i - first;
        memory[loopAt + (at & loopMask)] = left[i];
        memory[loopAt + loopRoom + (at & loopMask)] = right[i];
      }
    }
  }
  override reset(): void {
    this.memory.fill(0);
    this.shifter.reset();
  }
}
