import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { mix, percent, seconds } from './parameters';
import { WorkedWithLines } from './worked';

const FAR = 1,
  TREBLE = 2,
  REFLECTIONS = 3,
  SIZE = 4,
  TAPS = 10;

/**
 * Far away the direct sound is softer (6 dB for each doubling of the distance), the air takes its treble, and the
 * reflections of the room stay as loud as they were.
 */
export const distance: EffectKind = {
  id: 'distance',
  label: 'distance',
  family: 'space',
  picture: 'response',
  help: 'From before the nose to the far end of the hall.',
  parameters: define({
    mix: mix(),
    far: percent('distance', 30, 'From near to far.'),
    treble: percent('air', 60, 'How much treble the way takes.'),
    reflections: percent('reflections', 60, 'How loud the room answers.'),
    size: seconds('size', 0.01, 0.12, 0.045, 'Time in which it answers.'),
  }),
  tail: () => 0.3,
  room: (rate) => 2 * roomFor(0.14 * rate + 8),
  inChain: { far: 10 },
  make: (context) => new Distance(context),
  presets: [
    { name: 'a step back', values: { far: 20 } },
    { name: 'other side of the room', values: { far: 50 } },
    { name: 'far end', values: { far: 85, size: 0.09 } },
    { name: 'across the water', values: { far: 95, reflections: 15, treble: 90 } },
    { name: 'close wall', values: { far: 25, size: 0.014, reflections: 90 } },
  ],
};

class Distance extends WorkedWithLines {
  private readonly state = new Float64Array(4);
  private readonly taps = new Int32Array(2 * TAPS);
  private readonly gains = new Float64Array(2 * TAPS);
  constructor(context: EffectContext) {
    super(context, 5);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    for (let n = 0; n < 2 * TAPS; n++) {
      const k = n % TAPS;
      const x = (k + 0.4 + (n < TAPS ? 0.13 : 0.47) + 0.18 * ((k * 7) % 4)) / (TAPS + 1);
      this.taps[n] = Math.max(1, Math.round(values[SIZE] * this.rate * x ** 1.2));
      this.gains[n] = (((k * 5 + (n < TAPS ? 0 : 2)) % 3 === 0 ? -1 : 1) * 0.5) / (1 + 0.25 * k);
    }
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, memory, mask, state, taps, gains } = this;
    const room = mask + 1;
    // From 1 to 16 metres.
    const way = 16 ** (values[FAR] / 100);
    const direct = 1 / way;
    const answer = (values[REFLECTIONS] / 100) * 0.42 * Math.min(1, (way - 1) / 4 + 0.1);
    const cut = 20000 * (1 - 0.93 * (values[TREBLE] / 100) * (values[FAR] / 100));
    const a = 1 - Math.exp((-2 * Math.PI * Math.min(cut, 0.45 * this.rate)) / this.rate);
    let l1 = state[0],
      r1 = state[1],
      l2 = state[2],
      r2 = state[3];
    for (let i = from; i < to; i++) {
      const at = this.at++;
      memory[at & mask] = left[i];
      memory[room + (at & mask)] = right[i];
      let el = 0,
        er = 0;
      for (let n = 0; n < TAPS; n++) {
        el += gains[n] * memory[(n % 2 === 0 ? 0 : room) + ((at - taps[n]) & mask)];
        er += gains[TAPS + n] * memory[(n % 2 === 0 ? room : 0) + ((at - taps[TAPS + n]) & mask)];
      }
      l1 += (left[i] - l1) * a;
      r1 += (right[i] - r1) * a;
      l2 += (el - l2) * a * 0.6;
      r2 += (er - r2) * a * 0.6;
      left[i] = l1 * direct + l2 * answer;
      right[i] = r1 * direct + r2 * answer;
    }
    state[0] = Math.abs(l1) < 1e-18 ? 0 : l1;
    state[1] = Math.abs(r1) < 1e-18 ? 0 : r1;
    state[2] = Math.abs(l2) < 1e-18 ? 0 : l2;
    state[3] = Math.abs(r2) < 1e-18 ? 0 : r2;
  }
  override reset(): void {
    super.reset();
    this.state.fill(0);
  }
}
