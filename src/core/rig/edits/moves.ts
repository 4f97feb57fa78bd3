import { MOST_POINTS, MOST_STEPS, type MoverKindId } from '../../movers';
import type { SourceId } from '../../space/source';
import { moverParam, newMover, newRoute, vibratoRoute } from '../defaults';
import { type BuiltIn, depthFor, isTwoSided, readsSource, restOfTarget, secondJobs, type SecondJob } from '../moves';
import { freeId, heldName } from '../names';
import {
  parseTarget,
  SECTIONS,
  toNormal,
  type GroupParameterId,
  type LayerParameterId,
  type PoolParameterId,
  type TargetId,
  type XyParameterId,
} from '../parameters';
import { setEffectParam, setPoolParam, updateConnection } from './mix';
import type { Anchor, Layer, Macro, Mover, Patch, Route } from '../schema';
import { setGroupParam } from './groups';
import { duplicateLayer, setParam, updateLayer } from './layers';
import { setXyParam } from './pads';
import { held, firstFree, withoutSource, setAnchorWindow, updatePad } from './pads';
import { MOST_MOVERS } from '../limits';

/**
 * How far a route moves its target at first: a third of its range, and inward where the target rests too near its end
 * to be moved that far outward.
 */
const FIRST_DEPTH = 1 / 3;
export function firstDepth(patch: Patch, source: Route['source'], target: TargetId): number {
  const rest = restOfTarget(patch, target);
  const parsed = parseTarget(target);
  if (!parsed || rest === undefined || isTwoSided({ source })) return FIRST_DEPTH;
  const base = toNormal(parsed.parameter, rest);
  return base + FIRST_DEPTH <= 1 || base <= 0.5 ? FIRST_DEPTH : -FIRST_DEPTH;
}

/** Routes from one source to several targets at once, each as deep as it is at first. */
export const connectAll = (patch: Patch, source: Route['source'], targets: readonly TargetId[]): Patch =>
  targets.reduce((left, target) => connect(left, source, target, firstDepth(left, source, target)), patch);

/** The same parameter of several layers, where it is one of a layer that is chosen together with others. */
export function targetsTogether(target: TargetId, chosen: readonly string[]): TargetId[] {
  const parsed = parseTarget(target);
  return parsed?.kind === 'layer' && chosen.length > 1 && chosen.includes(parsed.layerId)
    ? chosen.map((id) => `layer.${id}.${parsed.parameter.id}`)
    : [target];
}

/**
 * A new source where it is wanted: a macro or a mover, and routes from it, in one step. Undefined where there is no
 * room for another.
 */
export function connectNew(
  patch: Patch,
  kind: 'macro' | MoverKindId,
  name: string,
  targets: readonly TargetId[],
): Patch | undefined {
  const made = kind === 'macro' ? addMacro(patch, name) : addMover(patch, kind, name);
  return made && connectAll(made.patch, `${kind}.${made.number}`, targets);
}

/** A route from a source to a target; where there is one already, its depth is set. */
export function connect(patch: Patch, source: Route['source'], target: TargetId, depth: number): Patch {
  if (!parseTarget(target) || Number.isNaN(depth)) return patch;
  const same = patch.routes.find(
    (route) =>
      route.target === target &&
      (typeof source === 'string'
        ? route.source === source
        : typeof route.source !== 'string' && route.source.formula === source.formula),
  );
  if (same) return updateRoute(patch, same.id, { depth: held(depth, -1, 1), on: true });
  return {
    ...patch,
    routes: [...patch.routes, newRoute(freeId('route', patch.routes), source, target, held(depth, -1, 1))],
  };
}

export const updateRoute = (patch: Patch, routeId: string, change: Partial<Omit<Route, 'id'>>): Patch => ({
  ...patch,
  routes: patch.routes.map((route) =>
    route.id === routeId ? { ...route, ...change, depth: held(change.depth ?? route.depth, -1, 1) } : route,
  ),
});

export const deleteRoute = (patch: Patch, routeId: string): Patch => ({
  ...patch,
  routes: patch.routes.filter((route) => route.id !== routeId),
});

/** What a route scales its depth by; undefined: nothing. */
export function scaleRoute(patch: Patch, routeId: string, scaledBy: SourceId | undefined): Patch {
  return {
    ...patch,
    routes: patch.routes.map((route) => {
      if (route.id !== routeId) return route;
      const { scaledBy: _, ...rest } = route;
      return scaledBy === undefined ? rest : { ...rest, scaledBy };
    }),
  };
}

/** The reach of a route in its target's unit: moves where the target rests, and the depth. */
export function setReach(patch: Patch, routeId: string, from: number, to: number): Patch {
  const route = patch.routes.find((candidate) => candidate.id === routeId);
  const target = route && parseTarget(route.target);
  if (!route || !target || Number.isNaN(from) || Number.isNaN(to)) return patch;
  const { rest, depth } = depthFor(route, target, from, to);
  return updateRoute(setRest(patch, route.target, rest), routeId, { depth });
}

/** Where a target rests, in its unit. */
export function setRest(patch: Patch, id: TargetId, value: number): Patch {
  const target = parseTarget(id);
  if (!target || Number.isNaN(value)) return patch;
  const { low, high } = target.parameter;
  const inside = held(value, low, high);
  switch (target.kind) {
    case 'layer':
      return setParam(patch, target.layerId, target.parameter.id as LayerParameterId, value);
    case 'group':
      return setGroupParam(patch, target.groupId, target.parameter.id as GroupParameterId, value);
    case 'main':
      return { ...patch, main: { ...patch.main, [target.parameter.id]: inside } };
    case 'pool':
      return setPoolParam(patch, target.id, target.parameter.id as PoolParameterId, value);
    case 'connection':
      return updateConnection(patch, target.id, { level: inside });
    case 'knob':
      return {
        ...patch,
        knobs: patch.knobs.map((knob) => (knob.id === target.id ? { ...knob, value: Math.round(inside) } : knob)),
      };
    case 'effect':
      return setEffectParam(patch, target.id, target.parameter.id, value);
    case 'macro':
      return {
        ...patch,
        macros: patch.macros.map((macro) => (macro.number === target.number ? { ...macro, value: inside } : macro)),
      };
    case 'blend':
      return {
        ...patch,
        blends: patch.blends.map((blend) => (blend.number === target.number ? { ...blend, value: inside } : blend)),
      };
    case 'xy':
      return setXyParam(patch, target.number, target.parameter.id as XyParameterId, value);
    default:
      return setMoverParam(patch, target.kind, target.number, target.parameter.id, value);
  }
}

// Macros

/** A macro under the first free number, and that number; undefined where there are sixteen. */
export function addMacro(patch: Patch, name: string, value = 0): { patch: Patch; number: number } | undefined {
  const number = firstFree(
    patch.macros.map((macro) => macro.number),
    16,
  );
  return number === undefined
    ? undefined
    : {
        number,
        patch: { ...patch, macros: [...patch.macros, { number, name: heldName(name), value, style: 'strip' }] },
      };
}

export const updateMacro = (patch: Patch, number: number, change: Partial<Omit<Macro, 'number'>>): Patch => ({
  ...patch,
  macros: patch.macros.map((macro) =>
    macro.number === number ? { ...macro, ...change, name: heldName(change.name ?? macro.name) } : macro,
  ),
});

export function moveMacro(patch: Patch, number: number, to: number): Patch {
  const moved = patch.macros.find((macro) => macro.number === number);
  if (!moved) return patch;
  const others = patch.macros.filter((macro) => macro !== moved);
  return { ...patch, macros: [...others.slice(0, to), moved, ...others.slice(to)] };
}

export const deleteMacro = (patch: Patch, number: number): Patch => ({
  ...withoutSource(patch, `macro.${number}`, `macro.${number}`),
  macros: patch.macros.filter((macro) => macro.number !== number),
});

export const namePage = (patch: Patch, page: number, name: string): Patch => ({
  ...patch,
  macroPages: Array.from({ length: Math.max(patch.macroPages.length, page + 1) }, (_, i) =>
    i === page ? heldName(name) : (patch.macroPages[i] ?? ''),
  ),
});

// Movers

/** A mover of a kind under the first free number of its kind. */
export function addMover(patch: Patch, kind: MoverKindId, name: string): { patch: Patch; number: number } | undefined {
  const number = firstFree(
    patch.movers.filter((mover) => mover.kind === kind).map((mover) => mover.number),
    16,
  );
  if (number === undefined || patch.movers.length >= MOST_MOVERS) return undefined;
  return { number, patch: { ...patch, movers: [...patch.movers, newMover(kind, number, heldName(name))] } };
}

export const updateMover = (
  patch: Patch,
  kind: MoverKindId,
  number: number,
  change: Partial<Omit<Mover, 'kind' | 'number'>>,
): Patch => ({
  ...patch,
  movers: patch.movers.map((mover) =>
    mover.kind === kind && mover.number === number
      ? { ...mover, ...change, name: heldName(change.name ?? mover.name) }
      : mover,
  ),
});

export function setMoverParam(patch: Patch, kind: MoverKindId, number: number, id: string, value: number): Patch {
  const parameter = SECTIONS[kind][id];
  const mover = patch.movers.find((candidate) => candidate.kind === kind && candidate.number === number);
  if (!parameter || !mover || Number.isNaN(value)) return patch;
  const inside =
    parameter.law === 'steps'
      ? Math.round(held(value, parameter.low, parameter.high))
      : held(value, parameter.low, parameter.high);
  if (moverParam(mover, id) === inside) return patch;
  const { [id]: _, ...others } = mover.params;
  return updateMover(patch, kind, number, {
    params: inside === parameter.default ? others : { ...others, [id]: inside },
  });
}

/** The points of a contour, held within the plane and in order; the first at its beginning, the last at its end. */
export function setPoints(patch: Patch, number: number, points: Mover['points']): Patch {
  const inside = points
    .slice(0, MOST_POINTS)
    .map(([x, y, bend]) => [held(x, 0, 1), held(y, -1, 1), held(bend, -1, 1)] as const)
    .sort((a, b) => a[0] - b[0]);
  return updateMover(patch, 'contour', number, {
    points: inside.map(([x, y, bend], i) => [i === 0 ? 0 : i === inside.length - 1 ? 1 : x, y, bend] as const),
  });
}

export const setValues = (patch: Patch, number: number, values: readonly number[]): Patch =>
  updateMover(patch, 'steps', number, { values: values.slice(0, MOST_STEPS).map((value) => held(value, -1, 1)) });

export const deleteMover = (patch: Patch, kind: MoverKindId, number: number): Patch => {
  const left = withoutSource(patch, `${kind}.${number}`, `${kind}.${number}`);
  return { ...left, movers: left.movers.filter((mover) => !(mover.kind === kind && mover.number === number)) };
};

/**
 * Only what one source moves, or one route (by its id), is left moving: all other routes and movers rest, until they
 * are put back. Not an edit of what is kept: for hearing.
 */
export const alone = (patch: Patch, source: SourceId): Patch => ({
  ...patch,
  routes: patch.routes.map((route) =>
    route.id === source || readsSource(route, source, false) ? route : { ...route, on: false },
  ),
  xyPads: patch.xyPads.map((pad) =>
    source.startsWith(`xy.${pad.number}.`) ? pad : { ...pad, motion: 'hand' as const },
  ),
});

export const moveAnchor = (patch: Patch, number: number, at: number, x: number, y: number): Patch => {
  const pad = patch.xyPads.find((candidate) => candidate.number === number);
  return pad
    ? updatePad(patch, number, {
        anchors: pad.anchors.map((anchor, i) =>
          i === at ? { ...anchor, x: held(x, 0, 1), y: held(y, 0, 1) } : anchor,
        ),
      })
    : patch;
};

/** An anchor more, for a layer or a group where one is named. */
export function addAnchor(patch: Patch, number: number, anchor: Anchor): Patch {
  const pad = patch.xyPads.find((candidate) => candidate.number === number);
  if (!pad || pad.anchors.length >= 8) return patch;
  const added = updatePad(patch, number, {
    anchors: [...pad.anchors, { ...anchor, x: held(anchor.x, 0, 1), y: held(anchor.y, 0, 1) }],
  });
  return anchor.layerId ? setAnchorWindow(added, anchor.layerId, number, pad.anchors.length + 1) : added;
}

export const deletePad = (patch: Patch, number: number): Patch => {
  const left = withoutSource(patch, `xy.${number}.`, `xy.${number}.`);
  return { ...left, xyPads: left.xyPads.filter((pad) => pad.number !== number) };
};

export const deleteBlend = (patch: Patch, number: number): Patch => {
  const left = withoutSource(patch, `blend.${number}`, `blend.${number}`);
  return { ...left, blends: left.blends.filter((blend) => blend.number !== number) };
};

/** The keys as a blend sees them: −1 at the lowest of the controller, 1 at the highest, 0 at the pivot. */
export const keyFormula = (pivot: number | null): string =>
  pivot === null
    ? '2 * (key - keyLow) / (keyHigh - keyLow) - 1'
    : `min(1, max(0, (key - ${pivot}) / (keyHigh - ${pivot}))) - min(1, max(0, (${pivot} - key) / (${pivot} - keyLow)))`;

// Controls with two jobs

/** Takes off what a control still does beside the work that it was given. */
export const takeOff = (patch: Patch, job: SecondJob): Patch =>
  job.routeId
    ? deleteRoute(patch, job.routeId)
    : job.takesOff
      ? updateLayer(patch, job.layerId, (layer) => ({
          ...layer,
          receive: { ...layer.receive, [job.takesOff!]: false },
        }))
      : patch;

/** The same for every layer of the patch, for one control. */
export const takeOffEverywhere = (patch: Patch, source: SourceId): Patch =>
  secondJobs(patch)
    .filter((job) => job.source === source)
    .reduce(takeOff, patch);

/** Whether what moves layers without a route does so in all layers of a patch. */
export const setBuiltIn = (patch: Patch, takesOff: BuiltIn['takesOff'], on: boolean): Patch => ({
  ...patch,
  layers: patch.layers.map((layer) =>
    layer.receive[takesOff] === on ? layer : { ...layer, receive: { ...layer.receive, [takesOff]: on } },
  ),
});

/** Puts the vibrato back on the wheel of a layer. */
export const putVibratoOnWheel = (patch: Patch, layerId: string): Patch => ({
  ...patch,
  routes: [...patch.routes, vibratoRoute(freeId('vibrato', patch.routes), layerId)],
});

// Lists

/** The sounds among which a layer chooses; one alone is no choice. */
export function setList(patch: Patch, layerId: string, soundIds: readonly string[], morph?: boolean): Patch {
  return updateLayer(patch, layerId, (layer): Layer => ({
    ...layer,
    list: soundIds.length > 1 ? [...soundIds] : [],
    soundId: soundIds.includes(layer.soundId) ? layer.soundId : (soundIds[0] ?? layer.soundId),
    morph: morph ?? layer.morph,
  }));
}

// Frozen loops

/** So much of a sample a loop is taken through: what is left is about the loop itself. */
const SWEPT = 0.98;

/**
 * A macro that moves a layer's loops through the whole of their samples, resting where they are; undefined where there
 * is no macro left. `share`: where the loop is, of its sample.
 */
export function sweepLoops(patch: Patch, layerId: string, share: number, name = 'Sweep'): Patch | undefined {
  const target = `layer.${layerId}.loopPosition`;
  if (
    patch.routes.some(
      (route) => route.target === target && typeof route.source === 'string' && route.source.startsWith('macro.'),
    )
  )
    return patch;
  const made = addMacro(patch, name, Math.min(1, share / SWEPT));
  // The parameter's range goes from a whole sample back to a whole one on: half of it is a sample.
  return (
    made &&
    setParam(
      connect(made.patch, `macro.${made.number}`, target, SWEPT / 2),
      layerId,
      'loopPosition',
      -100 * Math.min(SWEPT, share),
    )
  );
}

/** A second copy of a layer an octave up, softer, whose loops sweep over a slightly different range. */
export function doubledAbove(patch: Patch, layerId: string, id: string): Patch {
  const doubled = duplicateLayer(patch, layerId, id);
  if (doubled === patch) return patch;
  const original = patch.layers.find((layer) => layer.id === layerId)!;
  const raised = updateLayer(doubled, id, (layer) => ({
    ...layer,
    name: heldName(`${original.name} above`),
    transpose: Math.min(48, layer.transpose + 12),
  }));
  const softer = setParam(raised, id, 'level', Math.max(-59, (original.params.level ?? 0) - 5));
  return {
    ...softer,
    routes: softer.routes.map((route) =>
      route.target === `layer.${id}.loopPosition` ? { ...route, depth: route.depth * 0.88 } : route,
    ),
  };
}
