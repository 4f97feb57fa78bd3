import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { ringing } from './ringing';
import { addRattle, allKeys, type Recording, type Wanted, onKeys, type Made } from './tools';

/**
 * Partials of a cast bell against its prime: hum, prime, minor third, fifth, octave and what lies above: T. D. Rossing
 * and R. Perrin, "Vibrations of bells", Applied Acoustics 20 (1987), the five lowest; from memory.
 */
const PARTIALS: readonly (readonly [ratio: number, level: number, fall: number])[] = [
  [0.5, 0.42, 1.5],
  [1, 1, 1],
  [1.2, 0.55, 0.75],
  [1.5, 0.22, 0.5],
  [2, 0.75, 0.55],
  [2.5, 0.2, 0.3],
  [2.67, 0.2, 0.28],
  [3, 0.3, 0.3],
  [4, 0.26, 0.22],
  [5.33, 0.14, 0.15],
  [6.67, 0.11, 0.12],
  [8.2, 0.08, 0.1],
  [9.9, 0.07, 0.08],
  [11.7, 0.06, 0.07],
  [13.8, 0.05, 0.06],
  [16.2, 0.045, 0.05],
  [19, 0.04, 0.045],
  [22.3, 0.035, 0.04],
  [26, 0.03, 0.035],
];
/** How much of the upper partials a strike brings out, and of the clapper. */
const STRIKES = [
  { dark: 0.62, clapper: 0.02, reaches: 6000, speaks: 0.004 },
  { dark: 0.36, clapper: 0.08, reaches: 9000, speaks: 0.003 },
  { dark: 0.15, clapper: 0.2, reaches: 14000, speaks: 0.002 },
  { dark: 0, clapper: 0.5, reaches: 16500, speaks: 0.0015 },
] as const;

/**
 * Ship's bells across the water: every third key in four dynamics. Each partial is a pair a hair apart, so the tone
 * turns slowly.
 */
export function harbourBells(wants: Wanted = allKeys): Recording[] {
  return onKeys('Harbour Bells', [46, 100], STRIKES.length, wants, toll);
}

function toll(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { dark, clapper, reaches, speaks } = STRIKES[d];
  const fall = 10 * 2 ** (-(key - 46) / 30);
  const own = new Chance(key * 29);
  const partials = PARTIALS.map(([ratio, level, length]) => {
    const lean = 0.3 * (2 * own.share() - 1);
    return {
      amplitude: level * (0.85 + 0.3 * own.share()) * Math.max(1, ratio) ** -dark,
      hz: ratio * hz * (ratio === 1 ? 1 : 1 + 0.006 * (own.share() - 0.5)),
      fall: fall * length,
      sides: [1 + lean, 1 - lean] as const,
      beside: { turns: 1, level: ratio === 1 ? 0.25 : 0.6 },
    };
  });
  return ringing({
    hz,
    partials,
    until: Math.max(0.7, Math.min(1.3, 0.14 * fall)),
    loop: 0.7,
    speaks,
    // The clapper: iron on bronze.
    strike: (side, chance) => addRattle(side, clapper, 3500, reaches, 0.06, 140, chance),
    reaches,
    damped: 2.5,
    sides: 1,
    chance: new Chance(key * 29 + 1),
  });
}
