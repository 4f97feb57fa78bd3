/** What is sent to. `at` in milliseconds of the page's clock: when it is to go out; absent: now. */
export interface OutputPort {
  send(bytes: readonly number[], at?: number): void;
}

/** A MIDI 1.0 cable: 31 250 bits a second, ten for each byte. Source: MIDI 1.0 Detailed Specification, hardware. */
const BYTE_MS = 10_000 / 31_250;
/** Messages are no closer than this: a thousand a second. */
const FEWEST_MS = 1;

/**
 * An output that never gets more than a cable carries. Notes and messages of their own go at once, in order; of values
 * that move only the newest waits for room, each in its turn.
 */
export class Cable {
  /** When all that was sent has gone through. */
  private freeAt = 0;
  private readonly waiting = new Map<number, readonly number[]>();

  constructor(private readonly port: OutputPort) {}

  /** Goes out now, or at a time; never waits and is never left out. */
  send(bytes: readonly number[], now: number, at?: number): void {
    this.take(bytes, now);
    this.port.send(bytes, at);
  }

  /** A value that moves, by what it is: what waited for that is replaced. */
  move(what: number, bytes: readonly number[], now: number): void {
    this.waiting.set(what, bytes);
    this.flush(now);
  }

  /** Sends what waits, as far as there is room now. */
  flush(now: number): void {
    for (const [what, bytes] of this.waiting) {
      if (this.freeAt > now) return;
      this.waiting.delete(what);
      this.send(bytes, now);
    }
  }

  /** Forgets what waits of one value. */
  forget(what: number): void {
    this.waiting.delete(what);
  }

  private take(bytes: readonly number[], now: number): void {
    this.freeAt = Math.max(this.freeAt, now) + Math.max(FEWEST_MS, bytes.length * BYTE_MS);
  }
}
