import type { Evaluator } from '../moving/evaluate';
import { type OwnRoutes, type OwnValues, type ProgramLayer } from '../program/program';
import type { Voice } from './voice';
import { type Scale, MOVED_SCALES, STRIKE_SCALES } from '../program/ownValues';

/**
 * Works out where a voice's own values are heading, by the evaluator's last readings, which must be those of this
 * voice.
 */
export function aimOwn(voice: Voice, evaluator: Evaluator): void {
  const { own, kind } = voice.voicing;
  const ownRoutes = voice.layer.program.ownRoutes[kind];
  if (!own || !ownRoutes || voice.generator.values === null) return;
  const { targets } = voice.generator.values;
  const scale = MOVED_SCALES[kind];
  for (let place = 0; place < targets.length; place++) {
    if (ownRoutes.routes[place].length === 0) targets[place] = own.rests[place];
    else aimPlace(own, ownRoutes, scale, place, evaluator, targets);
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
  const scale = MOVED_SCALES[kind];
  for (let i = 0; i < movingPlaces.length; i++)
    aimPlace(own, ownRoutes, scale, movingPlaces[i], evaluator, values.targets);
  values.lead(movingPlaces);
}

function aimPlace(
  own: OwnValues,
  { routes }: OwnRoutes,
  scale: Scale,
  place: number,
  evaluator: Evaluator,
  targets: Float64Array,
): void {
  evaluator.move(own.normals, place, routes[place], targets);
  scale.apply(targets, place);
}

/** Fills `into` with what holds of a kind's own parameters for a note that begins now. */
export function readOwnStrike(
  evaluator: Evaluator,
  layer: ProgramLayer,
  kind: number,
  own: OwnValues,
  into: Float64Array,
): void {
  const ownRoutes = layer.ownRoutes[kind];
  const scale = STRIKE_SCALES[kind];
  const count = own.strikeRests.length;
  for (let place = 0; place < count; place++) {
    if (!ownRoutes || ownRoutes.strikeRoutes[place].length === 0) {
      into[place] = own.strikeRests[place];
      continue;
    }
    evaluator.move(own.strikeNormals, place, ownRoutes.strikeRoutes[place], into);
    scale.apply(into, place);
  }
}
