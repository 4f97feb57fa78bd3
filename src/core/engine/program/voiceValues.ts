import { unitInPlace } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { MOVED_PARAMETERS } from './program';

/**
 * What a voice works with, by place: gain as a factor, pan −1…1, pitch in semitones from the recording, cutoffs as
 * distances in semitones from 20 Hz (where
 * their ear-sized steps are equal), Q, the same of the second filter, drive and tilt in
 * dB, where its loop is (a shift as a share of the sample, a length as a share of its own), the depth of its vibrato in
 * semitones, and which of its list it is to be, 0…1. The places are those of {@link MOVED_PARAMETERS}.
 */
export const GAIN = 0,
  PAN = 1,
  SEMITONES = 2,
  CUTOFF_KEY = 3,
  Q = 4,
  LOW_CUT_KEY = 5,
  CUTOFF2_KEY = 6,
  Q2 = 7,
  DRIVE = 8,
  TILT = 9,
  LOOP_POSITION = 10,
  LOOP_LENGTH = 11,
  VIBRATO = 12,
  MORPH = 13;
export const VALUES = MOVED_PARAMETERS.length;

export const cutoffKeyOf = (hz: number): number => 12 * Math.log2(hz / 20);

const PARAMETERS = MOVED_PARAMETERS.map((id) => LAYER_PARAMETERS[id]);

/** Turns the value at a place from 0…1 into the voice's unit. */
export function toVoiceUnit(values: Float64Array, place: number): void {
  const parameter = PARAMETERS[place];
  unitInPlace(parameter, values, place);
  switch (place) {
    case GAIN:
      values[place] = values[place] <= parameter.low ? 0 : 10 ** (values[place] / 20);
      break;
    case SEMITONES:
    case LOOP_POSITION:
    case LOOP_LENGTH:
    case VIBRATO:
    case MORPH:
      values[place] /= 100;
      break;
    case CUTOFF_KEY:
    case LOW_CUT_KEY:
    case CUTOFF2_KEY:
      values[place] = 12 * Math.log2(values[place] / 20);
      break;
  }
}

/** Resting values in the voice's units. */
export function restsOf(baseNormals: Float64Array): Float64Array {
  const rests = Float64Array.from(baseNormals);
  for (let place = 0; place < VALUES; place++) toVoiceUnit(rests, place);
  return rests;
}
