import { bandTables } from './effectTables';
import { HALF_FIRST, HALF_SECOND, HALF_THIRD, PAIRS, ROOMS, SHARP, SIDE_PAIRS, TRANSFORM, TURNS } from './effectLayout';
import { instantiate } from './kernel';

const PAGE = 65536;

/**
 * `at` is the first byte of an effect's room, `frames` those of a span (1…32): see `assembly/effects`. What comes in and
 * goes out stands in {@link EffectKernel.pairs}.
 */
interface EffectLoops {
  memory: { buffer: ArrayBuffer; grow(pages: number): number };
  saturate(at: number, frames: number): void;
  saturateRest(at: number): void;
  convolve(at: number, first: number, frames: number): void;
  convolveTurn(at: number): void;
  convolveRespond(at: number, isLong: number, block: number): void;
  reverberate(at: number, frames: number): void;
  inARow(at: number, count: number, frames: number): void;
  besideEachOther(at: number, count: number, frames: number): void;
  threeBands(at: number, frames: number): void;
  vocode(at: number, frames: number): void;
  shift(line: number, mask: number, at: number, first: number, frames: number): number;
  seekJump(
    line: number,
    mask: number,
    at: number,
    now: number,
    way: number,
    low: number,
    high: number,
    step: number,
    span: number,
    nearest: number,
  ): void;
  lagged(lag: number, width: number): void;
}

/** The loops of effects with a memory of their own, in which effects have rooms: see `effectRooms.ts`. */
export class EffectKernel {
  readonly loops: EffectLoops;
  /** The whole memory: element i lies at byte 8 · i, or 4 · i. */
  readonly numbers: Float64Array;
  readonly floats: Float32Array;
  readonly words: Int32Array;
  /** A span, frame by frame, left and right side by side; and a second one, of what is listened to. */
  private readonly pairs: Float64Array;
  private readonly sidePairs: Float64Array;
  /** Where blocks stand that are to be transformed. */
  readonly transform: Float32Array;

  /** `bytes` of rooms, all of them zeros. What nothing is written to takes no room in the machine. */
  constructor(readonly bytes: number) {
    this.loops = instantiate<EffectLoops>();
    const { memory } = this.loops;
    memory.grow(Math.ceil((ROOMS + bytes) / PAGE) - memory.buffer.byteLength / PAGE);
    const { buffer } = memory;
    this.numbers = new Float64Array(buffer);
    this.floats = new Float32Array(buffer);
    this.words = new Int32Array(buffer);
    this.pairs = new Float64Array(buffer, PAIRS, 80);
    this.sidePairs = new Float64Array(buffer, SIDE_PAIRS, 80);
    this.transform = new Float32Array(buffer, TRANSFORM, 4 * 2048);
    const { halves, sharp, turns } = bandTables;
    [HALF_FIRST, HALF_SECOND, HALF_THIRD].forEach((at, n) => this.floats.set(halves[n], at >> 2));
    this.floats.set(sharp, SHARP >> 2);
    this.floats.set(turns, TURNS >> 2);
  }

  /** Brings a span in, from two rows. */
  bring(left: Float32Array, right: Float32Array, from: number, to: number): void {
    interleave(this.pairs, left, right, from, to);
  }

  bringSide(left: Float32Array, right: Float32Array, from: number, to: number): void {
    interleave(this.sidePairs, left, right, from, to);
  }

  /** Takes a span out, to two rows. */
  take(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { pairs } = this;
    for (let i = from, n = 0; i < to; i++, n += 2) {
      left[i] = pairs[n];
      right[i] = pairs[n + 1];
    }
  }
}

function interleave(pairs: Float64Array, left: Float32Array, right: Float32Array, from: number, to: number): void {
  for (let i = from, n = 0; i < to; i++, n += 2) {
    pairs[n] = left[i];
    pairs[n + 1] = right[i];
  }
}
