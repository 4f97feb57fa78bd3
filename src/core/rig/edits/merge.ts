import { samplesIn } from '../defaults';
import { effectsIn } from '../mix';
import { copyName } from '../names';
import type { Patch, PatchContent, Rig, Sound, Version } from '../schema';
import { bringInstruments, instrumentsUsed, withInstruments } from './outside';
import { withPairs } from './pairs';
import { withPatch } from './patches';

/**
 * Samples that something in a rig plays: zones, waves, effects and recordings that play along, in every version of
 * every patch.
 */
export function samplesUsed(rig: Rig): Set<string> {
  const sounds = soundsUsed(rig);
  const used = new Set(rig.sounds.filter(({ id }) => sounds.has(id)).flatMap((sound) => samplesIn(sound)));
  for (const content of contentsOf(rig)) {
    for (const { effect } of effectsIn(content)) if (effect.sampleId !== null) used.add(effect.sampleId);
    for (const { sampleId } of content.backing) used.add(sampleId);
  }
  return used;
}

const contentsOf = (rig: Rig): PatchContent[] =>
  rig.patches.flatMap((patch) => [patch, ...patch.versions.map((version) => version.patch)]);
const soundsUsed = (rig: Rig): Set<string> =>
  new Set(contentsOf(rig).flatMap(({ layers }) => layers.flatMap(({ soundId, list }) => [soundId, ...list])));

/** The rig with nothing that no patch plays: no other sounds, samples or instruments outside. */
export function onlyUsed(rig: Rig): Rig {
  const sounds = soundsUsed(rig);
  const samples = samplesUsed(rig);
  const instruments = new Set(contentsOf(rig).flatMap(instrumentsUsed));
  return {
    ...rig,
    instruments: rig.instruments.filter(({ id }) => instruments.has(id)),
    sounds: rig.sounds.filter(({ id }) => sounds.has(id)),
    samples: rig.samples.filter(({ id }) => samples.has(id)),
  };
}

export interface Merged {
  rig: Rig;
  patches: { id: string; name: string }[];
  sounds: number;
  sameSounds: number;
  samples: number;
  sameSamples: number;
}

const contentOf = ({ id: _, ...sound }: Sound): string => JSON.stringify(sound);
const freeName = (wanted: string, taken: Set<string>): string => {
  let name = wanted;
  while (taken.has(name)) name = copyName(name);
  taken.add(name);
  return name;
};

/**
 * Patches of another rig, with all that they play: sounds that are here already (the same in everything) and samples of
 * the same content come once; where names meet, the new ones are called otherwise. They stand at the end of the rig and
 * of the setlist of the next show.
 */
export function mergePatches(rig: Rig, other: Rig, patchIds: readonly string[], newId: () => string): Merged {
  const chosen = other.patches.filter(({ id }) => patchIds.includes(id));
  const wanted = onlyUsed({ ...other, patches: chosen });
  const ids = new Map<string, string>();
  const known = new Map(rig.sounds.map((sound) => [contentOf(sound), sound.id]));
  const soundNames = new Set(rig.sounds.map(({ name }) => name));
  const sounds: Sound[] = [];
  for (const sound of wanted.sounds) {
    const there = known.get(contentOf(sound));
    if (there !== undefined) {
      ids.set(sound.id, there);
      continue;
    }
    const id =
      rig.sounds.some((each) => each.id === sound.id) || sounds.some((each) => each.id === sound.id)
        ? newId()
        : sound.id;
    ids.set(sound.id, id);
    sounds.push({ ...sound, id, name: freeName(sound.name, soundNames) });
  }
  const here = new Set(rig.samples.map(({ id }) => id));
  const samples = wanted.samples.filter(({ id }) => !here.has(id));
  const patchIdsNew = new Map(chosen.map(({ id }) => [id, rig.patches.some((each) => each.id === id) ? newId() : id]));
  const names = new Set(rig.patches.map(({ name }) => name));
  const outside = bringInstruments(rig, wanted.instruments, newId);
  const own = <P extends PatchContent>(given: P): P => {
    const content = withPairs(withInstruments(given, outside.idOf), other.pairs, rig.pairs);
    return {
      ...content,
      layers: content.layers.map((layer) => ({
        ...layer,
        soundId: ids.get(layer.soundId) ?? layer.soundId,
        list: layer.list.map((id) => ids.get(id) ?? id),
      })),
      // A part that another patch plays goes with that patch, where it came along.
      takes: content.takes.map((take) => ({
        ...take,
        parts: take.parts.map((part) => {
          const played = part.plays.startsWith('patch.') ? patchIdsNew.get(part.plays.slice(6)) : undefined;
          return part.plays.startsWith('patch.')
            ? {
                ...part,
                plays: played === undefined ? 'patch' : `patch.${played}`,
                on: played === undefined ? false : part.on,
              }
            : part;
        }),
      })),
    };
  };
  const patches = chosen.map((patch): Patch => {
    const id = patchIdsNew.get(patch.id)!;
    return {
      ...own(patch),
      id,
      name: freeName(patch.name, names),
      versions: patch.versions.map((version): Version => ({ ...version, patch: { ...own(version.patch), id } })),
    };
  });
  const start: Rig = {
    ...rig,
    sounds: [...rig.sounds, ...sounds],
    samples: [...rig.samples, ...samples],
    instruments: outside.instruments,
  };
  return {
    rig: patches.reduce(withPatch, start),
    patches: patches.map(({ id, name }) => ({ id, name })),
    sounds: sounds.length,
    sameSounds: wanted.sounds.length - sounds.length,
    samples: samples.length,
    sameSamples: wanted.samples.length - samples.length,
  };
}
