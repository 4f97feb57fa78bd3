import type { TunedKeys } from '../../../music/tunings';
import { EFFECTS, placeOfKind } from '../../../effects';
import { effectParam, groupParam, paramOf, poolParam } from '../../../rig/defaults';
import { chainOf, connectionsOf, flowOrder, homeOf, isPair, type PlaceId } from '../../../rig/mix';
import {
  CONNECTION_PARAMETERS,
  GROUP_PARAMETERS,
  MAIN_PARAMETERS,
  POOL_PARAMETERS,
  toNormal,
  type Parameter,
} from '../../../rig/parameters';
import { LAYER_PARAMETERS } from '../../../rig/layerParameters';
import type { EffectSpec, Group, Layer, Patch } from '../../../rig/schema';
import { STRIP, type CompiledEffect, type CompiledMix, type CompiledPlace, type MovedValue } from '../compiledMix';
import { impulseKey } from '../program';
import type { Slots } from './slots';

/**
 * Whether the level of a layer stands on its strip, after its effects; else each note has it. A layer that rests in
 * silence may be brought in note by note.
 */
export const hasStripLevel = (layer: Pick<Layer, 'effects' | 'params' | 'transpose' | 'touch'>): boolean =>
  layer.effects.length > 0 && paramOf(layer, 'level') > LAYER_PARAMETERS.level.low;
/** The same for a group; without effects its level is that of its members. */
export const groupHasStripLevel = (group: Pick<Group, 'effects'>): boolean => group.effects.length > 0;

/** The parameters of a place's strip; undefined where it has none of that name. */
export function stripOf(place: PlaceId): readonly (Parameter | undefined)[] {
  const kind = place.split('.')[0];
  const section: Readonly<Record<string, Parameter>> =
    kind === 'layer'
      ? LAYER_PARAMETERS
      : kind === 'group'
        ? GROUP_PARAMETERS
        : kind === 'pool'
          ? POOL_PARAMETERS
          : MAIN_PARAMETERS;
  return STRIP.map((id) => section[id]);
}

/** How the sound of a patch flows, with its groups. Throws a CycleError where it flows in a circle. */
export function compileMix(
  patch: Patch,
  slots: Slots,
  tuned: TunedKeys | null = null,
  pairs: readonly string[] = [],
): CompiledMix {
  const order = flowOrder(patch);
  // Main comes last, whatever stands beside it.
  const all = connectionsOf(patch);
  const ends = [...new Set(all.map(({ to }) => to).filter(isPair))];
  const ids = [...order.filter((id) => id !== 'main'), 'main', ...ends];
  const placeOf = new Map(ids.map((id, i) => [id, i]));
  const movedOf = (targets: readonly string[]): MovedValue[] =>
    targets.flatMap((target, parameter) => {
      const routes = slots.routesTo(target);
      return routes.length === 0 ? [] : [{ parameter, routes }];
    });
  const compileEffect = (effect: EffectSpec, place: PlaceId): CompiledEffect => {
    const kind = placeOfKind(effect.kind);
    const parameters = Object.values(EFFECTS[kind].parameters);
    const values = parameters.map(({ id }) => effectParam(effect, id));
    return {
      id: effect.id,
      kind,
      on: effect.on,
      bases: Float64Array.from(parameters, (parameter, i) => toNormal(parameter, values[i])),
      rests: Float64Array.from(values),
      moved: movedOf(parameters.map(({ id }) => `${effect.kind}.${effect.id}.${id}`)),
      steps: Float64Array.from(effect.steps),
      // A layer that listens to itself hears what comes in: what goes out is only there afterwards.
      listens:
        effect.listens === null || place === `layer.${effect.listens}`
          ? -1
          : (placeOf.get(`layer.${effect.listens}`) ?? -1),
      impulse: effect.sampleId === null ? '' : impulseKey(effect.sampleId),
    };
  };
  const valueAt = (id: PlaceId, parameter: string, fallback: Parameter): number => {
    const [kind, name] = id.split('.');
    if (kind === 'pair') return fallback.default;
    if (kind === 'main') return patch.main[parameter as 'level'];
    if (kind === 'pool')
      return poolParam(
        patch.pools.find((pool) => pool.id === name)!,
        parameter as 'level',
      );
    const layer = patch.layers.find((each) => each.id === name);
    const group = patch.groups.find((each) => each.id === name);
    if (parameter === 'level' && (kind === 'layer' ? !hasStripLevel(layer!) : !groupHasStripLevel(group!))) return 0;
    return kind === 'layer' ? paramOf(layer!, fallback.id as 'level') : groupParam(group!, fallback.id as 'level');
  };
  const places = ids.map((id): CompiledPlace => {
    const strip = stripOf(id);
    const values = strip.map((parameter) => (parameter ? valueAt(id, parameter.id, parameter) : 0));
    const [kind, name] = id.split('.');
    const ownLevel =
      kind === 'layer' ||
      kind === 'pair' ||
      kind === 'main' ||
      (kind === 'group' && !groupHasStripLevel(patch.groups.find((group) => group.id === name)!));
    return {
      id,
      layer: kind === 'layer' ? patch.layers.findIndex((layer) => layer.id === name) : -1,
      feeds: patch.layers.flatMap((layer, i) =>
        (kind === 'layer' && layer.id === name) || (kind === 'group' && layer.groupId === name) ? [i] : [],
      ),
      on:
        kind === 'group'
          ? patch.groups.find((group) => group.id === name)!.on
          : kind === 'pool'
            ? patch.pools.find((pool) => pool.id === name)!.on
            : true,
      effects: (chainOf(patch, id) ?? []).map((effect) => compileEffect(effect, id)),
      bases: Float64Array.from(strip, (parameter, i) => (parameter ? toNormal(parameter, values[i]) : 0)),
      rests: Float64Array.from(values),
      // One that the rig does not know, or did not tell, is the first.
      pair: kind === 'pair' ? Math.max(0, pairs.indexOf(name)) : -1,
      moved: movedOf(
        strip.map((parameter) => (!parameter || (parameter.id === 'level' && ownLevel) ? '' : `${id}.${parameter.id}`)),
      ),
    };
  });
  const connections = all
    .map((connection) => ({
      id: connection.id,
      from: placeOf.get(connection.from)!,
      to: placeOf.get(connection.to)!,
      before: connection.tap === 'before',
      on: connection.on,
      bases: Float64Array.of(toNormal(CONNECTION_PARAMETERS.level, connection.level)),
      rests: Float64Array.of(connection.level),
      moved: movedOf([`connection.${connection.id}.level`]),
    }))
    .sort((a, b) => a.from - b.from);
  const plain =
    patch.groups.length === 0 &&
    patch.pools.length === 0 &&
    places.every(({ effects, rests, moved }) => effects.length === 0 && rests[2] === 100 && moved.length === 0) &&
    all.every(
      ({ kind, level, on, from, to }) => kind === 'output' && level === 0 && on && to === homeOf(patch, from),
    ) &&
    connections.every(({ moved }) => moved.length === 0);
  return {
    tuned,
    places,
    connections,
    plain,
  };
}
