import { CODE } from './code';
import {
  BUS,
  BUS_RIGHT,
  LONGEST_RUN,
  LONGEST_SPAN,
  MADE,
  MADE_RIGHT,
  MOST_VOICE_BLOCKS,
  PAST,
  PAST_RIGHT,
  SIDE,
  SIDE_RIGHT,
  TAIL,
  TAIL_RIGHT,
  VOICE_BYTES,
  VOICES,
  WINDOW,
  WINDOW_FRAMES,
} from './layout';

/** The little of WebAssembly that is needed: the core knows neither browser nor Node, but both have it. */
interface WebAssemblyLike {
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: unknown };
}
/**
 * `reading` and `out` are places in the memory, `voice` is a voice's block, `at` a frame of the bus, `stereo` is 0 or
 * 1, `sections` has a bit for each section: see `assembly/loops.ts`.
 */
interface Loops {
  memory: { buffer: ArrayBuffer; grow(pages: number): number };
  read(reading: number, stereo: number, out: number, frames: number): void;
  filter(voice: number, stereo: number, samples: number, frames: number, sections: number): void;
  finish(voice: number, stereo: number, at: number, frames: number, sections: number): void;
  play(voice: number, stereo: number, at: number, frames: number, sections: number): void;
  synth(voice: number, frames: number): void;
  grain(): void;
  comb(comb: number, stereo: number, samples: number, frames: number, feedback: number): void;
}

const { Module, Instance } = (globalThis as unknown as { WebAssembly: WebAssemblyLike }).WebAssembly;
const compiled = new Module(CODE);
/** The kernel's loops, with a memory of their own. */
export const instantiate = <L>(): L => new Instance(compiled, {}).exports as L;
const PAGE = 65536;

/** The innermost loops with a memory of their own, one for each engine. Everything is made here once. */
export class Kernel {
  readonly loops: Loops;
  /** The whole memory as 64-bit floats: element i lies at byte 8 · i. */
  readonly numbers: Float64Array;
  /** The same as 32-bit floats and whole numbers: element i lies at byte 4 · i. */
  readonly floats: Float32Array;
  readonly words: Int32Array;
  readonly window: Float32Array;
  /** The window again, two floats an element. */
  readonly windowPairs: Float64Array;
  readonly made: Float64Array;
  readonly madeRight: Float64Array;
  readonly tail: Float64Array;
  readonly tailRight: Float64Array;
  readonly side: Float64Array;
  readonly sideRight: Float64Array;
  readonly past: Float64Array;
  readonly pastRight: Float64Array;
  readonly bus: Float64Array;
  readonly busRight: Float64Array;

  /**
   * `pages`: of 64 kB, where more is wanted than the loops of samples need: see `synthLayout.ts`. What nothing is
   * written to takes no room.
   */
  constructor(pages = 0) {
    this.loops = instantiate<Loops>();
    const { memory } = this.loops;
    if (pages > 0) memory.grow(pages - memory.buffer.byteLength / PAGE);
    const { buffer } = memory;
    const span = (at: number) => new Float64Array(buffer, at, LONGEST_SPAN);
    const run = (at: number) => new Float64Array(buffer, at, LONGEST_RUN);
    this.numbers = new Float64Array(buffer);
    this.floats = new Float32Array(buffer);
    this.words = new Int32Array(buffer);
    this.window = new Float32Array(buffer, WINDOW, 2 * WINDOW_FRAMES);
    this.windowPairs = new Float64Array(buffer, WINDOW, WINDOW_FRAMES);
    this.made = span(MADE);
    this.madeRight = span(MADE_RIGHT);
    this.tail = span(TAIL);
    this.tailRight = span(TAIL_RIGHT);
    this.side = span(SIDE);
    this.sideRight = span(SIDE_RIGHT);
    this.past = span(PAST);
    this.pastRight = span(PAST_RIGHT);
    this.bus = run(BUS);
    this.busRight = run(BUS_RIGHT);
  }

  /** Where the block of the n-th voice begins. */
  voiceAt(n: number): number {
    if (n >= MOST_VOICE_BLOCKS) throw new RangeError(`there are ${MOST_VOICE_BLOCKS} voices, no number ${n}`);
    return VOICES + n * VOICE_BYTES;
  }

  clearBus(): void {
    this.bus.fill(0);
    this.busRight.fill(0);
  }
}
