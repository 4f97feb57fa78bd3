import { tunedBy } from '../../music/tunings';
import { exp2 } from '../../dsp/quick';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import type { Controllers } from '../hands/controllers';
import type { Evaluator } from '../moving/evaluate';
import { BEND_RANGE, KEY_TRACK, KEY_TRACK2, VELOCITY_TRACK, VELOCITY_TRACK2 } from '../program/strikeValues';
import type { Voice } from './voice';
import {
  CUTOFF2_KEY,
  CUTOFF_KEY,
  cutoffKeyOf,
  GAIN,
  LOW_CUT_KEY,
  MORPH,
  PAN,
  Q,
  SEMITONES,
  toVoiceUnit,
  VALUES,
  VIBRATO,
} from '../program/voiceValues';

const HIGHEST_CUTOFF_KEY = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);

/**
 * Works out where a voice's values are heading, from its layer's windows and routes and the readings of the evaluator,
 * which must be those of this voice. Keeps apart what stands still, for
 * {@link aimMoving}.
 */
export function aimVoice(voice: Voice, evaluator: Evaluator, controllers: Controllers): void {
  const { program } = voice.layer;
  const { targets, voicing, still } = voice;
  const { routes } = program;
  for (let place = 0; place < VALUES; place++) {
    if (routes[place].length === 0) targets[place] = voicing.rests[place];
    else {
      evaluator.move(voicing.baseNormals, place, routes[place], targets);
      toVoiceUnit(targets, place);
    }
  }
  evaluator.multiply(program.windows.followed, targets, GAIN);
  if (voice.zoneWindows) {
    voice.zoneWindowsGain[0] = 1;
    evaluator.multiply(voice.zoneWindows, voice.zoneWindowsGain, 0);
  }
  targets[GAIN] *= voice.touchGain * voice.layer.program.levelShare * voice.zoneGain * voice.zoneWindowsGain[0];
  if (voice.morphs > 1) shareMorph(voice);
  targets[PAN] = Math.max(-1, Math.min(1, targets[PAN] + voice.zonePan));
  still[SEMITONES] = voice.zoneSemitones;
  targets[SEMITONES] += voice.zoneSemitones;
  if (voice.receive.bend) {
    const master = controllers.masterOf[voice.channel];
    const bend =
      (master > 0 ? controllers.bend[master] : controllers.bend[program.channel]) * voice.strikeValues[BEND_RANGE];
    targets[SEMITONES] += bend;
    still[SEMITONES] += bend;
    if (master > 0) {
      targets[SEMITONES] += controllers.bend[voice.channel] * controllers.memberBend;
      still[SEMITONES] += controllers.bend[voice.channel] * controllers.memberBend;
    }
  }
  voice.stillSemitones[0] = targets[SEMITONES];
  // Combs sound at what they are tuned to: filters follow the key as it is tuned.
  const sounds = voice.key + voice.transpose;
  const fromMiddle = sounds + tunedBy(program.tuned, sounds) - 60;
  const tracked =
    voice.strikeValues[KEY_TRACK] * fromMiddle + (voice.strikeValues[VELOCITY_TRACK] * voice.velocity) / 127;
  still[CUTOFF_KEY] = tracked;
  voice.stillCutoffs[0] = targets[CUTOFF_KEY] + tracked;
  targets[CUTOFF_KEY] = Math.max(0, Math.min(HIGHEST_CUTOFF_KEY, targets[CUTOFF_KEY] + tracked));
  const tracked2 =
    voice.strikeValues[KEY_TRACK2] * fromMiddle + (voice.strikeValues[VELOCITY_TRACK2] * voice.velocity) / 127;
  still[CUTOFF2_KEY] = tracked2;
  voice.stillCutoffs[1] = targets[CUTOFF2_KEY] + tracked2;
  targets[CUTOFF2_KEY] = Math.max(0, Math.min(HIGHEST_CUTOFF_KEY, targets[CUTOFF2_KEY] + tracked2));
  if (program.moves) {
    still[GAIN] =
      voice.touchGain *
      voice.layer.program.levelShare *
      voice.zoneGain *
      (program.zoneWindowsMove ? 1 : voice.zoneWindowsGain[0]);
    evaluator.multiply(program.stillWindows, still, GAIN);
  }
  if (targets[VIBRATO] > 0) voice.trembles = true;
  voice.unsettle();
}

const { level, resonance } = LAYER_PARAMETERS;
const OCTAVES_PER_DB = Math.log2(10) / 20;
const RESONANCE_OCTAVES = Math.log2(resonance.high / resonance.low);
const SHAPES_GAIN = (1 << GAIN) | (1 << MORPH);

/**
 * The same for what moves by itself alone, every few hundred microseconds for every voice: from tables, and without
 * looking at what stands still.
 */
export function aimMoving(voice: Voice, evaluator: Evaluator): void {
  const { program } = voice.layer;
  const { targets, voicing, still } = voice;
  const { movingPlaces, routes } = program;
  for (let i = 0; i < movingPlaces.length; i++) {
    const place = movingPlaces[i];
    evaluator.move(voicing.baseNormals, place, routes[place], targets);
    const x = targets[place];
    switch (place) {
      case GAIN:
        if (x <= 0) targets[GAIN] = 0;
        else {
          targets[GAIN] = (level.low + (level.high - level.low) * x) * OCTAVES_PER_DB;
          exp2(targets, GAIN);
        }
        break;
      case PAN: {
        const pan = 2 * x - 1 + voice.zonePan;
        targets[PAN] = pan < -1 ? -1 : pan > 1 ? 1 : pan;
        break;
      }
      case SEMITONES:
        targets[SEMITONES] = voice.stillSemitones[0] = 24 * x - 12 + still[SEMITONES];
        break;
      case CUTOFF_KEY: {
        const key = HIGHEST_CUTOFF_KEY * x + still[CUTOFF_KEY];
        voice.stillCutoffs[0] = key;
        targets[CUTOFF_KEY] = key < 0 ? 0 : key > HIGHEST_CUTOFF_KEY ? HIGHEST_CUTOFF_KEY : key;
        break;
      }
      case CUTOFF2_KEY: {
        const key = HIGHEST_CUTOFF_KEY * x + still[CUTOFF2_KEY];
        voice.stillCutoffs[1] = key;
        targets[CUTOFF2_KEY] = key < 0 ? 0 : key > HIGHEST_CUTOFF_KEY ? HIGHEST_CUTOFF_KEY : key;
        break;
      }
      case Q:
        targets[Q] = RESONANCE_OCTAVES * x;
        exp2(targets, Q);
        targets[Q] *= resonance.low;
        break;
      case LOW_CUT_KEY:
        targets[LOW_CUT_KEY] = HIGHEST_CUTOFF_KEY * x;
        break;
      default:
        toVoiceUnit(targets, place);
    }
  }
  if ((program.movingBits & SHAPES_GAIN) !== 0 || program.movingWindows.length > 0 || program.zoneWindowsMove) {
    if ((program.movingBits & (1 << GAIN)) === 0) {
      if (routes[GAIN].length === 0) targets[GAIN] = voicing.rests[GAIN];
      else {
        evaluator.move(voicing.baseNormals, GAIN, routes[GAIN], targets);
        toVoiceUnit(targets, GAIN);
      }
    }
    targets[GAIN] *= still[GAIN];
    evaluator.multiply(program.movingWindows, targets, GAIN);
    if (program.zoneWindowsMove && voice.zoneWindows) {
      voice.zoneWindowsGain[0] = 1;
      evaluator.multiply(voice.zoneWindows, voice.zoneWindowsGain, 0);
      targets[GAIN] *= voice.zoneWindowsGain[0];
    }
    if (voice.morphs > 1) shareMorph(voice);
  }
  if (targets[VIBRATO] > 0) voice.trembles = true;
}

/**
 * The part of a voice, at equal power, in a layer that crossfades along its list: the two sounds next to where the choice
 * is share.
 */
function shareMorph({ targets, morphs, morph }: Voice): void {
  const distance = Math.abs(targets[MORPH] * (morphs - 1) - morph);
  targets[GAIN] *= distance >= 1 ? 0 : Math.cos((Math.PI / 2) * distance);
}
