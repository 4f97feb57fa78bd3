import { LAG_FRAMES, LAG_RESULT } from '../dsp/kernel/effectLayout';
import { SCALES } from '../music/scales';
import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { choice, mix, percent, seconds } from './parameters';
import { Shifter } from './shifter';
import { WorkedWithLines } from './worked';

const SCALE = 1,
  ROOT = 2,
  SPEED = 3,
  AMOUNT = 4;
const WINDOW_SECONDS = 0.04,
  HOP_SECONDS = 0.008;
const LOWEST = 70,
  HIGHEST = 1000;
const NOTES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'] as const;
/** Difference at which a wave counts as repeating (de Cheveigné and Kawahara's threshold). */
const REPEATS = 0.15;

/**
 * Hears the pitch (A. de Cheveigné and H. Kawahara, "YIN", JASA 111, 2002: steps 1 to 5), and shifts it to the nearest
 * note of a scale, wave by wave.
 */
export const scaleTuner: EffectKind = {
  id: 'scaleTuner',
  label: 'scale tuner',
  family: 'pitch and time',
  picture: 'decay',
  help: 'Pulls a line of single notes to those of a scale.',
  parameters: define({
    mix: mix(),
    scale: choice(
      'scale',
      SCALES.map(({ label }) => label),
      SCALES[0].label,
      'The notes it pulls to.',
    ),
    root: choice('root', NOTES, 'C', 'Root of the scale.'),
    speed: seconds('speed', 0.001, 1, 0.06, 'Time in which it gets 63 % of the way.'),
    amount: percent('amount', 100, 'How far it pulls.'),
  }),
  tail: () => 0.25,
  room: (rate) => 2 * roomFor(Shifter.frames(rate, WINDOW_SECONDS)),
  make: (context) => new ScaleTuner(context),
  readings: [
    { label: 'pulls by', unit: 'cents' },
    { label: 'heard', unit: 'Hz' },
  ],
  presets: [
    { name: 'gentle', values: { speed: 0.15, amount: 80 } },
    { name: 'exact', values: { speed: 0.03 } },
    { name: 'at once', values: { speed: 0.001 } },
    { name: 'half the way', values: { amount: 50 } },
    { name: 'slow pull', values: { speed: 0.6 } },
  ],
};

class ScaleTuner extends WorkedWithLines {
  readonly readings = new Float32Array(2);
  private readonly shifter: Shifter;
  private readonly differences: Float64Array;
  /** Semitones pulled now and wanted; pitch heard; frames until it listens again. */
  private readonly state = new Float64Array(4);
  private readonly inScale: readonly Uint8Array[] = SCALES.map(({ intervals }) => {
    const row = new Uint8Array(12);
    for (const step of intervals) row[step % 12] = 1;
    return row;
  });
  private readonly factor: number;
  private readonly cents: Float64Array;
  constructor(context: EffectContext) {
    super(context, 5);
    this.cents = context.cents;
    const { rate } = context;
    this.shifter = new Shifter(context.room!, this.mask, rate, WINDOW_SECONDS);
    this.factor = Math.max(1, Math.floor(rate / 16000));
    const lags = Math.ceil(rate / this.factor / LOWEST) + 2;
    this.differences = new Float64Array(lags);
  }
  /** Looks for the pitch in what was written last; 0: none. */
  private listen(at: number): void {
    const { memory, mask, differences, kernel, factor, state, rate } = this;
    const { numbers, loops } = kernel;
    const room = mask + 1;
    const lags = differences.length;
    const count = 2 * lags + 2;
    let power = 0;
    for (let n = 0; n < count; n++) {
      let sum = 0;
      for (let k = 0; k < factor; k++) {
        const p = (at - (count - n) * factor + k + 1) & mask;
        sum += memory[p] + memory[room + p];
      }
      numbers[(LAG_FRAMES >> 3) + n] = sum;
      power += sum * sum;
    }
    state[2] = 0;
    if (power / (count * factor * factor) < 1e-6) return;
    const width = count - lags;
    let running = 0;
    differences[0] = 1;
    let found = 0;
    for (let lag = 1; lag < lags; lag++) {
      loops.lagged(lag, width);
      const sum = numbers[LAG_RESULT >> 3];
      running += sum;
      differences[lag] = running > 0 ? (sum * lag) / running : 1;
      // The first dip below the threshold, at its bottom.
      if (
        found === 0 &&
        lag > 2 &&
        differences[lag - 1] < REPEATS &&
        differences[lag] > differences[lag - 1] &&
        lag - 1 >= rate / factor / HIGHEST
      ) {
        found = lag - 1;
        break;
      }
    }
    if (found < 2) return;
    const a = differences[found - 1],
      b = differences[found],
      c = differences[found + 1];
    const bend = a - 2 * b + c;
    const lag = found + (bend > 1e-12 ? (0.5 * (a - c)) / bend : 0);
    state[2] = rate / (lag * factor);
  }
  private choose(): void {
    const { state, values } = this;
    if (state[2] === 0) {
      this.shifter.period[0] = 0;
      return;
    }
    const note = 69 + 12 * Math.log2(state[2] / 440);
    const row = this.inScale[values[SCALE]];
    let best = Math.round(note),
      least = 99;
    for (let n = Math.round(note) - 7; n <= Math.round(note) + 7; n++) {
      if (row[(((n - values[ROOT]) % 12) + 12) % 12] === 0) continue;
      // Notes are where they are tuned to.
      const place = n + (n >= 0 && n < 128 ? this.cents[n] / 100 : 0);
      const way = Math.abs(place - note);
      if (way < least) {
        least = way;
        best = place;
      }
    }
    state[1] = (best - note) * (values[AMOUNT] / 100);
    this.shifter.period[0] = this.rate / state[2];
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { memory, mask, state, shifter, rate, kernel } = this;
    const room = mask + 1;
    const share = 1 - Math.exp(-1 / (this.values[SPEED] * rate));
    const began = this.at;
    for (let i = from; i < to; i++) {
      const at = this.at++;
      memory[at & mask] = left[i];
      memory[room + (at & mask)] = right[i];
    }
    let done = 0;
    for (let n = 0; n < to - from; n++) {
      const at = began + n;
      const listens = --state[3] <= 0;
      // What was heard and wanted until now holds for the frames until now.
      if ((listens || (at & 7) === 0) && n > done) {
        shifter.run(began + done, done, n - done);
        done = n;
      }
      if (listens) {
        state[3] = Math.round(HOP_SECONDS * rate);
        this.listen(at);
        this.choose();
      }
      if (state[2] === 0) state[1] = 0;
      state[0] += (state[1] - state[0]) * share;
      if ((at & 7) === 0) shifter.ratio[0] = 2 ** (state[0] / 12);
    }
    shifter.run(began + done, done, to - from - done);
    kernel.take(left, right, from, to);
    this.readings[0] = 100 * state[0];
    this.readings[1] = state[2];
  }
  override reset(): void {
    super.reset();
    this.at = 0;
    this.state.fill(0);
    this.shifter.reset();
  }
}
