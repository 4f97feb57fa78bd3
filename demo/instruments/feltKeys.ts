import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { addPartial, addRattle, fadeEnd, finish, RATE, rise, shape, sharedOutAsFelt, type Recording } from './tools';

/**
 * The felt is softer for a soft strike: the frequency at which the hammer's spectrum has fallen to 1/e, above the
 * fundamental.
 */
const DYNAMICS = [
  { mark: 'soft', brightHz: 420, thump: 0.05, knock: 0, rise: 0.008 },
  { mark: 'mid', brightHz: 1150, thump: 0.07, knock: 0.05, rise: 0.005 },
  { mark: 'hard', brightHz: 3800, thump: 0.1, knock: 0.36, rise: 0.0025 },
] as const;
const RANGES = sharedOutAsFelt(DYNAMICS.length);

/**
 * Two strings a key, a soft hammer at an eighth of their length, slightly stiff wire: every third key in three
 * dynamics.
 */
export function feltKeys(): Recording[] {
  const recordings: Recording[] = [];
  for (let key = 24; key <= 105; key += 3)
    DYNAMICS.forEach((dynamic, d) => recordings.push(strike(key, dynamic, [RANGES[d].low, RANGES[d].high])));
  return recordings;
}

function strike(
  key: number,
  { mark, brightHz, thump, knock, rise: speaks }: (typeof DYNAMICS)[number],
  velocity: [number, number],
): Recording {
  const hz = frequencyOfKey(key);
  const seconds = Math.max(0.8, 3.2 * 2 ** (-(key - 24) / 40));
  const chance = new Chance(key * 7);
  const frames = Math.round(seconds * RATE);
  const strings = [new Float64Array(frames), new Float64Array(frames)];
  const stiffness = 4e-5 * 2 ** ((key - 36) / 14);
  const fall = 9 * 2 ** (-(key - 24) / 22);
  for (let n = 1; n <= 64; n++) {
    const partialHz = n * hz * Math.sqrt((1 + stiffness * n * n) / (1 + stiffness));
    if (partialHz > 17000) break;
    const struck = Math.abs(Math.sin((Math.PI * n) / 8.3));
    const amplitude = (struck / n ** 0.4) * Math.exp(-(partialHz - hz) / (brightHz + 0.9 * hz));
    const partialFall = fall / (1 + 0.22 * (n - 1) + partialHz / 2600);
    const begin = chance.share();
    for (const [string, cents] of [-0.5, 0.5].entries()) {
      const stringHz = partialHz * 2 ** (cents / 1200);
      const phase = begin + chance.share() * 0.1;
      addPartial(strings[string], amplitude * 0.62, stringHz, phase, partialFall * 0.32);
      addPartial(strings[string], amplitude * 0.38, stringHz, phase, partialFall * 1.25);
    }
  }
  const sides = [
    strings[0].map((x, i) => x + 0.55 * strings[1][i]),
    strings[1].map((x, i) => x + 0.55 * strings[0][i]),
  ];
  sides.forEach((side) => {
    // Where the felt has gone hard, the wood of the hammer is heard.
    if (knock > 0) addRattle(side, knock, 2200, 15500, 0.07, 120, chance);
    shape(side, (t) => rise(t, speaks));
    addThump(side, thump, chance);
    fadeEnd(side, seconds * 0.35);
  });
  return { name: `Felt Keys ${fileNameOfKey(key)} ${mark}.wav`, root: key, velocity, audio: finish(sides), loop: null };
}

/** The knock of key and hammer: a few quickly dying low tones. */
function addThump(side: Float64Array, amount: number, chance: Chance): void {
  const knock = new Float64Array(Math.min(side.length, Math.round(0.12 * RATE)));
  for (let i = 0; i < 14; i++)
    addPartial(knock, amount / 4, 90 + 340 * chance.share(), chance.share(), 0.05 + 0.05 * chance.share());
  shape(knock, (t) => rise(t, 0.004) * rise(0.12 - t, 0.03));
  knock.forEach((x, i) => {
    side[i] += x;
  });
}
