import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { held } from './held';
import { allKeys, type Recording, type Wanted, onKeys, type Made } from './tools';

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
/** How loud it is sung: slope of the voice against the frequency, its breath, and how long it takes to come. */
const VOICES = [
  { slope: 1.15, breath: 0.11, comes: 0.22 },
  { slope: 0.85, breath: 0.1, comes: 0.17 },
  { slope: 0.6, breath: 0.085, comes: 0.13 },
  { slope: 0.36, breath: 0.075, comes: 0.09 },
] as const;

/** Five breathy singers on one vowel, each with a mouth, a pitch and a vibrato of its own: stereo, every third key. */
export function breathChoir(wants: Wanted = allKeys): Recording[] {
  return onKeys('Breath Choir', [40, 85], VOICES.length, wants, sing);
}

function sing(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { slope, breath, comes } = VOICES[d];
  const own = new Chance(key * 31);
  const players = Array.from({ length: SINGERS }, (_, singer) => {
    const mouth = 1 + 0.06 * (own.share() - 0.5);
    return {
      beats: singer - 2,
      place: 0.25 + (0.5 * singer) / (SINGERS - 1),
      vibrato: { cents: 14 + 10 * own.share(), hz: 5.5 + 0.8 * own.share() },
      partial: (n: number, at: number) =>
        ((singer === 2 ? 1.7 : 0.7) / n ** slope) *
        FORMANTS.reduce(
          (sum, [middle, width, height]) => sum + height / (1 + ((at - middle * mouth) / width) ** 2),
          0.02,
        ),
      speaks: (n: number) => comes * (1 + 0.03 * n),
      begins: 0.03 * singer,
      scoop: -30,
    };
  });
  return held({
    hz,
    players,
    air: [
      { level: breath, low: 900, high: 2800, rises: 0.1, onset: 0.8 },
      { level: breath * 0.55, low: 2800, high: 9000, rises: 0.1, onset: 0.8 },
    ],
    until: 0.4,
    loop: 0.7,
    highest: 9000,
    sides: 2,
    chance: new Chance(key * 31 + 1),
  });
}
