import { windowOn } from '../../../core/rig/defaults';
import type { Layer, LayerWindow, Patch } from '../../../core/rig/schema';

/**
 * Two layers that meet on the keys: the lower one ends where the upper one begins, hard or with fades over one another.
 */
export interface Split {
  lowerId: string;
  upperId: string;
  /** First key of the upper one, or of the middle of the fade. */ key: number;
  /** Keys that sound both. */ fade: number;
}

/** The splits of a patch, from low to high. */
export function splitsOf(patch: Patch): Split[] {
  const found: Split[] = [];
  for (const lower of patch.layers) {
    for (const upper of patch.layers) {
      const [below, above] = [windowOn(lower, 'key')!, windowOn(upper, 'key')!];
      if (lower === upper || below.low >= above.low) continue;
      if (below.fadeOut === 0 && above.fadeIn === 0 && below.high + 1 === above.low)
        found.push({ lowerId: lower.id, upperId: upper.id, key: above.low, fade: 0 });
      // The gain is 0 at both ends of the fade: one fewer than its length sound both.
      else if (
        below.fadeOut > 0 &&
        below.fadeOut === above.fadeIn &&
        below.high - below.fadeOut === above.low &&
        below.high < 127
      ) {
        found.push({
          lowerId: lower.id,
          upperId: upper.id,
          key: above.low + 1 + Math.floor((above.fadeIn - 1) / 2),
          fade: above.fadeIn - 1,
        });
      }
    }
  }
  return found.sort((a, b) => a.key - b.key);
}

/**
 * The layer that met one of this layer's borders before it was moved, with the window that meets it again; undefined
 * where none did. `gap` in keys, below 0 an overlap.
 */
export function neighbourLeft(
  patch: Patch,
  mine: Layer,
  before: LayerWindow,
): { id: string; name: string; window: LayerWindow; border: number; gap: number } | undefined {
  const now = windowOn(mine, 'key')!;
  for (const other of patch.layers) {
    if (other.id === mine.id) continue;
    const theirs = windowOn(other, 'key')!;
    if (
      before.high !== now.high &&
      before.fadeOut === 0 &&
      theirs.fadeIn === 0 &&
      theirs.low === before.high + 1 &&
      now.high < theirs.high
    ) {
      return {
        id: other.id,
        name: other.name,
        window: { ...theirs, low: now.high + 1 },
        border: theirs.low,
        gap: before.high - now.high,
      };
    }
    if (
      before.low !== now.low &&
      before.fadeIn === 0 &&
      theirs.fadeOut === 0 &&
      theirs.high === before.low - 1 &&
      now.low > theirs.low
    ) {
      return {
        id: other.id,
        name: other.name,
        window: { ...theirs, high: now.low - 1 },
        border: before.low,
        gap: now.low - before.low,
      };
    }
  }
  return undefined;
}
