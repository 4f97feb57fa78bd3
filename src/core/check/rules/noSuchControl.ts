import { parseControl } from '../../music/control';
import { labelOfSource } from '../../space/source';
import { named, type Rule } from '../finding';

/** CC 1, 2, 4, 7, 11 and 64 to 69 are on most keyboards or follow from a pedal (MIDI 1.0, table of controllers). */
const COMMON = new Set([1, 2, 4, 7, 11, 64, 65, 66, 67, 68, 69]);

/** Controllers that a patch listens to and that the learned hardware does not send. */
export const noSuchControl: Rule = {
  id: 'no-such-control',
  shelf: 'hands',
  title: 'A controller that is not there',
  why: 'What only that controller moves will not move on the night.',
  help: 'Once controls were learned, a patch that listens to another controller number is named, but for those that nearly every keyboard has (wheel, breath, foot, volume, expression, pedals). A controller may be sent by a second keyboard that was not learned; then set this aside.',
  *find({ rig, patch }) {
    const { bindings, pedals } = rig.controllers;
    if (bindings.length === 0) return;
    const there = new Set(pedals.map(({ controller }) => controller));
    for (const { control } of bindings) {
      const parsed = parseControl(control);
      const number = /^(?:cc|cc14|relative)\.(\d+)$/.exec(control);
      if (parsed && number) there.add(Number(number[1]));
    }
    const used = new Map<number, string[]>();
    const use = (source: unknown, layerId?: string) => {
      const cc = typeof source === 'string' && /^cc\.(\d+)$/.exec(source);
      if (cc) used.set(Number(cc[1]), [...(used.get(Number(cc[1])) ?? []), ...(layerId ? [layerId] : [])]);
    };
    for (const layer of patch.layers) for (const { source } of layer.windows) use(source, layer.id);
    for (const group of patch.groups) for (const { source } of group.windows) use(source);
    for (const { on, source, scaledBy, target } of patch.routes) {
      const layerId = /^layer\.([^.]+)/.exec(target)?.[1];
      if (on) {
        use(source, layerId);
        use(scaledBy, layerId);
      }
    }
    for (const [number, ids] of used) {
      if (COMMON.has(number) || there.has(number)) continue;
      const layers = patch.layers.filter(({ id }) => ids.includes(id));
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: layers.map(({ id }) => id), macro: number },
        hear: null,
        fixes: [],
        message: `${layers.length > 0 ? named(layers) : 'The patch'} ${layers.length === 1 ? 'listens' : 'listen'} to ${labelOfSource(`cc.${number}`)}, which none of the learned controls sends.`,
      };
    }
  },
};
