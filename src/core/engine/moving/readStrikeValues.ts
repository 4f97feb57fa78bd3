import { unitInPlace } from '../../rig/parameters';
import type { Evaluator } from './evaluate';
import { type ProgramLayer, type Voicing } from '../program/program';
import { STRIKE_VALUES, STRIKE_SPECS, toVoice } from '../program/strikeValues';

/**
 * Fills `into` with what holds for a note that begins now, by the evaluator's last readings; marks in `moved` each
 * place that something moved.
 */
export function readStrikeValues(
  evaluator: Evaluator,
  layer: ProgramLayer,
  voicing: Voicing,
  into: Float64Array,
  moved: Uint8Array,
): void {
  const { strikeRoutes } = layer;
  const { strikeNormals, strikeRests } = voicing;
  for (let place = 0; place < STRIKE_VALUES; place++) {
    if (strikeRoutes[place].length === 0) {
      into[place] = strikeRests[place];
      moved[place] = 0;
      continue;
    }
    evaluator.move(strikeNormals, place, strikeRoutes[place], into);
    unitInPlace(STRIKE_SPECS[place], into, place);
    toVoice(into, place);
    moved[place] = 1;
  }
}
