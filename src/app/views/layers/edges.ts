import { nameOfKey, type MiddleC } from '../../../core/music/noteNames';
import type { Layer, Mark, Patch } from '../../../core/rig/schema';

/** An edge of a layer on the field: on which of its sides, at which key or velocity, and how it is said. */
export interface Edge {
  layerId: string;
  mark: Mark;
  on: 'key' | 'velocity';
  at: number;
  says: string;
}

/** With more edges than so many, only those of the chosen layer are written. */
export const MOST_WRITTEN = 8;

const edgesOfLayer = ({ id, mark, windows }: Layer, middleC: MiddleC): Edge[] =>
  windows.flatMap(({ source, low, high }): Edge[] => {
    if (source !== 'key' && source !== 'velocity') return [];
    const lowest = source === 'key' ? 0 : 1;
    const say = (value: number) => (source === 'key' ? nameOfKey(value, middleC) : `velocity ${value}`);
    const edge: Omit<Edge, 'at' | 'says'> = { layerId: id, mark, on: source };
    return [
      ...(low > lowest ? [{ ...edge, at: low, says: `from ${say(low)}` }] : []),
      ...(high < 127 ? [{ ...edge, at: high, says: `up to ${say(high)}` }] : []),
    ];
  });

/** The edges to be written: those of all layers that sound, or where these are too many, of the chosen one. */
export function edgesOf(patch: Patch, chosenId: string | null, middleC: MiddleC): Edge[] {
  const all = patch.layers.filter(({ on }) => on).flatMap((layer) => edgesOfLayer(layer, middleC));
  return all.length <= MOST_WRITTEN ? all : all.filter(({ layerId }) => layerId === chosenId);
}

/** Rows for labels of a width that begin at places along a line, so that none lies on another. */
export function rowsFor(places: readonly number[], width: number): number[] {
  const ends: number[] = [];
  return places.map((place) => {
    const free = ends.findIndex((end) => place >= end);
    const row = free >= 0 ? free : ends.length;
    ends[row] = place + width;
    return row;
  });
}
