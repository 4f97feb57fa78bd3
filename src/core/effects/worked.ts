import type { EffectKernel } from '../dsp/kernel/effectKernel';
import type { Effect, EffectContext } from './effect';

/** What most effects have: the rate, and the values they were given last, as many as they say. */
export abstract class Worked implements Effect {
  protected readonly rate: number;
  protected readonly values: Float64Array;

  constructor({ rate }: EffectContext, count: number) {
    this.rate = rate;
    this.values = new Float64Array(count);
  }

  aim(values: Float64Array): void {
    for (let i = 0; i < this.values.length; i++) this.values[i] = values[i];
  }

  abstract process(left: Float32Array, right: Float32Array, from: number, to: number): void;

  abstract reset(): void;
}

/** The same with a room in the memory of a kernel, whose loops do the work. */
export abstract class WorkedInKernel extends Worked {
  protected readonly kernel: EffectKernel;
  protected readonly memory: Float32Array;
  /** Its first byte. */
  protected readonly place: number;

  constructor(context: EffectContext, count: number) {
    super(context, count);
    const { kernel, memory } = context.room!;
    this.kernel = kernel;
    this.memory = memory;
    this.place = memory.byteOffset;
  }

  /** Writes a number, or a whole one, to a place of the room, counted in bytes. */
  protected setNumber(at: number, value: number): void {
    this.kernel.numbers[(this.place + at) >> 3] = value;
  }
  protected setWhole(at: number, value: number): void {
    this.kernel.words[(this.place + at) >> 2] = value;
  }
  protected setFloat(at: number, value: number): void {
    this.kernel.floats[(this.place + at) >> 2] = value;
  }
  /** The element of the kernel's numbers at a place of the room. */
  protected elementAt(at: number): number {
    return (this.place + at) >> 3;
  }

  /** All of it is zeros again; values are laid down anew. */
  reset(): void {
    this.memory.fill(0);
    this.aim(this.values);
  }
}

/** The same with two delay lines, left and then right in the memory it was given, each written round and round. */
export abstract class WorkedWithLines extends WorkedInKernel {
  /** Place in a line is `frame & mask`; the right one begins at `mask + 1`. */
  protected readonly mask: number;
  /** The frame that is written next. */
  protected at = 0;

  constructor(context: EffectContext, count: number) {
    super(context, count);
    this.mask = this.memory.length / 2 - 1;
  }

  override reset(): void {
    this.memory.fill(0);
  }
}
