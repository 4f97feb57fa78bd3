import { unitInPlace } from '../../rig/parameters';
import type { Evaluator } from '../moving/evaluate';
import { type ProgramLayer } from '../program/program';
import { ARP_GATE, ARP_SWING, PATH_SPECS } from '../program/pathValues';

/** Fills `into` with the values of the path's parameters by the evaluator's last readings. */
export function readPathValues(
  evaluator: Evaluator,
  { pathRoutes, pathNormals, pathRests }: ProgramLayer,
  into: Float64Array,
): void {
  for (let place = 0; place < PATH_SPECS.length; place++) {
    if (pathRoutes[place].length === 0) {
      into[place] = pathRests[place];
      continue;
    }
    evaluator.move(pathNormals, place, pathRoutes[place], into);
    unitInPlace(PATH_SPECS[place], into, place);
    if (place === ARP_GATE || place === ARP_SWING) into[place] /= 100;
  }
}
