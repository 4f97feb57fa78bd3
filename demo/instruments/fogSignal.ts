import { Chance } from '../../src/core/dsp/chance';
import { nameOfKey } from '../../src/core/music/noteNames';
import { frequencyOfKey } from '../../src/core/music/pitch';
import type { Audio } from '../../src/core/dsp/sample';
import { addPartial, fadeEnd, finish, RATE, rise, shape, type Recording } from './tools';

const KEYS = [36, 41, 46, 51, 56];

/**
 * A horn across the water, as a folder of recordings that somebody has yet to make an instrument of: five notes, soft and hard, two takes of each, their names
 * telling which is which.
 */
export function fogSignal(): Recording[] {
  return KEYS.flatMap((key) => (['soft', 'hard'] as const).flatMap((dynamic) => [1, 2].map((take): Recording => {
    const hz = frequencyOfKey(key);
    const chance = new Chance(key * 53 + take * 7 + (dynamic === 'hard' ? 1 : 0));
    const out = new Float64Array(Math.round(1.9 * RATE));
    const bright = dynamic === 'hard' ? 1500 : 520;
    for (let n = 1; n <= 24; n++) {
      const amplitude = (1 / n ** 0.6) * Math.exp((-n * hz) / bright) * (0.85 + 0.3 * chance.share());
      addPartial(out, amplitude, n * hz, chance.share(), 2.6 / (1 + 0.04 * n));
    }
    shape(out, (t) => rise(t, dynamic === 'hard' ? 0.05 : 0.14));
    fadeEnd(out, 0.7);
    return { name: `fog_${nameOfKey(key, 4, true)}_${dynamic}_rr${take}.wav`, root: key, velocity: [1, 127], audio: quieter(finish([out]), dynamic === 'soft' ? 0.4 : 1), loop: null };
  })));
}

const quieter = (audio: Audio, gain: number): Audio => ({ ...audio, data: audio.data.map((x) => x * gain) });
