import type { Kernel } from '../dsp/kernel/kernel';
import { MOST_VOICE_BLOCKS } from '../dsp/kernel/layout';
import type { ProgramLayer } from './program';
import type { Evaluator } from './evaluate';

/** How gains move within a span. An object, because fractions handed to a function may be put on the heap. */
export interface Motion { share: number; target: number; mainFrom: number; mainTo: number }

/** What the engine keeps for a layer while its program, or its voices, last. */
export class LayerState {
  /** Mute, solo, volume and expression together; smoothed. NaN: take the target at once. */
  gain = NaN;
  peak = 0;
  /** The voices that sound in this span, as places in the pool. */
  readonly voices = new Uint16Array(MOST_VOICE_BLOCKS);
  voiceCount = 0;
  program: ProgramLayer;
  /** Null once another patch took over: what still sounds keeps its values. */
  evaluator: Evaluator | null;

  constructor(program: ProgramLayer, evaluator: Evaluator) {
    this.program = program;
    this.evaluator = evaluator;
  }

  /** Adds the layer's span, which the kernel's bus holds, to the output, its own gain nearing the target by the share and the main gain moving in a straight line; keeps its peak. */
  mixInto({ bus, busRight }: Kernel, left: Float32Array, right: Float32Array, frames: number, { share, target, mainFrom, mainTo }: Motion): void {
    const gainFrom = Number.isNaN(this.gain) ? target : this.gain;
    this.gain = near(gainFrom, target, share);
    if (this.voiceCount === 0) return;
    let gain = gainFrom;
    let main = mainFrom;
    let { peak } = this;
    const gainStep = (this.gain - gainFrom) / frames;
    const mainStep = (mainTo - mainFrom) / frames;
    for (let i = 0; i < frames; i++) {
      gain += gainStep;
      main += mainStep;
      const l = bus[i] * gain;
      const r = busRight[i] * gain;
      const height = Math.max(Math.abs(l), Math.abs(r));
      if (height > peak) peak = height;
      left[i] += l * main;
      right[i] += r * main;
    }
    this.peak = peak;
  }
}

/** A value on its way to a target: nearer by a share, and there once next to nothing is left. */
export const near = (now: number, target: number, share: number): number => (Math.abs(target - now) < 1e-6 ? target : now + (target - now) * share);
