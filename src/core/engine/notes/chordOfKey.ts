import type { NotePath } from '../../rig/schema';
import { ChordMaker } from './chord';
import { compilePath } from '../program/compiledPath';

/**
 * The keys that scale and chord make of a key (after transposition), the played one first; none where it stays silent.
 * Of a harmony that is drawn anew each time, one that may fall.
 */
export function chordOfKey(path: NotePath, key: number): number[] {
  const compiled = compilePath(path, []);
  if (key < 0 || key > 127) return [];
  const snapped = compiled.snap ? compiled.snap[key] : key;
  if (snapped < 0) return [];
  const maker = new ChordMaker();
  maker.begin(path.seed);
  maker.make(compiled, snapped);
  return [...maker.keys.subarray(0, maker.count)];
}
