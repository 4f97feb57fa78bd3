import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { decibels, factor, hertz, mix, percent } from './parameters';
import { WorkedWithLines } from './worked';

const WOW = 1,
  WOW_RATE = 2,
  FLUTTER = 3,
  FLUTTER_RATE = 4,
  SOFT = 5,
  DRIVE = 6,
  HISS = 7;
const BASE_SECONDS = 0.008;

/**
 * A short delay that wavers (wow below 4 Hz, flutter above: speed is the slope of the delay), a soft curve, a high cut
 * of first order, noise.
 */
export const tape: EffectKind = {
  id: 'tape',
  label: 'tape',
  family: 'colour',
  picture: 'response',
  help: 'Wow and flutter, soft treble, warmth, and hiss if one likes it.',
  parameters: define({
    mix: mix(),
    wow: percent('wow', 25, 'How far the speed sways slowly: at 100 % by 1 %.'),
    wowRate: factor('wow rate', 0.1, 4, 0.7, 'Sways in a second.'),
    flutter: percent('flutter', 15, 'How far it trembles: at 100 % by 0.5 %.'),
    flutterRate: factor('flutter rate', 4, 30, 9, 'Trembles in a second.'),
    soft: hertz('treble to', 2000, 20000, 11000, 'Where the treble begins to fall.'),
    drive: decibels('warmth', 0, 18, 4, 'How hard it is driven; small waves keep their level.'),
    hiss: decibels('hiss', -96, -30, -96, 'Level of its noise; the lowest value is none.'),
  }),
  tail: (values) => (values[HISS] > -96 ? 1 : 0.1),
  latency: (rate) => Math.round(BASE_SECONDS * rate),
  room: (rate) => 2 * roomFor(2 * BASE_SECONDS * rate + 8),
  make: (context) => new Tape(context),
  presets: [
    { name: 'good machine', values: { wow: 8, flutter: 5, soft: 16000, drive: 3 } },
    { name: 'worn', values: { wow: 60, flutter: 40, soft: 6000, drive: 8 } },
    { name: 'seasick', values: { wow: 100, wowRate: 0.4, flutter: 20 } },
    { name: 'pressed', values: { wow: 5, flutter: 5, drive: 15 } },
    { name: 'dusty', values: { wow: 40, flutter: 30, soft: 4500, drive: 6, hiss: -58 } },
  ],
};

class Tape extends WorkedWithLines {
  /** Phases of wow and flutter; both high cuts; envelope that the hiss follows. */
  private readonly state = new Float64Array(5);
  private readonly noise: Int32Array;
  constructor(context: EffectContext) {
    super(context, 8);
    const { seed } = context;
    this.noise = Int32Array.of(seed | 1);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, memory, mask, rate, noise } = this;
    const room = mask + 1;
    const base = Math.round(BASE_SECONDS * rate);
    const wowStep = values[WOW_RATE] / rate,
      flutterStep = values[FLUTTER_RATE] / rate;
    // A sway of the delay by d·sin(2πft) is one of the speed by 2πfd.
    const wow = Math.min(base * 0.7, (0.01 * (values[WOW] / 100) * rate) / (2 * Math.PI * values[WOW_RATE]));
    const flutter = (0.005 * (values[FLUTTER] / 100) * rate) / (2 * Math.PI * values[FLUTTER_RATE]);
    const a = values[SOFT] >= 19999 ? 1 : 1 - Math.exp((-2 * Math.PI * values[SOFT]) / rate);
    const gain = 10 ** (values[DRIVE] / 20);
    const hiss = values[HISS] <= -96 ? 0 : 10 ** (values[HISS] / 20);
    let wowAt = state[0],
      flutterAt = state[1],
      lowLeft = state[2],
      lowRight = state[3],
      envelope = state[4];
    let seed = noise[0];
    for (let i = from; i < to; i++) {
      const at = this.at++;
      memory[at & mask] = left[i];
      memory[room + (at & mask)] = right[i];
      wowAt += wowStep;
      flutterAt += flutterStep;
      const delay = base + wow * Math.sin(2 * Math.PI * wowAt) + flutter * Math.sin(2 * Math.PI * flutterAt);
      const whole = Math.floor(delay);
      const x = delay - whole;
      const c0 = (-x * (x - 1) * (x - 2)) / 6,
        c1 = ((x + 1) * (x - 1) * (x - 2)) / 2,
        c2 = (-(x + 1) * x * (x - 2)) / 2,
        c3 = ((x + 1) * x * (x - 1)) / 6;
      const p0 = (at - whole + 1) & mask,
        p1 = (at - whole) & mask,
        p2 = (at - whole - 1) & mask,
        p3 = (at - whole - 2) & mask;
      let l = (c0 * memory[p0] + c1 * memory[p1] + c2 * memory[p2] + c3 * memory[p3]) * gain;
      let r =
        (c0 * memory[room + p0] + c1 * memory[room + p1] + c2 * memory[room + p2] + c3 * memory[room + p3]) * gain;
      l = l / Math.sqrt(1 + l * l) / gain;
      r = r / Math.sqrt(1 + r * r) / gain;
      lowLeft += (l - lowLeft) * a;
      lowRight += (r - lowRight) * a;
      if (hiss > 0) {
        // It stops with what is played, so that silence stays silent.
        const height = l < 0 ? -l : l;
        envelope = height > 1e-6 ? 1 : envelope * 0.9997;
        seed = (Math.imul(seed, 1664525) + 1013904223) | 0;
        const n = (seed / 0x80000000) * hiss * envelope;
        left[i] = lowLeft + n;
        right[i] = lowRight + n * 0.8;
      } else {
        left[i] = lowLeft;
        right[i] = lowRight;
      }
    }
    noise[0] = seed;
    state[0] = wowAt % 1;
    state[1] = flutterAt % 1;
    state[2] = Math.abs(lowLeft) < 1e-18 ? 0 : lowLeft;
    state[3] = Math.abs(lowRight) < 1e-18 ? 0 : lowRight;
    state[4] = envelope < 1e-5 ? 0 : envelope;
  }
  override reset(): void {
    super.reset();
    this.state.fill(0);
  }
}
