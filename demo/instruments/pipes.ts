import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { held } from './held';
import { allKeys, onKeys, type Recording, type Wanted } from './tools';

/** An open pipe of metal that speaks with a chiff: mono, every third key. A pipe knows one loudness. */
export function drawnPipes(wants: Wanted = allKeys): Recording[] {
  return onKeys('Drawn Pipes', [36, 96], 1, wants, (key) => {
    const hz = frequencyOfKey(key);
    const own = new Chance(key * 47);
    const levels = [1, 0.5, 0.3, 0.16, 0.1, 0.06, 0.04, 0.025].map((level) => level * (0.75 + 0.5 * own.share()));
    return held({
      hz,
      players: [
        {
          beats: 0,
          place: 0.5,
          partial: (n: number) => levels[n - 1] ?? 0,
          // The second partial leads while the fundamental builds.
          speaks: (n: number) => (n === 1 ? 0.07 : 0.025 + 0.005 * n),
          scoop: 8,
        },
      ],
      air: [{ level: 0.05, low: Math.min(4000, 2 * hz), high: Math.min(9000, 6 * hz + 1500), rises: 0.01, onset: 3 }],
      until: 0.25,
      loop: 0.6,
      highest: Math.min(9500, 8.5 * hz),
      sides: 1,
      chance: new Chance(key * 47 + 1),
    });
  });
}

/** A wheel with teeth that turns before a coil: a sine with a trace of its own harmonics, and the click of its contact. */
export function quayWheels(wants: Wanted = allKeys): Recording[] {
  return onKeys('Quay Wheels', [24, 108], 1, wants, (key) => {
    const hz = frequencyOfKey(key);
    const own = new Chance(key * 53);
    return held({
      hz,
      players: [
        {
          beats: 0,
          place: 0.5,
          partial: (n: number) => [1, 0.012 + 0.02 * own.share(), 0.008][n - 1] ?? 0,
          // A contact closes at once: what clicks is the wave cut into.
          speaks: () => 0.0025,
        },
      ],
      air: [],
      until: 0.03,
      loop: 0.2,
      highest: Math.min(9500, 3.2 * hz),
      sides: 1,
      chance: own,
    });
  });
}
