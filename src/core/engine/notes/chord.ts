import { DRAWN, KEPT, type CompiledPath } from '../program/compiledPath';
import { Draws } from './draws';

/** The farthest a drawn note is from the one that was played, in steps of the scale. */
const FARTHEST = 12;

/** What a chord adds to a note: seeded, so that a kept harmony is the same for a key each time. */
export class ChordMaker {
  /** The keys of the last chord, the played one first. */
  readonly keys = new Int16Array(8);
  count = 0;
  private readonly drawn = new Uint8Array(FARTHEST + 1);
  private readonly chance = new Draws(1);

  begin(seed: number): void {
    this.chance.seed(seed);
  }

  /**
   * Works out the chord of a key that has been through the scale. Notes that the keyboard does not have are left out.
   */
  make(path: CompiledPath, key: number): void {
    const { added, scaleKeys, scalePlace, harmony } = path;
    this.keys[0] = key;
    this.count = 1;
    if (added.length === 0) return;
    if (harmony === KEPT) this.chance.seed(path.seed * 128 + key);
    this.drawn.fill(0);
    for (let i = 0; i < added.length; i++) {
      if (harmony === KEPT || harmony === DRAWN) {
        // Third to twelfth step above, each at most once.
        let step = 2 + this.chance.below(FARTHEST - 1);
        while (this.drawn[step] === 1) step = step === FARTHEST ? 2 : step + 1;
        this.drawn[step] = 1;
        this.add(this.inScale(scaleKeys, scalePlace[key] + step));
      } else if (path.inSteps) this.add(this.inScale(scaleKeys, scalePlace[key] + added[i]));
      else this.add(key + added[i]);
    }
  }

  private inScale(scaleKeys: Int16Array, place: number): number {
    return place < 0 || place >= scaleKeys.length ? -1 : scaleKeys[place];
  }

  private add(key: number): void {
    if (key < 0 || key > 127) return;
    for (let i = 0; i < this.count; i++) if (this.keys[i] === key) return;
    this.keys[this.count++] = key;
  }
}
