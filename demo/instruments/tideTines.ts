import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { ringing, type Ringing } from './ringing';
import { addRattle, byKey, allKeys, type Recording, type Wanted, onKeys, type Made, varying } from './tools';

/**
 * Modes of a bar clamped at one end, against the lowest: N. H. Fletcher and T. D. Rossing, "The physics of musical
 * instruments" (1998), chapter 2, table 2.1; from memory.
 */
export const CLAMPED_MODES = [6.267, 17.547] as const;

/** How far the tine swings before its pickup, which bends the wave: level of each further harmonic; and its ping. */
const STRIKES = [
  { bend: 0.1, ping: 0.05, felt: 0.03 },
  { bend: 0.24, ping: 0.12, felt: 0.05 },
  { bend: 0.42, ping: 0.26, felt: 0.08 },
  { bend: 0.6, ping: 0.5, felt: 0.16 },
] as const;

/** Steel tines before a pickup, struck by rubber: mono, every third key in four dynamics. */
export function tideTines(wants: Wanted = allKeys): Recording[] {
  return onKeys('Tide Tines', [28, 97], STRIKES.length, wants, strike);
}

function strike(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { bend, ping, felt } = STRIKES[d];
  const own = new Chance(key * 17);
  const about = varying(own);
  const fall = byKey(key, [
    [28, 16],
    [60, 9],
    [84, 4.5],
    [97, 2.5],
  ]);
  // The pickup stands a little off the middle of the swing, at each tine elsewhere: even harmonics come from that.
  const off = 0.5 * about(0.35);
  const partials: Ringing[] = [{ amplitude: 1, hz, fall: fall * about(0.08) }];
  for (let n = 2; n <= 14; n++)
    partials.push({
      amplitude: bend ** (n - 1) * (n % 2 === 0 ? 0.6 + off : 0.8) * about(0.1),
      hz: n * hz,
      // What the pickup bends falls n times as fast as the swing that it is bent by.
      fall: fall / (0.75 * n),
      first: { level: 0.7, fall: fall / (3 * n) },
    });
  for (const [m, ratio] of CLAMPED_MODES.entries())
    partials.push({
      amplitude: 1e-4,
      hz: hz * ratio * about(0.012),
      fall: fall / 8,
      first: { level: (ping / (1 + 1.5 * m)) * 1e4 * about(0.2), fall: Math.min(0.9, fall / 9) / (1 + m) },
    });
  return ringing({
    hz,
    partials,
    until: byKey(key, [
      [28, 0.7],
      [97, 0.45],
    ]),
    loop: 0.35,
    speaks: [0.004, 0.003, 0.002, 0.0012][d],
    strike: (side, chance) => addRattle(side, felt, 250, 3000, 0.03, 50, chance),
    reaches: 3000,
    damped: 0.12,
    sides: 1,
    chance: new Chance(key * 17 + 1),
  });
}
