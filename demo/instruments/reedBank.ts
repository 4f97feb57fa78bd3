import { Chance } from '../../src/core/dsp/chance';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { addPartial, addPeriodicNoise, finish, RATE, rise, shape, wholePeriods, type Recording } from './tools';

const SPEAK = 0.35;

/**
 * Two free reeds a little apart in pitch, blown through a wooden box: mono, every fourth key, looped over a whole
 * number of their beats.
 */
export function reedBank(): Recording[] {
  return Array.from({ length: 15 }, (_, i) => blow(36 + 4 * i));
}

function blow(key: number): Recording {
  const hz = frequencyOfKey(key);
  const { period, cycles } = wholePeriods(hz, 1.5);
  const chance = new Chance(key * 29);
  const start = Math.round(SPEAK * RATE);
  const frames = start + period;
  const out = new Float64Array(frames);
  // The second reed is sharp by a few whole beats over the loop: both repeat where it ends.
  const beats = Math.max(1, Math.round(cycles * 0.0028));
  for (const [reed, level] of [
    [0, 1],
    [beats, 0.55],
  ] as const) {
    for (let n = 1; n <= 80; n++) {
      const partialHz = (n * (cycles + reed) * RATE) / period;
      if (partialHz > 17000) break;
      // A reed cuts the air into pulses: odd partials stronger, two broad resonances of the box.
      const box =
        1 + 1.4 * Math.exp(-(((partialHz - 640) / 380) ** 2)) + 0.8 * Math.exp(-(((partialHz - 1900) / 700) ** 2));
      const amplitude =
        ((n % 2 === 1 ? 1 : 0.55) / n ** 0.95) *
        box *
        (Math.exp(-partialHz / 3800) + 0.12 * Math.exp(-partialHz / 9000)) *
        level;
      const tone = new Float64Array(frames);
      addPartial(tone, amplitude, partialHz, chance.share(), 1e9);
      const speaks = 0.03 + 0.012 * Math.min(n, 24);
      for (let i = 0; i < frames; i++) out[i] += tone[i] * rise(i / RATE, Math.min(SPEAK * 0.9, speaks));
    }
  }
  const air = new Float64Array(frames);
  addPeriodicNoise(air, 0.06, 900, 5200, period, 70, chance);
  addPeriodicNoise(air, 0.022, 5200, 15500, period, 90, chance);
  shape(air, (t) => rise(t, 0.05));
  air.forEach((x, i) => {
    out[i] += x;
  });
  return {
    name: `Reed Bank ${fileNameOfKey(key)}.wav`,
    root: key,
    velocity: [1, 127],
    audio: finish([out]),
    loop: { start, end: frames },
  };
}
