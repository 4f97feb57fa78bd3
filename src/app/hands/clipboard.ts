import { paste } from '../../core/rig/edits/carry';
import { clipOf, type Clip } from '../../core/rig/edits/clip';
import { newPatch, newRig } from '../../core/rig/defaults';
import type { Patch, Rig } from '../../core/rig/schema';
import { newId, notice, store } from '../document/store';
import { small } from '../document/storage/small';

const KEY = 'wavicle-clip';

/** What was copied last, in this tab or another one. */
export function copied(): Clip | null {
  try {
    const clip = JSON.parse(small.get(KEY) ?? 'null') as Clip | null;
    return clip && LISTS.every((list) => Array.isArray(clip[list])) ? clip : null;
  } catch {
    return null;
  }
}

const LISTS = ['layers', 'groups', 'routes', 'macros', 'movers', 'xyPads', 'blends', 'sounds', 'samples'] as const;

/** Ids of what is chosen in a patch: the layers chosen together, those of the chosen group, or the one layer. */
export function chosenLayers(patch: Patch): { kind: 'group' | 'layer'; ids: string[]; name: string } {
  const { selectedGroupId, chosenLayerIds, selectedLayerId } = store.getState().choosing;
  const group = patch.groups.find(({ id }) => id === selectedGroupId);
  if (group)
    return {
      kind: 'group',
      ids: patch.layers.filter((layer) => layer.groupId === group.id).map(({ id }) => id),
      name: group.name,
    };
  const several = chosenLayerIds.filter((id) => patch.layers.some((layer) => layer.id === id));
  if (several.length > 1) return { kind: 'layer', ids: several, name: `${several.length} layers` };
  const layer = patch.layers.find(({ id }) => id === selectedLayerId) ?? patch.layers[0];
  return { kind: 'layer', ids: layer ? [layer.id] : [], name: layer?.name ?? '' };
}

export function copyChosen(rig: Rig, patch: Patch): void {
  const { ids, name } = chosenLayers(patch);
  if (ids.length === 0) return;
  const everywhere = small.set(KEY, JSON.stringify(clipOf(rig, patch, ids, name)));
  const how = everywhere
    ? 'Control V puts it into any patch'
    : 'this browser has no room for it, so that Control V knows it in this tab alone';
  store.dispatch(notice('info', `“${name}” is copied, with all that moves it: ${how}.`, 'copied'));
}

/** A rig that holds what was clipped in one patch and nothing else: for a file. */
export const rigOfClip = (clip: Clip): Rig =>
  paste({ ...newRig(newId(), clip.name), patches: [newPatch('clip', clip.name)] }, 'clip', clip, newId).rig;
