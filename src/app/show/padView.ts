import type { Patch, XyPad } from '../../core/rig/schema';
import { MARK_COLOURS } from '../../core/rig/limits';

/**
 * What is drawn of a pad: its anchors 0…1 from the lower left, each with the name of a colour of the theme and of a
 * shape.
 */
export interface PadView {
  number: number;
  name: string;
  anchors: { name: string; x: number; y: number; colour: string; shape: string }[];
}

const made = new WeakMap<XyPad, { patch: Pick<Patch, 'layers' | 'groups'>; view: PadView }>();

/**
 * What is drawn of a pad: each anchor in the colour of the layer or group that it stands for. The same object while
 * neither changes.
 */
export function padView({ layers, groups }: Patch, pad: XyPad): PadView {
  const known = made.get(pad);
  if (known && known.patch.layers === layers && known.patch.groups === groups) return known.view;
  const view = {
    number: pad.number,
    name: pad.name,
    anchors: pad.anchors.map(({ name, x, y, layerId }, i) => {
      const mark = [...layers, ...groups].find(({ id }) => id === layerId)?.mark;
      return { name, x, y, colour: mark?.colour ?? MARK_COLOURS[i], shape: mark?.shape ?? 'dot' };
    }),
  };
  made.set(pad, { patch: { layers, groups }, view });
  return view;
}
