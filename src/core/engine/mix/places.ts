import { STRIP, type CompiledConnection, type CompiledPlace } from '../program/compiledMix';
import { RUN } from '../program/tick';
import type { EffectSlot } from './effectSlot';

/** A place at work: what flows in, its chain, its strip. */
export class PlaceState {
  readonly left = new Float32Array(RUN);
  readonly right = new Float32Array(RUN);
  readonly outLeft = new Float32Array(RUN);
  readonly outRight = new Float32Array(RUN);
  slots: EffectSlot[] = [];
  /** The chain as it will be when all that leaves it has faded; null: it is so. */
  next: EffectSlot[] | null = null;
  /** Level as a factor, balance, width as a factor: now and where they are going. NaN: at once. */
  readonly now = new Float64Array(STRIP.length).fill(NaN);
  readonly targets = new Float64Array(STRIP.length);
  /** Greatest sample since it was last asked, on each side; mean square beside it. */
  peakLeft = 0;
  peakRight = 0;
  fed = false;
  sounds = false;
  hasSounded = false;
  isLeaving = false;
  /** A pair of outputs that the program no longer has: it stays until nothing flows there. */
  ends = false;
  readonly key = new Float64Array(1).fill(NaN);
  /** States of the K-weighting on both sides, and the mean power that it gives. */
  readonly weighing = new Float64Array(8);
  readonly power = new Float64Array(1);
  /** Frames by which it is later than the layers. */
  latency = 0;
  /**
   * What flows in is lifted by this, and what goes out lowered: a level that went over to the notes stays after the
   * effects while those that leave still sound.
   */
  lift = 1;

  constructor(public compiled: CompiledPlace) {}

  get isAwake(): boolean {
    for (let n = 0; n < this.slots.length; n++) if (this.slots[n].isAwake) return true;
    return false;
  }
}

/** A connection at work. */
export class ConnectionState {
  readonly now = new Float64Array(1).fill(NaN);
  readonly targets = new Float64Array(1);
  peak = 0;
  isLeaving = false;
  delayLeft = new Float32Array(0);
  delayRight = new Float32Array(0);
  delayAt = 0;
  /** Frames since something last went in: the delay must be played out. */
  empty = 0;
  constructor(
    public compiled: CompiledConnection,
    public from: PlaceState,
    public to: PlaceState,
  ) {}

  delayBy(frames: number): void {
    if (frames === this.delayLeft.length) return;
    this.delayLeft = new Float32Array(frames);
    this.delayRight = new Float32Array(frames);
    this.delayAt = 0;
  }
}

/** Both sides of what comes out of a place. */
export const sideOf = (place: PlaceState): { left: Float32Array; right: Float32Array } => ({
  left: place.outLeft,
  right: place.outRight,
});
