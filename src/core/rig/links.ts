import { parseTarget } from './parameters';
import type { Rig } from './schema';

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
      const place = `patches[${p}]`;
      const layerIds = idsOf(patch.layers);
      yield repeated(`${place}.layers`, patch.layers.map(idOf));
      yield repeated(`${place}.routes`, patch.routes.map(idOf));
      yield repeated(`${place}.macros`, patch.macros.map((macro) => macro.number));
      yield repeated(`${place}.blends`, patch.blends.map((blend) => blend.number));
      for (const [l, layer] of patch.layers.entries()) {
        yield missing(soundIds, layer.soundId, 'sound', `${place}.layers[${l}].soundId`);
        for (const source of ['key', 'velocity']) {
          if (!layer.windows.some((window) => window.source === source)) yield { place: `${place}.layers[${l}].windows`, problem: `has no window on ${source}` };
        }
      }
      for (const [r, route] of patch.routes.entries()) {
        const target = parseTarget(route.target);
        if (target?.kind === 'layer') yield missing(layerIds, target.layerId, 'layer', `${place}.routes[${r}].target`);
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
