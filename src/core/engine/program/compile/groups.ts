import { groupParam } from '../../../rig/defaults';
import {
  GROUP_PARAMETERS,
  ONTO,
  toNormal,
  type GroupParameterId,
  type LayerParameterId,
} from '../../../rig/parameters';
import { LAYER_PARAMETERS } from '../../../rig/layerParameters';
import { groupHasStripLevel } from './mix';
import type { Group, Layer, Patch, Receive, Route } from '../../../rig/schema';

/** How far a group moves its members' parameters, as shares of their ranges. */
export type Offsets = Partial<Record<LayerParameterId, number>>;

/** A member's share of its range for a whole range of the group's parameter: both are counted in the same steps. */
export function ratioOf(id: GroupParameterId, onto: LayerParameterId): number {
  const group = GROUP_PARAMETERS[id];
  const layer = LAYER_PARAMETERS[onto];
  // Semitones on frequencies, and factors on times, are distances on a scale of proportions.
  if (id === 'filters') return (group.high - group.low) / (12 * Math.log2(layer.high / layer.low));
  if (group.law === 'log') return Math.log(group.high / group.low) / Math.log(layer.high / layer.low);
  return (group.high - group.low) / (layer.high - layer.low);
}

/**
 * A patch in which groups are dissolved into their members: windows and what is heard are joined, routes to a group
 * become routes to its members, and how far the group as it rests moves them is told
 * apart. What is left needs no more of groups.
 */
export function dissolveGroups(patch: Patch): { patch: Patch; offsets: ReadonlyMap<string, Offsets> } {
  const offsets = new Map<string, Offsets>();
  if (patch.groups.length === 0) return { patch, offsets };
  const groupOf = new Map(patch.groups.map((group) => [group.id, group]));
  const layers = patch.layers.map((layer) => {
    const group = layer.groupId === null ? undefined : groupOf.get(layer.groupId);
    if (!group) return layer;
    offsets.set(layer.id, offsetsOf(group));
    return {
      ...layer,
      on: layer.on && group.on,
      windows: [...layer.windows, ...group.windows],
      receive: heard(layer.receive, group.receive),
      transpose: held(layer.transpose + groupParam(group, 'transpose')),
    };
  });
  const routes = patch.routes.flatMap((route): Route[] => {
    const [kind, groupId, id] = route.target.split('.');
    // What stands on the strip of a group moves no member.
    if (kind !== 'group' || isOnStrip(groupOf.get(groupId), id)) return [route];
    return patch.layers
      .filter((layer) => layer.groupId === groupId)
      .flatMap((layer: Layer) =>
        ONTO[id as GroupParameterId].map((onto) => ({
          ...route,
          id: `${route.id}-${layer.id}-${onto}`,
          target: `layer.${layer.id}.${onto}`,
          depth: route.depth * ratioOf(id as GroupParameterId, onto),
        })),
      );
  });
  return { patch: { ...patch, layers, routes, groups: [] }, offsets };
}

/** What a group has on its own strip, after its effects: its width, and with effects its level. */
const isOnStrip = (group: Group | undefined, id: string): boolean =>
  group !== undefined && (id === 'width' || (id === 'level' && groupHasStripLevel(group)));

function offsetsOf(group: Group): Offsets {
  const found: Offsets = {};
  for (const id of Object.keys(GROUP_PARAMETERS) as GroupParameterId[]) {
    const parameter = GROUP_PARAMETERS[id];
    if (isOnStrip(group, id)) continue;
    const way = toNormal(parameter, groupParam(group, id)) - toNormal(parameter, parameter.default);
    // A transposition is whole semitones, and the layer's own from here on.
    if (way !== 0 && id !== 'transpose') for (const onto of ONTO[id]) found[onto] = way * ratioOf(id, onto);
  }
  return found;
}

const heard = (layer: Receive, group: Receive): Receive => ({
  port: layer.port === 'any' ? group.port : layer.port,
  channel: layer.channel === 'any' ? group.channel : layer.channel,
  bend: layer.bend && group.bend,
  sustain: layer.sustain && group.sustain,
  sostenuto: layer.sostenuto && group.sostenuto,
  wheel: layer.wheel && group.wheel,
  pressure: layer.pressure && group.pressure,
  expression: layer.expression && group.expression,
  program: layer.program,
  song: layer.song && group.song,
});

const held = (semitones: number): number => Math.min(48, Math.max(-48, semitones));
