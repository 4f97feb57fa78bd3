import { fromNormal, toNormal, type LayerParameterId } from '../parameters';
import { LAYER_PARAMETERS } from '../layerParameters';
import { paramOf } from '../defaults';
import type { Patch } from '../schema';
import { setParam } from './layers';

/**
 * A parameter of several layers at once, as one of them is given `value`: all get the same value, all are moved by as
 * much of the range, or all are stretched by as much from its lowest value. A layer
 * that would leave the range stops at its end.
 */
export function setOfSeveral(
  patch: Patch,
  layerIds: readonly string[],
  leadId: string,
  id: LayerParameterId,
  value: number,
  way: 'set' | 'shift' | 'scale',
): Patch {
  const lead = patch.layers.find((layer) => layer.id === leadId);
  if (!lead) return patch;
  const parameter = LAYER_PARAMETERS[id];
  const before = toNormal(parameter, paramOf(lead, id));
  const after = toNormal(parameter, value);
  return layerIds.reduce((left, layerId) => {
    const layer = left.layers.find((each) => each.id === layerId);
    if (!layer || layerId === leadId || way === 'set') return setParam(left, layerId, id, value);
    const own = toNormal(parameter, paramOf(layer, id));
    return setParam(
      left,
      layerId,
      id,
      fromNormal(parameter, way === 'shift' ? own + after - before : before === 0 ? own : (own * after) / before),
    );
  }, patch);
}
