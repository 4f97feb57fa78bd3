import { MOST_PATTERN, patternOf, type ArpeggioPreset, type ArpeggioStep } from '../../music/arpeggios';
import { noteValue } from '../../music/time';
import type { NotePath, Patch } from '../schema';
import { setParam, updateLayer } from './layers';

/** Changes what becomes of a layer's notes between key and sound. */
export const changePath = (patch: Patch, layerId: string, change: (path: NotePath) => NotePath): Patch =>
  updateLayer(patch, layerId, (layer) => {
    const path = change(layer.path);
    return path === layer.path ? layer : { ...layer, path };
  });

/** One step of an arpeggio's pattern. */
export const setStep = (patch: Patch, layerId: string, at: number, change: Partial<ArpeggioStep>): Patch =>
  changePath(patch, layerId, (path) => ({
    ...path,
    arpeggio: {
      ...path.arpeggio,
      pattern: path.arpeggio.pattern.map((step, i) => (i === at ? { ...step, ...change } : step)),
    },
  }));

/** The length of a pattern: new steps repeat it from its beginning. */
export const setPatternLength = (patch: Patch, layerId: string, length: number): Patch =>
  changePath(patch, layerId, (path) => {
    const { pattern } = path.arpeggio;
    const held = Math.min(MOST_PATTERN, Math.max(1, Math.round(length)));
    return {
      ...path,
      arpeggio: { ...path.arpeggio, pattern: Array.from({ length: held }, (_, i) => pattern[i % pattern.length]) },
    };
  });

/** Puts one of our arpeggios into a layer and turns it on. */
export function putArpeggio(
  patch: Patch,
  layerId: string,
  { order, rate, pattern, octaves, swing, gate }: ArpeggioPreset,
): Patch {
  const next = changePath(patch, layerId, (path) => ({
    ...path,
    arpeggio: { ...path.arpeggio, on: true, order, pattern: patternOf(pattern) },
  }));
  return (
    Object.entries({ arpRate: noteValue(rate), arpOctaves: octaves, arpSwing: swing, arpGate: gate }) as [
      'arpRate',
      number,
    ][]
  ).reduce((made, [id, value]) => setParam(made, layerId, id, value), next);
}
