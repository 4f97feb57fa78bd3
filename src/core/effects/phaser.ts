import { define } from '../space/parameter';
import type { EffectContext, EffectKind } from './effect';
import { count, factor, hertz, mix, percent } from './parameters';
import { Worked } from './worked';

const STAGES = 1,
  CENTRE = 2,
  RATE = 3,
  DEPTH = 4,
  FEEDBACK = 5,
  SPREAD = 6,
  MOST = 12;

/**
 * All-pass sections of first order in a row, (a + z⁻¹) / (1 + a·z⁻¹) with a = (tan(πf/rate) − 1) / (tan(πf/rate) + 1),
 * beside the sound itself: a notch for each two.
 */
export const phaser: EffectKind = {
  id: 'phaser',
  label: 'phaser',
  family: 'motion',
  picture: 'response',
  help: 'Notches that wander through the sound, two to six of them.',
  parameters: define({
    mix: mix(),
    stages: count('stages', 4, MOST, 6, 'All-pass stages: a notch for each two.'),
    centre: hertz('middle', 100, 6000, 800, 'Where the notches are on average.'),
    rate: factor('rate', 0.01, 8, 0.25, 'Sweeps in a second.'),
    depth: percent('depth', 60, 'How far they sweep: at 100 % two octaves to each side.'),
    feedback: percent('feedback', 30, 'How sharp they are.', -90, 90),
    spread: percent('spread', 25, 'How far apart both sides sweep.'),
  }),
  remakes: ['stages'],
  tail: () => 0.4,
  make: (context) => new Phaser(context),
  inChain: { mix: 40 },
  presets: [
    { name: 'slow tide', values: { rate: 0.07, depth: 80 } },
    { name: 'quick', values: { rate: 1.6, depth: 40, stages: 4 } },
    { name: 'deep', values: { stages: 12, feedback: 55, rate: 0.12 } },
    { name: 'vowel', values: { stages: 8, feedback: 75, centre: 1200, depth: 30, rate: 0.4 } },
    { name: 'leaning', values: { depth: 0, centre: 1600, feedback: -60 } },
  ],
};

class Phaser extends Worked {
  private readonly states = new Float64Array(2 * MOST + 3);
  constructor(context: EffectContext) {
    super(context, 7);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, states, rate } = this;
    const at = 2 * MOST;
    states[at] = (states[at] + (values[RATE] * (to - from)) / rate) % 1;
    for (let side = 0; side < 2; side++) {
      const buffer = side === 0 ? left : right;
      const sway = (values[DEPTH] / 50) * Math.sin(2 * Math.PI * (states[at] + (side * values[SPREAD]) / 200));
      const t = Math.tan((Math.PI * Math.min(0.45 * rate, values[CENTRE] * 2 ** sway)) / rate);
      const a = (t - 1) / (t + 1);
      const feedback = values[FEEDBACK] / 100;
      const first = side * MOST;
      let back = states[at + 1 + side];
      for (let i = from; i < to; i++) {
        const x = buffer[i];
        let y = x + feedback * back;
        for (let s = 0; s < values[STAGES]; s++) {
          const out = a * y + states[first + s];
          states[first + s] = y - a * out;
          y = out;
        }
        back = y;
        buffer[i] = 0.5 * (x + y);
      }
      states[at + 1 + side] = Math.abs(back) < 1e-18 ? 0 : back;
    }
    for (let s = 0; s < at; s++) if (Math.abs(states[s]) < 1e-18) states[s] = 0;
  }
  reset(): void {
    this.states.fill(0);
  }
}
