import type { EnvelopeShape } from '../../dsp/envelope';
import {
  ATTACK,
  ATTACK_CURVE,
  DECAY,
  DECAY_CURVE,
  DELAY,
  HOLD,
  RELEASE,
  RELEASE_CURVE,
  START_LEVEL,
  SUSTAIN,
} from '../program/strikeValues';

/** Room for the envelope of a voice in which something moved it at the strike. */
export const newShape = (): EnvelopeShape => ({
  delay: 0,
  startLevel: 0,
  attack: 0.001,
  hold: 0,
  decay: 1,
  sustain: 1,
  release: 0.2,
  attackCurve: 0,
  decayCurve: 0,
  releaseCurve: 0,
});

/** Times and levels of the envelope as they were read at the strike, by place of `strikeValues`. */
export function readShape(shape: EnvelopeShape, strikeValues: Float64Array): void {
  shape.delay = strikeValues[DELAY];
  shape.startLevel = strikeValues[START_LEVEL];
  shape.attack = strikeValues[ATTACK];
  shape.hold = strikeValues[HOLD];
  shape.decay = strikeValues[DECAY];
  shape.sustain = strikeValues[SUSTAIN];
  shape.release = strikeValues[RELEASE];
  shape.attackCurve = strikeValues[ATTACK_CURVE];
  shape.decayCurve = strikeValues[DECAY_CURVE];
  shape.releaseCurve = strikeValues[RELEASE_CURVE];
}
