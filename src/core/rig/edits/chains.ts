import type { EffectSpec } from '../schema';

/**
 * A chain of effects as a file: its name and its effects. What it listens to and works with belongs to a patch, and
 * stays there.
 */
export const writeChain = (name: string, effects: readonly EffectSpec[]): string =>
  JSON.stringify(
    { kind: CHAIN_KIND, name, effects: effects.map((effect) => ({ ...effect, listens: null, sampleId: null })) },
    null,
    2,
  );
export const CHAIN_KIND = 'chain of effects';
