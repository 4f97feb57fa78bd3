import { compile, contextOf, isSameContext } from '../../core/engine/program/compile';
import type { Program } from '../../core/engine/program/program';
import type { Patch, Rig } from '../../core/rig/schema';

interface Made {
  rig: Rig;
  rate: number | undefined;
  program: Program;
}
const made = new WeakMap<Patch, Made>();

/**
 * The program of a patch; made once for the same patch in the same context, so that a step that was
 * prepared costs nothing when it comes. Throws where it cannot be compiled.
 */
export function programOf(patch: Patch, rig: Rig, rate: number | undefined): Program {
  const known = made.get(patch);
  if (known && isSameContext(known.rig, rig) && known.rate === rate) return known.program;
  const program = compile(patch, contextOf(rig, rate));
  made.set(patch, { rig, rate, program });
  return program;
}

/** The same, or undefined where it cannot be compiled. */
export function programIfAny(patch: Patch, rig: Rig, rate: number | undefined): Program | undefined {
  try {
    return programOf(patch, rig, rate);
  } catch {
    return undefined;
  }
}
