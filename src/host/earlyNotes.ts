import type { EngineEvent } from '../core/engine/hands/event';

/** Notes that wait for sound: so many at most, and no longer than this. */
const MOST_EARLY = 64;
const EARLY_MS = 5000;

/** Notes that were played before there was sound: they wait for it, so that the very first key is heard. */
export class EarlyNotes {
  private readonly notes: { event: EngineEvent; atMs: number }[] = [];

  add(event: EngineEvent): void {
    if (this.notes.length < MOST_EARLY) this.notes.push({ event, atMs: performance.now() });
  }

  forget(): void {
    this.notes.length = 0;
  }

  get strikes(): readonly { key: number; velocity: number }[] {
    return this.notes.flatMap(({ event }) => (event.type === 'noteOn' ? [event] : []));
  }

  /** What waited, in seconds after the first, as far apart as it was played; what was struck too long ago is left out. */
  take(): { event: EngineEvent; after: number }[] {
    const now = performance.now();
    const waiting = this.notes.splice(0).filter(({ atMs }) => now - atMs < EARLY_MS);
    return waiting.map(({ event, atMs }) => ({ event, after: (atMs - waiting[0].atMs) / 1000 }));
  }
}
