import type { Engine } from '../engine';
import { ANSWERS } from '../program/tick';

/**
 * A note that the path of a layer made, or (velocity 0) ended: the layer's place in the patch, the key it sounds at,
 * and the frame.
 */
export interface MadeNote {
  layer: number;
  key: number;
  velocity: number;
  frame: number;
}

/** One entry of the ring that an engine keeps. */
export const unpackMade = (packed: number): { layer: number; key: number; velocity: number } => ({
  layer: packed >> 14,
  key: (packed >> 7) & 127,
  velocity: packed & 127,
});

/**
 * Collects the notes that paths make while an engine is played in short pieces: what is asked for too seldom is lost.
 */
export class MadeReader {
  private seen: number;

  constructor(private readonly engine: Engine) {
    this.seen = engine.readings.madeCount;
  }

  take(): MadeNote[] {
    const { engine } = this;
    const found: MadeNote[] = [];
    for (
      this.seen = Math.max(this.seen, engine.readings.madeCount - ANSWERS);
      this.seen < engine.readings.madeCount;
      this.seen++
    ) {
      const at = this.seen % ANSWERS;
      found.push({ ...unpackMade(engine.readings.madeNotes[at]), frame: engine.readings.madeFrames![at] });
    }
    return found;
  }
}
