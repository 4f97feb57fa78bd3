import { LFO_SHAPES, moverKind } from '../../../core/movers';
import {
  HELD,
  INPUT,
  MOST_PARAMETERS,
  SEED,
  seedOf,
  SPAN_SECONDS,
  STATE_SIZE,
  VALUE,
} from '../../../core/movers/mover';
import { moverParam } from '../../../core/rig/defaults';
import type { Mover } from '../../../core/rig/schema';

/** Points of a mover's picture. */
const POINTS = 96;

/**
 * A round of a mover (a whole life, of an envelope), worked out by the very code that moves the sound: values −1…1 from
 * left to right.
 */
export function shapeOf(mover: Mover): Float64Array {
  const kind = moverKind(mover.kind);
  const ids = Object.keys(kind.parameters);
  const values = new Float64Array(MOST_PARAMETERS);
  ids.forEach((id, i) => {
    values[i] = moverParam(mover, id);
  });
  const rounds =
    mover.kind === 'steps'
      ? Math.max(1, mover.values.length)
      : mover.kind === 'hold' || mover.kind === 'wander'
        ? 8
        : mover.kind === 'lfo'
          ? mover.shape === 'smooth random'
            ? 4
            : 1
          : 1;
  const spec = {
    clock: 'hz' as const,
    begins: 'strike' as const,
    shape: LFO_SHAPES.indexOf(mover.shape),
    loop: mover.loop,
    samplesInput: false,
    points: mover.kind === 'steps' ? Float64Array.from(mover.values) : Float64Array.from(mover.points.flat()),
  };
  let seconds = rounds;
  let releaseAt = Infinity;
  if (mover.kind === 'envelope') {
    const held = values[0] + values[1] + values[2] + values[3];
    releaseAt = held * 1.25 + 0.05;
    seconds = releaseAt + values[5];
  } else if (mover.kind === 'follower') seconds = 4 * (values[0] + values[1]);
  else values[0] = 1;
  if (mover.kind === 'lfo') values[4] = values[5] = 0;
  const state = new Float64Array(STATE_SIZE);
  state[SEED] = seedOf(1, mover.number * 64);
  state[HELD] = 1;
  kind.begin(state, 0, values, 0, spec);
  const time = new Float64Array(3);
  const step = seconds / POINTS;
  time[SPAN_SECONDS] = step;
  return Float64Array.from({ length: POINTS }, (_, i) => {
    if (i > 0) {
      if (i * step > releaseAt) state[HELD] = 0;
      state[INPUT] = mover.kind === 'follower' ? (i < POINTS / 3 ? 1 : 0) : 0;
      kind.advance(state, 0, values, 0, spec, time);
    }
    return state[VALUE];
  });
}

/** How many rounds the picture shows. */
export const roundsShown = (mover: Mover): number =>
  mover.kind === 'steps'
    ? Math.max(1, mover.values.length)
    : mover.kind === 'hold' || mover.kind === 'wander'
      ? 8
      : mover.kind === 'lfo' && mover.shape === 'smooth random'
        ? 4
        : 1;
