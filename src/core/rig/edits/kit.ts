import { freeMark, fullWindow, newGroup, newLayer, newSound, newZone, windowOn } from '../defaults';
import { heldName, withCopies } from '../names';
import type { Group, Layer, Patch, Rig, Route, Sample, Sound } from '../schema';
import { membersOf, updateGroup } from './groups';
import { deleteLayer, updateLayer, updatePatch } from './layers';
import { addSamples } from './zones';
import { MOST_GROUPS } from '../limits';

/** A pad is a group on one key; the pads of a patch are its kit. Edits are pure functions. */
export interface Pad {
  key: number;
  group: Group;
  members: readonly Layer[];
}

const keyOf = (group: Group): number | undefined => {
  const window = group.windows.find(({ source }) => source === 'key');
  return window && window.low === window.high ? window.low : undefined;
};

/** The pads of a patch, from the lowest key. */
export const padsOf = (patch: Patch): Pad[] =>
  patch.groups
    .flatMap((group) => {
      const key = keyOf(group);
      return key === undefined ? [] : [{ key, group, members: membersOf(patch, group.id) }];
    })
    .sort((a, b) => a.key - b.key);

/** A pad stays on its key, also when a song is transposed. */
const onKey = (group: Group, key: number): Group => ({
  ...group,
  receive: { ...group.receive, song: false },
  windows: [{ ...fullWindow('key'), low: key, high: key }, ...group.windows.filter(({ source }) => source !== 'key')],
});

/** A sound of one sample that plays to its end at its own pitch, whatever the key. */
export const padSound = (id: string, name: string, sample: Sample): Sound =>
  newSound(id, heldName(name), [
    {
      ...newZone(sample.id, 60),
      key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
      pitchPerKey: 0,
      playback: 'full-length',
    },
  ]);

/**
 * Puts a layer on the pad of a key: on top of what is there, or as the first of a new pad. Unchanged where there is no
 * room for another group.
 */
export function intoPad(patch: Patch, key: number, layer: Layer, newId: () => string): Patch {
  const pad = padsOf(patch).find((each) => each.key === key);
  if (pad) {
    const at = patch.layers.map(({ groupId }) => groupId).lastIndexOf(pad.group.id) + 1;
    return {
      ...patch,
      layers: [...patch.layers.slice(0, at), { ...layer, groupId: pad.group.id }, ...patch.layers.slice(at)],
    };
  }
  if (patch.groups.length >= MOST_GROUPS) return patch;
  const group = onKey(newGroup(newId(), layer.name, layer.mark), key);
  return {
    ...patch,
    groups: [...patch.groups, { ...group, folded: true }],
    layers: [...patch.layers, { ...layer, groupId: group.id }],
  };
}

/** Puts a sample on the pad of a key. Unchanged where there is no room for another group. */
export function fillPad(
  rig: Rig,
  patchId: string,
  key: number,
  name: string,
  sample: Sample,
  newId: () => string,
): Rig {
  const patch = rig.patches.find(({ id }) => id === patchId);
  if (!patch) return rig;
  const soundId = newId();
  const next = intoPad(patch, key, newLayer(newId(), heldName(name), soundId, freeMark(patch)), newId);
  if (next === patch) return rig;
  return updatePatch(
    addSamples({ ...rig, sounds: [...rig.sounds, padSound(soundId, name, sample)] }, [sample]),
    patchId,
    () => next,
  );
}

/** A sample takes the place of what a member plays; all else of it stays. */
export function exchangeMember(
  rig: Rig,
  patchId: string,
  layerId: string,
  name: string,
  sample: Sample,
  newId: () => string,
): Rig {
  const soundId = newId();
  const withSound = addSamples({ ...rig, sounds: [...rig.sounds, padSound(soundId, name, sample)] }, [sample]);
  return updatePatch(withSound, patchId, (patch) =>
    updateLayer(patch, layerId, (layer) => ({ ...layer, soundId, list: [], name: heldName(name) })),
  );
}

/**
 * A layer that plays a sound with zones on keys becomes pads: a group for each key on which the sound has something,
 * all with the layer's own values. Unchanged where that are too many.
 */
export function kitOf(
  patch: Patch,
  layerId: string,
  sound: Sound,
  nameOf: (key: number) => string,
  newId: () => string,
): Patch {
  const layer = patch.layers.find(({ id }) => id === layerId);
  const keys = [...new Set(sound.zones.map(({ root }) => root))].sort((a, b) => a - b);
  if (!layer || keys.length === 0 || patch.groups.length + keys.length > MOST_GROUPS) return patch;
  const window = windowOn(layer, 'key')!;
  const inside = keys.filter((key) => key + layer.transpose >= 0 && key >= window.low && key <= window.high);
  const pads = inside.map((key) => ({
    group: { ...onKey(newGroup(newId(), nameOf(key), layer.mark), key), folded: true },
    layer: { ...layer, id: newId(), name: nameOf(key), mark: layer.mark },
  }));
  if (pads.length === 0) return patch;
  const at = patch.layers.indexOf(layer);
  const prefix = `layer.${layerId}.`;
  const routes = pads.reduce<readonly Route[]>(
    (all, pad) =>
      withCopies(all, (target) =>
        target.startsWith(prefix) ? `layer.${pad.layer.id}.${target.slice(prefix.length)}` : undefined,
      ),
    patch.routes,
  );
  // What else knew the layer, anchors of pads and followers, is told that it is gone.
  return deleteLayer(
    {
      ...patch,
      groups: [...patch.groups, ...pads.map(({ group }) => group)],
      layers: [
        ...patch.layers.slice(0, at),
        ...pads.map((pad) => ({ ...pad.layer, groupId: pad.group.id })),
        ...patch.layers.slice(at),
      ],
      routes,
    },
    layerId,
  );
}

/**
 * Gives other pads the structure of one: the group's values and switches, and of each member in its place the shape,
 * windows, touch and way of its notes. Keys, names and sounds stay.
 */
export function copyStructure(patch: Patch, fromId: string, toIds: readonly string[]): Patch {
  const from = padsOf(patch).find(({ group }) => group.id === fromId);
  if (!from) return patch;
  return toIds
    .filter((id) => id !== fromId)
    .reduce((left, id) => {
      const to = padsOf(left).find(({ group }) => group.id === id);
      if (!to) return left;
      const grouped = updateGroup(left, id, (group) =>
        onKey(
          {
            ...group,
            params: from.group.params,
            receive: from.group.receive,
            choke: from.group.choke,
            windows: from.group.windows,
          },
          to.key,
        ),
      );
      return from.members.reduce(
        (made, member, i) =>
          to.members[i]
            ? updateLayer(made, to.members[i].id, (layer) => ({
                ...layer,
                params: member.params,
                windows: member.windows,
                touch: member.touch,
                path: member.path,
                receive: member.receive,
                transpose: member.transpose,
              }))
            : made,
        grouped,
      );
    }, patch);
}
