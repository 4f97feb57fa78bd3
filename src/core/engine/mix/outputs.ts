import { RUN } from '../program/tick';
import type { PlaceState } from './places';
import { MOST_PAIRS } from '../../rig/limits';

/** The pairs of outputs in a run: the engine's own run first, then those beside it. */
export class Outputs {
  readonly left: Float32Array[] = [];
  readonly right: Float32Array[] = [];
  /** By pair of the rig, the pair of outputs that it goes to; by itself everything goes to the first. */
  readonly to = new Uint8Array(MOST_PAIRS);

  constructor() {
    for (let pair = 0; pair < MOST_PAIRS; pair++) {
      this.left.push(new Float32Array(RUN));
      this.right.push(new Float32Array(RUN));
    }
  }

  /** Pairs of outputs that anything may go to: the first, and those up to the last that is mapped to. */
  count = 1;

  /** Where the pairs of the rig go; what has no place among them goes to the first. */
  map(to: readonly number[]): void {
    for (let pair = 0; pair < this.to.length; pair++)
      this.to[pair] = to[pair] > 0 && to[pair] < this.to.length ? to[pair] : 0;
    this.count = this.left.length;
    this.clear(RUN);
    this.count = 1 + Math.max(...this.to);
  }

  clear(frames: number): void {
    for (let pair = 0; pair < this.count; pair++) {
      const left = this.left[pair],
        right = this.right[pair];
      for (let i = 0; i < frames; i++) left[i] = right[i] = 0;
    }
  }
}

/**
 * What goes to pairs of outputs by name goes there, whatever is listened to alone. `hush`: how far silence has come, and
 * where it goes; `step`: how far in a frame.
 */
export function drainPairs(
  places: readonly PlaceState[],
  outputs: Outputs,
  hush: Float64Array,
  step: number,
  total: number,
): void {
  for (let p = 0; p < places.length; p++) {
    const { compiled, sounds, outLeft, outRight } = places[p];
    if (compiled.pair < 0 || !sounds) continue;
    const left = outputs.left[outputs.to[compiled.pair]],
      right = outputs.right[outputs.to[compiled.pair]];
    let quiet = hush[0];
    for (let i = 0; i < total; i++) {
      quiet = hush[1] > quiet ? Math.min(1, quiet + step) : Math.max(hush[1], quiet - step);
      left[i] += outLeft[i] * quiet;
      right[i] += outRight[i] * quiet;
    }
  }
}
