import type { ProgramLayer } from './program';
import type { Evaluator } from './evaluate';
import { TICK } from './tick';

/** What the engine keeps for a layer while its program, or its voices, last. */
export class LayerState {
  readonly left = new Float64Array(TICK);
  readonly right = new Float64Array(TICK);
  /** Mute, solo, volume and expression together; smoothed. NaN: take the target at once. */
  gain = NaN;
  peak = 0;
  /** Voices that sound now; counted anew in each span. */
  voices = 0;
  program: ProgramLayer;
  /** Null once another patch took over: what still sounds keeps its values. */
  evaluator: Evaluator | null;

  constructor(program: ProgramLayer, evaluator: Evaluator) {
    this.program = program;
    this.evaluator = evaluator;
  }
}
