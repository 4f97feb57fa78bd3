import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { ringing } from './ringing';
import { addRattle, byKey, allKeys, type Recording, type Wanted, onKeys, type Made, varying } from './tools';

/** How sharply it is plucked: where on the string, how bright, and the quill's click. */
const PLUCKS = [
  { bright: 1500, click: 0.02 },
  { bright: 2600, click: 0.04 },
  { bright: 4200, click: 0.07 },
  { bright: 6500, click: 0.12 },
] as const;

/** Strings of brass plucked by a quill over a thin board: mono, every third key in four dynamics. */
export function quillBox(wants: Wanted = allKeys): Recording[] {
  return onKeys('Quill Box', [33, 87], PLUCKS.length, wants, pluck);
}

function pluck(key: number, d: number): Made {
  const hz = frequencyOfKey(key);
  const { bright, click } = PLUCKS[d];
  const own = new Chance(key * 59);
  const about = varying(own);
  const fall = byKey(key, [
    [33, 9],
    [60, 5.5],
    [87, 2],
  ]);
  const place = 7.3 * about(0.1);
  return ringing({
    hz,
    // A string drawn aside: sin(n π / place) / n, as any string that is plucked.
    partials: Array.from({ length: Math.min(60, Math.floor((d === 3 ? 16000 : 9500) / hz)) }, (_, i) => {
      const n = i + 1;
      const at = n * hz * Math.sqrt(1 + 2.5e-5 * n * n);
      return {
        amplitude:
          ((Math.abs(Math.sin((Math.PI * n) / place)) + 0.03) / n ** 0.75) * Math.exp(-at / bright) * about(0.2) * 0.5,
        hz: n === 1 ? hz : at,
        fall: fall / (1 + 0.12 * (n - 1)),
        first: { level: 1.4, fall: fall / (4 + 0.5 * n) },
      };
    }),
    until: 0.7,
    loop: 0.4,
    speaks: 0.001,
    strike: (side, chance) => addRattle(side, click, 1200, d === 3 ? 15000 : 9000, 0.012, 90, chance),
    reaches: d === 3 ? 15000 : 9000,
    damped: 0.1,
    sides: 1,
    chance: new Chance(key * 59 + 1),
  });
}
