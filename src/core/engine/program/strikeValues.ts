import type { EnvelopeShape } from '../../dsp/envelope';
import { levelGain, type LayerParameterId } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { STRIKE_PARAMETERS } from './program';

/** Places of what is read when a note begins. */
const at = (id: LayerParameterId): number => STRIKE_PARAMETERS.indexOf(id);
export const TRANSPOSE = at('transpose'),
  START = at('start'),
  REVERSED = at('reversed'),
  DELAY = at('delay'),
  START_LEVEL = at('startLevel'),
  ATTACK = at('attack'),
  HOLD = at('hold'),
  DECAY = at('decay'),
  SUSTAIN = at('sustain'),
  RELEASE = at('release'),
  KEY_TRACK = at('keyTrack'),
  VELOCITY_TRACK = at('velocityTrack'),
  VELOCITY_TO_LEVEL = at('velocityToLevel'),
  TOUCH = at('touch'),
  BEND_RANGE = at('bendRange'),
  VIBRATO_RATE = at('vibratoRate'),
  VIBRATO_ONSET = at('vibratoOnset'),
  CHOICE = at('choice'),
  UNISON = at('unison'),
  DETUNE = at('detune'),
  UNISON_WIDTH = at('unisonWidth'),
  PAN_CHANCE = at('panChance'),
  PAN_KEYS = at('panKeys'),
  GLIDE = at('glide'),
  DRIFT = at('drift'),
  DRIFT_TIME = at('driftTime'),
  ONSET = at('onset'),
  ONSET_TIME = at('onsetTime'),
  ATTACK_CURVE = at('attackCurve'),
  DECAY_CURVE = at('decayCurve'),
  RELEASE_CURVE = at('releaseCurve'),
  FILTER_KIND = at('filterKind'),
  FILTER2_KIND = at('filter2Kind'),
  FILTER_PATHS = at('filterPaths'),
  KEY_TRACK2 = at('keyTrack2'),
  VELOCITY_TRACK2 = at('velocityTrack2'),
  ENVELOPE_TO_CUTOFF = at('envelopeToCutoff'),
  ENVELOPE_TO_CUTOFF2 = at('envelopeToCutoff2'),
  COMB_DAMPING = at('combDamping'),
  TILT_PIVOT = at('tiltPivot');
export const STRIKE_VALUES = STRIKE_PARAMETERS.length;

export const STRIKE_SPECS = STRIKE_PARAMETERS.map((id) => LAYER_PARAMETERS[id]);

/** From the parameter's unit to what voices work with: shares as 0…1, levels as factors. */
export function toVoice(values: Float64Array, place: number): void {
  switch (place) {
    case START_LEVEL:
    case START:
    case KEY_TRACK:
    case VELOCITY_TO_LEVEL:
    case CHOICE:
    case UNISON_WIDTH:
    case PAN_CHANCE:
    case PAN_KEYS:
    case KEY_TRACK2:
    case COMB_DAMPING:
    case ATTACK_CURVE:
    case DECAY_CURVE:
    case RELEASE_CURVE:
      values[place] /= 100;
      break;
    case SUSTAIN:
      values[place] = values[place] <= STRIKE_SPECS[place].low ? 0 : 10 ** (values[place] / 20);
      break;
  }
}

export function strikeRestsOf(value: (id: LayerParameterId) => number): Float64Array {
  const rests = Float64Array.from(STRIKE_PARAMETERS, value);
  for (let place = 0; place < STRIKE_VALUES; place++) toVoice(rests, place);
  rests[SUSTAIN] = levelGain(value('sustain'), LAYER_PARAMETERS.sustain.low);
  return rests;
}

/** The envelope that values read at the strike describe. */
export const envelopeOf = (values: Float64Array): EnvelopeShape => ({
  delay: values[DELAY],
  startLevel: values[START_LEVEL],
  attack: values[ATTACK],
  hold: values[HOLD],
  decay: values[DECAY],
  sustain: values[SUSTAIN],
  release: values[RELEASE],
  attackCurve: values[ATTACK_CURVE],
  decayCurve: values[DECAY_CURVE],
  releaseCurve: values[RELEASE_CURVE],
});

/** The places that the envelope reads. */
const ENVELOPE_PLACES = [
  DELAY,
  START_LEVEL,
  ATTACK,
  HOLD,
  DECAY,
  SUSTAIN,
  RELEASE,
  ATTACK_CURVE,
  DECAY_CURVE,
  RELEASE_CURVE,
];

/** Whether something moved the envelope. */
export function movesEnvelope(moved: Uint8Array): boolean {
  for (let i = 0; i < ENVELOPE_PLACES.length; i++) if (moved[ENVELOPE_PLACES[i]] === 1) return true;
  return false;
}
