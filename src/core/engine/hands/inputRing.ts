/** Frames that are kept: more than any block. */
const FRAMES = 16384;

/** What comes in from outside, frame by frame, as far as it was given: what is made later than that hears nothing. */
export class InputRing {
  /** Frames of a block that are taken at a time, so that none is written over before it is heard. */
  static readonly most = FRAMES / 4;
  readonly left = new Float32Array(FRAMES);
  readonly right = new Float32Array(FRAMES);
  /** Frames given so far. */
  given = 0;
  /** The frame that is made next: where a voice that begins now begins to hear. */
  now = 0;
  readonly mask = FRAMES - 1;

  /** Takes frames; null: silence, and so is what is no number. */
  give(left: Float32Array | null, right: Float32Array | null, from: number, frames: number): void {
    for (let i = 0; i < frames; i++) {
      const at = (this.given + i) & this.mask;
      this.left[at] = left && Number.isFinite(left[from + i]) ? left[from + i] : 0;
      this.right[at] = !right ? this.left[at] : Number.isFinite(right[from + i]) ? right[from + i] : 0;
    }
    this.given += frames;
  }
}
