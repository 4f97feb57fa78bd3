import { Chance } from '../../src/core/dsp/chance';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { addPartial, addPeriodicNoise, finish, RATE, rise, shape, wholePeriods, type Recording } from './tools';

const ONSET = 0.5;
const SINGERS = 5;
/**
 * Formants of an open vowel between a and o, as middle, width and height: of memory, near the tables of G. E. Peterson
 * and H. L. Barney (1952).
 */
const FORMANTS = [
  [620, 130, 1],
  [1050, 170, 0.55],
  [2550, 320, 0.2],
  [3350, 420, 0.13],
] as const;

/**
 * Five breathy singers on one vowel, each a little apart in pitch: stereo, every fourth key, looped over a whole number
 * of their beats.
 */
export function breathChoir(): Recording[] {
  return Array.from({ length: 12 }, (_, i) => sing(40 + 4 * i));
}

function sing(key: number): Recording {
  const hz = frequencyOfKey(key);
  const { period, cycles } = wholePeriods(hz, 2.4);
  const chance = new Chance(key * 31);
  const start = Math.round(ONSET * RATE);
  const frames = start + period;
  const sides = [new Float64Array(frames), new Float64Array(frames)];
  for (let singer = 0; singer < SINGERS; singer++) {
    const beats = Math.round((singer - 2) * Math.max(1, cycles * 0.0016));
    const tone = new Float64Array(frames);
    // Mouths differ: so do the formants, by a few per cent.
    const mouth = 1 + 0.05 * (chance.share() - 0.5);
    for (let n = 1; n <= 60; n++) {
      const partialHz = (n * (cycles + beats) * RATE) / period;
      if (partialHz > 9000) break;
      const vowel = FORMANTS.reduce(
        (sum, [middle, width, height]) => sum + height / (1 + ((partialHz - middle * mouth) / width) ** 2),
        0.02,
      );
      addPartial(tone, (singer === 2 ? 1.7 : 0.7) * (vowel / n ** 0.6), partialHz, chance.share(), 1e9);
    }
    const pan = 0.25 + (0.5 * singer) / (SINGERS - 1);
    const begins = 0.12 + 0.06 * singer;
    for (let i = 0; i < frames; i++) {
      const x = tone[i] * rise(i / RATE, begins);
      sides[0][i] += x * Math.cos((pan * Math.PI) / 2);
      sides[1][i] += x * Math.sin((pan * Math.PI) / 2);
    }
  }
  for (const side of sides) {
    const breath = new Float64Array(frames);
    addPeriodicNoise(breath, 0.5, 900, 2800, period, 60, chance);
    addPeriodicNoise(breath, 0.28, 2800, 9000, period, 80, chance);
    shape(breath, (t) => rise(t, 0.1));
    breath.forEach((x, i) => {
      side[i] += x * 0.3;
    });
  }
  return {
    name: `Breath Choir ${fileNameOfKey(key)}.wav`,
    root: key,
    velocity: [1, 127],
    audio: finish(sides),
    loop: { start, end: frames },
  };
}
