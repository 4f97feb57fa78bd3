import { LAYER_PARAMETERS } from '../rig/parameters';
import type { Controllers } from './controllers';
import type { Evaluator } from './evaluate';
import { BEND_RANGE, KEY_TRACK, VELOCITY_TRACK } from './strikeValues';
import type { Voice } from './voice';
import { CUTOFF_KEY, cutoffKeyOf, GAIN, MORPH, PAN, SEMITONES, toVoiceUnit, VALUES, VIBRATO } from './voiceValues';

const HIGHEST_CUTOFF_KEY = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);
const ALL = 2 ** VALUES - 1;
const SHAPES_GAIN = (1 << GAIN) | (1 << MORPH);

/**
 * Works out where a voice's values are heading, from its layer's windows and routes and the readings of the evaluator, which must be those of this voice. `bits`: the places that may have moved;
 * all of them, where none is named. Voices of deleted layers keep their targets.
 */
export function aimVoice(voice: Voice, evaluator: Evaluator, controllers: Controllers, bits = ALL, windowsMove = true): void {
  const { program } = voice.layer;
  const { targets, voicing } = voice;
  const { routes } = program;
  const gain = windowsMove || (bits & SHAPES_GAIN) !== 0;
  for (let place = 0; place < VALUES; place++) {
    if ((bits & (1 << place)) === 0 && !(place === GAIN && gain)) continue;
    if (routes[place].length === 0) targets[place] = voicing.rests[place];
    else {
      evaluator.move(voicing.baseNormals, place, routes[place], targets);
      toVoiceUnit(targets, place);
    }
  }
  if (gain) {
    evaluator.multiply(program.windows.followed, targets, GAIN);
    if (voice.zoneWindows) {
      voice.zoneWindowsGain[0] = 1;
      evaluator.multiply(voice.zoneWindows, voice.zoneWindowsGain, 0);
    }
    targets[GAIN] *= voice.touchGain * voice.zoneGain * voice.zoneWindowsGain[0];
    if (voice.morphs > 1) voice.shareMorph();
  }
  if (bits & (1 << PAN)) targets[PAN] = Math.max(-1, Math.min(1, targets[PAN] + voice.zonePan));
  if (bits & (1 << SEMITONES)) {
    targets[SEMITONES] += voice.zoneSemitones;
    if (program.receive.bend) {
      const master = controllers.masterOf[voice.channel];
      targets[SEMITONES] += (master > 0 ? controllers.bend[master] : controllers.bend[program.channel]) * voice.strikeValues[BEND_RANGE];
      if (master > 0) targets[SEMITONES] += controllers.bend[voice.channel] * controllers.memberBend;
    }
    voice.stillSemitones[0] = targets[SEMITONES];
  }
  if (bits & (1 << CUTOFF_KEY)) {
    const cutoff = targets[CUTOFF_KEY] + voice.strikeValues[KEY_TRACK] * (voice.key + voice.transpose - 60) + (voice.strikeValues[VELOCITY_TRACK] * voice.velocity) / 127;
    targets[CUTOFF_KEY] = Math.max(0, Math.min(HIGHEST_CUTOFF_KEY, cutoff));
  }
  if (targets[VIBRATO] > 0) voice.trembles = true;
  voice.unsettle();
}
