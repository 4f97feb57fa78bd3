import { labelOfSource } from '../space/source';
import { BUILT_IN, labelOfTarget, readsSource } from './moves';
import { parseTarget } from './parameters';
import type { Patch } from './schema';

/** What a source moves by routes and windows, in words: `level and high cut of Wire, brings in Bells`. */
export function whatItMoves(patch: Patch, source: string): string {
  const byOwner = new Map<string, string[]>();
  for (const route of patch.routes) {
    if (!route.on || !readsSource(route, source, false)) continue;
    const target = parseTarget(route.target)!;
    const label = labelOfTarget(patch, route.target);
    const [what, owner] =
      target.kind === 'layer' ? [target.parameter.label, label.slice(target.parameter.label.length + 4)] : [label, ''];
    byOwner.set(owner, [...(byOwner.get(owner) ?? []), what]);
  }
  const routes = [...byOwner].map(([owner, list]) => (owner ? `${list.join(', ')} of ${owner}` : list.join(', ')));
  const windows = patch.layers
    .filter((layer) => layer.windows.some((window) => window.source === source))
    .map((layer) => layer.name);
  const scaled = patch.routes.filter((route) => route.scaledBy === source).length;
  return [
    ...routes,
    ...(windows.length > 0 ? [`brings in ${windows.join(', ')}`] : []),
    ...(scaled > 0 ? [`scales ${scaled} ${scaled === 1 ? 'route' : 'routes'}`] : []),
  ].join('; ');
}

/** A control under hands or feet and what it does in a patch. */
export interface HandJob {
  source: string;
  label: string;
  does: string;
}

/** Wheels, pedals and what else is always at hand; volume is left out: it does the same everywhere. */
const ALWAYS = ['cc.1', 'cc.4', 'cc.64', 'cc.66', 'cc.67', 'channelPressure'];

/**
 * What wheels and pedals do in a patch: what layers do of themselves (the sustain pedal holds), routes and windows.
 * Those that do nothing are left out.
 */
export function handJobs(patch: Patch): HandJob[] {
  const used = new Set(
    [
      ...patch.routes.filter(({ on }) => on).flatMap(({ source, scaledBy }) => [source, scaledBy]),
      ...[...patch.layers, ...patch.groups].flatMap(({ windows }) => windows.map(({ source }) => source)),
    ].filter(
      (source): source is string =>
        typeof source === 'string' && /^(cc\.\d+|channelPressure|pressure|bend)$/.test(source),
    ),
  );
  const sources = [...ALWAYS, ...[...used].filter((source) => !ALWAYS.includes(source)).sort()];
  return sources.flatMap((source): HandJob[] => {
    const built = BUILT_IN.filter(
      (job) => job.source === source && source !== 'cc.7' && source !== 'cc.11' && source !== 'bend',
    );
    const heard = patch.layers.filter((layer) => layer.on && built.some(({ takesOff }) => layer.receive[takesOff]));
    // The sostenuto pedal does what everybody knows: it is only told where it is all there is of it.
    const holds =
      heard.length === 0 || (source === 'cc.66' && !used.has(source))
        ? ''
        : `${built[0].does.replace('the notes', heard.length === patch.layers.length ? 'all' : heard.map(({ name }) => name).join(', '))}`;
    const moves = whatItMoves(patch, source);
    const does = [holds, moves].filter(Boolean).join('; ');
    return does ? [{ source, label: labelOfSource(source), does }] : [];
  });
}
