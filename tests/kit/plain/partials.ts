/**
 * Partials written plainly, sample by sample in double precision: what the kernel's loops are held against. Slow, and used
 * by tests alone.
 */
import { HZ, Q, runBiquad, SECTION, setBiquad } from '../../../src/core/effects/biquad';
import type { EffectContext } from '../../../src/core/effects/effect';
import { Worked } from '../../../src/core/effects/worked';

const KEEPS = 1,
  SERIES = 2,
  TUNING = 3,
  KEY = 4,
  SHIFT = 5,
  COUNT = 6,
  NARROW = 7,
  FALL = 8;
const MOST = 16;

export class PlainPartials extends Worked {
  private readonly note: Float64Array;
  private readonly sections = new Float64Array(MOST * SECTION);
  private readonly gains = new Float64Array(MOST);
  private readonly states = new Float64Array(MOST * 4);
  private readonly by = new Float64Array(3);
  private readonly sum = new Float32Array(64);
  private readonly part = new Float32Array(64);
  private used = 0;
  private tuned = NaN;
  constructor(context: EffectContext) {
    super(context, 9);
    this.note = context.key;
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    this.tuned = NaN;
  }
  private tune(): void {
    const { values, by } = this;
    const follows = values[TUNING] === 1 && this.note[0] >= 0;
    const at = (follows ? this.note[0] : values[KEY]) + values[SHIFT];
    if (at === this.tuned) return;
    this.tuned = at;
    const ground = 440 * 2 ** ((at - 69) / 12);
    this.used = 0;
    for (let n = 0; n < values[COUNT]; n++) {
      const hz = ground * (values[SERIES] === 0 ? 2 ** n : values[SERIES] === 1 ? n + 1 : 2 * n + 1);
      if (hz > 0.45 * this.rate) break;
      by[HZ] = hz;
      by[Q] = values[NARROW];
      setBiquad(this.sections, n * SECTION, values[KEEPS] === 0 ? 'band-pass' : 'notch', by, this.rate);
      this.gains[n] = (1 - values[FALL] / 100) ** n;
      this.used = n + 1;
    }
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    this.tune();
    this.run(left, 0, from, to);
    this.run(right, 2, from, to);
  }
  private run(buffer: Float32Array, side: number, from: number, to: number): void {
    const { sections, states, sum, part, gains } = this;
    if (this.values[KEEPS] === 1) {
      for (let n = 0; n < this.used; n++) runBiquad(sections, n * SECTION, states, n * 4 + side, buffer, from, to);
      return;
    }
    const frames = to - from;
    for (let i = 0; i < frames; i++) sum[i] = 0;
    for (let n = 0; n < this.used; n++) {
      for (let i = 0; i < frames; i++) part[i] = buffer[from + i];
      runBiquad(sections, n * SECTION, states, n * 4 + side, part, 0, frames);
      const gain = gains[n];
      for (let i = 0; i < frames; i++) sum[i] += gain * part[i];
    }
    for (let i = 0; i < frames; i++) buffer[from + i] = sum[i];
  }
  reset(): void {
    this.states.fill(0);
  }
}
