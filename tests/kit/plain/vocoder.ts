/**
 * A vocoder written plainly, sample by sample in double precision: what the kernel's loops are held against. Slow, and used
 * by tests alone.
 */
import { HZ, Q, runBiquad, SECTION, setBiquad } from '../../../src/core/effects/biquad';
import type { EffectContext } from '../../../src/core/effects/effect';
import { Worked } from '../../../src/core/effects/worked';

const ROLE = 1,
  BANDS = 2,
  LOW = 3,
  HIGH = 4,
  ATTACK = 5,
  RELEASE = 6,
  BREATH = 7,
  GAIN = 8,
  MOST = 32;
/** Two sections in a row make a band of fourth order. */
const PASSES = 2;

export class PlainVocoder extends Worked {
  private readonly side: EffectContext['side'];
  private readonly sections = new Float64Array((MOST + 1) * SECTION);
  /** The voice in one channel, what is played in two. */
  private readonly voiceStates = new Float64Array((MOST + 1) * PASSES * 2);
  private readonly playedStates = new Float64Array(MOST * PASSES * 4);
  private readonly levels = new Float64Array(MOST);
  private readonly by = new Float64Array(3);
  private readonly parts = Array.from({ length: 6 }, () => new Float32Array(64));
  constructor(context: EffectContext) {
    super(context, 9);
    const { side } = context;
    this.side = side;
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    const { by, sections, rate } = this;
    const n = values[BANDS];
    const ratio = (values[HIGH] / values[LOW]) ** (1 / (n - 1));
    // Bands meet where each is 3 dB down.
    by[Q] = 0.9 / (Math.sqrt(ratio) - 1 / Math.sqrt(ratio));
    for (let b = 0; b < n; b++) {
      by[HZ] = Math.min(0.45 * rate, values[LOW] * ratio ** b);
      setBiquad(sections, b * SECTION, 'band-pass', by, rate);
    }
    by[HZ] = Math.min(0.45 * rate, values[HIGH] * 1.1);
    by[Q] = Math.SQRT1_2;
    setBiquad(sections, MOST * SECTION, 'high-pass', by, rate);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, side, sections, voiceStates, playedStates, levels, parts, rate } = this;
    const frames = to - from;
    const [voice, band, l, r, sumLeft, sumRight] = parts;
    const inSpeaks = values[ROLE] === 0;
    const voiceLeft = inSpeaks || !side ? left : side.left,
      voiceRight = inSpeaks || !side ? right : side.right;
    const playedLeft = inSpeaks && side ? side.left : left,
      playedRight = inSpeaks && side ? side.right : right;
    const attack = 1 - Math.exp(-1 / (values[ATTACK] * rate)),
      release = 1 - Math.exp(-1 / (values[RELEASE] * rate));
    for (let i = 0; i < frames; i++) {
      voice[i] = 0.5 * (voiceLeft[from + i] + voiceRight[from + i]);
      sumLeft[i] = sumRight[i] = 0;
    }
    const n = values[BANDS];
    // A band of a spectrum that is even holds 1/n of its power: so many times as much makes up for two levels
    // multiplied.
    const gain = (values[GAIN] / 100) * Math.sqrt(n) * 1.6;
    for (let b = 0; b < n; b++) {
      for (let i = 0; i < frames; i++) {
        band[i] = voice[i];
        l[i] = playedLeft[from + i];
        r[i] = playedRight[from + i];
      }
      for (let pass = 0; pass < PASSES; pass++) {
        runBiquad(sections, b * SECTION, voiceStates, (b * PASSES + pass) * 2, band, 0, frames);
        runBiquad(sections, b * SECTION, playedStates, (b * PASSES + pass) * 4, l, 0, frames);
        runBiquad(sections, b * SECTION, playedStates, (b * PASSES + pass) * 4 + 2, r, 0, frames);
      }
      let level = levels[b];
      for (let i = 0; i < frames; i++) {
        const height = band[i] < 0 ? -band[i] : band[i];
        level += (height - level) * (height > level ? attack : release);
        sumLeft[i] += l[i] * level * gain;
        sumRight[i] += r[i] * level * gain;
      }
      levels[b] = level < 1e-12 ? 0 : level;
    }
    const breath = values[BREATH] / 100;
    if (breath > 0) {
      runBiquad(sections, MOST * SECTION, voiceStates, MOST * PASSES * 2, voice, 0, frames);
      for (let i = 0; i < frames; i++) {
        sumLeft[i] += voice[i] * breath;
        sumRight[i] += voice[i] * breath;
      }
    }
    for (let i = 0; i < frames; i++) {
      left[from + i] = sumLeft[i];
      right[from + i] = sumRight[i];
    }
  }
  reset(): void {
    this.voiceStates.fill(0);
    this.playedStates.fill(0);
    this.levels.fill(0);
  }
}
