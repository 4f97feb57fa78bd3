/**
 * A reverb written plainly, sample by sample in double precision: what the kernel's loops are held against. Slow, and used
 * by tests alone.
 */
import { DB, HZ, Q, runBiquad, SECTION, setBiquad } from '../../../src/core/effects/biquad';
import { roomFor } from '../../../src/core/effects/delayMemory';
import type { Effect, EffectContext } from '../../../src/core/effects/effect';

const KIND = 1,
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
const LINES = 16;
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
const EARLY_TAPS = 8;
const DISPERSERS = 24,
  DISPERSER_SECONDS = 0.00013;

const lineRoom = (rate: number): number => roomFor(LONGEST_LINE * rate + 64);
const preRoom = (rate: number): number => roomFor((LONGEST_PREDELAY + LONGEST_EARLY) * rate + 64);
const spreadRoom = (rate: number): number => roomFor(SPREAD[2] * SPREAD_RIGHT * rate + 16);

const roomOf = (rate: number): number =>
  LINES * lineRoom(rate) + 2 * preRoom(rate) + 2 * SPREAD.length * spreadRoom(rate) + 2 * DISPERSERS * 16;

export class PlainReverb implements Effect {
  readonly readings = new Float32Array(1);
  private readonly rate: number;
  private readonly memory: Float32Array;
  private readonly lineMask: number;
  private readonly preMask: number;
  private readonly spreadMask: number;
  private readonly preAt: number;
  private readonly spreadAt: number;
  private readonly disperseAt: number;
  private readonly values = new Float64Array(12);
  private readonly lengths = new Float64Array(LINES);
  private readonly gains = new Float64Array(LINES);
  private readonly poles = new Float64Array(LINES);
  private readonly low = new Float64Array(LINES);
  private readonly read = new Float64Array(LINES);
  /** Where each line is read now, and how far that moves with each frame. */
  private readonly offsets = new Float64Array(LINES);
  private readonly steps = new Float64Array(LINES);
  private readonly taps = new Int32Array(2 * EARLY_TAPS);
  private readonly tapGains = new Float64Array(2 * EARLY_TAPS);
  private readonly spreads = new Int32Array(2 * SPREAD.length);
  private readonly by = new Float64Array(3);
  private readonly cut = new Float64Array(SECTION);
  private readonly cutStates = new Float64Array(4);
  private readonly inLeft = new Float32Array(32);
  private readonly inRight = new Float32Array(32);
  /** Envelope of what comes in, gain of ducking, phase of the motion, scale of the late part. */
  private readonly state = new Float64Array(4);
  private readonly disperse = Math.round(5);
  private at = 0;

  constructor({ rate }: Pick<EffectContext, 'rate'>) {
    const memory = new Float32Array(roomOf(rate));
    this.rate = rate;
    this.memory = memory;
    this.lineMask = lineRoom(rate) - 1;
    this.preMask = preRoom(rate) - 1;
    this.spreadMask = spreadRoom(rate) - 1;
    this.preAt = LINES * (this.lineMask + 1);
    this.spreadAt = this.preAt + 2 * (this.preMask + 1);
    this.disperseAt = this.spreadAt + 2 * SPREAD.length * (this.spreadMask + 1);
    this.disperse = Math.max(1, Math.min(15, Math.round(DISPERSER_SECONDS * rate)));
    for (let n = 0; n < SPREAD.length; n++) {
      this.spreads[n] = Math.round(SPREAD[n] * rate);
      this.spreads[SPREAD.length + n] = Math.round(SPREAD[n] * SPREAD_RIGHT * rate);
    }
    // The memory comes silent: filling it here would cost the audio thread a millisecond at a change of patch.
    this.atRest();
  }

  aim(values: Float64Array): void {
    const { rate } = this;
    for (let i = 0; i < this.values.length; i++) this.values[i] = values[i];
    const shape = SHAPES[values[KIND]];
    const size = values[SIZE] / 100;
    const ratio = Math.max(0.06, 1 - 0.94 * (values[DAMPING] / 100));
    let mean = 0;
    for (let n = 0; n < LINES; n++) {
      // Spaced evenly by proportion, each a little out of step, so that no two share a multiple.
      const seconds = shape[0] * (shape[1] / shape[0]) ** ((n + (0.37 * ((n * 7) % 5)) / 5) / (LINES - 0.7)) * size;
      this.lengths[n] = Math.round(seconds * rate) + 1;
      const exponent = (-3 * this.lengths[n]) / (rate * values[DECAY]);
      const gain = 10 ** exponent;
      const pole = Math.min(0.97, (Math.LN10 / 4) * exponent * (1 - 1 / (ratio * ratio)));
      this.gains[n] = gain * (1 - pole);
      this.poles[n] = pole;
      mean += (gain * gain) / LINES;
    }
    // A longer decay is not louder by as much as it lasts longer.
    this.state[3] = 1.4 * (1 - mean) ** 0.35;
    const early = shape[2] * size;
    for (let n = 0; n < 2 * EARLY_TAPS; n++) {
      const k = n % EARLY_TAPS;
      const at =
        early * (0.08 + 0.92 * ((k + (n < EARLY_TAPS ? 0.31 : 0.62) + 0.2 * ((k * 5) % 3)) / EARLY_TAPS) ** 1.3);
      this.taps[n] = Math.round((values[PREDELAY] + Math.min(at, LONGEST_EARLY)) * rate);
      this.tapGains[n] = (((k * 3 + (n < EARLY_TAPS ? 0 : 1)) % 4 < 2 ? 1 : -1) * 0.55) / (1 + 0.35 * k);
    }
    this.by[HZ] = values[LOW_CUT];
    this.by[Q] = Math.SQRT1_2;
    this.by[DB] = 0;
    setBiquad(this.cut, 0, 'high-pass', this.by, rate);
  }

  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const {
      memory,
      values,
      lengths,
      gains,
      poles,
      low,
      read,
      offsets,
      steps,
      state,
      inLeft,
      inRight,
      lineMask,
      preMask,
      taps,
      tapGains,
    } = this;
    const frames = to - from;
    for (let i = 0; i < frames; i++) {
      inLeft[i] = left[from + i];
      inRight[i] = right[from + i];
    }
    runBiquad(this.cut, 0, this.cutStates, 0, inLeft, 0, frames);
    runBiquad(this.cut, 0, this.cutStates, 2, inRight, 0, frames);
    // Lines move by up to a millisecond, each at its own pace.
    state[2] += frames / this.rate;
    const depth = 0.0016 * this.rate * (values[MOTION] / 100);
    for (let n = 0; n < LINES; n++) {
      // Every second line moves; the others are read on the frame, which loses nothing of the treble.
      const wanted =
        (n & 1) === 0
          ? lengths[n] + depth * (1 + Math.sin(2 * Math.PI * (state[2] * (0.11 + 0.043 * n) + n / LINES)))
          : lengths[n];
      const now = offsets[n];
      // A new size is gone to at no more than a quarter of a frame for each frame, as a wall that moves.
      const way = Math.max(-0.25 * frames, Math.min(0.25 * frames, wanted - now));
      steps[n] = now === 0 ? 0 : way / frames;
      if (now === 0) offsets[n] = wanted;
    }
    const wide = values[WIDTH] / 100;
    const late = state[3] * Math.min(1, (2 * values[BALANCE]) / 100);
    const early = Math.min(1, 2 - (2 * values[BALANCE]) / 100);
    const predelay = Math.round(values[PREDELAY] * this.rate);
    const isSpring = values[KIND] === 3;
    const attack = 1 - Math.exp(-1 / (0.004 * this.rate));
    const release = 1 - Math.exp(-1 / (values[RETURN] * this.rate));
    const duck = values[DUCK];
    const preLeft = this.preAt;
    const preRight = preLeft + preMask + 1;
    let envelope = state[0];
    let ducked = state[1];
    for (let i = 0; i < frames; i++) {
      const at = this.at++;
      const xl = inLeft[i],
        xr = inRight[i];
      memory[preLeft + (at & preMask)] = xl;
      memory[preRight + (at & preMask)] = xr;
      let el = 0,
        er = 0;
      for (let n = 0; n < EARLY_TAPS; n++) {
        el += tapGains[n] * memory[preLeft + ((at - taps[n]) & preMask)];
        er += tapGains[EARLY_TAPS + n] * memory[preRight + ((at - taps[EARLY_TAPS + n]) & preMask)];
      }
      let dl = memory[preLeft + ((at - predelay) & preMask)];
      let dr = memory[preRight + ((at - predelay) & preMask)];
      if (isSpring) {
        this.scratch[0] = dl;
        this.scratch[1] = dr;
        this.disperseFrame(at);
        dl = this.scratch[0];
        dr = this.scratch[1];
      }
      for (let n = 0; n < 4; n++) {
        const base = this.spreadAt + n * (this.spreadMask + 1);
        const held = memory[base + ((at - this.spreads[n]) & this.spreadMask)];
        const v = dl + 0.6 * held;
        memory[base + (at & this.spreadMask)] = v;
        dl = held - 0.6 * v;
        const baseRight = base + 4 * (this.spreadMask + 1);
        const heldRight = memory[baseRight + ((at - this.spreads[4 + n]) & this.spreadMask)];
        const w = dr + 0.6 * heldRight;
        memory[baseRight + (at & this.spreadMask)] = w;
        dr = heldRight - 0.6 * w;
      }
      let outLeft = 0,
        outRight = 0;
      for (let n = 0; n < LINES; n++) {
        const offset = offsets[n] + steps[n] * (i + 1);
        const x = this.lineAt(n, at, offset);
        const y = gains[n] * x + poles[n] * low[n];
        low[n] = y;
        read[n] = y;
        // Each line is heard on one side, with signs that make both sides strangers to each other.
        if ((n & 1) === 0) outLeft += (n & 2) === 0 ? y : -y;
        else outRight += (n & 4) === 0 ? y : -y;
      }
      hadamard(read);
      for (let n = 0; n < LINES; n++)
        memory[n * (lineMask + 1) + (at & lineMask)] =
          0.25 * read[n] + ((n & 1) === 0 ? dl : dr) * ((n & 8) === 0 ? 0.35 : -0.35);
      const height = Math.max(xl < 0 ? -xl : xl, xr < 0 ? -xr : xr);
      envelope += (height - envelope) * (height > envelope ? attack : release);
      let gain = 1;
      if (duck > 0) {
        // Ducked in full from −24 dBFS on, not at all below −54.
        const share = Math.max(0, Math.min(1, (20 * Math.log10(envelope + 1e-9) + 54) / 30));
        ducked = duck * share;
        gain = Math.exp(-ducked * 0.1151292546497023);
      } else ducked = 0;
      const l = (early * el + late * outLeft) * gain;
      const r = (early * er + late * outRight) * gain;
      const middle = 0.5 * (l + r);
      const side = 0.5 * (l - r) * wide;
      left[from + i] = middle + side;
      right[from + i] = middle - side;
    }
    for (let n = 0; n < LINES; n++) {
      offsets[n] += steps[n] * frames;
      if (low[n] < 1e-18 && low[n] > -1e-18) low[n] = 0;
    }
    state[0] = envelope < 1e-12 ? 0 : envelope;
    state[1] = ducked;
    this.readings[0] = ducked;
  }

  /** A line that many frames behind: third-order Lagrange between them. */
  private lineAt(n: number, at: number, offset: number): number {
    const { memory, lineMask } = this;
    const whole = offset | 0;
    const s = offset - whole;
    const base = n * (lineMask + 1);
    const x = memory[base + ((at - whole) & lineMask)];
    if (s === 0) return x;
    return (
      ((-s * (s - 1) * (s - 2)) / 6) * memory[base + ((at - whole + 1) & lineMask)] +
      (((s + 1) * (s - 1) * (s - 2)) / 2) * x -
      (((s + 1) * s * (s - 2)) / 2) * memory[base + ((at - whole - 1) & lineMask)] +
      (((s + 1) * s * (s - 1)) / 6) * memory[base + ((at - whole - 2) & lineMask)]
    );
  }

  /** A chain of all-pass sections that lets low tones pass later than high ones, as a spring does. */
  private disperseFrame(at: number): void {
    const { memory, scratch, disperse } = this;
    for (let side = 0; side < 2; side++) {
      let x = scratch[side];
      for (let n = 0; n < DISPERSERS; n++) {
        const base = this.disperseAt + (side * DISPERSERS + n) * 16;
        const held = memory[base + ((at - disperse) & 15)];
        const v = x + 0.62 * held;
        memory[base + (at & 15)] = v;
        x = held - 0.62 * v;
      }
      scratch[side] = x;
    }
  }
  private readonly scratch = new Float64Array(2);

  reset(): void {
    this.memory.fill(0);
    this.atRest();
  }

  private atRest(): void {
    this.low.fill(0);
    this.cutStates.fill(0);
    this.state[0] = this.state[1] = 0;
    this.offsets.fill(0);
  }
}

/** Every one of sixteen with every other, half of them turned round. */
function hadamard(read: Float64Array): void {
  for (let half = 1; half < LINES; half *= 2) {
    for (let n = 0; n < LINES; n += 2 * half) {
      for (let k = n; k < n + half; k++) {
        const a = read[k],
          b = read[k + half];
        read[k] = a + b;
        read[k + half] = a - b;
      }
    }
  }
}
