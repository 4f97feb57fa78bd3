import { newRoute } from '../defaults';
import { freeId, heldName } from '../names';
import { toNormal, type LayerParameterId } from '../parameters';
import { LAYER_PARAMETERS } from '../layerParameters';
import type { Patch, Route } from '../schema';
import { addMacro } from './moves';
import { updateLayer } from './layers';

/** Chance at each strike, over several layers at once: pure edits. What it draws are routes like all others. */

export interface Attribute {
  id: string;
  label: string;
  unit: string;
  targets: readonly LayerParameterId[];
  /** How far at full, in the unit of the targets; both ways where `around`. */ limit: number;
  around: boolean;
}
/**
 * What may be scattered at each strike. Two-sided values scatter around where they are, one-sided ones upward from
 * there.
 */
export const ATTRIBUTES: readonly Attribute[] = [
  { id: 'pitch', label: 'pitch', unit: 'cents', targets: ['tune'], limit: 100, around: true },
  { id: 'pan', label: 'pan', unit: '', targets: ['pan'], limit: 1, around: true },
  { id: 'level', label: 'level', unit: 'dB', targets: ['level'], limit: 6, around: true },
  { id: 'start', label: 'sample start', unit: '%', targets: ['start'], limit: 40, around: false },
  { id: 'delay', label: 'delay', unit: 's', targets: ['delay'], limit: 0.25, around: false },
  { id: 'reversed', label: 'reversed', unit: '', targets: ['reversed'], limit: 1, around: false },
  { id: 'times', label: 'attack and decay', unit: '', targets: ['attack', 'decay'], limit: 1, around: false },
  { id: 'choice', label: 'choice of sound', unit: '%', targets: ['choice'], limit: 100, around: false },
];

/** Whether all layers of a strike have the same chance, or each its own. */
export type Together = 'together' | 'each';

const sourceOf = ({ around }: Attribute, n: number, together: Together): Route['source'] => {
  const name = `${together === 'together' ? 'random' : 'scatter'}.${n + 1}`;
  return around ? { formula: `2 * ${name} - 1` } : name;
};
/** Share of a target's range that a limit in its unit is, from where the parameter stands by default. */
function depthOf(id: LayerParameterId, attribute: Attribute): number {
  const parameter = LAYER_PARAMETERS[id];
  if (attribute.id === 'times') return id === 'attack' ? 0.62 : 0.4;
  if (parameter.law === 'steps') return 1;
  if (parameter.law === 'dB' || parameter.law === 'linear')
    return Math.min(1, attribute.limit / (parameter.high - parameter.low));
  return toNormal(parameter, attribute.limit);
}

const isRouteOf = (route: Route, layerIds: readonly string[], attribute: Attribute): boolean => {
  const text = typeof route.source === 'string' ? route.source : route.source.formula;
  return (
    /\b(random|scatter)\.\d/.test(text) &&
    layerIds.some((id) => attribute.targets.some((target) => route.target === `layer.${id}.${target}`))
  );
};

/** The routes by which an attribute is scattered over some layers. */
export const scatterRoutes = (patch: Patch, layerIds: readonly string[], attribute: Attribute): readonly Route[] =>
  patch.routes.filter((route) => isRouteOf(route, layerIds, attribute));

/** How far an attribute goes at full, in its unit; undefined where it does not. */
export function limitOf(patch: Patch, layerIds: readonly string[], attribute: Attribute): number | undefined {
  const [route] = scatterRoutes(patch, layerIds, attribute);
  const parameter = LAYER_PARAMETERS[attribute.targets[0]];
  return route && parameter.law !== 'log' && parameter.law !== 'steps'
    ? Math.round(Math.abs(route.depth) * (parameter.high - parameter.low) * 1000) / 1000
    : undefined;
}

/** Sets how far it goes at full, held within what the parameter has. */
export function setLimit(patch: Patch, layerIds: readonly string[], attribute: Attribute, limit: number): Patch {
  const parameter = LAYER_PARAMETERS[attribute.targets[0]];
  if (Number.isNaN(limit) || parameter.law === 'log' || parameter.law === 'steps') return patch;
  const depth = Math.min(1, Math.max(0, limit / (parameter.high - parameter.low)));
  const mine = new Set(scatterRoutes(patch, layerIds, attribute));
  return { ...patch, routes: patch.routes.map((route) => (mine.has(route) ? { ...route, depth } : route)) };
}

/** Takes an attribute's chance off some layers. */
export function takeOffScatter(patch: Patch, layerIds: readonly string[], attribute: Attribute): Patch {
  const gone = new Set(scatterRoutes(patch, layerIds, attribute));
  return gone.size === 0 ? patch : { ...patch, routes: patch.routes.filter((route) => !gone.has(route)) };
}

/** The macro by which an attribute's amount is set; undefined where there is none yet. */
export const amountMacro = (patch: Patch, layerIds: readonly string[], attribute: Attribute): number | undefined => {
  const scaled = scatterRoutes(patch, layerIds, attribute).find(({ scaledBy }) =>
    scaledBy?.startsWith('macro.'),
  )?.scaledBy;
  return scaled === undefined ? undefined : Number(scaled.slice(6));
};

/**
 * Scatters attributes over layers in one action, each by a macro of its own that sets how far: at 0 every strike is the
 * same, bit for bit, at 1 it covers the whole of its limits. Where there is no macro
 * left, the attribute stays as it is.
 */
export function scatterOver(
  patch: Patch,
  layerIds: readonly string[],
  attributeIds: readonly string[],
  together: Together,
  amount = 0.3,
): Patch {
  return ATTRIBUTES.reduce((left, attribute, n) => {
    if (!attributeIds.includes(attribute.id)) return left;
    const known = amountMacro(left, layerIds, attribute);
    const made =
      known === undefined
        ? addMacro(left, heldName(`${attribute.label[0].toUpperCase()}${attribute.label.slice(1)} by chance`), amount)
        : { patch: left, number: known };
    if (!made) return left;
    const cleared = takeOffScatter(made.patch, layerIds, attribute);
    return layerIds.reduce(
      (with_, layerId) =>
        attribute.targets.reduce(
          (now, target) => ({
            ...now,
            routes: [
              ...now.routes,
              {
                ...newRoute(
                  freeId('chance', now.routes),
                  sourceOf(attribute, n, together),
                  `layer.${layerId}.${target}`,
                  depthOf(target, attribute),
                ),
                scaledBy: `macro.${made.number}`,
                bound: true,
              },
            ],
          }),
          with_,
        ),
      cleared,
    );
  }, patch);
}

/** Each strike of some layers has the chances of one strike from now on, by its seed; null: each has its own again. */
export const keepStrike = (patch: Patch, layerIds: readonly string[], seed: number | null): Patch =>
  layerIds.reduce(
    (left, id) => updateLayer(left, id, (layer) => (layer.kept === seed ? layer : { ...layer, kept: seed })),
    patch,
  );
