import type { Kernel } from '../../dsp/kernel/kernel';
import { MOST_VOICE_BLOCKS } from '../../dsp/kernel/layout';
import { ADDRESSES, type Controllers } from '../hands/controllers';
import type { LayerPath } from './layerPath';
import type { ProgramLayer } from '../program/program';
import { MOST_SPANS } from '../program/tick';

/**
 * How the gains common to all layers move within a run, and over which spans: fields of arrays, because fractions
 * handed to a function may be put on the heap.
 */
export interface Motion {
  spans: number;
  /** Frames of each span. */
  readonly frames: Uint8Array;
  /** By frames, the share by which values near their targets. */
  readonly smoothing: Float64Array;
  /** Main gain at the beginning of each span, and at the end of the last. */
  readonly main: Float64Array;
  /** Where the layer's own gain is heading. */
  target: number;
}

/** The patch that a layer belongs to, as far as the layer must know it. */
export interface Owner {
  readonly controllers: Controllers;
  readonly ringsOut: boolean;
  readonly program: { readonly specs: readonly { readonly waves: readonly string[] }[] };
}

/** What holds a note: its key, the sustain pedal, the sostenuto pedal. */
export const DOWN = 1,
  SUSTAINED = 2,
  CAUGHT = 4;

/** What the engine keeps for a layer while its program, or its voices, last. */
export class LayerState {
  /** Mute, solo, volume and expression together; smoothed. NaN: take the target at once. */
  gain = NaN;
  peak = 0;
  /** The same at the beginning of each span of the run, and at the end of the last. */
  private readonly gains = new Float64Array(MOST_SPANS + 1);
  /** The voices that sound in this run, as places in the pool. */
  readonly voices = new Uint16Array(MOST_VOICE_BLOCKS);
  voiceCount = 0;
  /**
   * By address and key: what holds the note that was struck there (a sum of {@link DOWN}, {@link SUSTAINED} and {@link
   * CAUGHT}); 0 where none goes on. For release zones.
   */
  readonly held = new Uint8Array(ADDRESSES * 128);
  /** Whether the note that ends just now is one of this layer. */
  ending = false;
  /** Muted, or left out by a solo, when another patch took over. */
  shut = false;
  program: ProgramLayer;
  /** No longer in its patch: what still sounds keeps its values. */
  deleted = false;
  /** The state of things in which its hands were looked at last. */
  epoch = -1;
  /** Greatest sample of the last run: what followers hear. */
  level = 0;

  /** What its notes go through; kept after it was taken off, until what it made has ended. */
  path: LayerPath | null = null;
  /** The key that was struck last, as its sound had it: where a glide begins. NaN: none was. */
  lastKey = NaN;
  /** The sound of its list that a program change picked; −1: none did. */
  picked = -1;

  constructor(
    program: ProgramLayer,
    readonly patch: Owner,
  ) {
    this.program = program;
  }

  /** Moves the layer's gain through the run. */
  approach({ spans, frames, smoothing, target }: Motion): void {
    const { gains } = this;
    gains[0] = Number.isNaN(this.gain) ? target : this.gain;
    for (let s = 0; s < spans; s++) gains[s + 1] = near(gains[s], target, smoothing[frames[s]]);
    this.gain = gains[spans];
  }

  /** Whether the layer lets anything through in a span. */
  isHeard(span: number): boolean {
    return this.gains[span] !== 0 || this.gains[span + 1] !== 0;
  }

  /** Its gain at the beginning of a span of the run; after the last one, at its end. */
  gainAt(span: number): number {
    return this.gains[span];
  }

  /**
   * Adds the layer's run, which the kernel's bus holds, to the output, both gains moving in straight lines; keeps its
   * peak.
   */
  mixInto({ bus, busRight }: Kernel, left: Float32Array, right: Float32Array, { spans, frames, main }: Motion): void {
    this.level = 0;
    if (this.voiceCount === 0) return;
    const { gains } = this;
    let peak = 0;
    for (let s = 0, i = 0; s < spans; s++) {
      let gain = gains[s];
      let whole = main[s];
      const gainStep = (gains[s + 1] - gain) / frames[s];
      const mainStep = (main[s + 1] - whole) / frames[s];
      for (const end = i + frames[s]; i < end; i++) {
        gain += gainStep;
        whole += mainStep;
        const l = bus[i] * gain;
        const r = busRight[i] * gain;
        const height = Math.max(Math.abs(l), Math.abs(r));
        if (height > peak) peak = height;
        left[i] += l * whole;
        right[i] += r * whole;
      }
    }
    this.level = peak;
    if (peak > this.peak) this.peak = peak;
  }
}

/** A value on its way to a target: nearer by a share, and there once next to nothing is left. */
export const near = (now: number, target: number, share: number): number =>
  Math.abs(target - now) < 1e-6 ? target : now + (target - now) * share;
