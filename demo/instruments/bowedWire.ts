import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { held } from './held';
import { allKeys, type Recording, type Wanted, onKeys, type Made } from './tools';

/** How the bow lies on the wire: what is left of the brightness, its breath, and how long it takes to catch. */
const STROKES = [
  { bright: 650, breath: 0.085, catches: 0.3 },
  { bright: 950, breath: 0.07, catches: 0.22 },
  { bright: 1500, breath: 0.055, catches: 0.15 },
  { bright: 2600, breath: 0.07, catches: 0.09 },
] as const;

/** Three wires bowed together, a little apart in pitch, each with a vibrato of its own: every third key, four dynamics. */
export function bowedWire(wants: Wanted = allKeys): Recording[] {
  return onKeys('Bowed Wire', [33, 96], STROKES.length, wants, bow);
}

function bow(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { bright, breath, catches } = STROKES[d];
  const own = new Chance(key * 13);
  const rates = [5.1, 5.6, 6.2];
  const players = [-1, 0, 1].map((apart, wire) => {
    const body = [0.7, 97, 310].map((middle) => middle * (1 + 0.06 * (own.share() - 0.5)));
    return {
      beats: apart,
      place: 0.2 + 0.3 * wire,
      vibrato: { cents: 9 + 5 * own.share(), hz: rates[wire] + 0.3 * (own.share() - 0.5) },
      // A saw of stick and slip through the box, whose resonances lie close together.
      partial: (n: number, at: number) =>
        (1 + 0.5 * Math.cos(at / body[2] + body[0]) + 0.25 * Math.cos(at / body[1])) *
        (n ** -0.85 * Math.exp(-at / (bright + 1.2 * hz))) *
        (wire === 1 ? 1 : n < 3 ? 0.4 : 0.65),
      // Low partials speak first; the bright ones follow once the bow has caught.
      speaks: (n: number) => catches * (0.5 + 0.09 * Math.min(n, 12)),
      begins: 0.012 * wire,
      scoop: -12,
    };
  });
  return held({
    hz,
    players,
    air: [
      {
        level: breath,
        low: Math.max(500, hz),
        high: Math.min(9500, Math.max(3200, 3 * hz)),
        rises: 0.06,
        onset: 1.5,
      },
    ],
    until: 0.4,
    loop: 0.6,
    highest: 9500,
    sides: 2,
    chance: new Chance(key * 13 + 1),
  });
}
