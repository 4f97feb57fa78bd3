import { type LayerParameterId } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { PATH_PARAMETERS } from './program';

/** Places of a path's parameters in `LayerPath.values`: seconds, a place among note values, shares. */
export const STRUM = 0,
  ARP_RATE = 1,
  ARP_GATE = 2,
  ARP_SWING = 3,
  ARP_OCTAVES = 4,
  PATH_VALUES = 5;

export const PATH_SPECS = PATH_PARAMETERS.map((id) => LAYER_PARAMETERS[id]);

/** Resting values in the units that paths work with: shares instead of per cent. */
export const pathRestsOf = (value: (id: LayerParameterId) => number): Float64Array =>
  Float64Array.from(PATH_PARAMETERS, (id, place) =>
    place === ARP_GATE || place === ARP_SWING ? value(id) / 100 : value(id),
  );
