import { isMoverKind, parseSource } from '../space/source';
import { parseTarget } from './parameters';
import type { PatchContent, Rig } from './schema';

export interface Fault { place: string; problem: string }

/** The first thing in a rig that points at nothing, or that shares with another what should be its own; undefined in a sound rig. */
export function brokenLink(rig: Rig): Fault | undefined {
  const { patches, sounds, samples } = rig;
  const soundIds = idsOf(sounds);
  const sampleIds = idsOf(samples);
  const patchIds = idsOf(patches);
  const faults = function* (): Generator<Fault | undefined> {
    yield repeated('patches', patches.map(idOf));
    yield repeated('sounds', sounds.map(idOf));
    yield repeated('samples', samples.map(idOf));
    for (const [i, id] of rig.setlist.entries()) yield missing(patchIds, id, 'patch', `setlist[${i}]`);
    for (const [s, sound] of sounds.entries()) {
      for (const [z, zone] of sound.zones.entries()) yield missing(sampleIds, zone.sampleId, 'sample', `sounds[${s}].zones[${z}].sampleId`);
    }
    for (const [p, patch] of patches.entries()) {
      yield repeated(`patches[${p}].versions`, patch.versions.map(idOf));
      if (patch.version !== null) yield missing(idsOf(patch.versions), patch.version, 'version', `patches[${p}].version`);
    }
    const contents = patches.flatMap((patch, p): [string, PatchContent][] => [[`patches[${p}]`, patch], ...patch.versions.map((version, v): [string, PatchContent] => [`patches[${p}].versions[${v}].patch`, version.patch])]);
    for (const [place, patch] of contents) {
      const layerIds = idsOf(patch.layers);
      const groupIds = idsOf(patch.groups);
      yield repeated(`${place}.layers`, patch.layers.map(idOf));
      yield repeated(`${place}.groups`, patch.groups.map(idOf));
      yield repeated(`${place}.routes`, patch.routes.map(idOf));
      yield repeated(`${place}.macros`, patch.macros.map((macro) => macro.number));
      yield repeated(`${place}.blends`, patch.blends.map((blend) => blend.number));
      yield repeated(`${place}.xyPads`, patch.xyPads.map((pad) => pad.number));
      yield repeated(`${place}.movers`, patch.movers.map(({ kind, number }) => `${kind}.${number}`));
      for (const [x, pad] of patch.xyPads.entries()) {
        for (const [a, anchor] of pad.anchors.entries()) if (anchor.layerId !== null) yield missing(new Set([...layerIds, ...groupIds]), anchor.layerId, 'layer or group', `${place}.xyPads[${x}].anchors[${a}].layerId`);
      }
      for (const [m, mover] of patch.movers.entries()) {
        if (mover.kind === 'follower' && mover.follows !== 'main') yield missing(layerIds, mover.follows, 'layer', `${place}.movers[${m}].follows`);
        if (mover.kind === 'hold' && mover.follows !== 'random' && !parseSource(mover.follows)) yield { place: `${place}.movers[${m}].follows`, problem: `"${mover.follows}" names no source` };
      }
      for (const [l, layer] of patch.layers.entries()) {
        if (layer.groupId !== null) yield missing(groupIds, layer.groupId, 'group', `${place}.layers[${l}].groupId`);
        yield missing(soundIds, layer.soundId, 'sound', `${place}.layers[${l}].soundId`);
        for (const [n, id] of layer.list.entries()) yield missing(soundIds, id, 'sound', `${place}.layers[${l}].list[${n}]`);
        for (const source of ['key', 'velocity']) {
          if (!layer.windows.some((window) => window.source === source)) yield { place: `${place}.layers[${l}].windows`, problem: `has no window on ${source}` };
        }
      }
      for (const [r, route] of patch.routes.entries()) {
        const target = parseTarget(route.target);
        if (target?.kind === 'layer') yield missing(layerIds, target.layerId, 'layer', `${place}.routes[${r}].target`);
        if (target?.kind === 'group') yield missing(groupIds, target.groupId, 'group', `${place}.routes[${r}].target`);
        if (target && isMoverKind(target.kind) && !patch.movers.some(({ kind, number }) => kind === target.kind && number === (target as { number: number }).number)) yield { place: `${place}.routes[${r}].target`, problem: `there is no ${target.kind}.${(target as { number: number }).number}` };
        if (target?.kind === 'xy' && !patch.xyPads.some(({ number }) => number === target.number)) yield { place: `${place}.routes[${r}].target`, problem: `there is no XY pad ${target.number}` };
      }
    }
  };
  for (const fault of faults()) if (fault) return fault;
  return undefined;
}

const idOf = (item: { id: string }): string => item.id;
const idsOf = (items: readonly { id: string }[]) => new Set(items.map(idOf));

const missing = (ids: Set<string>, id: string, what: string, place: string): Fault | undefined =>
  ids.has(id) ? undefined : { place, problem: `no ${what} has the id "${id}"` };

function repeated(place: string, ids: readonly (string | number)[]): Fault | undefined {
  const seen = new Set<string | number>();
  for (const [i, id] of ids.entries()) {
    if (seen.has(id)) return { place: `${place}[${i}]`, problem: `"${id}" is used twice` };
    seen.add(id);
  }
  return undefined;
}
