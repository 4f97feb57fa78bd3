import { LAYER_PARAMETERS, unitInPlace, type LayerParameterId } from '../../rig/parameters';
import type { Evaluator } from '../evaluate';
import { PATH_PARAMETERS, type ProgramLayer } from '../program';
import { ARP_GATE, ARP_SWING } from './layerPath';

const PARAMETERS = PATH_PARAMETERS.map((id) => LAYER_PARAMETERS[id]);

/** Resting values in the units that paths work with: shares instead of per cent. */
export const pathRestsOf = (value: (id: LayerParameterId) => number): Float64Array =>
  Float64Array.from(PATH_PARAMETERS, (id, place) =>
    place === ARP_GATE || place === ARP_SWING ? value(id) / 100 : value(id),
  );

/** Fills `into` with the values of the path's parameters by the evaluator's last readings. */
export function readPathValues(
  evaluator: Evaluator,
  { pathRoutes, pathNormals, pathRests }: ProgramLayer,
  into: Float64Array,
): void {
  for (let place = 0; place < PARAMETERS.length; place++) {
    if (pathRoutes[place].length === 0) {
      into[place] = pathRests[place];
      continue;
    }
    evaluator.move(pathNormals, place, pathRoutes[place], into);
    unitInPlace(PARAMETERS[place], into, place);
    if (place === ARP_GATE || place === ARP_SWING) into[place] /= 100;
  }
}
