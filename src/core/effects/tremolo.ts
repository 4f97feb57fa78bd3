import { NOTE_QUARTERS, noteValue } from '../music/time';
import { define } from '../space/parameter';
import { AT_QUARTERS, QUARTERS_PER_FRAME, type EffectContext, type EffectKind } from './effect';
import { choice, clock, factor, mix, noteLength, percent } from './parameters';
import { Worked } from './worked';

const CLOCK = 1,
  RATE = 2,
  NOTE = 3,
  SHAPE = 4,
  DEPTH = 5,
  APART = 6;
export const TREMOLO_SHAPES = ['sine', 'triangle', 'square', 'falling', 'rising'] as const;

/** Level by a wave that repeats; in note values its phase is that of the transport. */
export const tremolo: EffectKind = {
  id: 'tremolo',
  label: 'tremolo and auto-pan',
  family: 'motion',
  picture: 'pattern',
  help: 'Louder and softer again and again: both sides together, or from side to side.',
  parameters: define({
    mix: mix(),
    clock: clock(),
    rate: factor('rate', 0.05, 20, 5, 'Waves in a second.'),
    note: noteLength('1/8', 'How long a wave lasts.'),
    shape: choice('shape', TREMOLO_SHAPES, 'sine', 'Its wave.'),
    depth: percent('depth', 50, 'How far down it goes.'),
    apart: percent('sides apart', 0, 'At 0 % both sides go together, at 100 % one is loud while the other is soft.'),
  }),
  make: (context) => new Tremolo(context),
  presets: [
    { name: 'old amplifier', values: { rate: 5.2, depth: 45 } },
    { name: 'from side to side', values: { rate: 0.8, depth: 70, apart: 100 } },
    { name: 'eighths', values: { clock: 1, shape: 2, depth: 80 } },
    { name: 'pumping quarters', values: { clock: 1, note: noteValue('1/4'), shape: 4, depth: 85 } },
    { name: 'shimmer', values: { rate: 12, depth: 30, apart: 50, shape: 1 } },
  ],
};

class Tremolo extends Worked {
  private readonly time: Float64Array;
  /** Phase, and the gains that the wave is smoothed to, within 2 ms. */
  private readonly state = Float64Array.of(0, 1, 1);
  constructor(context: EffectContext) {
    super(context, 7);
    const { time } = context;
    this.time = time;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, time, rate } = this;
    const inNotes = values[CLOCK] === 1;
    const quarters = NOTE_QUARTERS[values[NOTE]];
    const step = inNotes ? time[QUARTERS_PER_FRAME] / quarters : values[RATE] / rate;
    let phase = inNotes ? time[AT_QUARTERS] / quarters : state[0];
    const depth = values[DEPTH] / 100,
      apart = values[APART] / 200,
      shape = values[SHAPE];
    const share = 1 - Math.exp(-1 / (0.002 * rate));
    let l = state[1],
      r = state[2];
    for (let i = from; i < to; i++) {
      phase += step;
      l += (1 - depth * (0.5 - 0.5 * wave(shape, phase)) - l) * share;
      r += (1 - depth * (0.5 - 0.5 * wave(shape, phase + apart)) - r) * share;
      left[i] *= l;
      right[i] *= r;
    }
    state[0] = phase % 1;
    state[1] = l;
    state[2] = r;
  }
  reset(): void {
    this.state[0] = 0;
    this.state[1] = this.state[2] = 1;
  }
}

/** −1…1; each begins at its height. */
function wave(shape: number, phase: number): number {
  const x = phase - Math.floor(phase);
  switch (shape) {
    case 0:
      return Math.cos(2 * Math.PI * x);
    case 1:
      return x < 0.5 ? 1 - 4 * x : 4 * x - 3;
    case 2:
      return x < 0.5 ? 1 : -1;
    case 3:
      return 1 - 2 * x;
    default:
      return 2 * x - 1;
  }
}
