import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { ringing } from './ringing';
import { addRattle, byKey, HALF_HZ, allKeys, type Recording, type Wanted, onKeys, type Made, varying } from './tools';

/**
 * Modes of bars that are carved out below: of wood 1 : 3.9 : 9.2, of metal 1 : 4 : 10: N. H. Fletcher and T. D. Rossing,
 * "The physics of musical instruments" (1998), chapter 19; from memory.
 */
export const WOOD_MODES = [1, 3.93, 9.2, 16.5] as const;
export const METAL_MODES = [1, 4, 10, 18.1] as const;

/** How high the knock of the mallet reaches, in Hz. */
const REACHES = [2500, 4000, 9000, 14000] as const;

interface Bars {
  name: string;
  seed: number;
  modes: readonly number[];
  keys: readonly [number, number];
  /** Seconds to −60 dB of the lowest mode, by key. */
  falls: readonly (readonly [number, number])[];
  /** How much shorter each further mode is. */
  shorter: number;
  /** Of the four dynamics: level of the modes above the first, and the mallet's knock. */
  strikes: readonly (readonly [upper: number, knock: number])[];
  damped: number;
  until: number;
  loop: number;
}

const WOOD: Bars = {
  name: 'Drift Bars',
  seed: 23,
  modes: WOOD_MODES,
  keys: [36, 96],
  falls: [
    [36, 2.6],
    [60, 1.5],
    [84, 0.7],
    [96, 0.45],
  ],
  shorter: 3,
  strikes: [
    [0.08, 0.12],
    [0.16, 0.2],
    [0.3, 0.32],
    [0.5, 0.5],
  ],
  damped: 1.2,
  until: 0.45,
  loop: 0.15,
};
const METAL: Bars = {
  name: 'Lamp Bars',
  seed: 37,
  modes: METAL_MODES,
  keys: [53, 89],
  falls: [
    [53, 12],
    [72, 8],
    [89, 4],
  ],
  shorter: 2.6,
  strikes: [
    [0.05, 0.03],
    [0.11, 0.05],
    [0.22, 0.09],
    [0.38, 0.16],
  ],
  damped: 0.25,
  until: 0.7,
  loop: 0.3,
};

/** Bars of driftwood over pipes, which die soon. */
export const driftBars = (wants: Wanted = allKeys): Recording[] => barsOf(WOOD, wants);
/** Bars of metal over pipes, which ring on. */
export const lampBars = (wants: Wanted = allKeys): Recording[] => barsOf(METAL, wants);

const barsOf = (bars: Bars, wants: Wanted): Recording[] =>
  onKeys(bars.name, bars.keys, bars.strikes.length, wants, (key, d) => strike(bars, key, d));

function strike({ seed, modes, falls, shorter, strikes, damped, until, loop }: Bars, key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const [upper, knock] = strikes[d];
  const own = new Chance(key * seed);
  const about = varying(own);
  const fall = byKey(key, falls) * about(0.1);
  return ringing({
    hz,
    // The highest mode is heard as part of the knock.
    partials: modes
      .filter((mode) => d === 3 || hz * mode < HALF_HZ)
      .map((mode, m) => ({
        amplitude: m === 0 ? 1 : (upper * about(0.25)) / m,
        hz: hz * mode * (m === 0 ? 1 : about(0.01)),
        fall: fall / shorter ** m,
      })),
    until,
    loop,
    speaks: [0.004, 0.003, 0.002, 0.001][d],
    strike: (side, chance) => addRattle(side, knock, 200, REACHES[d], 0.025, 70, chance),
    reaches: REACHES[d],
    damped,
    sides: 1,
    chance: new Chance(key * seed + 1),
  });
}
