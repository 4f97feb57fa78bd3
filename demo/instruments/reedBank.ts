import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { held } from './held';
import { DYNAMICS, allKeys, type Recording, type Wanted, onKeys, type Made } from './tools';

/** How hard it is blown: brightness of the reed in Hz, its breath, and how quickly it speaks. */
const BREATHS = [
  { bright: 1500, air: 0.05, quick: 0.13 },
  { bright: 2400, air: 0.055, quick: 0.09 },
  { bright: 3600, air: 0.06, quick: 0.06 },
  { bright: 5200, air: 0.08, quick: 0.035 },
] as const;

/** Two free reeds a little apart in pitch, blown through a wooden box: mono, every third key in four dynamics. */
export function reedBank(wants: Wanted = allKeys): Recording[] {
  return onKeys('Reed Bank', [36, 93], BREATHS.length, wants, blow);
}

function blow(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { bright, air, quick } = BREATHS[d];
  const own = new Chance(key * 29);
  const low = 640 * (1 + 0.08 * (own.share() - 0.5));
  const high = 1900 * (1 + 0.08 * (own.share() - 0.5));
  const weak = 0.45 + 0.2 * own.share();
  const loud = d === DYNAMICS.length - 1;
  // A reed cuts the air into pulses: odd partials stronger, two broad resonances of the box.
  const partial = (n: number, at: number) =>
    ((n % 2 === 1 ? 1 : weak) / n ** 0.95) *
    (1 + 1.4 * Math.exp(-(((at - low) / 380) ** 2)) + 0.8 * Math.exp(-(((at - high) / 700) ** 2))) *
    (Math.exp(-at / bright) + (loud ? 0.12 * Math.exp(-at / 9000) : 0));
  const speaks = (n: number) => quick + 0.008 * Math.min(n, 20);
  return held({
    hz,
    players: [
      { beats: 0, place: 0.5, partial, speaks, scoop: -18 },
      // The second reed is sharp: they beat some times a second, more of them further up.
      {
        beats: Math.max(1, Math.round(hz * 0.0028)),
        place: 0.5,
        partial: (n, at) => 0.55 * partial(n, at),
        speaks: (n) => speaks(n) * 1.3,
        scoop: -24,
      },
    ],
    air: [
      { level: air, low: 900, high: 5200, rises: 0.03, onset: 1 },
      ...(loud ? [{ level: air * 0.35, low: 5200, high: 15500, rises: 0.02, onset: 2 }] : []),
    ],
    until: 0.3,
    loop: 0.5,
    highest: loud ? 17000 : 9500,
    sides: 1,
    chance: new Chance(key * 29 + 1),
  });
}
