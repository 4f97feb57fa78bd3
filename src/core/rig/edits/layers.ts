import { freeMark, newLayer, paramOf, vibratoRoute } from '../defaults';
import { type LayerParameterId, type Parameter } from '../parameters';
import { LAYER_PARAMETERS } from '../layerParameters';
import { withoutLoose } from '../mix';
import { copyName, freeId, freshEffects, heldName, sendsOfCopies, withCopies } from '../names';
import { withoutEmptyGroups } from './groups';
import type { Layer, Patch, Rig, Sound } from '../schema';

/**
 * Edits of layers: pure functions. An unknown id leaves everything as it is, and unchanged things stay the same
 * objects.
 */

export function updatePatch(rig: Rig, patchId: string, change: (patch: Patch) => Patch): Rig {
  const patches = rig.patches.map((patch) => (patch.id === patchId ? change(patch) : patch));
  return patches.every((patch, i) => patch === rig.patches[i]) ? rig : { ...rig, patches };
}

export function updateLayer(patch: Patch, layerId: string, change: (layer: Layer) => Layer): Patch {
  const layers = patch.layers.map((layer) => (layer.id === layerId ? change(layer) : layer));
  return layers.every((layer, i) => layer === patch.layers[i]) ? patch : { ...patch, layers };
}

const QUIETEST_DB = -24;

/**
 * A new layer at the end that plays a sound everywhere, with vibrato on the wheel, a mark nobody has and as quiet as
 * the quietest there, down to −24 dB: it is heard and never jumps out.
 */
export function addLayer(patch: Patch, id: string, name: string, soundId: string): Patch {
  const added = {
    ...patch,
    layers: [...patch.layers, newLayer(id, heldName(name), soundId, freeMark(patch))],
    routes: [...patch.routes, vibratoRoute(freeId('vibrato', patch.routes), id)],
  };
  return patch.layers.length === 0
    ? added
    : setParam(
        added,
        id,
        'level',
        Math.max(QUIETEST_DB, Math.min(...patch.layers.map((layer) => paramOf(layer, 'level')))),
      );
}

/**
 * The layer plays a sound from now on, with the values that come with it; those that only another kind of sound has are
 * dropped.
 */
export function takeUp(layer: Layer, sound: Sound): Layer {
  const kept = Object.fromEntries(
    Object.entries(layer.params).filter(([id]) => {
      const { of } = LAYER_PARAMETERS[id as LayerParameterId] as Parameter;
      return !of || of === sound.kind;
    }),
  );
  return { ...layer, soundId: sound.id, list: [], params: { ...kept, ...sound.params } };
}

/**
 * Values of a layer that go with its sound, as its sound's own from now on: all but those that place the layer in its
 * patch.
 */
export function keepInSound(sound: Sound, layer: Layer): Sound {
  return {
    ...sound,
    params: Object.fromEntries(
      Object.entries(layer.params).filter(([id]) => !OF_THE_PATCH.includes(id as LayerParameterId)),
    ),
  };
}
const OF_THE_PATCH: readonly LayerParameterId[] = ['level', 'pan', 'width', 'choice', 'bendRange'];

/** A new layer that plays a sound, with the values that come with it. */
export const addLayerOf = (patch: Patch, id: string, sound: Sound): Patch =>
  updateLayer(addLayer(patch, id, sound.name, sound.id), id, (layer) => ({
    ...takeUp(layer, sound),
    params: { ...sound.params, ...layer.params },
  }));

/** A copy right after the original, with what moves the original moving it too. */
export function duplicateLayer(patch: Patch, layerId: string, id: string): Patch {
  const at = patch.layers.findIndex((layer) => layer.id === layerId);
  if (at < 0) return patch;
  const original = patch.layers[at];
  const fresh = freshEffects(patch);
  const copy: Layer = {
    ...original,
    id,
    name: copyName(original.name),
    mark: freeMark(patch),
    effects: fresh.copies(original.effects),
  };
  const prefix = `layer.${layerId}.`;
  const routes = withCopies(patch.routes, (target) =>
    target.startsWith(prefix) ? `layer.${id}.${target.slice(prefix.length)}` : fresh.target(target),
  );
  return {
    ...patch,
    connections: sendsOfCopies(patch.connections, new Map([[`layer.${layerId}`, `layer.${id}`]])),
    layers: [...patch.layers.slice(0, at + 1), copy, ...patch.layers.slice(at + 1)],
    routes,
  };
}

/** Without the layer, and without the routes to it. */
export const deleteLayer = (patch: Patch, layerId: string): Patch =>
  withoutLoose(
    withoutEmptyGroups({
      ...patch,
      layers: patch.layers.filter((layer) => layer.id !== layerId),
      routes: patch.routes.filter((route) => !route.target.startsWith(`layer.${layerId}.`)),
      xyPads: patch.xyPads.some((pad) => pad.anchors.some((anchor) => anchor.layerId === layerId))
        ? patch.xyPads.map((pad) => ({
            ...pad,
            anchors: pad.anchors.map((anchor) => (anchor.layerId === layerId ? { ...anchor, layerId: null } : anchor)),
          }))
        : patch.xyPads,
      movers: patch.movers.some((mover) => mover.kind === 'follower' && mover.follows === layerId)
        ? patch.movers.map((mover) =>
            mover.kind === 'follower' && mover.follows === layerId ? { ...mover, follows: 'main' } : mover,
          )
        : patch.movers,
    }),
  );

export const renameLayer = (patch: Patch, layerId: string, name: string): Patch =>
  updateLayer(patch, layerId, (layer) => (heldName(name) === '' ? layer : { ...layer, name: heldName(name) }));

/** The semitones of a layer, held within its range. */
export const setTranspose = (patch: Patch, layerId: string, semitones: number): Patch =>
  updateLayer(patch, layerId, (layer) =>
    Number.isNaN(semitones)
      ? layer
      : { ...layer, transpose: Math.min(MOST_TRANSPOSE, Math.max(-MOST_TRANSPOSE, Math.round(semitones))) },
  );
export const MOST_TRANSPOSE = 48;

/** The layer at another place in the order, counted without it; groups stay together. */
export function moveLayer(patch: Patch, layerId: string, to: number): Patch {
  const moved = patch.layers.find((layer) => layer.id === layerId);
  if (!moved) return patch;
  const others = patch.layers.filter((layer) => layer !== moved);
  // Between two members it joins their group; away from its own it leaves it.
  const [left, right] = [others[to - 1]?.groupId ?? null, others[to]?.groupId ?? null];
  const groupId =
    left !== null && left === right
      ? left
      : moved.groupId !== null && (left === moved.groupId || right === moved.groupId)
        ? moved.groupId
        : null;
  return withoutEmptyGroups({
    ...patch,
    layers: [...others.slice(0, to), groupId === moved.groupId ? moved : { ...moved, groupId }, ...others.slice(to)],
  });
}

/** A parameter of a layer in its unit, held within its range; the default leaves no trace. */
export function setParam(patch: Patch, layerId: string, id: LayerParameterId, value: number): Patch {
  const { low, high, law, default: rest } = LAYER_PARAMETERS[id];
  if (Number.isNaN(value)) return patch;
  const held =
    law === 'steps' ? Math.round(Math.min(high, Math.max(low, value))) : Math.min(high, Math.max(low, value));
  if (id === 'transpose') return setTranspose(patch, layerId, held);
  if (id === 'touch')
    return updateLayer(patch, layerId, (layer) =>
      layer.touch.curve === held ? layer : { ...layer, touch: { ...layer.touch, curve: held } },
    );
  return updateLayer(patch, layerId, (layer) => {
    if (paramOf(layer, id) === held) return layer;
    const { [id]: _, ...others } = layer.params;
    return { ...layer, params: held === rest ? others : { ...others, [id]: held } };
  });
}
