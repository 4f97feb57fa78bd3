import { LAYER_PARAMETERS, toNormal, unitInPlace, type LayerParameterId, type Parameter } from '../rig/parameters';
import type { Evaluator } from './evaluate';
import { OWN_MOVED, OWN_STRIKE, type OwnRoutes, type OwnValues, type ProgramLayer } from './program';
import type { Voice } from './voice';

/** The values that a kind of sound alone has, in what generators work with: shares 0…1, levels as factors (the lowest is silence), all else in its unit. */

const MOVED: readonly (readonly Parameter[])[] = OWN_MOVED.map((ids) => ids.map((id) => LAYER_PARAMETERS[id]));
const STRIKE: readonly (readonly Parameter[])[] = OWN_STRIKE.map((ids) => ids.map((id) => LAYER_PARAMETERS[id]));
export const MOST_OWN_STRIKE = Math.max(...STRIKE.map((list) => list.length));

function toGenerator({ law, unit, low }: Parameter, values: Float64Array, place: number): void {
  if (law === 'dB') values[place] = values[place] <= low ? 0 : 10 ** (values[place] / 20);
  else if (unit === '%') values[place] /= 100;
}

/** The place of a parameter among those of its kind. */
export const movedPlace = (kind: number, id: LayerParameterId): number => OWN_MOVED[kind].indexOf(id);
export const strikePlace = (kind: number, id: LayerParameterId): number => OWN_STRIKE[kind].indexOf(id);

/** Resting values of a kind's own parameters. */
export function ownValuesOf(kind: number, value: (id: LayerParameterId) => number): OwnValues {
  const inUnits = (list: readonly Parameter[], normals: Float64Array) => {
    const values = Float64Array.from(normals);
    list.forEach((parameter, place) => {
      unitInPlace(parameter, values, place);
      toGenerator(parameter, values, place);
    });
    return values;
  };
  const normals = Float64Array.from(MOVED[kind], (parameter) => toNormal(parameter, value(parameter.id as LayerParameterId)));
  const strikeNormals = Float64Array.from(STRIKE[kind], (parameter) => toNormal(parameter, value(parameter.id as LayerParameterId)));
  return { normals, rests: inUnits(MOVED[kind], normals), strikeNormals, strikeRests: inUnits(STRIKE[kind], strikeNormals) };
}

/** Works out where a voice's own values are heading, by the evaluator's last readings, which must be those of this voice. */
export function aimOwn(voice: Voice, evaluator: Evaluator): void {
  const { own, kind } = voice.voicing;
  const ownRoutes = voice.layer.program.ownRoutes[kind];
  if (!own || !ownRoutes || voice.generator.values === null) return;
  const { targets } = voice.generator.values;
  const list = MOVED[kind];
  for (let place = 0; place < list.length; place++) {
    if (ownRoutes.routes[place].length === 0) targets[place] = own.rests[place];
    else aimPlace(own, ownRoutes, list[place], place, evaluator, targets);
  }
  voice.generator.values.unsettle();
}

/** The same for what moves by itself alone. */
export function aimOwnMoving(voice: Voice, evaluator: Evaluator): void {
  const { own, kind } = voice.voicing;
  const ownRoutes = voice.layer.program.ownRoutes[kind];
  const { values } = voice.generator;
  if (!own || !ownRoutes || values === null || ownRoutes.movingPlaces.length === 0) return;
  const { movingPlaces } = ownRoutes;
  const list = MOVED[kind];
  for (let i = 0; i < movingPlaces.length; i++) aimPlace(own, ownRoutes, list[movingPlaces[i]], movingPlaces[i], evaluator, values.targets);
  values.lead(movingPlaces);
}

function aimPlace(own: OwnValues, { routes }: OwnRoutes, parameter: Parameter, place: number, evaluator: Evaluator, targets: Float64Array): void {
  evaluator.move(own.normals, place, routes[place], targets);
  unitInPlace(parameter, targets, place);
  toGenerator(parameter, targets, place);
}

/** Fills `into` with what holds of a kind's own parameters for a note that begins now. */
export function readOwnStrike(evaluator: Evaluator, layer: ProgramLayer, kind: number, own: OwnValues, into: Float64Array): void {
  const ownRoutes = layer.ownRoutes[kind];
  const list = STRIKE[kind];
  for (let place = 0; place < list.length; place++) {
    if (!ownRoutes || ownRoutes.strikeRoutes[place].length === 0) {
      into[place] = own.strikeRests[place];
      continue;
    }
    evaluator.move(own.strikeNormals, place, ownRoutes.strikeRoutes[place], into);
    unitInPlace(list[place], into, place);
    toGenerator(list[place], into, place);
  }
}
