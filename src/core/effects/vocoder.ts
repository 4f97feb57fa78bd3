import {
  VOCODER_A1,
  VOCODER_A2,
  VOCODER_ATTACK,
  VOCODER_B0,
  VOCODER_BREATH,
  VOCODER_BYTES,
  VOCODER_COUNT,
  VOCODER_GAIN,
  VOCODER_MOST,
  VOCODER_PAST,
  VOCODER_RELEASE,
} from '../dsp/kernel/effectLayout';
import { define } from '../space/parameter';
import { HZ, Q, SECTION, setBiquad } from './biquad';
import type { EffectContext, EffectKind } from './effect';
import { choice, count, hertz, mix, percent, seconds } from './parameters';
import { WorkedInKernel } from './worked';

const ROLE = 1,
  BANDS = 2,
  LOW = 3,
  HIGH = 4,
  ATTACK = 5,
  RELEASE = 6,
  BREATH = 7,
  GAIN = 8;

/**
 * The levels of one sound, band by band, laid on another (H. Dudley, "The Vocoder", 1939; band-passes of the "Audio EQ
 * Cookbook", twice).
 */
export const vocoder: EffectKind = {
  id: 'vocoder',
  label: 'vocoder',
  family: 'pitch and time',
  picture: 'response',
  help: 'The shape of one sound on another: what comes in speaks through a layer, or a layer through it.',
  parameters: define({
    mix: mix(),
    role: choice(
      'what comes in',
      ['speaks', 'is spoken through'],
      'speaks',
      'Whether its shape is laid on the layer, or the layer’s shape on it.',
    ),
    bands: count('bands', 8, VOCODER_MOST, 20, 'How many.'),
    low: hertz('lowest', 60, 500, 120, 'Middle of the lowest band.'),
    high: hertz('highest', 2000, 14000, 8000, 'Middle of the highest band.'),
    attack: seconds('attack', 0.0005, 0.1, 0.004, 'How fast a band opens.'),
    release: seconds('release', 0.005, 0.6, 0.04, 'How fast it closes.'),
    breath: percent('breath', 20, 'How much of what lies above the bands goes through as it is.'),
    gain: percent('gain', 100, 'How loud it is.', 0, 400),
  }),
  remakes: ['role', 'bands'],
  listens: true,
  tail: (values) => 0.2 + values[RELEASE] * 12,
  room: () => VOCODER_BYTES / 4,
  make: (context) => new Vocoder(context),
  inChain: { mix: 25 },
  presets: [
    { name: 'clear', values: {} },
    { name: 'few bands', values: { bands: 8, release: 0.03 } },
    { name: 'soft choir', values: { bands: 28, attack: 0.03, release: 0.3, breath: 5 } },
    { name: 'sharp', values: { bands: 32, attack: 0.001, release: 0.015, breath: 40 } },
    { name: 'turned round', values: { role: 1, bands: 16 } },
  ],
};

class Vocoder extends WorkedInKernel {
  private readonly side: EffectContext['side'];
  private readonly section = new Float64Array(SECTION);
  private readonly by = new Float64Array(3);
  constructor(context: EffectContext) {
    super(context, 9);
    this.side = context.side;
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    const { by, section, rate } = this;
    const n = values[BANDS];
    const ratio = (values[HIGH] / values[LOW]) ** (1 / (n - 1));
    // Bands meet where each is 3 dB down.
    by[Q] = 0.9 / (Math.sqrt(ratio) - 1 / Math.sqrt(ratio));
    for (let b = 0; b < VOCODER_MOST; b++) {
      by[HZ] = Math.min(0.45 * rate, values[LOW] * ratio ** Math.min(b, n - 1));
      setBiquad(section, 0, 'band-pass', by, rate);
      // Two bands are worked out at a time: one that is none lets nothing through.
      this.setNumber(VOCODER_B0 + 8 * b, b < n ? section[0] : 0);
      this.setNumber(VOCODER_A1 + 8 * b, section[3]);
      this.setNumber(VOCODER_A2 + 8 * b, section[4]);
    }
    by[HZ] = Math.min(0.45 * rate, values[HIGH] * 1.1);
    by[Q] = Math.SQRT1_2;
    setBiquad(this.kernel.numbers, this.elementAt(VOCODER_PAST), 'high-pass', by, rate);
    this.setWhole(VOCODER_COUNT, n);
    // A band of a spectrum that is even holds 1/n of its power: so many times as much makes up for two levels
    // multiplied.
    this.setNumber(VOCODER_GAIN, (values[GAIN] / 100) * Math.sqrt(n) * 1.6);
    this.setNumber(VOCODER_ATTACK, 1 - Math.exp(-1 / (values[ATTACK] * rate)));
    this.setNumber(VOCODER_RELEASE, 1 - Math.exp(-1 / (values[RELEASE] * rate)));
    this.setNumber(VOCODER_BREATH, values[BREATH] / 100);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, side, kernel } = this;
    const inSpeaks = values[ROLE] === 0;
    if (inSpeaks || !side) kernel.bringSide(left, right, from, to);
    else kernel.bringSide(side.left, side.right, from, to);
    if (inSpeaks && side) kernel.bring(side.left, side.right, from, to);
    else kernel.bring(left, right, from, to);
    kernel.loops.vocode(this.place, to - from);
    kernel.take(left, right, from, to);
  }
}
