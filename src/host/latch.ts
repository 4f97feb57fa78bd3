import type { EngineEvent } from '../core/engine/hands/event';

type NoteEvent = Extract<EngineEvent, { type: 'noteOn' | 'noteOff' }>;

const AHEAD_SECONDS = 0.08;
const EVERY_MS = 25;
/** A repeated strike lets go of the one before this share of a step earlier. */
const GAP = 0.1;

/**
 * For hands that are busy with the mouse: *hold* keeps what was struck until it is struck again, *repeat* strikes what
 * is held again and again in time. Both stand between the hands
 * and what plays, apart from pedals and from what a layer receives.
 */
export class Latch {
  holding = false;
  repeating = false;
  /** Quarters from one repeated strike to the next. */
  quarters = 1;
  /** By port, channel and key: the strike that the finger holds, and the one that the latch holds. */
  private readonly down = new Map<string, NoteEvent & { type: 'noteOn' }>();
  private readonly kept = new Map<string, NoteEvent & { type: 'noteOn' }>();
  private timer: ReturnType<typeof setInterval> | undefined;
  private next = 0;
  private readonly listeners = new Set<() => void>();

  /** `send` plays an event, for now or for a time of the clock; `tempo` in quarters a minute. */
  constructor(
    private readonly send: (event: NoteEvent, time?: number) => void,
    private readonly clock: () => number,
    private readonly tempo: () => number,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** What the hands do. */
  take(event: NoteEvent): void {
    const key = `${event.port ?? 0} ${event.channel} ${event.key}`;
    if (event.type === 'noteOff') {
      this.down.delete(key);
      if (!this.kept.has(key)) this.send(event);
      return;
    }
    this.down.set(key, event);
    if (this.holding && this.kept.has(key)) {
      // Struck again: let go.
      this.kept.delete(key);
      this.down.delete(key);
      this.send(endOf(event));
      return;
    }
    if (this.holding) this.kept.set(key, event);
    this.send(event);
    if (this.repeating && this.down.size + this.kept.size <= 2 && this.sounding().length === 1)
      this.next = this.clock() + this.step();
  }

  setHolding(on: boolean): void {
    this.holding = on;
    if (on) for (const [key, event] of this.down) this.kept.set(key, event);
    else {
      for (const [key, event] of this.kept) if (!this.down.has(key)) this.send(endOf(event));
      this.kept.clear();
    }
    this.tell();
  }

  setRepeating(on: boolean): void {
    this.repeating = on;
    clearInterval(this.timer);
    if (on) {
      this.next = this.clock() + this.step();
      this.timer = setInterval(() => this.strikeAgain(), EVERY_MS);
    }
    this.tell();
  }

  setQuarters(quarters: number): void {
    this.quarters = quarters;
    this.tell();
  }

  /** Everything is let go; for silence, which has ended the notes already. */
  clear(): void {
    this.kept.clear();
    this.down.clear();
    this.holding = false;
    this.setRepeating(false);
  }

  private step(): number {
    return (60 / this.tempo()) * this.quarters;
  }

  private sounding(): (NoteEvent & { type: 'noteOn' })[] {
    return [...new Map([...this.kept, ...this.down]).values()];
  }

  private strikeAgain(): void {
    const now = this.clock();
    const step = this.step();
    // Behind, as after a sleep: go on from here.
    if (this.next < now - step) this.next = now;
    for (; this.next < now + AHEAD_SECONDS; this.next += step) {
      for (const event of this.sounding()) {
        this.send(endOf(event), Math.max(now, this.next - step * GAP));
        this.send(event, Math.max(now, this.next));
      }
    }
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

/** What ends a strike: by the same port and channel. */
const endOf = ({ port, channel, key }: NoteEvent): NoteEvent => ({
  type: 'noteOff',
  ...(port ? { port } : {}),
  channel,
  key,
  velocity: 64,
});
