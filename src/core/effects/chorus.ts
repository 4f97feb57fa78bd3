import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { count, factor, mix, percent, seconds } from './parameters';
import { WorkedWithLines } from './worked';

const VOICES = 1,
  RATE = 2,
  DEPTH = 3,
  DELAY = 4,
  SPREAD = 5,
  MOST = 6,
  LONGEST = 0.06;

/** Copies read at delays that sway, each at another phase. */
export const chorus: EffectKind = {
  id: 'chorus',
  label: 'chorus',
  family: 'motion',
  picture: 'response',
  help: 'Two to six copies that sway around the sound.',
  parameters: define({
    mix: mix(50),
    voices: count('voices', 2, MOST, 3, 'How many copies.'),
    rate: factor('rate', 0.02, 8, 0.6, 'Sways in a second.'),
    depth: seconds('depth', 0, 0.012, 0.003, 'How far the delays sway.'),
    delay: seconds('delay', 0.002, 0.04, 0.012, 'Delay around which they sway.'),
    spread: percent('spread', 80, 'How far apart the copies stand.'),
  }),
  remakes: ['voices'],
  tail: () => 0.08,
  room: (rate) => 2 * roomFor(LONGEST * rate + 8),
  make: (context) => new Chorus(context),
  inChain: { mix: 25 },
  presets: [
    { name: 'gentle', values: { depth: 0.0016, rate: 0.4 } },
    { name: 'choir of six', values: { voices: 6, depth: 0.004, rate: 0.5, mix: 60 } },
    { name: 'water', values: { voices: 2, depth: 0.008, rate: 0.25 } },
    { name: 'tremulous', values: { rate: 5, depth: 0.0007, mix: 70 } },
    { name: 'doubled', values: { voices: 2, depth: 0.0006, delay: 0.024, rate: 0.2 } },
  ],
};

class Chorus extends WorkedWithLines {
  private readonly phase = new Float64Array(1);
  private readonly gains = new Float64Array(2 * MOST);
  /** By voice: sine and cosine now, and those of a frame's turn. */
  private readonly turns = new Float64Array(4 * MOST);
  constructor(context: EffectContext) {
    super(context, 6);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    const n = values[VOICES];
    for (let v = 0; v < n; v++) {
      const pan = n === 1 ? 0 : ((2 * v) / (n - 1) - 1) * (values[SPREAD] / 100);
      const angle = ((pan + 1) * Math.PI) / 4;
      const scale = Math.SQRT2 / Math.sqrt(n);
      this.gains[2 * v] = Math.cos(angle) * scale;
      this.gains[2 * v + 1] = Math.sin(angle) * scale;
    }
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, memory, mask, gains, phase, rate } = this;
    const room = mask + 1;
    const voices = values[VOICES];
    const step = values[RATE] / rate;
    const middle = values[DELAY] * rate,
      depth = Math.min(values[DEPTH] * rate, middle - 2);
    // Each voice's sine goes round by a turn of its own with each frame: sin(a + d) = sin a · cos d + cos a · sin d.
    const { turns } = this;
    for (let v = 0, t = 0; v < voices; v++, t += 4) {
      const angle = 2 * Math.PI * (phase[0] * (1 + 0.07 * v) + v / voices),
        turn = 2 * Math.PI * step * (1 + 0.07 * v);
      turns[t] = Math.sin(angle);
      turns[t + 1] = Math.cos(angle);
      turns[t + 2] = Math.sin(turn);
      turns[t + 3] = Math.cos(turn);
    }
    phase[0] += step * (to - from);
    for (let i = from; i < to; i++) {
      const at = this.at++;
      memory[at & mask] = left[i];
      memory[room + (at & mask)] = right[i];
      let outLeft = 0,
        outRight = 0;
      for (let v = 0, t = 0; v < voices; v++, t += 4) {
        const sine = turns[t] * turns[t + 3] + turns[t + 1] * turns[t + 2];
        turns[t + 1] = turns[t + 1] * turns[t + 3] - turns[t] * turns[t + 2];
        turns[t] = sine;
        const delay = middle + depth * sine;
        const whole = Math.floor(delay);
        const x = delay - whole;
        const a = (at - whole) & mask,
          b = (at - whole - 1) & mask;
        outLeft += gains[2 * v] * (memory[a] + (memory[b] - memory[a]) * x);
        outRight += gains[2 * v + 1] * (memory[room + a] + (memory[room + b] - memory[room + a]) * x);
      }
      left[i] = outLeft;
      right[i] = outRight;
    }
    if (phase[0] > 1e4) phase[0] -= 1e4;
  }
  override reset(): void {
    super.reset();
    this.phase[0] = 0;
  }
}
