import { moverKind } from '../../../core/movers';
import { NOTE_VALUES } from '../../../core/music/time';
import { moverParam } from '../../../core/rig/defaults';
import { labelOfTarget, readsSource } from '../../../core/rig/moves';
import { parseTarget } from '../../../core/rig/parameters';
import type { Mover, Patch } from '../../../core/rig/schema';

/** What a source moves, in words: `level and high cut of Wire, window of Bells`. */
export function whatItMoves(patch: Patch, source: string): string {
  const byOwner = new Map<string, string[]>();
  for (const route of patch.routes) {
    if (!route.on || !readsSource(route, source, false)) continue;
    const target = parseTarget(route.target)!;
    const label = labelOfTarget(patch, route.target);
    const [what, owner] = target.kind === 'layer' ? [target.parameter.label, label.slice(target.parameter.label.length + 4)] : [label, ''];
    byOwner.set(owner, [...(byOwner.get(owner) ?? []), what]);
  }
  const routes = [...byOwner].map(([owner, list]) => (owner ? `${list.join(', ')} of ${owner}` : list.join(', ')));
  const windows = patch.layers.filter((layer) => layer.windows.some((window) => window.source === source)).map((layer) => layer.name);
  const scaled = patch.routes.filter((route) => route.scaledBy === source).length;
  return [...routes, ...(windows.length > 0 ? [`brings in ${windows.join(', ')}`] : []), ...(scaled > 0 ? [`scales ${scaled} ${scaled === 1 ? 'route' : 'routes'}`] : [])].join('; ');
}

export const countMoved = (patch: Patch, source: string): number =>
  patch.routes.filter((route) => route.on && readsSource(route, source)).length + patch.layers.filter((layer) => layer.windows.some((window) => window.source === source)).length;

/** A mover in a line: `LFO, 1/2, patch`. */
export function describeMover(mover: Mover): string {
  const { kind, clock, reach } = mover;
  const time = kind === 'envelope' || kind === 'follower' ? ''
    : clock === 'note' ? NOTE_VALUES[moverParam(mover, 'length')].label
      : clock === 'seconds' ? `${Number(moverParam(mover, kind === 'lfo' ? 'period' : 'lasts').toPrecision(2))} s` : `${Number(moverParam(mover, 'rate').toPrecision(2))} Hz`;
  return [moverKind(kind).label, ...(time ? [time] : []), reach === 'note' ? 'each note' : 'patch'].join(', ');
}
