import type { EngineEvent } from '../core/engine/hands/event';
import type { Move, Note } from '../core/rig/takes';

/** What was played and moved in a stretch of time, in quarters from its beginning. */
export interface Recorded {
  notes: Note[];
  moves: Move[];
}

/** Moves nearer to each other than this in quarters are thinned out: the newest counts. */
const FINEST = 1 / 64;
/** So many quarters before the first beat a key already means it. */
const EARLY = 1 / 4;

/**
 * Writes down what the hands play and move, by a clock of quarters. Keys that are still down at the end of a round go
 * on into the next one as a note of their own.
 */
export class TakeRecorder {
  private now: (() => number) | null = null;
  private readonly held = new Map<number, { at: number; velocity: number }>();
  private notes: Note[] = [];
  private moves: Move[] = [];

  get on(): boolean {
    return this.now !== null;
  }

  /** `now` gives the quarters since the beginning; below 0 (the count-in) nothing is kept but what is held into it. */
  start(now: () => number): void {
    this.now = now;
    this.held.clear();
    this.notes = [];
    this.moves = [];
  }

  note(event: EngineEvent): void {
    if (!this.now) return;
    const at = this.now();
    switch (event.type) {
      case 'noteOn':
        this.end(event.key, at);
        this.held.set(event.key, { at, velocity: event.velocity });
        break;
      case 'noteOff':
        this.end(event.key, at);
        break;
      case 'controller':
        if (event.controller < 120) this.move(`cc.${event.controller}`, event.value);
        break;
      case 'bend':
        this.move('bend', event.bend);
        break;
      case 'channelPressure':
        this.move('channelPressure', event.pressure);
        break;
      case 'macro':
        this.move(`macro.${event.number}`, event.value);
        break;
      case 'xy':
        this.move(`xy.${event.number}.x`, event.x);
        this.move(`xy.${event.number}.y`, event.y);
        break;
    }
  }

  /** A strip, or anything else that stands somewhere, is moved. */
  move(what: string, value: number): void {
    if (!this.now) return;
    const at = Math.max(0, this.now());
    for (let i = this.moves.length - 1; i >= 0 && at - this.moves[i][0] < FINEST; i--) {
      if (this.moves[i][1] !== what) continue;
      this.moves[i] = [this.moves[i][0], what, value];
      return;
    }
    this.moves.push([at, what, value]);
  }

  /**
   * A note that ends now. Struck in the last sixteenth of the count-in it was meant for the first beat, however short
   * it is; what ended before that is none.
   */
  private noteOf(key: number, { at: began, velocity }: { at: number; velocity: number }, at: number): Note | undefined {
    if (at <= 0 && began < -EARLY) return undefined;
    const from = Math.max(0, began);
    return [from, Math.max(1 / 64, at - (at <= 0 ? began : from)), key, velocity];
  }

  /** What was written since the last time, with the keys that are down as if they ended now; it all stays. */
  peek(): Recorded {
    const at = this.now?.() ?? 0;
    const open = [...this.held].map(([key, each]) => this.noteOf(key, each, at)).filter((note) => note !== undefined);
    return { notes: [...this.notes, ...open], moves: [...this.moves] };
  }

  private end(key: number, at: number): void {
    const open = this.held.get(key);
    if (!open) return;
    this.held.delete(key);
    const note = this.noteOf(key, open, at);
    if (note) this.notes.push(note);
  }

  /**
   * What was written since the last time; with `to`, the end of a round: keys that are down end there and begin again
   * at 0.
   */
  take(to?: number): Recorded {
    if (this.now) {
      const at = to ?? this.now();
      for (const [key, { velocity }] of [...this.held]) {
        this.end(key, at);
        if (to !== undefined) this.held.set(key, { at: 0, velocity });
      }
    }
    const recorded = { notes: this.notes, moves: this.moves };
    this.notes = [];
    this.moves = [];
    return recorded;
  }

  stop(): Recorded {
    const recorded = this.take();
    this.now = null;
    this.held.clear();
    return recorded;
  }
}
