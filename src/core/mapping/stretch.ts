import { KEYS } from '../music/pitch';

/**
 * How samples reach the keys between their roots: each to half-way, each up to the next root, each down to the one
 * before, or not at all.
 */
export type Stretch = 'none' | 'nearest' | 'up' | 'down';
export const STRETCHES: readonly Stretch[] = ['none', 'nearest', 'up', 'down'];

/**
 * The keys each root reaches; the outermost reach the ends of the keyboard, so that no key is dead (unless nothing is
 * stretched).
 */
export function stretchedKeys(roots: readonly number[], stretch: Stretch): Map<number, { low: number; high: number }> {
  const sorted = [...new Set(roots)].sort((a, b) => a - b);
  return new Map(
    sorted.map((root, i) => {
      if (stretch === 'none') return [root, { low: root, high: root }];
      const before = sorted[i - 1];
      const after = sorted[i + 1];
      const low =
        before === undefined
          ? 0
          : stretch === 'nearest'
            ? Math.floor((before + root) / 2) + 1
            : stretch === 'up'
              ? root
              : before + 1;
      const high =
        after === undefined
          ? KEYS - 1
          : stretch === 'nearest'
            ? Math.floor((root + after) / 2)
            : stretch === 'up'
              ? after - 1
              : root;
      return [root, { low, high }];
    }),
  );
}
