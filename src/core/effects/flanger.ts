import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { choice, factor, mix, percent, seconds } from './parameters';
import { WorkedWithLines } from './worked';

const RATE = 1,
  DEPTH = 2,
  DELAY = 3,
  FEEDBACK = 4,
  ZERO = 5,
  SPREAD = 6;

/**
 * The sound with itself a moment later, the moment swaying; through zero the sound itself stands in the middle of the
 * sway, so that the copy overtakes it.
 */
export const flanger: EffectKind = {
  id: 'flanger',
  label: 'flanger',
  family: 'motion',
  picture: 'response',
  help: 'A comb that sweeps: the sound with itself a moment later, or through it.',
  parameters: define({
    mix: mix(),
    rate: factor('rate', 0.01, 5, 0.18, 'Sweeps in a second.'),
    depth: seconds('depth', 0, 0.008, 0.003, 'How far the moment sways.'),
    delay: seconds('delay', 0.0002, 0.01, 0.0012, 'Shortest moment.'),
    feedback: percent('feedback', 40, 'How much of the copy goes in again; below 0 turned over.', -95, 95),
    zero: choice('through zero', ['no', 'yes'], 'no', 'Whether the copy passes the sound itself.'),
    spread: percent('spread', 30, 'How far apart the sweeps of both sides are.'),
  }),
  remakes: ['zero'],
  tail: (values) =>
    Math.min(3, 0.05 + (0.02 * 5) / Math.max(0.02, -Math.log10(Math.max(0.02, Math.abs(values[FEEDBACK]) / 100)))),
  room: (rate) => 2 * roomFor(0.03 * rate + 8),
  make: (context) => new Flanger(context),
  inChain: { mix: 40 },
  presets: [
    { name: 'slow sweep', values: { rate: 0.08 } },
    { name: 'jet', values: { feedback: 80, depth: 0.004, rate: 0.12 } },
    { name: 'hollow', values: { feedback: -75, rate: 0.3 } },
    { name: 'through zero', values: { zero: 1, feedback: 0, depth: 0.003, rate: 0.1 } },
    { name: 'warble', values: { rate: 4, depth: 0.0008, feedback: 20 } },
  ],
};

class Flanger extends WorkedWithLines {
  /** Phase, and what comes back on each side. */
  private readonly state = new Float64Array(3);
  constructor(context: EffectContext) {
    super(context, 7);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, memory, mask, state, rate } = this;
    const room = mask + 1;
    const depth = values[DEPTH] * rate,
      least = Math.max(1, values[DELAY] * rate),
      feedback = values[FEEDBACK] / 100;
    const zero = values[ZERO] === 1;
    // The sound itself waits half the sway, so that the copy is now later and now earlier.
    const wait = zero ? Math.round(least + depth / 2) : 0;
    const step = values[RATE] / rate,
      apart = (values[SPREAD] / 100) * 0.5;
    let phase = state[0],
      backLeft = state[1],
      backRight = state[2];
    for (let i = from; i < to; i++) {
      const at = this.at++;
      const l = left[i],
        r = right[i];
      memory[at & mask] = l + feedback * backLeft;
      memory[room + (at & mask)] = r + feedback * backRight;
      phase += step;
      const dl = least + depth * 0.5 * (1 - Math.cos(2 * Math.PI * phase)),
        dr = least + depth * 0.5 * (1 - Math.cos(2 * Math.PI * (phase + apart)));
      const wl = Math.floor(dl),
        wr = Math.floor(dr);
      const al = memory[(at - wl) & mask],
        ar = memory[room + ((at - wr) & mask)];
      backLeft = al + (memory[(at - wl - 1) & mask] - al) * (dl - wl);
      backRight = ar + (memory[room + ((at - wr - 1) & mask)] - ar) * (dr - wr);
      const sl = zero ? memory[(at - wait) & mask] : l,
        sr = zero ? memory[room + ((at - wait) & mask)] : r;
      left[i] = 0.5 * (sl + (zero ? -backLeft : backLeft));
      right[i] = 0.5 * (sr + (zero ? -backRight : backRight));
    }
    state[0] = phase % 1;
    state[1] = Math.abs(backLeft) < 1e-18 ? 0 : backLeft;
    state[2] = Math.abs(backRight) < 1e-18 ? 0 : backRight;
  }
  override reset(): void {
    super.reset();
    this.state.fill(0);
  }
}
