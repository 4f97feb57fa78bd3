import {
  GUARD,
  REVERB_ATTACK,
  REVERB_CUT,
  REVERB_DISPERSE,
  REVERB_DUCK,
  REVERB_DUCKED,
  REVERB_EARLY,
  REVERB_GAINS,
  REVERB_IS_SPRING,
  REVERB_LATE,
  REVERB_LINES,
  REVERB_LINE_MASK,
  REVERB_MEMORY,
  REVERB_OFFSETS,
  REVERB_POLES,
  REVERB_PREDELAY,
  REVERB_PRE_MASK,
  REVERB_RELEASE,
  REVERB_RING,
  REVERB_SPREADS,
  REVERB_SPREAD_FRAMES,
  REVERB_SPREAD_MASK,
  REVERB_STEPS,
  REVERB_TAPS,
  REVERB_TAP_FRAMES,
  REVERB_TAP_GAINS,
  REVERB_WIDE,
} from '../dsp/kernel/effectLayout';
import { define } from '../space/parameter';
import { DB, HZ, Q, setBiquad } from './biquad';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { choice, decibels, hertz, mix, percent, seconds } from './parameters';
import { WorkedInKernel } from './worked';

export const REVERB_KINDS = ['room', 'hall', 'plate', 'spring', 'long'] as const;
const MIX = 0,
  KIND = 1,
  SIZE = 2,
  DECAY = 3,
  DAMPING = 4,
  MOTION = 5,
  PREDELAY = 6,
  LOW_CUT = 7,
  BALANCE = 8,
  WIDTH = 9,
  DUCK = 10,
  RETURN = 11;
const SPRING = 3;
/** Size in per cent. */
const SMALLEST = 40;
/** Shortest and longest line in seconds at 100 % size, and time of the early reflections, by kind. */
const SHAPES = [
  [0.017, 0.067, 0.03],
  [0.031, 0.113, 0.08],
  [0.013, 0.059, 0.008],
  [0.029, 0.047, 0.012],
  [0.071, 0.193, 0.14],
];
const LONGEST_LINE = 0.193 * 1.6,
  LONGEST_PREDELAY = 0.5,
  LONGEST_EARLY = 0.14 * 1.6;
/** Lengths in seconds of what spreads each sound before it enters the lines. */
const SPREAD = [0.00477, 0.00359, 0.01273, 0.0093];
const SPREAD_RIGHT = 1.07;
const DISPERSER_SECONDS = 0.00013;

/**
 * A feedback network of sixteen delay lines, mixed by a Hadamard matrix, each with a loss of its own, so that all
 * frequencies of a kind die away at one rate (J.-M. Jot and A. Chaigne, "Digital delay
 * networks for designing artificial reverberators", 1991: g = 10^(−3·length / (rate·T60)); the pole of the damping from
 * the ratio of the times at both ends of the spectrum).
 */
export const reverb: EffectKind = {
  id: 'reverb',
  label: 'reverb',
  family: 'space',
  picture: 'decay',
  help: 'A space around the sound: room, hall, plate, spring or a long one. It can duck while one plays.',
  parameters: define({
    mix: mix(100),
    kind: choice('space', REVERB_KINDS, 'hall', 'What sort of space it is.'),
    size: percent('size', 100, 'How far its walls are.', SMALLEST, 160),
    decay: seconds('decay', 0.2, 30, 2.2, 'Time in which it dies away by 60 dB.'),
    damping: percent('damping', 45, 'How much sooner the treble dies away.'),
    motion: percent('motion', 30, 'How far the reflections move slowly, so that no tone stands out.'),
    predelay: seconds('pre-delay', 0, LONGEST_PREDELAY, 0.015, 'Time before the space answers.'),
    lowCut: hertz('low cut', 20, 2000, 200, 'What lies below stays out of the space.'),
    balance: percent('early, late', 60, 'From only the first reflections to only what follows.'),
    width: percent('width', 100, 'From the middle to as wide as it can be.', 0, 150),
    duck: decibels('ducking', 0, 30, 0, 'How much softer it is while something comes in.'),
    return: seconds('return', 0.05, 4, 0.6, 'Time in which it comes back after that.'),
  }),
  remakes: ['kind'],
  tail: (values) => values[PREDELAY] + 0.4 + values[DECAY] * (100 / 60),
  room: (rate) =>
    REVERB_MEMORY / 4 +
    REVERB_LINES * (lineRoom(rate) + GUARD) +
    2 * (preRoom(rate) + GUARD) +
    2 * REVERB_SPREADS * (spreadRoom(rate) + GUARD),
  make: (context) => new Reverb(context),
  readings: [{ label: 'ducked by', unit: 'dB' }],
  inChain: { mix: 30 },
  presets: [
    { name: 'small room', values: { kind: 0, size: 80, decay: 0.6, damping: 55, predelay: 0.002, balance: 45 } },
    { name: 'dome', values: { kind: 1, size: 130, decay: 3.8, damping: 40, predelay: 0.03 } },
    { name: 'bright plate', values: { kind: 2, decay: 1.9, damping: 15, predelay: 0.01, lowCut: 300 } },
    { name: 'spring tank', values: { kind: 3, decay: 1.6, damping: 60, predelay: 0, width: 60 } },
    {
      name: 'far horizon',
      values: { kind: 4, size: 140, decay: 12, damping: 50, motion: 50, predelay: 0.08, balance: 90 },
    },
    { name: 'fills the gaps', values: { kind: 1, decay: 4.5, duck: 14, return: 0.7, predelay: 0.02 } },
  ],
};

const lineRoom = (rate: number): number => roomFor(LONGEST_LINE * rate + 64);
const preRoom = (rate: number): number => roomFor((LONGEST_PREDELAY + LONGEST_EARLY) * rate + 64);
const spreadRoom = (rate: number): number => roomFor(SPREAD[2] * SPREAD_RIGHT * rate + 16);

class Reverb extends WorkedInKernel {
  readonly readings = new Float32Array(1);
  private readonly lengths = new Float64Array(REVERB_LINES);
  private readonly by = new Float64Array(3);
  /** Time of the motion. */
  private readonly moved = new Float64Array(1);
  /** Frames that may be made at once: what is read in them was written before. */
  private longest = 1;

  constructor(context: EffectContext) {
    super(context, 12);
    this.lay();
  }

  /** What never changes. The memory comes silent: filling it here would cost a millisecond at a change of patch. */
  private lay(): void {
    const { rate } = this;
    this.setWhole(REVERB_LINE_MASK, lineRoom(rate) - 1);
    this.setWhole(REVERB_PRE_MASK, preRoom(rate) - 1);
    this.setWhole(REVERB_SPREAD_MASK, spreadRoom(rate) - 1);
    this.setWhole(REVERB_DISPERSE, Math.max(1, Math.min(REVERB_RING - 1, Math.round(DISPERSER_SECONDS * rate))));
    for (let n = 0; n < SPREAD.length; n++) {
      this.setWhole(REVERB_SPREAD_FRAMES + 4 * n, Math.round(SPREAD[n] * rate));
      this.setWhole(REVERB_SPREAD_FRAMES + 4 * (n + SPREAD.length), Math.round(SPREAD[n] * SPREAD_RIGHT * rate));
    }
    this.setNumber(REVERB_ATTACK, 1 - Math.exp(-1 / (0.004 * rate)));
  }

  override aim(values: Float64Array): void {
    super.aim(values);
    const { rate, lengths } = this;
    const shape = SHAPES[values[KIND]];
    const size = values[SIZE] / 100;
    const ratio = Math.max(0.06, 1 - 0.94 * (values[DAMPING] / 100));
    let mean = 0;
    for (let n = 0; n < REVERB_LINES; n++) {
      // Spaced evenly by proportion, each a little out of step, so that no two share a multiple.
      const place = (n + (0.37 * ((n * 7) % 5)) / 5) / (REVERB_LINES - 0.7);
      const seconds = shape[0] * (shape[1] / shape[0]) ** place * size;
      lengths[n] = Math.round(seconds * rate) + 1;
      const exponent = (-3 * lengths[n]) / (rate * values[DECAY]);
      const gain = 10 ** exponent;
      const pole = Math.min(0.97, (Math.LN10 / 4) * exponent * (1 - 1 / (ratio * ratio)));
      this.setFloat(REVERB_GAINS + 4 * n, gain * (1 - pole));
      this.setFloat(REVERB_POLES + 4 * n, pole);
      mean += (gain * gain) / REVERB_LINES;
    }
    const early = shape[2] * size;
    for (let n = 0; n < 2 * REVERB_TAPS; n++) {
      const k = n % REVERB_TAPS;
      const at =
        early * (0.08 + 0.92 * ((k + (n < REVERB_TAPS ? 0.31 : 0.62) + 0.2 * ((k * 5) % 3)) / REVERB_TAPS) ** 1.3);
      this.setWhole(REVERB_TAP_FRAMES + 4 * n, Math.round((values[PREDELAY] + Math.min(at, LONGEST_EARLY)) * rate));
      const sign = (k * 3 + (n < REVERB_TAPS ? 0 : 1)) % 4 < 2 ? 1 : -1;
      this.setFloat(REVERB_TAP_GAINS + 4 * n, (sign * 0.55) / (1 + 0.35 * k));
    }
    this.by[HZ] = values[LOW_CUT];
    this.by[Q] = Math.SQRT1_2;
    this.by[DB] = 0;
    setBiquad(this.kernel.numbers, this.elementAt(REVERB_CUT), 'high-pass', this.by, rate);
    this.setNumber(REVERB_WIDE, values[WIDTH] / 100);
    // A longer decay is not louder by as much as it lasts longer.
    this.setNumber(REVERB_LATE, 1.4 * (1 - mean) ** 0.35 * Math.min(1, (2 * values[BALANCE]) / 100));
    this.setNumber(REVERB_EARLY, Math.min(1, 2 - (2 * values[BALANCE]) / 100));
    this.setNumber(REVERB_RELEASE, 1 - Math.exp(-1 / (values[RETURN] * rate)));
    this.setNumber(REVERB_DUCK, values[DUCK]);
    this.setWhole(REVERB_PREDELAY, Math.round(values[PREDELAY] * rate));
    this.setWhole(REVERB_IS_SPRING, values[KIND] === SPRING ? 1 : 0);
    const shortest = Math.min(SPREAD[1], shape[0] * (SMALLEST / 100)) * rate;
    this.longest = Math.max(1, Math.min(32, Math.floor(shortest) - 4));
  }

  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { kernel, longest } = this;
    for (let first = from; first < to; first += longest) {
      const end = Math.min(to, first + longest);
      this.move(end - first);
      kernel.bring(left, right, first, end);
      kernel.loops.reverberate(this.place, end - first);
      kernel.take(left, right, first, end);
    }
    this.readings[0] = kernel.numbers[this.elementAt(REVERB_DUCKED)];
  }

  /** Lines move by up to a millisecond, each at its own pace. */
  private move(frames: number): void {
    const { lengths, values, moved, rate } = this;
    const { numbers } = this.kernel;
    const offsets = this.elementAt(REVERB_OFFSETS),
      steps = this.elementAt(REVERB_STEPS);
    moved[0] += frames / rate;
    const depth = 0.0016 * rate * (values[MOTION] / 100);
    for (let n = 0; n < REVERB_LINES; n++) {
      // Every second line moves; the others are read on the frame, which loses nothing of the treble.
      const wanted =
        (n & 1) === 0
          ? lengths[n] + depth * (1 + Math.sin(2 * Math.PI * (moved[0] * (0.11 + 0.043 * n) + n / REVERB_LINES)))
          : lengths[n];
      const now = numbers[offsets + n];
      // A new size is gone to at no more than a quarter of a frame for each frame, as a wall that moves.
      const way = Math.max(-0.25 * frames, Math.min(0.25 * frames, wanted - now));
      numbers[steps + n] = now === 0 ? 0 : way / frames;
      if (now === 0) numbers[offsets + n] = wanted;
    }
  }

  override reset(): void {
    this.memory.fill(0);
    this.lay();
    this.aim(this.values);
  }
}
void MIX;
