import type { Kernel } from '../dsp/kernel/kernel';
import { Voice } from './voice';

/** Voices beyond the limit in which stolen ones fade out. */
const LEAVING = 32;

/** All the voices there are, made once; who must go when there are too many. */
export class VoicePool {
  readonly all: readonly Voice[];

  constructor(kernel: Kernel, private readonly maxVoices: number, private readonly engineRate: number) {
    this.all = Array.from({ length: maxVoices + LEAVING }, (_, n) => new Voice(kernel, n));
  }

  /** A voice to start: a free one, after the quietest has been sent away where the limit is reached. */
  take(): Voice {
    let free: Voice | null = null;
    let counted = 0;
    for (const voice of this.all) {
      if (!voice.active) free ??= voice;
      else if (!voice.isDismissed) counted++;
    }
    if (counted >= this.maxVoices) {
      const victim = this.quietest(false);
      if (victim.amplitude === 0) return victim;
      victim.dismiss(this.engineRate);
    }
    return free ?? this.quietest(true);
  }

  /** Released voices first, then the quietest, then the oldest. */
  private quietest(dismissed: boolean): Voice {
    let best: Voice | null = null;
    for (const voice of this.all) {
      if (!voice.active || voice.isDismissed !== dismissed) continue;
      if (!best || isQuieter(voice, best)) best = voice;
    }
    return best ?? this.all[0];
  }
}

const isQuieter = (a: Voice, b: Voice): boolean => {
  if (a.released !== b.released) return a.released;
  return a.amplitude !== b.amplitude ? a.amplitude < b.amplitude : a.born < b.born;
};
