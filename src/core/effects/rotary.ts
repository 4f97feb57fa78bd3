import { define } from '../space/parameter';
import { HZ, Q, runBiquad, SECTION, setBiquad } from './biquad';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { choice, factor, hertz, mix, percent, seconds } from './parameters';
import { WorkedInKernel } from './worked';

const SPEED = 1,
  SLOW = 2,
  FAST = 3,
  INERTIA = 4,
  CROSS = 5,
  DISTANCE = 6,
  HORN = 7,
  DRUM = 8;
export const SPEEDS = ['still', 'slow', 'fast'] as const;
/** Radius in metres over the speed of sound. */
const HORN_SECONDS = 0.18 / 343,
  DRUM_SECONDS = 0.09 / 343;

/**
 * A horn and a drum that turn: two microphones at right angles hear each come and go (Doppler by a delay that sways by
 * the radius, level by the angle). J. O. Smith, S. Serafin, J. Abel, D. Berners, DAFx 2002.
 */
export const rotary: EffectKind = {
  id: 'rotary',
  label: 'rotary speaker',
  family: 'motion',
  picture: 'pattern',
  help: 'A horn and a drum that turn, slow or fast; they take their time to change.',
  parameters: define({
    mix: mix(),
    speed: choice('speed', SPEEDS, 'slow', 'Where both go from where they are.'),
    slow: factor('slow', 0.2, 2, 0.8, 'Turns of the horn in a second while slow.'),
    fast: factor('fast', 3, 12, 6.6, 'Turns of the horn in a second while fast.'),
    inertia: seconds(
      'inertia',
      0.1,
      5,
      0.9,
      'Time in which the horn gets 63 % of the way; the drum takes four times as long.',
    ),
    cross: hertz('crossover', 200, 2000, 800, 'Horn above, drum below.'),
    distance: percent('distance', 35, 'How far the microphones stand: near they hear more of the turning.'),
    horn: percent('horn', 100, 'How loud the horn is.', 0, 150),
    drum: percent('drum', 100, 'How loud the drum is.', 0, 150),
  }),
  tail: () => 0.1,
  room: (rate) => 4 * roomFor(0.01 * rate + 8),
  make: (context) => new Rotary(context),
  readings: [{ label: 'horn', unit: 'Hz' }],
  presets: [
    { name: 'slow', values: {} },
    { name: 'fast', values: { speed: 2 } },
    { name: 'close', values: { distance: 5 } },
    { name: 'across the room', values: { distance: 85 } },
    { name: 'only the horn', values: { drum: 30, speed: 2, cross: 500 } },
  ],
};

class Rotary extends WorkedInKernel {
  readonly readings = new Float32Array(1);
  private readonly mask: number;
  private readonly sections = new Float64Array(2 * SECTION);
  private readonly filters = new Float64Array(8);
  private readonly by = new Float64Array(3);
  private readonly high = new Float32Array(64);
  private readonly low = new Float32Array(64);
  /** Turns of horn and drum, and their speeds. */
  private readonly state = new Float64Array(4);
  private at = 0;
  constructor(context: EffectContext) {
    super(context, 9);
    this.mask = this.memory.length / 4 - 1;
    this.state[2] = 0.8;
    this.state[3] = 0.7;
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    this.by[Q] = Math.SQRT1_2;
    this.by[HZ] = values[CROSS];
    setBiquad(this.sections, 0, 'low-pass', this.by, this.rate);
    setBiquad(this.sections, SECTION, 'high-pass', this.by, this.rate);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, memory, mask, state, rate, high, low } = this;
    const frames = to - from;
    const room = mask + 1;
    for (let i = 0; i < frames; i++) high[i] = low[i] = 0.5 * (left[from + i] + right[from + i]);
    // Two sections each: bands of fourth order that add up flat.
    for (let pass = 0; pass < 2; pass++) {
      runBiquad(this.sections, 0, this.filters, pass * 2, low, 0, frames);
      runBiquad(this.sections, SECTION, this.filters, 4 + pass * 2, high, 0, frames);
    }
    const wanted = values[SPEED] === 0 ? 0 : values[SPEED] === 1 ? values[SLOW] : values[FAST];
    const hornShare = 1 - Math.exp(-frames / (values[INERTIA] * rate)),
      drumShare = 1 - Math.exp(-frames / (4 * values[INERTIA] * rate));
    state[2] += (wanted - state[2]) * hornShare;
    state[3] += (wanted * 0.87 - state[3]) * drumShare;
    const hornStep = state[2] / rate,
      drumStep = state[3] / rate;
    const hornSway = HORN_SECONDS * rate,
      drumSway = DRUM_SECONDS * rate;
    const near = 1 - (values[DISTANCE] / 100) * 0.8;
    const hornGain = values[HORN] / 100,
      drumGain = values[DRUM] / 100;
    // Cosine and sine of both go round by a turn with each frame; the other side is a quarter of a turn on.
    const hornTurnCos = Math.cos(2 * Math.PI * hornStep),
      hornTurnSin = Math.sin(2 * Math.PI * hornStep),
      drumTurnCos = Math.cos(2 * Math.PI * drumStep),
      drumTurnSin = -Math.sin(2 * Math.PI * drumStep);
    let hornX = Math.cos(2 * Math.PI * state[0]),
      hornY = Math.sin(2 * Math.PI * state[0]),
      drumX = Math.cos(2 * Math.PI * state[1]),
      drumY = Math.sin(2 * Math.PI * state[1]);
    state[0] += hornStep * frames;
    state[1] -= drumStep * frames;
    for (let i = 0; i < frames; i++) {
      const at = this.at++;
      memory[at & mask] = high[i];
      memory[room + (at & mask)] = low[i];
      const hx = hornX * hornTurnCos - hornY * hornTurnSin,
        dx = drumX * drumTurnCos - drumY * drumTurnSin;
      hornY = hornY * hornTurnCos + hornX * hornTurnSin;
      drumY = drumY * drumTurnCos + drumX * drumTurnSin;
      hornX = hx;
      drumX = dx;
      for (let side = 0; side < 2; side++) {
        const hornCos = side === 0 ? hornX : -hornY,
          drumCos = side === 0 ? drumX : -drumY;
        const dh = 2 + hornSway * (1 - hornCos),
          dd = 2 + drumSway * (1 - drumCos);
        const wh = Math.floor(dh),
          wd = Math.floor(dd);
        const h0 = memory[(at - wh) & mask],
          d0 = memory[room + ((at - wd) & mask)];
        const horn = h0 + (memory[(at - wh - 1) & mask] - h0) * (dh - wh);
        const drum = d0 + (memory[room + ((at - wd - 1) & mask)] - d0) * (dd - wd);
        // Loud while it faces the microphone; the drum less so.
        const out =
          horn * hornGain * (1 - near * 0.45 * (1 - hornCos)) + drum * drumGain * (1 - near * 0.25 * (1 - drumCos));
        if (side === 0) left[from + i] = out;
        else right[from + i] = out;
      }
    }
    state[0] %= 1;
    state[1] %= 1;
    this.readings[0] = state[2];
  }
  override reset(): void {
    this.memory.fill(0);
    this.filters.fill(0);
  }
}
