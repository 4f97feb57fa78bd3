import type { ToEngine } from './protocol';

/**
 * What an engine has done, block by block, as another one has to be told that plays in step: memory that the audio thread
 * writes and the page reads. Whole numbers first (see {@link COUNT}), then sums of seconds, then messages.
 */
const SUMS = 16,
  ENTRIES = 4096;
/** Blocks that were made, messages that were received, seconds that were summed. */
const COUNT = { blocks: 0, received: 1, seconds: 2 };
const HEAD_BYTES = 16;
const SUMS_AT = 0,
  ENTRIES_AT = 2 * SUMS;
export const STEP_LOG_BYTES = HEAD_BYTES + 8 * (ENTRIES_AT + 2 * ENTRIES);
const BLOCK = 128;

export interface Sum {
  second: number;
  /** Over all bits of both channels (FNV-1a by words; Fowler, Noll, Vo), a signed whole number. */
  hash: number;
  /** Mean square. */
  power: number;
}

/** The audio thread's side. Allocates nothing. */
export class StepWriter {
  private readonly counts: Int32Array;
  private readonly numbers: Float64Array;
  private readonly bits = new Float32Array(BLOCK);
  private readonly words = new Int32Array(this.bits.buffer);
  private readonly blocksOfASecond: number;
  private received = 0;
  private seconds = 0;
  private hash = 0;
  private power = 0;
  /** Blocks that were made. */
  blocks = 0;

  /** `memory` of {@link STEP_LOG_BYTES}, shared with the page. */
  constructor(memory: SharedArrayBuffer, rate: number) {
    this.counts = new Int32Array(memory, 0, HEAD_BYTES / 4);
    this.numbers = new Float64Array(memory, HEAD_BYTES);
    this.blocksOfASecond = Math.round(rate / BLOCK);
    this.begin();
  }

  private begin(): void {
    this.hash = 0x811c9dc5 | 0;
    this.power = 0;
  }

  /** A message came before the block that is made next; an event so many frames ahead. */
  hear(ahead: number): void {
    const at = ENTRIES_AT + 2 * (this.received % ENTRIES);
    this.numbers[at] = this.blocks;
    this.numbers[at + 1] = ahead;
    Atomics.store(this.counts, COUNT.received, ++this.received);
  }

  /** A block was made. */
  add(left: Float32Array, right: Float32Array): void {
    this.sum(left);
    this.sum(right);
    if (++this.blocks % this.blocksOfASecond === 0) {
      const at = SUMS_AT + 2 * (this.seconds % SUMS);
      this.numbers[at] = this.hash;
      this.numbers[at + 1] = this.power / (2 * BLOCK * this.blocksOfASecond);
      Atomics.store(this.counts, COUNT.seconds, ++this.seconds);
      this.begin();
    }
    Atomics.store(this.counts, COUNT.blocks, this.blocks);
  }

  private sum(channel: Float32Array): void {
    const { bits, words } = this;
    bits.set(channel);
    let { hash, power } = this;
    for (let i = 0; i < BLOCK; i++) {
      hash = Math.imul(hash ^ words[i], 16777619);
      power += bits[i] * bits[i];
    }
    this.hash = hash;
    this.power = power;
  }
}

/** The page's side: what is new since it was read last. */
export class StepReader {
  private readonly counts: Int32Array;
  private readonly numbers: Float64Array;
  private seen = 0;
  private summed = 0;

  constructor(memory: SharedArrayBuffer) {
    this.counts = new Int32Array(memory, 0, HEAD_BYTES / 4);
    this.numbers = new Float64Array(memory, HEAD_BYTES);
  }

  get blocks(): number {
    return Atomics.load(this.counts, COUNT.blocks);
  }

  /**
   * Tells of each message since, in their order: its number from 0, the block before which it came, frames ahead. Gives the
   * block before which nothing else has come, or undefined where the page was away too long: some are lost.
   */
  read(each: (n: number, at: number, ahead: number) => void): number | undefined {
    // First: what comes after this is told the next time, as later than that.
    const { blocks } = this;
    const received = Atomics.load(this.counts, COUNT.received);
    if (received - this.seen > ENTRIES / 2) return undefined;
    for (; this.seen < received; this.seen++) {
      const at = ENTRIES_AT + 2 * (this.seen % ENTRIES);
      each(this.seen, this.numbers[at], this.numbers[at + 1]);
    }
    return blocks;
  }

  /** Sums of seconds since they were read last; of a page that was away, the last ones. */
  sums(): Sum[] {
    const seconds = Atomics.load(this.counts, COUNT.seconds);
    this.summed = Math.max(this.summed, seconds - SUMS + 1);
    const sums: Sum[] = [];
    for (; this.summed < seconds; this.summed++) {
      const at = SUMS_AT + 2 * (this.summed % SUMS);
      sums.push({ second: this.summed, hash: this.numbers[at], power: this.numbers[at + 1] });
    }
    return sums;
  }
}

/** Blocks that a follower stays behind at the most before it hurries, and how many it then makes for one. */
const BEHIND = 40,
  FAR_BEHIND = 400,
  HURRY = 2,
  HASTE = 4;

/**
 * What an engine that follows was told for blocks to come. It makes none before it knows all that belongs to it; how many it
 * makes at a time keeps it a little behind the one that leads, whichever clock runs faster.
 */
export class Script {
  private readonly waiting: { at: number; ahead: number; message: ToEngine }[] = [];
  private next = 0;
  /** All is known that belongs to blocks before this one. */
  upTo = 0;

  tell(at: number, ahead: number, message: ToEngine): void {
    this.waiting.push({ at, ahead, message });
  }

  /** How many blocks are to be made now, at a block. */
  blocksNow(block: number): number {
    const behind = this.upTo - block;
    if (behind <= 0) return 0;
    if (behind <= BEHIND) return 1;
    return behind > FAR_BEHIND ? HASTE : HURRY;
  }

  /** Does what belongs before a block. */
  before(block: number, act: (message: ToEngine, ahead: number) => void): void {
    while (this.next < this.waiting.length && this.waiting[this.next].at <= block) {
      const { message, ahead } = this.waiting[this.next++];
      act(message, ahead);
    }
    if (this.next === this.waiting.length && this.next > 0) this.waiting.length = this.next = 0;
  }
}
