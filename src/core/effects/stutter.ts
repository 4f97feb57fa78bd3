import { NOTE_QUARTERS, noteValue } from '../music/time';
import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import { AT_QUARTERS, QUARTERS_PER_FRAME, type EffectContext, type EffectKind } from './effect';
import { choice, count, mix, noteLength, percent, semitones } from './parameters';
import { WorkedWithLines } from './worked';

const HOLD = 1,
  SLICE = 2,
  STEP = 3,
  REPEATS = 4,
  FALL = 5,
  PITCH = 6;
const LONGEST = 4;
const EDGE_SECONDS = 0.003;

/** Keeps what was heard last and plays its last slice again and again, while it is held or in drawn steps. */
export const stutter: EffectKind = {
  id: 'stutter',
  label: 'stutter',
  family: 'pitch and time',
  picture: 'pattern',
  help: 'Repeats the last slice, while held or in drawn steps of the tempo.',
  parameters: define({
    mix: mix(),
    hold: choice(
      'repeats',
      ['in its steps', 'now'],
      'in its steps',
      'Now, as long as this is set (for a macro that is a button), or in the steps that are drawn.',
    ),
    slice: noteLength('1/16', 'How long the slice is.', 'slice'),
    step: noteLength('1/8', 'How long each drawn step is.', 'step'),
    repeats: count('at most', 0, 64, 0, 'Repeats before silence; 0: as long as it lasts.'),
    fall: percent('fall', 0, 'How much softer each repeat is.', 0, 90),
    pitch: semitones(
      'pitch',
      -12,
      12,
      0,
      'Semitones that each repeat is higher than the last, up to two octaves in all.',
    ),
  }),
  steps: 32,
  tail: () => 0.1,
  limits: (values, tempo) =>
    (NOTE_QUARTERS[values[SLICE]] * 60) / tempo > LONGEST
      ? `repeats ${LONGEST} s, the longest slice there is room for`
      : undefined,
  room: (rate) => 2 * roomFor(LONGEST * rate + 64),
  make: (context) => new Stutter(context),
  presets: [
    { name: 'last eighth of the bar', values: {}, steps: [0, 0, 0, 0, 0, 0, 0, 1] },
    { name: 'held', values: { hold: 1 }, steps: [0] },
    { name: 'roll', values: { slice: noteValue('1/32'), fall: 8 }, steps: [0, 0, 0, 1] },
    { name: 'falling', values: { pitch: -1, fall: 12 }, steps: [0, 0, 1, 1] },
    { name: 'climbing', values: { pitch: 1, slice: noteValue('1/32') }, steps: [0, 0, 0, 0, 0, 0, 1, 1] },
  ],
};

class Stutter extends WorkedWithLines {
  private readonly time: Float64Array;
  private readonly steps: Float64Array;
  /**
   * Share of the repeating that is heard; where the slice begins, its length in frames, place in it, repeats so far.
   */
  private readonly state = new Float64Array(5);
  private active = false;
  constructor(context: EffectContext) {
    super(context, 7);
    const { time, steps } = context;
    this.time = time;
    this.steps = steps;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, time, steps, memory, mask, state, rate } = this;
    const room = mask + 1;
    const count = steps[steps.length - 1];
    const long = NOTE_QUARTERS[values[STEP]];
    const slice = Math.max(64, Math.min(LONGEST * rate, NOTE_QUARTERS[values[SLICE]] / time[QUARTERS_PER_FRAME]));
    const edge = EDGE_SECONDS * rate;
    let at = time[AT_QUARTERS];
    let heard = state[0];
    for (let i = from; i < to; i++) {
      const n = Math.floor(at / long);
      const on = values[HOLD] === 1 || (count > 0 && steps[((n % count) + count) % count] > 0.5);
      if (on && !this.active) {
        state[1] = this.at - slice;
        state[2] = slice;
        state[3] = state[4] = 0;
      }
      this.active = on;
      const write = this.at++;
      if (!on || heard < 1) {
        memory[write & mask] = left[i];
        memory[room + (write & mask)] = right[i];
      }
      heard = on ? Math.min(1, heard + 1 / edge) : Math.max(0, heard - 1 / edge);
      if (heard > 0) {
        const speed = 2 ** (Math.max(-24, Math.min(24, values[PITCH] * state[4])) / 12);
        const place = state[3];
        // Both ends of the slice are rounded off.
        const shape = Math.min(1, place / edge, (state[2] - place) / edge);
        const level =
          values[REPEATS] > 0 && state[4] >= values[REPEATS]
            ? 0
            : (1 - values[FALL] / 100) ** state[4] * Math.max(0, shape);
        const where = state[1] + place;
        const whole = Math.floor(where);
        const x = where - whole;
        const l = memory[whole & mask] + (memory[(whole + 1) & mask] - memory[whole & mask]) * x;
        const r =
          memory[room + (whole & mask)] + (memory[room + ((whole + 1) & mask)] - memory[room + (whole & mask)]) * x;
        left[i] = left[i] * (1 - heard) + l * level * heard;
        right[i] = right[i] * (1 - heard) + r * level * heard;
        state[3] += speed;
        if (state[3] >= state[2]) {
          state[3] -= state[2];
          state[4]++;
        }
      }
      at += time[QUARTERS_PER_FRAME];
    }
    state[0] = heard;
  }
  override reset(): void {
    super.reset();
    this.state.fill(0);
    this.active = false;
  }
}
