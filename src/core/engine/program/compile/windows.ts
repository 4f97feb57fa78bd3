import type { Layer, LayerWindow } from '../../../rig/schema';
import { parseSource, staysForNote } from '../../../space/source';
import type { CompiledWindow, WindowSet } from '../program';

/**
 * A layer's windows as they hold for keys as they are played: those on keys may be meant for the key that transposition
 * makes of one.
 */
export const windowsAsPlayed = ({ path, windows, transpose }: Layer): readonly LayerWindow[] =>
  path.ranges === 'made' && transpose !== 0
    ? windows.map((window) =>
        window.source === 'key' ? { ...window, low: window.low - transpose, high: window.high - transpose } : window,
      )
    : windows;

/** Windows by places of sources. One that is read at the strike only counts as such where its source would move on. */
export function windowSetOf(windows: readonly LayerWindow[], slotOf: ReadonlyMap<string, number>): WindowSet {
  const set: WindowSet = { atStrike: [], followed: [] };
  for (const { source, read, ...range } of windows) {
    const fixed = staysForNote(parseSource(source)!.kind);
    const compiled: CompiledWindow = { ...range, source: slotOf.get(source)!, fixed };
    (read === 'at-strike' && !fixed ? set.atStrike : set.followed).push(compiled);
  }
  return set;
}
