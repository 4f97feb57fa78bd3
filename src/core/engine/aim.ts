import { fromNormal, LAYER_PARAMETERS, levelGain } from '../rig/parameters';
import type { Controllers } from './controllers';
import { MOVED_PARAMETERS } from './program';
import { cutoffKeyOf, type Voice } from './voice';

const PARAMETERS = MOVED_PARAMETERS.map((id) => LAYER_PARAMETERS[id]);
const [LEVEL, PAN, TUNE, CUTOFF, RESONANCE, LOW_CUT, LOOP_POSITION, LOOP_LENGTH] = MOVED_PARAMETERS.map((_, i) => i);

/** Works out where a voice's parameters are heading, from its layer's windows and routes and the hands as they are. Voices of earlier patches keep their targets. */
export function aimVoice(voice: Voice, controllers: Controllers): void {
  const { program, evaluator } = voice.layer;
  if (!evaluator) return;
  evaluator.look(program, voice);
  const { targets } = voice;
  const level = valueOf(voice, LEVEL);
  const { voicing } = voice;
  if (voice.zoneWindows) voice.zoneWindowsGain = evaluator.gainOf(voice.zoneWindows);
  targets.gain = evaluator.windowGain(program) * levelGain(level, PARAMETERS[LEVEL].low) * voicing.velocityGain[voice.velocity] * voice.zoneGain * voice.zoneWindowsGain;
  const pan = valueOf(voice, PAN) + voice.zonePan;
  targets.pan = pan < -1 ? -1 : pan > 1 ? 1 : pan;
  const bend = program.receive.bend ? controllers.bend[program.channel] * voicing.bendRange : 0;
  targets.semitones = voice.zoneSemitones + valueOf(voice, TUNE) / 100 + bend;
  const cutoff = cutoffKeyOf(valueOf(voice, CUTOFF)) + voicing.keyTrack * (voice.key + program.transpose - 60) + (voicing.velocityTrack * voice.velocity) / 127;
  targets.cutoffKey = Math.max(0, Math.min(cutoffKeyOf(PARAMETERS[CUTOFF].high), cutoff));
  targets.q = valueOf(voice, RESONANCE);
  targets.lowCutKey = cutoffKeyOf(valueOf(voice, LOW_CUT));
  targets.loopPosition = valueOf(voice, LOOP_POSITION) / 100;
  targets.loopLength = valueOf(voice, LOOP_LENGTH) / 100;
  voice.unsettle();
}

function valueOf(voice: Voice, parameter: number): number {
  const { program, evaluator } = voice.layer;
  return fromNormal(PARAMETERS[parameter], evaluator!.moved(voice.voicing.baseNormals[parameter], program.routes[parameter]));
}
