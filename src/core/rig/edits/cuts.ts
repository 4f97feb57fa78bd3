import type { Patch } from '../schema';
import { addEffect, setEffectParam } from './mix';

/** A cut that makes room for another layer. */
export interface Cut {
  layerId: string;
  kind: 'low cut' | 'high cut';
  hz: number;
}

/** A cut of 24 dB an octave at the beginning of the chain of each layer. */
export const withCuts = (patch: Patch, cuts: readonly Cut[]): Patch =>
  cuts.reduce((left, { layerId, kind, hz }) => {
    const made = addEffect(left, `layer.${layerId}`, 'equaliser', 0);
    if (!made) return left;
    const values = { kind1: kind === 'low cut' ? 1 : 2, frequency1: hz, slope1: 3 };
    return Object.entries(values).reduce(
      (patched, [id, value]) => setEffectParam(patched, made.id, id, value),
      made.patch,
    );
  }, patch);
