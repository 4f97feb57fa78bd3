import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { held } from './held';
import { allKeys, type Recording, type Wanted, onKeys, type Made } from './tools';

/**
 * The louder brass is blown, the more of its upper partials there are, and they come later than the low ones: J.-C.
 * Risset and M. V. Mathews, "Analysis of musical-instrument tones", Physics Today 22 (1969). Where the spectrum begins to
 * fall, in Hz.
 */
const BREATHS = [
  { knee: 420, comes: 0.09 },
  { knee: 750, comes: 0.065 },
  { knee: 1300, comes: 0.045 },
  { knee: 2300, comes: 0.03 },
] as const;

/** Three horns in a row on the quay: mono, every third key in four dynamics. */
export function signalHorn(wants: Wanted = allKeys): Recording[] {
  return onKeys('Signal Horn', [40, 79], BREATHS.length, wants, blow);
}

function blow(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { knee, comes } = BREATHS[d];
  const own = new Chance(key * 43);
  return held({
    hz,
    players: [-1, 0, 1].map((beats) => {
      const bell = knee * (1 + 0.12 * (own.share() - 0.5));
      return {
        beats,
        place: 0.5,
        vibrato: { cents: 4 + 3 * own.share(), hz: 5 + own.share() },
        partial: (n: number, at: number) =>
          (n ** -0.25 / (1 + (at / (bell + 0.7 * hz)) ** 2.6)) * (0.85 + 0.3 * own.share()),
        speaks: (n: number) => comes * (0.6 + 0.13 * Math.min(n, 14)),
        begins: 0.006 * (beats + 1),
        scoop: -35,
      };
    }),
    air: [{ level: 0.05, low: 800, high: 4200, rises: 0.02, onset: 2 }],
    until: 0.35,
    loop: 0.55,
    highest: 9500,
    sides: 1,
    chance: new Chance(key * 43 + 1),
  });
}
