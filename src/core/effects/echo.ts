import { NOTE_QUARTERS as NOTE_LENGTHS, noteValue } from '../music/time';
import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { choice, clock, decibels, hertz, mix, noteLength, percent, seconds } from './parameters';
import { framesOf } from './timing';
import { WorkedWithLines } from './worked';

const CLOCK = 1,
  TIME = 2,
  NOTE = 3,
  APART = 4,
  WAY = 5,
  FEEDBACK = 6,
  LOW_CUT = 7,
  HIGH_CUT = 8,
  DRIVE = 9,
  CHANGE = 10,
  DUCK = 11,
  RETURN = 12;
const LONGEST = 4;
/** In note values at slow tempi it may be longer: as long as there is room, the later side included. */
const LONGEST_NOTE = 10.5;
const noteSeconds = (values: Float64Array, tempo: number): number => (NOTE_LENGTHS[values[NOTE]] * 60) / tempo;
export const WAYS = ['stereo', 'ping-pong'] as const;
/** Of a change of time: it glides as tape does, or the old time fades into the new one. */
export const CHANGES = ['glides', 'crossfades'] as const;
const CROSS_SECONDS = 0.05;

/**
 * Delay lines with a low cut, a high cut and a soft curve in the loop; read by third-order Lagrange interpolation while
 * the time glides, on the frame while it rests.
 */
export const echo: EffectKind = {
  id: 'echo',
  label: 'echo',
  family: 'space',
  picture: 'decay',
  help: 'Comes back again and again, in time with the tempo if wanted; it can duck while one plays.',
  parameters: define({
    mix: mix(35),
    clock: clock('in note values'),
    time: seconds('time', 0.005, LONGEST, 0.375, 'Time from one echo to the next.'),
    note: noteLength('1/8 dotted', 'Time from one echo to the next.'),
    apart: percent('sides apart', 0, 'How much later the right side comes, as a share of the time.', 0, 50),
    way: choice('way', WAYS, 'stereo', 'Each side by itself, or from side to side.'),
    feedback: percent('feedback', 40, 'How much of each echo comes back.', 0, 100),
    lowCut: hertz('low cut', 20, 2000, 120, 'What each round loses below.'),
    highCut: hertz('high cut', 500, 20000, 7000, 'What each round loses above.'),
    drive: decibels('warmth', 0, 18, 0, 'How softly loud rounds are held; small ones keep their level.'),
    change: choice('a new time', CHANGES, 'glides', 'How a change of time is gone to.'),
    duck: decibels('ducking', 0, 30, 0, 'How much softer the echoes are while something comes in.'),
    return: seconds('return', 0.05, 4, 0.4, 'Time in which they come back after that.'),
  }),
  remakes: ['way'],
  tail: (values, tempo) => {
    const time = values[CLOCK] === 0 ? values[TIME] : Math.min(LONGEST_NOTE, noteSeconds(values, tempo));
    return values[FEEDBACK] >= 99.9
      ? Infinity
      : time * 1.6 +
          Math.min(120, (time * 1.5 * 5) / Math.max(0.02, -Math.log10(Math.max(0.001, values[FEEDBACK] / 100))));
  },
  limits: (values, tempo) =>
    values[CLOCK] === 1 && noteSeconds(values, tempo) * (1 + values[APART] / 100) > LONGEST_NOTE
      ? `gives ${LONGEST_NOTE} s, the longest there is room for`
      : undefined,
  room: (rate) => 2 * roomFor(LONGEST_NOTE * rate + 64),
  make: (context) => new Echo(context),
  readings: [{ label: 'ducked by', unit: 'dB' }],
  inChain: { mix: 30 },
  presets: [
    { name: 'dotted eighths', values: {} },
    { name: 'side to side', values: { way: 1, note: noteValue('1/4'), feedback: 50 } },
    { name: 'slap', values: { clock: 0, time: 0.11, feedback: 8, mix: 30 } },
    { name: 'worn tape', values: { clock: 0, time: 0.42, feedback: 62, highCut: 2800, lowCut: 240, drive: 9 } },
    { name: 'between the phrases', values: { feedback: 55, duck: 16, return: 0.5, mix: 50 } },
    { name: 'swarm', values: { clock: 0, time: 0.045, apart: 35, feedback: 78, mix: 45 } },
  ],
};

class Echo extends WorkedWithLines {
  readonly readings = new Float32Array(1);
  private readonly time: Float64Array;
  /**
   * By side: delay now, the delay that fades out, high cut, low cut. Then the share of the crossfade, envelope,
   * ducking.
   */
  private readonly state = new Float64Array(12);
  constructor(context: EffectContext) {
    super(context, 13);
    const { time } = context;
    this.time = time;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, memory, mask, rate, time } = this;
    const room = mask + 1;
    const frames = to - from;
    let wanted = Math.min(LONGEST_NOTE * rate, Math.max(4, framesOf(values, CLOCK, TIME, NOTE, rate, time)));
    // Where nothing moves the time it is a whole number of frames.
    wanted = Math.round(wanted);
    const other = Math.min(Math.round(LONGEST_NOTE * rate), Math.round(wanted * (1 + values[APART] / 100)));
    const glides = values[CHANGE] === 0;
    for (let side = 0; side < 2; side++) {
      const target = side === 0 ? wanted : other;
      if (state[side] === 0) state[side] = state[2 + side] = target;
      if (!glides && state[8] >= 1 && Math.abs(target - state[side]) >= 1) {
        state[2] = state[0];
        state[3] = state[1];
        state[0] = wanted;
        state[1] = other;
        state[8] = 0;
      }
    }
    const dl0 = state[0],
      dr0 = state[1];
    let dl1 = dl0,
      dr1 = dr0;
    if (glides) {
      state[8] = 1;
      // As a tape that changes its speed: a tenth of a second for most of the way, and never backwards.
      const share = 1 - Math.exp(-frames / (0.1 * rate));
      dl1 =
        Math.abs(wanted - dl0) < 0.02
          ? wanted
          : dl0 + Math.max(-0.5 * frames, Math.min(0.5 * frames, (wanted - dl0) * share));
      dr1 =
        Math.abs(other - dr0) < 0.02
          ? other
          : dr0 + Math.max(-0.5 * frames, Math.min(0.5 * frames, (other - dr0) * share));
    }
    const still = dl1 === dl0 && dr1 === dr0 && dl0 === Math.floor(dl0) && dr0 === Math.floor(dr0);
    const feedback = Math.min(1, values[FEEDBACK] / 100),
      pingPong = values[WAY] === 1;
    const high = values[HIGH_CUT] >= 19999 ? 1 : 1 - Math.exp((-2 * Math.PI * values[HIGH_CUT]) / rate);
    const low = values[LOW_CUT] <= 20 ? 0 : 1 - Math.exp((-2 * Math.PI * values[LOW_CUT]) / rate);
    const gain = 10 ** (values[DRIVE] / 20),
      bends = values[DRIVE] > 0.01 || feedback > 0.98;
    const attack = 1 - Math.exp(-1 / (0.004 * rate)),
      release = 1 - Math.exp(-1 / (values[RETURN] * rate));
    const crossStep = 1 / (CROSS_SECONDS * rate);
    let hl = state[4],
      hr = state[5],
      ll = state[6],
      lr = state[7],
      cross = state[8],
      envelope = state[9],
      ducked = 0;
    for (let i = 0; i < frames; i++) {
      const at = this.at++;
      let el: number, er: number;
      if (still) {
        el = memory[(at - dl0) & mask];
        er = memory[room + ((at - dr0) & mask)];
        if (cross < 1) {
          cross = Math.min(1, cross + crossStep);
          el = el * cross + memory[(at - Math.round(state[2])) & mask] * (1 - cross);
          er = er * cross + memory[room + ((at - Math.round(state[3])) & mask)] * (1 - cross);
        }
      } else {
        const dl = dl0 + ((dl1 - dl0) * (i + 1)) / frames,
          dr = dr0 + ((dr1 - dr0) * (i + 1)) / frames;
        const wl = Math.floor(dl),
          x = dl - wl,
          wr = Math.floor(dr),
          y = dr - wr;
        el =
          ((-x * (x - 1) * (x - 2)) / 6) * memory[(at - wl + 1) & mask] +
          (((x + 1) * (x - 1) * (x - 2)) / 2) * memory[(at - wl) & mask] -
          (((x + 1) * x * (x - 2)) / 2) * memory[(at - wl - 1) & mask] +
          (((x + 1) * x * (x - 1)) / 6) * memory[(at - wl - 2) & mask];
        er =
          ((-y * (y - 1) * (y - 2)) / 6) * memory[room + ((at - wr + 1) & mask)] +
          (((y + 1) * (y - 1) * (y - 2)) / 2) * memory[room + ((at - wr) & mask)] -
          (((y + 1) * y * (y - 2)) / 2) * memory[room + ((at - wr - 1) & mask)] +
          (((y + 1) * y * (y - 1)) / 6) * memory[room + ((at - wr - 2) & mask)];
      }
      const l = left[from + i],
        r = right[from + i];
      // What goes round is cut and held; what is heard is what comes out of the line.
      hl += (el - hl) * high;
      hr += (er - hr) * high;
      ll += (hl - ll) * low;
      lr += (hr - lr) * low;
      let bl = (hl - ll) * feedback,
        br = (hr - lr) * feedback;
      if (bends) {
        bl *= gain;
        br *= gain;
        bl = bl / Math.sqrt(1 + bl * bl) / gain;
        br = br / Math.sqrt(1 + br * br) / gain;
      }
      if (pingPong) {
        memory[at & mask] = 0.5 * (l + r) + br;
        memory[room + (at & mask)] = bl;
      } else {
        memory[at & mask] = l + bl;
        memory[room + (at & mask)] = r + br;
      }
      let heard = 1;
      if (values[DUCK] > 0) {
        const height = Math.max(l < 0 ? -l : l, r < 0 ? -r : r);
        envelope += (height - envelope) * (height > envelope ? attack : release);
        ducked = values[DUCK] * Math.max(0, Math.min(1, (8.685889638065037 * Math.log(envelope + 1e-9) + 54) / 30));
        heard = Math.exp(-ducked * 0.1151292546497023);
      }
      left[from + i] = el * heard;
      right[from + i] = er * heard;
    }
    state[0] = dl1;
    state[1] = dr1;
    state[4] = Math.abs(hl) < 1e-18 ? 0 : hl;
    state[5] = Math.abs(hr) < 1e-18 ? 0 : hr;
    state[6] = Math.abs(ll) < 1e-18 ? 0 : ll;
    state[7] = Math.abs(lr) < 1e-18 ? 0 : lr;
    state[8] = cross;
    state[9] = envelope < 1e-12 ? 0 : envelope;
    this.readings[0] = ducked;
  }
  override reset(): void {
    super.reset();
    this.state.fill(0);
    this.state[8] = 1;
  }
}
