import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import { keyAsTuned, type EffectContext, type EffectKind } from './effect';
import { choice, hertz, key, keyFrom, mix, percent } from './parameters';
import { WorkedWithLines } from './worked';

const KIND = 1,
  TUNING = 2,
  FREQUENCY = 3,
  KEY = 4,
  FEEDBACK = 5,
  DAMPING = 6;
const LOWEST = 20;

/**
 * A delay of one wave, fed back (peaks at n·rate/delay) or forward (notches at (n+½)·rate/delay): J. O. Smith,
 * "Physical Audio Signal Processing". Read by third-order Lagrange interpolation.
 */
export const comb: EffectKind = {
  id: 'comb',
  label: 'comb',
  family: 'tone',
  picture: 'response',
  help: 'A short delay that rings at a tone and its harmonics, or takes them away.',
  parameters: define({
    mix: mix(50),
    kind: choice('kind', ['rings', 'takes away'], 'rings', 'Fed back it rings, forward it takes bands away.'),
    tuning: keyFrom(),
    frequency: hertz('frequency', LOWEST, 4000, 220, 'The tone it is tuned to.'),
    key: key(57),
    feedback: percent('feedback', 80, 'How long it rings; below 0 only odd harmonics, an octave lower.', -98, 98),
    damping: percent('damping', 20, 'How much of the treble it loses in each round.'),
  }),
  remakes: ['kind'],
  tail: (values) =>
    Math.min(8, 5 / Math.max(0.01, -Math.log10(Math.max(0.02, Math.abs(values[FEEDBACK]) / 100))) / (20 * 1.2) + 0.1),
  room: (rate) => 2 * roomFor(rate / LOWEST + 8),
  make: (context) => new Comb(context),
  inChain: { mix: 30 },
  presets: [
    { name: 'struck pipe', values: { frequency: 110, feedback: 92, damping: 30 } },
    { name: 'wire', values: { tuning: 1, feedback: 95, damping: 8 } },
    { name: 'hollow', values: { tuning: 1, feedback: -85, damping: 25 } },
    { name: 'thin', values: { kind: 1, frequency: 330, mix: 50 } },
    { name: 'ring of tin', values: { frequency: 880, feedback: 88, damping: 5, mix: 35 } },
  ],
};

class Comb extends WorkedWithLines {
  private readonly note: Float64Array;
  private readonly cents: Float64Array;
  /** Delay now, and the state of the damping on each side. */
  private readonly state = new Float64Array(3);
  constructor(context: EffectContext) {
    super(context, 7);
    this.note = context.key;
    this.cents = context.cents;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, memory, mask, state, rate } = this;
    const hz =
      values[TUNING] === 0
        ? values[FREQUENCY]
        : 440 * 2 ** ((keyAsTuned(this.note, values[KEY], this.cents) - 69) / 12);
    const damping = values[DAMPING] / 110;
    // The damping delays too: by a / (1 − a) frames at low frequencies.
    const wanted = Math.max(3, rate / Math.max(LOWEST, hz) - (values[KIND] === 0 ? damping / (1 - damping) : 0));
    if (state[0] === 0) state[0] = wanted;
    const step = (wanted - state[0]) / (to - from);
    const feedback = values[FEEDBACK] / 100;
    const rings = values[KIND] === 0;
    const room = mask + 1;
    let delay = state[0],
      lowLeft = state[1],
      lowRight = state[2];
    for (let i = from; i < to; i++) {
      delay += step;
      const whole = Math.floor(delay);
      const x = delay - whole;
      // Third-order Lagrange around the place.
      const c0 = (-x * (x - 1) * (x - 2)) / 6,
        c1 = ((x + 1) * (x - 1) * (x - 2)) / 2,
        c2 = (-(x + 1) * x * (x - 2)) / 2,
        c3 = ((x + 1) * x * (x - 1)) / 6;
      const at = this.at++;
      const p0 = (at - whole + 1) & mask,
        p1 = (at - whole) & mask,
        p2 = (at - whole - 1) & mask,
        p3 = (at - whole - 2) & mask;
      const l = c0 * memory[p0] + c1 * memory[p1] + c2 * memory[p2] + c3 * memory[p3];
      const r = c0 * memory[room + p0] + c1 * memory[room + p1] + c2 * memory[room + p2] + c3 * memory[room + p3];
      if (rings) {
        lowLeft = l + damping * (lowLeft - l);
        lowRight = r + damping * (lowRight - r);
        const outLeft = left[i] + feedback * lowLeft,
          outRight = right[i] + feedback * lowRight;
        memory[at & mask] = outLeft;
        memory[room + (at & mask)] = outRight;
        left[i] = outLeft;
        right[i] = outRight;
      } else {
        memory[at & mask] = left[i];
        memory[room + (at & mask)] = right[i];
        left[i] += feedback * l;
        right[i] += feedback * r;
      }
    }
    state[0] = wanted;
    state[1] = Math.abs(lowLeft) < 1e-18 ? 0 : lowLeft;
    state[2] = Math.abs(lowRight) < 1e-18 ? 0 : lowRight;
  }
  override reset(): void {
    super.reset();
    this.state.fill(0);
  }
}
