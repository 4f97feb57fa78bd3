import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { addRattle, allKeys, type Recording, type Wanted, onKeys, type Made } from './tools';
import { ringing } from './ringing';

/** How hard the hull is struck: brightness of what blooms in Hz, and the knock. */
const STRIKES = [
  { bright: 500, bloom: 0.7, knock: 0.02 },
  { bright: 1000, bloom: 1, knock: 0.06 },
  { bright: 2000, bloom: 1.6, knock: 0.13 },
  { bright: 3600, bloom: 2.4, knock: 0.26 },
] as const;
/** Seconds to −60 dB: long strings of steel, as of an electric bass; common practice, no source. */
const FALLS = [18, 9] as const;

/** A struck hull: a bright onset that settles into a round tone. Mono, every third key in four dynamics. */
export function hullBass(wants: Wanted = allKeys): Recording[] {
  return onKeys('Hull Bass', [22, 64], STRIKES.length, wants, pluck);
}

function pluck(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { bright, bloom: blooms, knock } = STRIKES[d];
  const own = new Chance(key * 41);
  const long = FALLS[0] * (FALLS[1] / FALLS[0]) ** ((key - 22) / 42);
  const place = 0.9 * (1 + 0.08 * (own.share() - 0.5));
  const partials = Array.from({ length: Math.floor(9000 / hz) }, (_, i) => {
    const n = i + 1;
    const at = n * hz * Math.sqrt(1 + 6e-5 * n * n);
    const steady = (n === 1 ? 1 : n === 2 ? 0.75 : 0.9 / n) * Math.exp(-at / 520) * (0.9 + 0.2 * own.share());
    const bloom = (blooms / n) * Math.exp(-at / bright) * Math.abs(Math.sin(n * place));
    return {
      amplitude: steady + 1e-5,
      hz: n === 1 ? hz : at,
      fall: long / (1 + 0.12 * (n - 1)),
      first: { level: bloom / (steady + 1e-5), fall: 2 / (1 + 0.1 * n) },
    };
  });
  return ringing({
    hz,
    partials,
    until: 0.75,
    loop: 0.5,
    speaks: 0.003,
    strike: (side, chance) => addRattle(side, knock, 300, 9000, 0.02, 60, chance),
    reaches: 9000,
    damped: 0.15,
    sides: 1,
    chance: new Chance(key * 41 + 1),
  });
}
