import { Chance } from '../../src/core/dsp/chance';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { frequencyOfKey } from '../../src/core/music/pitch';
import type { Audio } from '../../src/core/dsp/sample';
import { addPartial, fadeEnd, finish, RATE, rise, shape, type Recording } from './tools';

const KEYS = [36, 41, 46, 51, 56];

/**
 * A horn across the water, as a folder of recordings that somebody has yet to make an instrument of: five notes, soft
 * and hard, two takes of each, their names
 * telling which is which.
 */
export function fogSignal(): Recording[] {
  return KEYS.flatMap((key) =>
    (['soft', 'hard'] as const).flatMap((dynamic) =>
      [1, 2].map((take): Recording => {
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
        return {
          name: `fog_${fileNameOfKey(key)}_${dynamic}_rr${take}.wav`,
          root: key,
          velocity: [1, 127],
          audio: quieter(finish([out]), dynamic === 'soft' ? 0.4 : 1),
          loop: null,
        };
      }),
    ),
  );
}

const quieter = (audio: Audio, gain: number): Audio => ({ ...audio, data: audio.data.map((x) => x * gain) });

/**
 * The horn and its answer from across the water, with the sea between them: one long recording, to be played in grains.
 */
export function fogAcross(): Recording {
  const seconds = 6.4;
  const chance = new Chance(4711);
  const left = new Float64Array(Math.round(seconds * RATE));
  const right = new Float64Array(left.length);
  const hz = frequencyOfKey(48);
  // Far, near, and far again; each call has more of its upper partials as it comes nearer.
  const near = (t: number) => Math.exp(-(((t - 2.7) / 1.1) ** 2)) + 0.5 * Math.exp(-(((t - 5) / 0.7) ** 2)) + 0.12;
  for (let n = 1; n <= 28; n++) {
    const amplitude = (1 / n ** 0.7) * (0.8 + 0.4 * chance.share());
    const place = 0.5 + 0.35 * (chance.share() - 0.5);
    const phase = chance.share();
    const drift = 1 + 0.0015 * (chance.share() - 0.5);
    let turn = phase;
    for (let i = 0; i < left.length; i++) {
      const t = i / RATE;
      const fall = 1 - 0.03 * Math.max(0, t - 4.2);
      turn += (n * hz * drift * fall * (1 + 0.002 * Math.sin(2 * Math.PI * 4.6 * t))) / RATE;
      const y = amplitude * near(t) * Math.exp((-n * 0.9) / (2 + 9 * near(t))) * Math.sin(2 * Math.PI * turn);
      left[i] += y * Math.cos((Math.PI / 2) * place);
      right[i] += y * Math.sin((Math.PI / 2) * place);
    }
  }
  // The sea: noise that swells, duller when it is far.
  let low = 0,
    lowRight = 0;
  for (let i = 0; i < left.length; i++) {
    const t = i / RATE;
    const swell = 0.05 + 0.1 * (0.5 - 0.5 * Math.cos((2 * Math.PI * t) / 2.9)) ** 2;
    low += 0.2 * (chance.share() - 0.5 - low);
    lowRight += 0.2 * (chance.share() - 0.5 - lowRight);
    left[i] += swell * low;
    right[i] += swell * lowRight;
  }
  for (const side of [left, right]) {
    shape(side, (t) => rise(t, 0.02));
    fadeEnd(side, 0.15);
  }
  return { name: 'fog_across_C3.wav', root: 48, velocity: [1, 127], audio: finish([left, right]), loop: null };
}
