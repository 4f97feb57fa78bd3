import { Evaluator } from '../../../core/engine/evaluate';
import { MOVED_PARAMETERS, type MovedParameter } from '../../../core/engine/program';
import { fromNormal, LAYER_PARAMETERS } from '../../../core/rig/parameters';
import type { Layer, Patch } from '../../../core/rig/schema';
import { labelOfSource } from '../../../core/space/source';
import { session } from '../../session';

/** What moves a target, in words; undefined when nothing does. */
export function moversOf(patch: Patch, target: string): string | undefined {
  const routes = patch.routes.filter((route) => route.on && route.target === target);
  return routes.length === 0 ? undefined : routes.map((route) => (typeof route.source === 'string' ? labelOfSource(route.source) : `“${route.source.formula}”`)).join(', ');
}

/** Where routes take a parameter now (for a note at rest), or undefined when none reaches it. */
export function movedValue(patch: Patch, layer: Layer, id: MovedParameter): number | undefined {
  const { program, hands } = session;
  const p = MOVED_PARAMETERS.indexOf(id);
  const compiled = program?.patchId === patch.id ? program.layers.find((candidate) => candidate.id === layer.id) : undefined;
  if (!program || !compiled || compiled.routes[p].length === 0) return undefined;
  const evaluator = new Evaluator(program, hands.controllers);
  evaluator.look(compiled, null);
  return fromNormal(LAYER_PARAMETERS[id], evaluator.moved(compiled.voicings[0].baseNormals[p], compiled.routes[p]));
}
