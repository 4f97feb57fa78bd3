import { effectKind } from '../../effects';
import { effectParam, newEffect, newPool, poolParam } from '../defaults';
import {
  chainOf,
  circleIn,
  connectionsOf,
  effectsIn,
  HOME,
  homeOf,
  isPair,
  outputId,
  withoutLoose,
  type PlaceId,
} from '../mix';
import { freeId, freeName, freshEffects, heldName } from '../names';
import { POOL_PARAMETERS, SECTIONS, type PoolParameterId } from '../parameters';
import type { Connection, EffectSpec, Patch, Pool } from '../schema';
import { MOST_CHAIN, MOST_CONNECTIONS, MOST_LEVELS, MOST_POOLS } from '../limits';

/**
 * Edits of the mix: pure functions. What would make sound flow in a circle, or has no room, leaves everything as it is.
 */

const heldIn = (value: number, { low, high, law }: { low: number; high: number; law: string }): number => {
  const inside = Math.min(high, Math.max(low, value));
  return law === 'steps' ? Math.round(inside) : inside;
};

/** A chain of effects in place of that of a place. */
function withChain(patch: Patch, place: PlaceId, effects: readonly EffectSpec[]): Patch {
  if (place === 'main') return { ...patch, main: { ...patch.main, effects } };
  const [kind, id] = place.split('.');
  const put = <T extends { readonly id: string }>(owners: readonly T[]): readonly T[] =>
    owners.map((owner) => (owner.id === id ? { ...owner, effects } : owner));
  return kind === 'layer'
    ? { ...patch, layers: put(patch.layers) }
    : kind === 'group'
      ? { ...patch, groups: put(patch.groups) }
      : { ...patch, pools: put(patch.pools) };
}

/**
 * An effect of a kind as it begins: in a chain it must not take the sound away or change how loud it is, so it may have
 * other values there than its own.
 */
function beginning(id: string, kindId: string, isShared: boolean): EffectSpec {
  const kind = effectKind(kindId);
  // Where only branches come to it, nothing of the sound itself is to come out again.
  const values = isShared ? (kind.family === 'space' ? { mix: 100 } : {}) : (kind.inChain ?? {});
  return {
    ...newEffect(id, kindId),
    params: Object.fromEntries(
      Object.entries(values).filter(([name, value]) => value !== kind.parameters[name].default),
    ),
  };
}

/** An effect of a kind at a place of a chain, and its id; undefined where the chain is full, or not there. */
export function addEffect(
  patch: Patch,
  place: PlaceId,
  kind: string,
  at = Infinity,
): { patch: Patch; id: string } | undefined {
  const chain = chainOf(patch, place);
  if (!chain || chain.length >= MOST_CHAIN) return undefined;
  const id = freeId(
    'effect',
    effectsIn(patch).map(({ effect }) => effect),
  );
  const effect = beginning(id, kind, place.startsWith('pool.'));
  return {
    id,
    patch: withChain(patch, place, [...chain.slice(0, at), effect, ...chain.slice(Math.min(at, chain.length))]),
  };
}

export const placeOfEffect = (patch: Patch, id: string): PlaceId | undefined =>
  effectsIn(patch).find(({ effect }) => effect.id === id)?.place;

/** Without the effect, what moved it, and its strips on the front. */
export function deleteEffect(patch: Patch, id: string): Patch {
  const place = placeOfEffect(patch, id);
  return place === undefined
    ? patch
    : withoutLoose(
        withChain(
          patch,
          place,
          chainOf(patch, place)!.filter((effect) => effect.id !== id),
        ),
      );
}

/** The effect at another place of its chain or of another one, counted without it. */
export function moveEffect(patch: Patch, id: string, to: PlaceId, at: number): Patch {
  const found = effectsIn(patch).find(({ effect }) => effect.id === id);
  const chain = chainOf(patch, to);
  if (!found || !chain || (found.place !== to && chain.length >= MOST_CHAIN)) return patch;
  const without = withChain(
    patch,
    found.place,
    chainOf(patch, found.place)!.filter((effect) => effect.id !== id),
  );
  const left = chainOf(without, to)!;
  const next = withChain(without, to, [...left.slice(0, at), found.effect, ...left.slice(at)]);
  return circleIn(next) ? patch : next;
}

export function updateEffect(patch: Patch, id: string, change: Partial<Omit<EffectSpec, 'id' | 'kind'>>): Patch {
  const place = placeOfEffect(patch, id);
  if (place === undefined) return patch;
  const next = withChain(
    patch,
    place,
    chainOf(patch, place)!.map((effect) => (effect.id === id ? { ...effect, ...change } : effect)),
  );
  return change.listens && circleIn(next) ? patch : next;
}

/** A parameter of an effect in its unit, held within its range; the default leaves no trace. */
export function setEffectParam(patch: Patch, id: string, parameterId: string, value: number): Patch {
  const effect = effectsIn(patch).find((found) => found.effect.id === id)?.effect;
  const parameter = effect && SECTIONS[effect.kind][parameterId];
  if (!parameter || Number.isNaN(value)) return patch;
  const held = heldIn(value, parameter);
  if (effectParam(effect, parameterId) === held) return patch;
  const { [parameterId]: _, ...others } = effect.params;
  return updateEffect(patch, id, { params: held === parameter.default ? others : { ...others, [parameterId]: held } });
}

/** Levels of a pattern, held within 0…1. */
export const setEffectSteps = (patch: Patch, id: string, steps: readonly number[]): Patch =>
  updateEffect(patch, id, { steps: steps.slice(0, MOST_LEVELS).map((x) => Math.min(1, Math.max(0, x))) });

/** Gives an effect the values of a preset of its kind; `mix` stays where the preset says nothing of it. */
export function applyPreset(patch: Patch, id: string, name: string): Patch {
  const effect = effectsIn(patch).find((found) => found.effect.id === id)?.effect;
  const preset = effect && effectKind(effect.kind).presets.find((candidate) => candidate.name === name);
  if (!preset) return patch;
  const mix = preset.values.mix ?? effect.params.mix;
  return updateEffect(patch, id, {
    params: { ...preset.values, ...(mix === undefined ? {} : { mix }) },
    steps: preset.steps ?? [],
  });
}

/**
 * A chain, kept apart or from elsewhere, in place of that of a place: under ids of its own, as many as there is room
 * for.
 */
export function putChain(patch: Patch, place: PlaceId, effects: readonly EffectSpec[]): Patch {
  if (!chainOf(patch, place)) return patch;
  const layerIds = new Set(patch.layers.map(({ id }) => id));
  const copies = freshEffects(patch)
    .copies(effects.slice(0, MOST_CHAIN))
    .map((effect) =>
      effect.listens !== null && !layerIds.has(effect.listens) ? { ...effect, listens: null } : effect,
    );
  const next = withChain(patch, place, copies);
  return withoutLoose(
    circleIn(next)
      ? withChain(
          patch,
          place,
          copies.map((effect) => ({ ...effect, listens: null })),
        )
      : next,
  );
}

// Shared effects

/** A shared effect of a kind; undefined where there are as many as there may be. */
export function addPool(patch: Patch, poolId: string, kind: string): { patch: Patch; effectId: string } | undefined {
  if (patch.pools.length >= MOST_POOLS) return undefined;
  const effectId = freeId(
    'effect',
    effectsIn(patch).map(({ effect }) => effect),
  );
  const { label } = effectKind(kind);
  const name = freeName(label.charAt(0).toUpperCase() + label.slice(1), patch.pools);
  return {
    effectId,
    patch: { ...patch, pools: [...patch.pools, newPool(poolId, name, [beginning(effectId, kind, true)])] },
  };
}

export const deletePool = (patch: Patch, poolId: string): Patch =>
  withoutLoose({ ...patch, pools: patch.pools.filter(({ id }) => id !== poolId) });

export const updatePool = (patch: Patch, poolId: string, change: Partial<Omit<Pool, 'id'>>): Patch => ({
  ...patch,
  pools: patch.pools.map((pool) =>
    pool.id === poolId ? { ...pool, ...change, name: heldName(change.name ?? '') || pool.name } : pool,
  ),
});

export function setPoolParam(patch: Patch, poolId: string, id: PoolParameterId, value: number): Patch {
  const pool = patch.pools.find((candidate) => candidate.id === poolId);
  if (!pool || Number.isNaN(value)) return patch;
  const held = heldIn(value, POOL_PARAMETERS[id]);
  if (poolParam(pool, id) === held) return patch;
  const { [id]: _, ...others } = pool.params;
  return updatePool(patch, poolId, {
    params: held === POOL_PARAMETERS[id].default ? others : { ...others, [id]: held },
  });
}

// Connections

const SEND_DB = -12;

/** Whether sound can flow to a place: one of the patch, or a pair of outputs. */
const isEndOf = (patch: Patch, to: PlaceId): boolean => isPair(to) || chainOf(patch, to) !== undefined;

/**
 * A send from one place to another, or to a pair of outputs (main as well); unchanged where there is one already, where it would flow in a circle, or where
 * there is no room.
 */
export function addSend(patch: Patch, from: PlaceId, to: PlaceId): Patch {
  if (
    from === to ||
    (from === 'main' && !isPair(to)) ||
    to.startsWith('layer.') ||
    !chainOf(patch, from) ||
    !isEndOf(patch, to) ||
    patch.connections.length >= MOST_CONNECTIONS
  )
    return patch;
  if (
    patch.connections.some(
      (connection) => connection.kind === 'send' && connection.from === from && connection.to === to,
    )
  )
    return patch;
  const next: Patch = {
    ...patch,
    connections: [
      ...patch.connections,
      { id: freeId('send', patch.connections), kind: 'send', from, to, level: SEND_DB, on: true, tap: 'after' },
    ],
  };
  return circleIn(next) ? patch : next;
}

/** Changes a connection; an output that went its way by itself is written down with it. */
export function updateConnection(
  patch: Patch,
  id: string,
  change: Partial<Omit<Connection, 'id' | 'kind' | 'from'>>,
): Patch {
  const connection = connectionsOf(patch).find((candidate) => candidate.id === id);
  if (!connection || (change.level !== undefined && Number.isNaN(change.level))) return patch;
  const changed = { ...connection, ...change, level: Math.min(12, Math.max(-60, change.level ?? connection.level)) };
  const plain =
    changed.kind === 'output' &&
    changed.to === homeOf(patch, changed.from) &&
    changed.level === 0 &&
    changed.on &&
    !patch.routes.some(({ target }) => target === `connection.${id}.level`);
  const isWritten = patch.connections.some((candidate) => candidate.id === id);
  const written =
    changed.kind === 'output' && changed.to === homeOf(patch, changed.from) ? { ...changed, to: HOME } : changed;
  const connections = plain
    ? patch.connections.filter((candidate) => candidate.id !== id)
    : isWritten
      ? patch.connections.map((candidate) => (candidate.id === id ? written : candidate))
      : [...patch.connections, written];
  return { ...patch, connections };
}

/** Takes the end of a connection to another place. */
export function takeConnection(patch: Patch, id: string, to: PlaceId): Patch {
  const connection = connectionsOf(patch).find((candidate) => candidate.id === id);
  if (!connection || to === connection.from || to.startsWith('layer.') || !isEndOf(patch, to)) return patch;
  if (
    connection.kind === 'send' &&
    patch.connections.some(
      (other) => other !== connection && other.kind === 'send' && other.from === connection.from && other.to === to,
    )
  )
    return patch;
  const next = updateConnection(patch, id, { to });
  return circleIn(next) ? patch : next;
}

/** Without a send; an output goes its own way again. */
export const deleteConnection = (patch: Patch, id: string): Patch =>
  withoutLoose({ ...patch, connections: patch.connections.filter((connection) => connection.id !== id) });

/**
 * One layer speaks through another: a vocoder there listens to it, and its own sound is no longer heard. Unchanged where
 * there is no room for an effect.
 */
export function speakThrough(patch: Patch, voiceId: string, carrierId: string): Patch {
  const made = voiceId === carrierId ? undefined : addEffect(patch, `layer.${carrierId}`, 'vocoder');
  if (!made) return patch;
  // What comes in there, the carrier, is spoken through by what it listens to.
  const listening = updateEffect(made.patch, made.id, { listens: voiceId, params: { role: 1, mix: 100 } });
  return updateConnection(listening, outputId(`layer.${voiceId}`), { on: false });
}

/** A strip of a target on the front of the patch, or without it. */
export const setOnFront = (patch: Patch, target: string, there: boolean): Patch => ({
  ...patch,
  front: there
    ? patch.front.includes(target) || patch.front.length >= 16
      ? patch.front
      : [...patch.front, target]
    : patch.front.filter((other) => other !== target),
});
