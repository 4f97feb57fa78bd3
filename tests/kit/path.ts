/** What the tests of note paths share. */
import type { Engine } from '../../src/core/engine/engine';
import type { EngineEvent } from '../../src/core/engine/hands/event';
import { MadeReader, type MadeNote } from '../../src/core/engine/offline/made';
import { newPath } from '../../src/core/rig/defaults';
import { patternOf } from '../../src/core/music/arpeggios';
import type { Layer, NotePath } from '../../src/core/rig/schema';
import { RATE, render, start, type Setup } from './engine';

export type PathChange = { [K in keyof NotePath]?: NotePath[K] extends object ? Partial<NotePath[K]> : NotePath[K] };
/** A path with some of it changed. */
export function path(change: PathChange): NotePath {
  const plain = newPath();
  return Object.fromEntries(
    Object.entries(plain).map(([id, value]) => {
      const other = change[id as keyof NotePath];
      return [id, typeof value === 'object' && value !== null ? { ...value, ...(other as object) } : (other ?? value)];
    }),
  ) as unknown as NotePath;
}
export const arpeggio = (change: Partial<NotePath['arpeggio']> = {}, pattern = 'x'): PathChange => ({
  arpeggio: { on: true, pattern: patternOf(pattern), ...change },
});
export const withPath = (change: PathChange, more: Partial<Layer> = {}): Partial<Layer> => ({
  path: path(change),
  ...more,
});

/** Plays events at seconds, and gives the notes that the paths make. */
export function madeBy(
  setup: Setup,
  events: readonly (readonly [seconds: number, event: EngineEvent])[],
  seconds: number,
  before: (engine: Engine) => void = () => undefined,
): { notes: MadeNote[]; engine: Engine; left: Float32Array } {
  const engine = start(setup);
  before(engine);
  const reader = new MadeReader(engine);
  const notes: MadeNote[] = [];
  for (const [at, event] of events) {
    engine.handle(event, Math.round(at * RATE));
    notes.push(...reader.take());
  }
  const frames = Math.round(seconds * RATE);
  const left = new Float32Array(frames);
  for (let at = 0; at < frames; at += 128) {
    const piece = render(engine, Math.min(128, frames - at));
    left.set(piece.left, at);
    notes.push(...reader.take());
  }
  return { notes, engine, left };
}

/** Strikes alone, as keys. */
export const keysOf = (notes: readonly MadeNote[]): number[] =>
  notes.filter(({ velocity }) => velocity > 0).map(({ key }) => key);
/** Strikes alone, as seconds. */
export const timesOf = (notes: readonly MadeNote[]): number[] =>
  notes.filter(({ velocity }) => velocity > 0).map(({ frame }) => frame / RATE);
