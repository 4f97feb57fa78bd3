import { groupParam, newGroup } from '../defaults';
import { withoutLoose } from '../mix';
import { copyName, freshEffects, heldName, sendsOfCopies, withCopies } from '../names';
import { GROUP_PARAMETERS, type GroupParameterId } from '../parameters';
import type { Group, Layer, Patch } from '../schema';
import { MOST_GROUPS } from '../limits';

/**
 * Edits of groups: pure functions. Members of a group stand together in the order of the layers; an unknown id leaves
 * everything as it is.
 */

export const membersOf = (patch: Patch, groupId: string): readonly Layer[] =>
  patch.layers.filter((layer) => layer.groupId === groupId);

export function updateGroup(patch: Patch, groupId: string, change: (group: Group) => Group): Patch {
  const groups = patch.groups.map((group) => (group.id === groupId ? change(group) : group));
  return groups.every((group, i) => group === patch.groups[i]) ? patch : { ...patch, groups };
}

/** Members next to the first of them, groups without any left out. */
function together(patch: Patch): Patch {
  const done = new Set<string>();
  const layers = patch.layers.flatMap((layer) => {
    if (layer.groupId === null) return [layer];
    if (done.has(layer.groupId)) return [];
    done.add(layer.groupId);
    return patch.layers.filter((other) => other.groupId === layer.groupId);
  });
  const gone = patch.groups.filter(({ id }) => !done.has(id)).map(({ id }) => id);
  return withoutLoose({
    ...patch,
    layers,
    groups: gone.length === 0 ? patch.groups : patch.groups.filter(({ id }) => done.has(id)),
    xyPads:
      gone.length === 0
        ? patch.xyPads
        : patch.xyPads.map((pad) => ({
            ...pad,
            anchors: pad.anchors.map((anchor) =>
              anchor.layerId !== null && gone.includes(anchor.layerId) ? { ...anchor, layerId: null } : anchor,
            ),
          })),
    routes:
      gone.length === 0
        ? patch.routes
        : patch.routes.filter((route) => !gone.some((id) => route.target.startsWith(`group.${id}.`))),
  });
}

/**
 * Gathers layers in a new group, with the mark of the first of them. Unchanged where there are as many groups as there
 * may be, or none of the layers.
 */
export function groupLayers(patch: Patch, layerIds: readonly string[], id: string, name: string): Patch {
  const first = patch.layers.find((layer) => layerIds.includes(layer.id));
  if (!first || patch.groups.length >= MOST_GROUPS) return patch;
  return together({
    ...patch,
    groups: [...patch.groups, newGroup(id, heldName(name), first.mark)],
    layers: patch.layers.map((layer) => (layerIds.includes(layer.id) ? { ...layer, groupId: id } : layer)),
  });
}

/** Puts a layer into a group, or with null out of the one it is in, to the place right after it. */
export function moveToGroup(patch: Patch, layerId: string, groupId: string | null): Patch {
  const layer = patch.layers.find((each) => each.id === layerId);
  if (!layer || layer.groupId === groupId || (groupId !== null && !patch.groups.some(({ id }) => id === groupId)))
    return patch;
  const others = patch.layers.filter((each) => each !== layer);
  const last = others.map((each) => each.groupId).lastIndexOf(groupId ?? layer.groupId);
  const at = last < 0 ? patch.layers.indexOf(layer) : last + 1;
  return together({ ...patch, layers: [...others.slice(0, at), { ...layer, groupId }, ...others.slice(at)] });
}

/** The members stay where they are, without their group. */
export const ungroup = (patch: Patch, groupId: string): Patch =>
  together({
    ...patch,
    layers: patch.layers.map((layer) => (layer.groupId === groupId ? { ...layer, groupId: null } : layer)),
  });

/** The whole group goes to another place in the order, counted in layers without its members. */
export function moveGroup(patch: Patch, groupId: string, to: number): Patch {
  const members = membersOf(patch, groupId);
  const others = patch.layers.filter((layer) => layer.groupId !== groupId);
  return together({ ...patch, layers: [...others.slice(0, to), ...members, ...others.slice(to)] });
}

/**
 * A copy of a group with copies of its members right after it, and of all routes to both. `newId` gives ids for layers
 * and the group.
 */
export function duplicateGroup(patch: Patch, groupId: string, newId: () => string): Patch {
  const group = patch.groups.find(({ id }) => id === groupId);
  if (!group || patch.groups.length >= MOST_GROUPS) return patch;
  const id = newId();
  const members = membersOf(patch, groupId);
  const ids = new Map(members.map((layer) => [layer.id, newId()]));
  const fresh = freshEffects(patch);
  const copies = members.map((layer) => ({
    ...layer,
    id: ids.get(layer.id)!,
    groupId: id,
    effects: fresh.copies(layer.effects),
  }));
  const copyOfGroup = { ...group, id, name: copyName(group.name), effects: fresh.copies(group.effects) };
  const end = patch.layers.indexOf(members[members.length - 1]) + 1;
  const routes = withCopies(patch.routes, (target) => {
    const [kind, owner, ...rest] = target.split('.');
    const copy =
      kind === 'layer'
        ? ids.get(owner)
        : kind === 'group'
          ? owner === groupId
            ? id
            : undefined
          : fresh.idOf.get(owner);
    return copy === undefined ? undefined : [kind, copy, ...rest].join('.');
  });
  return {
    ...patch,
    layers: [...patch.layers.slice(0, end), ...copies, ...patch.layers.slice(end)],
    groups: [...patch.groups, copyOfGroup],
    routes,
    connections: sendsOfCopies(
      patch.connections,
      new Map([
        [`group.${groupId}`, `group.${id}`],
        ...[...ids].map(([from, to]) => [`layer.${from}`, `layer.${to}`] as const),
      ]),
    ),
  };
}

export const renameGroup = (patch: Patch, groupId: string, name: string): Patch =>
  updateGroup(patch, groupId, (group) => (heldName(name) === '' ? group : { ...group, name: heldName(name) }));

/** A parameter of a group in its unit, held within its range; the default leaves no trace. */
export function setGroupParam(patch: Patch, groupId: string, id: GroupParameterId, value: number): Patch {
  const { low, high, law, default: rest } = GROUP_PARAMETERS[id];
  if (Number.isNaN(value)) return patch;
  const inside = Math.min(high, Math.max(low, value));
  const held = law === 'steps' ? Math.round(inside) : inside;
  return updateGroup(patch, groupId, (group) => {
    if (groupParam(group, id) === held) return group;
    const { [id]: _, ...others } = group.params;
    return { ...group, params: held === rest ? others : { ...others, [id]: held } };
  });
}

/** Without the groups that have no members left: for edits that take layers away. */
export const withoutEmptyGroups = (patch: Patch): Patch =>
  patch.groups.every(({ id }) => patch.layers.some((layer) => layer.groupId === id)) ? patch : together(patch);
