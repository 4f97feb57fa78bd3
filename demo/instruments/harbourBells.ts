import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { addPartial, addRattle, fadeEnd, finish, RATE, rise, shape, type Recording } from './tools';

/**
 * Partials of a cast bell against its prime: hum, prime, minor third, fifth, octave and what lies above; common
 * practice of founders, no source.
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

/**
 * Ship's bells across the water: every fifth key. Each partial is a pair a hair apart, one on each side, so the tone
 * turns slowly.
 */
export function harbourBells(): Recording[] {
  return Array.from({ length: 12 }, (_, i) => toll(46 + 5 * i));
}

function toll(key: number): Recording {
  const hz = frequencyOfKey(key);
  const fall = 8 * 2 ** (-(key - 46) / 30);
  const seconds = Math.min(4.5, 0.62 * fall);
  const chance = new Chance(key * 29);
  const sides = [new Float64Array(Math.round(seconds * RATE)), new Float64Array(Math.round(seconds * RATE))];
  for (const [ratio, level, length] of PARTIALS) {
    const apart = (ratio === 1 ? 0.12 : 0.5) * (0.5 + chance.share());
    const phase = chance.share();
    sides.forEach((side, s) => {
      addPartial(side, level * 0.7, ratio * hz - apart / 2, phase + s * 0.1, fall * length);
      addPartial(side, level * 0.5, ratio * hz + apart / 2, phase + s * 0.35, fall * length);
    });
  }
  sides.forEach((side) => {
    // The clapper: iron on bronze.
    addRattle(side, 0.5, 3500, 16500, 0.06, 140, chance);
    shape(side, (t) => rise(t, 0.0015));
    fadeEnd(side, seconds * 0.4);
  });
  return {
    name: `Harbour Bells ${fileNameOfKey(key)}.wav`,
    root: key,
    velocity: [1, 127],
    audio: finish(sides),
    loop: null,
  };
}
