import { LAYER_PARAMETERS } from '../rig/parameters';
import type { Controllers } from './controllers';
import type { Voice } from './voice';
import { CUTOFF_KEY, cutoffKeyOf, GAIN, PAN, SEMITONES, toVoiceUnit, VALUES } from './voiceValues';

const HIGHEST_CUTOFF_KEY = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);

/** Works out where a voice's values are heading, from its layer's windows and routes and the hands as they are. Voices of earlier patches keep their targets. */
export function aimVoice(voice: Voice, controllers: Controllers): void {
  const { program, evaluator } = voice.layer;
  if (!evaluator) return;
  evaluator.look(program, voice);
  const { targets, voicing } = voice;
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
  targets[GAIN] *= voicing.velocityGain[voice.velocity] * voice.zoneGain * voice.zoneWindowsGain[0];
  targets[PAN] = Math.max(-1, Math.min(1, targets[PAN] + voice.zonePan));
  targets[SEMITONES] += voice.zoneSemitones;
  if (program.receive.bend) targets[SEMITONES] += controllers.bend[program.channel] * voicing.bendRange;
  const cutoff = targets[CUTOFF_KEY] + voicing.keyTrack * (voice.key + program.transpose - 60) + (voicing.velocityTrack * voice.velocity) / 127;
  targets[CUTOFF_KEY] = Math.max(0, Math.min(HIGHEST_CUTOFF_KEY, cutoff));
  voice.unsettle();
}
