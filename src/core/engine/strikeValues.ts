import type { EnvelopeShape } from '../dsp/envelope';
import { LAYER_PARAMETERS, levelGain, unitInPlace, type LayerParameterId } from '../rig/parameters';
import type { Evaluator } from './evaluate';
import { STRIKE_PARAMETERS, type ProgramLayer, type Voicing } from './program';

/** Places of what is read when a note begins. */
const at = (id: LayerParameterId): number => STRIKE_PARAMETERS.indexOf(id);
export const TRANSPOSE = at('transpose'), START = at('start'), REVERSED = at('reversed'), DELAY = at('delay'), START_LEVEL = at('startLevel'), ATTACK = at('attack'), HOLD = at('hold'),
  DECAY = at('decay'), SUSTAIN = at('sustain'), RELEASE = at('release'), KEY_TRACK = at('keyTrack'), VELOCITY_TRACK = at('velocityTrack'), VELOCITY_TO_LEVEL = at('velocityToLevel'),
  TOUCH = at('touch'), BEND_RANGE = at('bendRange'), VIBRATO_RATE = at('vibratoRate'), VIBRATO_ONSET = at('vibratoOnset'), CHOICE = at('choice');
export const STRIKE_VALUES = STRIKE_PARAMETERS.length;

const PARAMETERS = STRIKE_PARAMETERS.map((id) => LAYER_PARAMETERS[id]);

/** From the parameter's unit to what voices work with: shares as 0…1, levels as factors. */
function toVoice(values: Float64Array, place: number): void {
  switch (place) {
    case START_LEVEL: case START: case KEY_TRACK: case VELOCITY_TO_LEVEL: case CHOICE: values[place] /= 100; break;
    case SUSTAIN: values[place] = values[place] <= PARAMETERS[place].low ? 0 : 10 ** (values[place] / 20); break;
  }
}

export function strikeRestsOf(value: (id: LayerParameterId) => number): Float64Array {
  const rests = Float64Array.from(STRIKE_PARAMETERS, value);
  for (let place = 0; place < STRIKE_VALUES; place++) toVoice(rests, place);
  rests[SUSTAIN] = levelGain(value('sustain'), LAYER_PARAMETERS.sustain.low);
  return rests;
}

/** The envelope that values read at the strike describe. */
export const envelopeOf = (values: Float64Array): EnvelopeShape =>
  ({ delay: values[DELAY], startLevel: values[START_LEVEL], attack: values[ATTACK], hold: values[HOLD], decay: values[DECAY], sustain: values[SUSTAIN], release: values[RELEASE] });

/** A bit for each place that the envelope reads. */
export const ENVELOPE_BITS = [DELAY, START_LEVEL, ATTACK, HOLD, DECAY, SUSTAIN, RELEASE].reduce((bits, place) => bits | (1 << place), 0);

/** Fills `into` with what holds for a note that begins now, by the evaluator's last readings; gives a bit for each place that something moved. */
export function readStrikeValues(evaluator: Evaluator, layer: ProgramLayer, voicing: Voicing, into: Float64Array): number {
  const { strikeRoutes } = layer;
  const { strikeNormals, strikeRests } = voicing;
  let moved = 0;
  for (let place = 0; place < STRIKE_VALUES; place++) {
    if (strikeRoutes[place].length === 0) {
      into[place] = strikeRests[place];
      continue;
    }
    evaluator.move(strikeNormals, place, strikeRoutes[place], into);
    unitInPlace(PARAMETERS[place], into, place);
    toVoice(into, place);
    moved |= 1 << place;
  }
  return moved;
}
