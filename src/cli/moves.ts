import { parseTarget } from '../core/rig/parameters';
import { BUILT_IN, labelIn, labelOfTarget, reachOfRoute, readsSource, restOfTarget } from '../core/rig/moves';
import type { Route } from '../core/rig/schema';
import { parseSource } from '../core/space/source';
import { readArguments, required } from './arguments';
import { Failure } from './failure';
import { findPatch, readRigFile } from './files';

/** `moves RIG --patch NAME [--source ID] [--target ID]`: what moves what, from either end. */
export function moves(args: string[]): unknown {
  const { values, file } = readArguments(
    args,
    { patch: { type: 'string' }, source: { type: 'string' }, target: { type: 'string' } },
    'RIG',
  );
  const { source, target } = values as { source?: string; target?: string };
  // What this command prints as a source, it also takes.
  const formula = source !== undefined && source.startsWith('=') ? source.slice(1).trim() : undefined;
  if (source !== undefined && formula === undefined && !parseSource(source))
    throw new Failure(`--source ${source}: names no source`, 2);
  if (target !== undefined && !parseTarget(target))
    throw new Failure(`--target ${target}: names nothing that a route can move`, 2);
  const patch = findPatch(readRigFile(file), required(values, 'patch'));
  if (target !== undefined && restOfTarget(patch, target) === undefined)
    throw new Failure(`--target ${target}: there is no such thing in the patch “${patch.name}”`);
  const isFrom = (route: Route) =>
    source === undefined ||
    (formula === undefined
      ? readsSource(route, source)
      : typeof route.source !== 'string' && route.source.formula.trim() === formula);
  const reads = (id: string) => source === undefined || id === source;
  return {
    routes: patch.routes
      .filter((route) => isFrom(route) && (target === undefined || route.target === target))
      .map((route) => {
        const reach = reachOfRoute(patch, route);
        return {
          source: typeof route.source === 'string' ? route.source : `= ${route.source.formula}`,
          sourceName: typeof route.source === 'string' ? labelIn(patch, route.source) : route.source.formula,
          target: route.target,
          targetName: labelOfTarget(patch, route.target),
          from: reach?.from ?? null,
          to: reach?.to ?? null,
          depth: route.depth,
          curve: route.curve,
          polarity: route.polarity,
          ...(route.scaledBy ? { scaledBy: route.scaledBy } : {}),
          bound: route.bound,
          on: route.on,
          read: parseTarget(route.target)?.parameter.atStrike ? 'at the strike' : 'always',
        };
      }),
    windows: patch.layers.flatMap((layer) =>
      layer.windows
        .filter(
          (window) =>
            window.source !== 'key' && window.source !== 'velocity' && reads(window.source) && target === undefined,
        )
        .map((window) => ({
          source: window.source,
          layer: layer.name,
          low: window.low,
          high: window.high,
          fadeIn: window.fadeIn,
          fadeOut: window.fadeOut,
          read: window.read,
        })),
    ),
    builtIn: patch.layers.flatMap((layer) =>
      BUILT_IN.filter((each) => layer.receive[each.takesOff] && target === undefined && reads(each.source)).map(
        (each) => ({ source: each.source, layer: layer.name, does: each.does }),
      ),
    ),
  };
}
