import { NOTE_QUARTERS } from '../music/time';
import { define } from '../space/parameter';
import { AT_QUARTERS, QUARTERS_PER_FRAME, type EffectContext, type EffectKind } from './effect';
import { mix, noteLength, percent, seconds } from './parameters';
import { Worked } from './worked';

const NOTE = 1,
  SMOOTH = 2,
  LENGTH = 3,
  SWING = 4;
const ROW = [1, 0, 0.6, 0, 1, 0, 0.6, 0.3, 1, 0, 0.6, 0, 1, 0.5, 0.6, 0];

/** Levels of a drawn row, one for each note value of the transport. */
export const stepGate: EffectKind = {
  id: 'stepGate',
  label: 'step gate',
  family: 'pitch and time',
  picture: 'pattern',
  help: 'A drawn row of levels, in time with the tempo.',
  parameters: define({
    mix: mix(),
    note: noteLength('1/16', 'How long each step is.'),
    smooth: seconds(
      'smoothness',
      0.0005,
      0.2,
      0.004,
      'Time in which it gets 63 % of the way from one level to the next.',
    ),
    length: percent('length', 100, 'Share of its step that a level lasts.', 5, 100),
    swing: percent('swing', 50, 'Share of two steps that the first one takes.', 50, 75),
  }),
  steps: 32,
  make: (context) => new StepGate(context),
  presets: [
    { name: 'sixteenths', values: {}, steps: ROW },
    { name: 'every second', values: { length: 60 }, steps: [1, 0] },
    { name: 'three against four', values: {}, steps: [1, 0.2, 0.2, 1, 0.2, 0.2, 1, 0.2] },
    { name: 'swell', values: { smooth: 0.08 }, steps: [0.1, 0.3, 0.5, 0.8, 1, 0.8, 0.5, 0.3] },
    { name: 'offbeats', values: { smooth: 0.003 }, steps: [0, 0, 1, 0.4] },
  ],
};

class StepGate extends Worked {
  private readonly time: Float64Array;
  private readonly steps: Float64Array;
  private readonly gain = Float64Array.of(1);
  private readonly rests = Float64Array.from(ROW);
  constructor(context: EffectContext) {
    super(context, 5);
    const { time, steps } = context;
    this.time = time;
    this.steps = steps;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, time, steps } = this;
    const own = steps[steps.length - 1];
    const row = own > 0 ? steps : this.rests;
    const count = own > 0 ? own : this.rests.length;
    const long = NOTE_QUARTERS[values[NOTE]];
    const share = 1 - Math.exp(-1 / (values[SMOOTH] * this.rate));
    const swing = values[SWING] / 50,
      lasts = values[LENGTH] / 100;
    let at = time[AT_QUARTERS],
      gain = this.gain[0];
    const per = time[QUARTERS_PER_FRAME];
    for (let i = from; i < to; i++) {
      const place = at / long;
      const pair = Math.floor(place / 2);
      // Of each two steps the first takes its share.
      const inPair = place - 2 * pair;
      const second = inPair >= swing;
      const inStep = second ? (inPair - swing) / (2 - swing) : inPair / swing;
      const n = 2 * pair + (second ? 1 : 0);
      const target = inStep < lasts ? row[((n % count) + count) % count] : 0;
      gain += (target - gain) * share;
      left[i] *= gain;
      right[i] *= gain;
      at += per;
    }
    this.gain[0] = gain;
  }
  reset(): void {
    this.gain[0] = 1;
  }
}
