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

/** The same with two delay lines, left and then right in the memory it was given, each written round and round. */
export abstract class WorkedWithLines extends Worked {
  protected readonly memory: Float32Array;
  /** Place in a line is `frame & mask`; the right one begins at `mask + 1`. */
  protected readonly mask: number;
  /** The frame that is written next. */
  protected at = 0;

  constructor(context: EffectContext, count: number) {
    super(context, count);
    this.memory = context.memory;
    this.mask = context.memory.length / 2 - 1;
  }

  reset(): void {
    this.memory.fill(0);
  }
}
