/** Ticks of MIDI clock in a quarter (MIDI 1.0). */
const TICKS = 24;
/** Ticks are given out so far ahead, with their times; no farther, for they cannot be taken back. */
const AHEAD_MS = 40;
/** Farther off than this, the transport has been moved and the clock begins there. */
const JUMP_MS = 60;
/** How much of what the clock is off is made up for at each look: readings jitter, the clock must not. */
const PULL = 0.02;
/** Between a start and the first tick, so that slow instruments are ready (MIDI 1.0: at least 1 ms). */
const AFTER_START_MS = 1;

export type TimeBytes =
  readonly [0xf8] | readonly [0xfa] | readonly [0xfb] | readonly [0xfc] | readonly [0xf2, number, number];

/**
 * MIDI clock from the transport: looks at where it is every few milliseconds and gives out ticks with times that run as
 * evenly as the tempo, though the looks do not.
 */
export class ClockOut {
  private anchorMs = NaN;
  private anchorQuarters = 0;
  private tempo = 0;
  /** The next tick to be given out, counted from the beginning of the transport. */
  private next = 0;
  private lastMs = -Infinity;

  /** `send` takes bytes for a time of the page's clock in ms. */
  constructor(private readonly send: (bytes: TimeBytes, at: number) => void) {}

  /**
   * Where the transport was, in quarters, at a time, both read now; its tempo in quarters a minute. Ticks up to a
   * little ahead of now go out.
   */
  look(now: number, quarters: number, at: number, tempo: number): void {
    if (!(tempo > 0) || !Number.isFinite(quarters) || !Number.isFinite(at)) return;
    if (Number.isNaN(this.anchorMs)) this.anchor(quarters, at, tempo, now);
    const here = this.quartersAt(at);
    if (tempo !== this.tempo) {
      this.anchorQuarters = here;
      this.anchorMs = at;
      this.tempo = tempo;
    }
    const offMs = ((quarters - here) * 60_000) / tempo;
    if (Math.abs(offMs) > JUMP_MS) this.anchor(quarters, at, tempo, now);
    else this.anchorMs -= offMs * PULL;
    this.give(now);
  }

  private anchor(quarters: number, at: number, tempo: number, now: number): void {
    this.anchorMs = at;
    this.anchorQuarters = quarters;
    this.tempo = tempo;
    this.next = Math.ceil(this.quartersAt(Math.max(now, this.lastMs)) * TICKS - 1e-6);
  }

  private quartersAt(at: number): number {
    return this.anchorQuarters + ((at - this.anchorMs) * this.tempo) / 60_000;
  }
  private timeOf(tick: number): number {
    return this.anchorMs + ((tick / TICKS - this.anchorQuarters) * 60_000) / this.tempo;
  }

  private give(now: number): void {
    for (let at = this.timeOf(this.next); at < now + AHEAD_MS; at = this.timeOf(this.next)) {
      // Long silent, as in a page that slept: what is past is not made up for.
      if (at >= now - JUMP_MS) this.put([0xf8], Math.max(at, now, this.lastMs));
      this.next++;
    }
  }

  private put(bytes: TimeBytes, at: number): void {
    this.lastMs = at;
    this.send(bytes, at);
  }

  /** The transport begins at a position in quarters: from there, or from the beginning. */
  start(quarters: number, now: number): void {
    const sixteenths = Math.min(16383, Math.floor(quarters * 4));
    const at = Math.max(now, this.lastMs + 0.1);
    if (sixteenths > 0) this.put([0xf2, sixteenths & 127, sixteenths >> 7], at);
    this.put(sixteenths > 0 ? [0xfb] : [0xfa], at);
    this.lastMs = at + AFTER_START_MS;
    // The first tick after a start is the beginning itself, however late.
    this.anchorQuarters = quarters;
    this.anchorMs = now;
    this.next = Math.ceil(quarters * TICKS - 1e-6);
    if (this.tempo > 0) this.give(now);
    else this.anchorMs = NaN;
  }

  stop(now: number): void {
    this.put([0xfc], Math.max(now, this.lastMs));
  }
}
