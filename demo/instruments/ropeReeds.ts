import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { ringing, type Ringing } from './ringing';
import { addRattle, byKey, HALF_HZ, allKeys, type Recording, type Wanted, onKeys, type Made, varying } from './tools';

/** A steel reed struck between two plates: the nearer it swings to them, the more it barks. */
const STRIKES = [
  { slope: 2.4, knock: 0.02 },
  { slope: 1.7, knock: 0.04 },
  { slope: 1.15, knock: 0.07 },
  { slope: 0.8, knock: 0.13 },
] as const;

/** Struck reeds heard by the charge between them and a plate: mono, every third key in four dynamics. */
export function ropeReeds(wants: Wanted = allKeys): Recording[] {
  return onKeys('Rope Reeds', [33, 93], STRIKES.length, wants, strike);
}

function strike(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { slope, knock } = STRIKES[d];
  const own = new Chance(key * 19);
  const about = varying(own);
  const fall = byKey(key, [
    [33, 7],
    [60, 4.5],
    [93, 1.6],
  ]);
  const partials: Ringing[] = Array.from({ length: Math.min(24, Math.floor(HALF_HZ / hz)) }, (_, i) => {
    const n = i + 1;
    const bark = 1 + 0.9 * Math.exp(-(((n * hz - 900) / 500) ** 2));
    return {
      amplitude: n ** -slope * bark * about(0.15) * 0.5,
      hz: n * hz,
      fall: (fall * (n === 1 ? 1 : about(0.1))) / (1 + 0.3 * (n - 1)),
      first: { level: 1.1, fall: fall / (2 + 1.2 * n) },
    };
  });
  return ringing({
    hz,
    partials,
    until: 0.6,
    loop: 0.35,
    speaks: [0.005, 0.004, 0.0025, 0.0015][d],
    strike: (side, chance) => addRattle(side, knock, 300, 5000, 0.025, 60, chance),
    reaches: 5000,
    damped: 0.09,
    sides: 1,
    chance: new Chance(key * 19 + 1),
  });
}
