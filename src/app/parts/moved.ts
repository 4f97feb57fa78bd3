import {
  fromNormal,
  parseTarget,
  SECTIONS,
  ONTO,
  SOUND_KINDS,
  toNormal,
  type GroupParameterId,
  type LayerParameterId,
  type Parameter,
  type Target,
} from '../../core/rig/parameters';
import { type LAYER_PARAMETERS } from '../../core/rig/layerParameters';
import { ratioOf } from '../../core/engine/program/compile/groups';
import { labelIn, restOfTarget } from '../../core/rig/moves';
import type { Patch, Route } from '../../core/rig/schema';
import {
  MOVED_PARAMETERS,
  OWN_MOVED,
  OWN_STRIKE,
  PAD_PARAMETERS,
  STRIKE_PARAMETERS,
  type CompiledRoute,
  type Program,
} from '../../core/engine/program/program';
import { STRIP } from '../../core/engine/program/compiledMix';
import { liveEvaluator, restingNote } from '../sound/live';
import { session } from '../sound/session';

export const sourceName = (patch: Patch, route: Pick<Route, 'source'>): string =>
  typeof route.source === 'string' ? labelIn(patch, route.source) : `“${route.source.formula}”`;

/** What moves a target, in words; undefined when nothing does. */
export function moversOf(patch: Patch, target: string): string | undefined {
  const routes = patch.routes.filter((route) => route.on && route.target === target);
  return routes.length === 0 ? undefined : routes.map((route) => sourceName(patch, route)).join(', ');
}

const note = restingNote();

interface Routed {
  parameter: Parameter;
  routes: readonly CompiledRoute[];
  layerId: string | null;
}

/** What moves a value of a layer: of its strip, of its kind of sound, while it sounds or at the strike. */
function layerRoutes(program: Program, { layerId, parameter }: Extract<Target, { kind: 'layer' }>): Routed | undefined {
  if (parameter.reach === 'patch')
    return { parameter, routes: stripRoutes(program, `layer.${layerId}`, parameter.id), layerId: null };
  const layer = program.layers.find((candidate) => candidate.id === layerId);
  if (!layer) return undefined;
  if (parameter.of) {
    const kind = SOUND_KINDS.indexOf(parameter.of);
    const own = layer.ownRoutes[kind];
    const id = parameter.id as LayerParameterId;
    const place = OWN_MOVED[kind].indexOf(id);
    const routes = place >= 0 ? own?.routes[place] : own?.strikeRoutes[OWN_STRIKE[kind].indexOf(id)];
    return routes && { parameter, routes, layerId };
  }
  const moved = (MOVED_PARAMETERS as readonly string[]).indexOf(parameter.id);
  const strike = STRIKE_PARAMETERS.indexOf(parameter.id as keyof typeof LAYER_PARAMETERS);
  const whileItSounds = moved >= 0 ? layer.routes[moved] : [];
  return { parameter, routes: whileItSounds.length > 0 ? whileItSounds : (layer.strikeRoutes[strike] ?? []), layerId };
}

/** What moves a dot, or what else a pad has. */
function padRoutes(
  program: Program,
  { number, parameter }: { number: number; parameter: Parameter },
): Routed | undefined {
  const pad = program.pads.find((candidate) => candidate.number === number);
  if (!pad) return undefined;
  const own = pad.moved.find((moved) => PAD_PARAMETERS[moved.parameter] === parameter.id)?.routes;
  const routes = parameter.id === 'x' ? pad.routesX : parameter.id === 'y' ? pad.routesY : (own ?? []);
  return { parameter, routes, layerId: null };
}

/**
 * The parameter of a target, and what its compiled routes are; undefined for a target that is not in the program that
 * plays.
 */
function compiledRoutes(patch: Patch, id: string): Routed | undefined {
  const { program } = session;
  const target = parseTarget(id);
  // In the Sounds view one sound of the patch may play alone.
  if (!target || (program?.patchId !== patch.id && !program?.patchId.startsWith('sound-'))) return undefined;
  switch (target.kind) {
    case 'layer':
      return layerRoutes(program, target);
    case 'group':
      return undefined;
    case 'main':
    case 'pool':
    case 'connection':
    case 'effect':
      return { parameter: target.parameter, routes: mixRoutes(program, target), layerId: null };
    case 'knob':
      return { parameter: target.parameter, routes: knobRoutes(program, patch, target.id), layerId: null };
    case 'macro':
    case 'blend':
      return {
        parameter: target.parameter,
        routes: program.sources.find((slot) => slot.id === id)?.routes ?? [],
        layerId: null,
      };
    case 'xy':
      return padRoutes(program, target);
    default: {
      const mover = program.movers.find((candidate) => candidate.id === `${target.kind}.${target.number}`);
      const at = Object.keys(SECTIONS[target.kind]).indexOf(target.parameter.id);
      return (
        mover && {
          parameter: target.parameter,
          routes: mover.moved.find(({ parameter }) => parameter === at)?.routes ?? [],
          layerId: null,
        }
      );
    }
  }
}

/** What moves a value of an instrument outside. */
const knobRoutes = (program: Program, patch: Patch, id: string): readonly CompiledRoute[] =>
  program.knobs.routes[patch.knobs.findIndex((knob) => knob.id === id)] ?? [];

/** What moves a value of a strip. */
const stripRoutes = (program: Program, place: string, id: string): readonly CompiledRoute[] =>
  program.mix.places.find((candidate) => candidate.id === place)?.moved.find(({ parameter }) => STRIP[parameter] === id)
    ?.routes ?? [];

/** What moves a value of the mix. */
function mixRoutes(program: Program, target: Target): readonly CompiledRoute[] {
  const { id } = target.parameter;
  if (target.kind === 'main') return id === 'level' ? program.main.routes : stripRoutes(program, 'main', id);
  if (target.kind === 'pool') return stripRoutes(program, `pool.${target.id}`, id);
  if (target.kind === 'connection')
    return program.mix.connections.find((connection) => connection.id === target.id)?.moved[0]?.routes ?? [];
  if (target.kind !== 'effect') return [];
  const effect = program.mix.places.flatMap(({ effects }) => effects).find((candidate) => candidate.id === target.id);
  const at = Object.keys(SECTIONS[target.effectKind]).indexOf(id);
  return effect?.moved.find(({ parameter }) => parameter === at)?.routes ?? [];
}

/** Where routes take a target now (for a note at rest), in its unit, or undefined when none reaches it. */
export function movedValue(patch: Patch, id: string): number | undefined {
  const compiled = compiledRoutes(patch, id);
  const rest = restOfTarget(patch, id);
  const evaluator = liveEvaluator();
  if (parseTarget(id)?.kind === 'group') return movedGroup(patch, id);
  if (!compiled || compiled.routes.length === 0 || rest === undefined || !evaluator) return undefined;
  evaluator.look(session.program!.layers.find((layer) => layer.id === compiled.layerId) ?? null, note);
  return fromNormal(compiled.parameter, evaluator.moved(toNormal(compiled.parameter, rest), compiled.routes));
}

/** The same of a group: what its routes add to the first of its members, counted in the group's own range. */
function movedGroup(patch: Patch, id: string): number | undefined {
  const target = parseTarget(id);
  const rest = restOfTarget(patch, id);
  const added = contributions(patch, id);
  return !target || rest === undefined || added.length === 0
    ? undefined
    : fromNormal(target.parameter, toNormal(target.parameter, rest) + added.reduce((sum, each) => sum + each, 0));
}

/**
 * What each route to a target adds to it now, as a share of its range; in the order of the patch's routes that are on.
 */
export function contributions(patch: Patch, id: string): number[] {
  const target = parseTarget(id);
  if (target?.kind === 'group') {
    // Routes to a group are compiled into routes to its members, in the order of the patch, after those that are the
    // member's own or among them.
    const member = patch.layers.find((layer) => layer.groupId === target.groupId);
    const groupId = target.parameter.id as GroupParameterId;
    if (!member) return [];
    const [onto] = ONTO[groupId];
    const both = patch.routes.filter(
      (route) => route.on && (route.target === id || route.target === `layer.${member.id}.${onto}`),
    );
    const all = contributions(patch, `layer.${member.id}.${onto}`);
    return both.flatMap((route, i) => (route.target === id ? [(all[i] ?? 0) / ratioOf(groupId, onto)] : []));
  }
  const compiled = compiledRoutes(patch, id);
  const evaluator = liveEvaluator();
  if (!compiled || !evaluator) return [];
  evaluator.look(session.program!.layers.find((layer) => layer.id === compiled.layerId) ?? null, note);
  return compiled.routes.map((route) => evaluator.contribution(route));
}
