import { BESIDE_MOST, BESIDE_SECTIONS, SECTION_BYTES } from '../dsp/kernel/effectLayout';
import { define } from '../space/parameter';
import { HZ, Q, setBiquad } from './biquad';
import { fixedKey, type EffectContext, type EffectKind } from './effect';
import { choice, count, factor, key, keyFrom, mix, percent, semitones } from './parameters';
import { WorkedInKernel } from './worked';

const KEEPS = 1,
  SERIES = 2,
  TUNING = 3,
  KEY = 4,
  SHIFT = 5,
  COUNT = 6,
  NARROW = 7,
  FALL = 8;

/**
 * Band-pass filters of 0 dB at their middle, side by side, or notches in a row, at the partials of a note ("Audio EQ
 * Cookbook").
 */
export const partials: EffectKind = {
  id: 'partials',
  label: 'partials',
  family: 'tone',
  picture: 'response',
  help: 'Keeps, or removes, narrow bands at a note and its octaves or harmonics.',
  parameters: define({
    mix: mix(),
    keeps: choice('partials are', ['kept', 'removed'], 'kept', 'Whether only they are heard, or all but they.'),
    series: choice('series', ['octaves', 'harmonics', 'odd harmonics'], 'harmonics', 'Which partials of the note.'),
    tuning: keyFrom('follows the keys'),
    key: key(48),
    shift: semitones('shift', -24, 24, 0, 'Semitones between the note and the lowest partial.'),
    count: count('how many', 1, BESIDE_MOST, 8, 'Partials, from the lowest.'),
    narrow: factor('narrowness', 2, 200, 30, 'Q of each band.'),
    fall: percent('fall', 0, 'How much softer each partial is than the one below it.', 0, 60),
  }),
  remakes: ['keeps', 'series', 'count'],
  tail: (values) => Math.min(4, values[NARROW] / 20),
  room: () => (BESIDE_SECTIONS + BESIDE_MOST * SECTION_BYTES) / 4,
  make: (context) => new Partials(context),
  inChain: { mix: 30 },
  presets: [
    { name: 'the note alone', values: { count: 1, narrow: 20 } },
    { name: 'glass organ', values: { series: 0, count: 6, narrow: 80 } },
    { name: 'hollow', values: { series: 2, count: 10, narrow: 40 } },
    { name: 'without its ground', values: { keeps: 1, count: 1, narrow: 8 } },
    { name: 'ghost', values: { keeps: 1, count: 12, narrow: 12 } },
    { name: 'drone on D', values: { tuning: 0, key: 38, count: 12, narrow: 100 } },
  ],
};

class Partials extends WorkedInKernel {
  private readonly note: Float64Array;
  private readonly cents: Float64Array;
  private readonly by = new Float64Array(3);
  private used = 0;
  private tuned = NaN;
  constructor(context: EffectContext) {
    super(context, 9);
    this.note = context.key;
    this.cents = context.cents;
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    this.tuned = NaN;
  }
  private tune(): void {
    const { values, by, kernel } = this;
    const follows = values[TUNING] === 1 && this.note[0] >= 0;
    const at = (follows ? this.note[0] : fixedKey(values[KEY], this.cents)) + values[SHIFT];
    if (at === this.tuned) return;
    this.tuned = at;
    const ground = 440 * 2 ** ((at - 69) / 12);
    this.used = 0;
    for (let n = 0; n < values[COUNT]; n++) {
      const hz = ground * (values[SERIES] === 0 ? 2 ** n : values[SERIES] === 1 ? n + 1 : 2 * n + 1);
      if (hz > 0.45 * this.rate) break;
      by[HZ] = hz;
      by[Q] = values[NARROW];
      const section = this.elementAt(BESIDE_SECTIONS + n * SECTION_BYTES);
      setBiquad(kernel.numbers, section, values[KEEPS] === 0 ? 'band-pass' : 'notch', by, this.rate);
      this.setNumber(8 * n, (1 - values[FALL] / 100) ** n);
      this.used = n + 1;
    }
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    this.tune();
    const { kernel, place, used } = this;
    kernel.bring(left, right, from, to);
    if (this.values[KEEPS] === 1) kernel.loops.inARow(place + BESIDE_SECTIONS, used, to - from);
    else kernel.loops.besideEachOther(place, used, to - from);
    kernel.take(left, right, from, to);
  }
}
