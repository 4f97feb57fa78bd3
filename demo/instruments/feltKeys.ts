import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { ringing, type Ringing } from './ringing';
import {
  addPartial,
  addRattle,
  byKey,
  allKeys,
  RATE,
  rise,
  shape,
  type Recording,
  type Wanted,
  onKeys,
  type Made,
  varying,
} from './tools';

/**
 * The felt is softer for a soft strike: the frequency at which the hammer's spectrum has fallen to 1/e, above the
 * fundamental.
 */
const STRIKES = [
  { brightHz: 420, thump: 0.05, knock: 0, speaks: 0.008 },
  { brightHz: 800, thump: 0.06, knock: 0, speaks: 0.006 },
  { brightHz: 1450, thump: 0.08, knock: 0.05, speaks: 0.004 },
  { brightHz: 3800, thump: 0.1, knock: 0.36, speaks: 0.0025 },
] as const;

/** Seconds to −60 dB of the whole tone, by key: the bass rings for over twelve, the middle for five to eight, the top for one. */
export const FALLS = [
  [21, 16],
  [36, 14],
  [48, 10.5],
  [60, 7],
  [72, 5],
  [84, 2.8],
  [96, 1.4],
  [108, 0.9],
] as const;
/**
 * Inharmonicity by key, as f(n) = n · f · √(1 + B n²): H. Fletcher, E. D. Blackham, R. Stratton, "Quality of piano
 * tones", JASA 34 (1962); values from memory.
 */
export const STIFFNESS = [
  [21, 3e-4],
  [36, 1.1e-4],
  [48, 1.6e-4],
  [60, 4e-4],
  [72, 1e-3],
  [84, 2.8e-3],
  [96, 7e-3],
  [108, 1.6e-2],
] as const;
/** Seconds to −60 dB under the damper; the highest strings have none. */
export const DAMPED = [
  [21, 0.2],
  [60, 0.14],
  [88, 0.08],
  [90, 0.6],
  [108, 0.9],
] as const;
/** Where the later stage sets in, against the first. */
const AFTERSOUND_DB = -9;
/** Cents that one more turn of a loop of a second is at 1 Hz. */
const LOOP_TURNS_CENTS = 1200 / Math.LN2;

/** Two strings a key, a soft hammer at an eighth of their length, stiff wire: every third key in four dynamics. */
export function feltKeys(wants: Wanted = allKeys): Recording[] {
  return onKeys('Felt Keys', [24, 105], STRIKES.length, wants, strike);
}

function strike(key: number, d: number): Made {
  const { brightHz, thump, knock, speaks } = STRIKES[d];
  const hz = frequencyOfKey(key);
  // What makes a key unlike its neighbours is the same for all its dynamics.
  const own = new Chance(key * 7);
  const vary = varying(own);
  const about = (middle: number, share: number) => middle * vary(share);
  const whole = about(byKey(key, FALLS), 0.08);
  const later = (whole * 60) / (60 + AFTERSOUND_DB);
  const stiffness = byKey(key, STIFFNESS);
  const strikePoint = about(8.2, 0.05);
  const hammer = about(1, 0.12);
  const loop = byKey(key, [
    [24, 0.7],
    [60, 0.5],
    [105, 0.3],
  ]);
  const partials: Ringing[] = [];
  for (let n = 1; n <= 64; n++) {
    const partialHz = n * hz * Math.sqrt((1 + stiffness * n * n) / (1 + stiffness));
    if (partialHz > 17000) break;
    // Under the hammer a partial is not struck at all; a board radiates little below a hundred cycles.
    const struck = Math.abs(Math.sin((Math.PI * n) / strikePoint)) + 0.02;
    const board = partialHz / (partialHz + 80);
    const amplitude = (struck / n ** 0.4) * board * Math.exp(-(partialHz - hz) / (brightHz * hammer + 0.9 * hz));
    const loss = 1 + 0.11 * (n - 1) + partialHz / 5200 - hz / 5200;
    const fall = about(later, 0.1) / loss;
    const lean = 0.25 * (2 * own.share() - 1);
    partials.push({
      amplitude: about(amplitude, 0.2) * 10 ** (AFTERSOUND_DB / 20),
      hz: partialHz,
      fall: n === 1 ? later : Math.min(later, fall),
      first: { level: 10 ** (-AFTERSOUND_DB / 20), fall: whole / 1.8 / loss },
      sides: [1 + lean, 1 - lean],
      // Two strings a hair apart: where the turns of the loop are that fine.
      beside: LOOP_TURNS_CENTS / (partialHz * loop) < (n === 1 ? 1.2 : 3) ? { turns: 1, level: 0.28 } : undefined,
    });
  }
  return ringing({
    hz,
    partials,
    until: byKey(key, [
      [24, 1.1],
      [60, 0.85],
      [84, 0.5],
      [105, 0.3],
    ]),
    loop,
    speaks,
    strike: (side, chance) => {
      // Where the felt has gone hard, the wood of the hammer is heard.
      if (knock > 0) addRattle(side, knock, 2200, d === 3 ? 15500 : 9000, 0.07, 120, chance);
      addThump(side, thump, chance);
    },
    reaches: knock > 0 ? (d === 3 ? 15500 : 9000) : 0,
    damped: byKey(key, DAMPED),
    sides: 2,
    chance: new Chance(key * 7 + 1),
  });
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
