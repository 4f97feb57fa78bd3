import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { addPartial, finish, RATE, rise, wholePeriods, type Recording } from './tools';

const BLOOM = 0.9;

/**
 * A struck hull: a bright onset that settles into a round, steady tone. Mono, every fourth key, looped where it is
 * steady.
 */
export function hullBass(): Recording[] {
  return Array.from({ length: 11 }, (_, i) => pluck(22 + 4 * i));
}

function pluck(key: number): Recording {
  const hz = frequencyOfKey(key);
  const { period, cycles } = wholePeriods(hz, 0.8);
  const chance = new Chance(key * 41);
  const start = Math.round(BLOOM * RATE);
  const frames = start + period;
  const out = new Float64Array(frames);
  for (let n = 1; n <= 32; n++) {
    const partialHz = (n * cycles * RATE) / period;
    if (partialHz > 6000) break;
    const steady = (n === 1 ? 1 : n === 2 ? 0.75 : 0.9 / n) * Math.exp(-partialHz / 520);
    const bloom = (1.1 / n) * Math.exp(-partialHz / 1900) * Math.abs(Math.sin(n * 0.9));
    const phase = n === 1 ? 0 : chance.share();
    const tone = new Float64Array(frames);
    addPartial(tone, 1, partialHz, phase, 1e9);
    for (let i = 0; i < frames; i++) {
      const t = i / RATE;
      out[i] += tone[i] * (steady + bloom * Math.exp(-t * (5 + n * 0.9)) * rise(BLOOM - t, 0.3)) * rise(t, 0.004);
    }
  }
  return {
    name: `Hull Bass ${fileNameOfKey(key)}.wav`,
    root: key,
    velocity: [1, 127],
    audio: finish([out]),
    loop: { start, end: frames },
  };
}
