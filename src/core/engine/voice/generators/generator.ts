import type { OwnGlide } from './ownGlide';

/**
 * What makes the sound of a voice before its filters: samples, oscillators, grains. It is made once for a voice and
 * begins anew with each note; nothing of it allocates or throws.
 * Fractions are handed over in arrays: one that a function takes or gives may be put on the heap.
 */
export interface Generator {
  /** 1: what it makes is in the kernel's left buffer alone. */
  channels: 1 | 2;
  /** The values that this kind of sound alone has; null: it has none. */
  readonly values: OwnGlide | null;
  /** Frames of output after which it has nothing more to say, as far as {@link endsWithin} found. */
  readonly left: Float64Array;
  /** It gives a second sound that goes to the second filter alone, and a third one that goes past the filters. */
  readonly hasSide: boolean;
  readonly hasPast: boolean;
  /** Makes ready for a pitch that comes: so many times the generator's own, `values[at]`. */
  prepare(values: Float64Array, at: number): void;
  /** Goes on with that pitch. */
  speed(values: Float64Array, at: number): void;
  /** Makes `frames` frames into the kernel's buffers. */
  make(frames: number): void;
  /** The same, filtered and added to the bus, in one go: false where that cannot be. */
  playWhole(at: number, frames: number, sections: number): boolean;
  /** Goes on unheard. */
  skip(frames: number): void;
  /** Whether it ends so soon that it must fade from now on: see {@link left}. */
  endsWithin(frames: number): boolean;
  /** Whether it moves so slowly that it never ends by itself: by less than a frame of its recording in a second. */
  readonly stands: boolean;
  /** Frames of its recording; 0: it has none that it goes through. */
  readonly ownFrames: number;
  /** The key, or what held it, let go. */
  release(): void;
  /** The voice has ended. */
  end(): void;
}
