import type { Chance } from '../../src/core/dsp/chance';
import { addPartial, finish, HALF_HZ, inLoop, mixed, RATE, shape, rise, wholePeriods, type Recording } from './tools';

/** A partial of something that rings on: amplitude, frequency, and seconds in which it falls by 60 dB. */
export interface Ringing {
  amplitude: number;
  hz: number;
  fall: number;
  /**
   * Its first stage, which falls faster: how loud against the later one, and in how many seconds by 60 dB. Two stages:
   * G. Weinreich, "Coupled piano strings", JASA 62 (1977).
   */
  first?: { level: number; fall: number };
  /** How loud on the left and on the right; both 1 where it is not said. */
  sides?: readonly [left: number, right: number];
  /** A second one beside it, so many whole turns of the loop away, this loud: they beat. */
  beside?: { turns: number; level: number };
}

export interface RingingModel {
  /** The frequency to which the loop is made. */
  hz: number;
  partials: readonly Ringing[];
  /** Seconds until the loop, and of the loop. */
  until: number;
  loop: number;
  /** Seconds in which it speaks. */
  speaks: number;
  /** What is heard beside the partials, added to each side, and how high it reaches in Hz. */
  strike?: (side: Float64Array, chance: Chance) => void;
  reaches?: number;
  /** Seconds to −60 dB once the key is let go. */
  damped: number;
  sides: 1 | 2;
  chance: Chance;
}

/** An envelope's decay goes through so many time constants: that long for 60 dB is 6.9 of them. */
const DECAY_OF_FALL = 5 / Math.log(1000);
const LONGEST_DECAY = 20;
const HIGHEST_HZ = 17000;
/** What is heard of hammer, clapper or finger lasts no longer. */
const STRIKE_SECONDS = 0.25;
/** What may be left out above the half rate: 46 dB below the whole. */
const NOTHING = 10 ** -4.6;

/** The share of the energy of all partials that lies above a frequency. */
function shareAbove(partials: readonly Ringing[], hz: number): number {
  const energy = (some: readonly Ringing[]) => some.reduce((sum, { amplitude }) => sum + amplitude * amplitude, 0);
  return energy(partials.filter((partial) => partial.hz > hz)) / energy(partials);
}

/**
 * Sound that rings on for many seconds, in a recording of two. Until the loop every partial falls as it does, but for
 * the fall of the slowest of them, which the envelope of the voice makes; in the loop all go on side by side, each in
 * whole turns, so that it has no seam.
 */
export function ringing(model: RingingModel): Pick<Recording, 'audio' | 'loop' | 'params'> {
  const { hz, chance } = model;
  const dark = (model.reaches ?? 0) < HALF_HZ && shareAbove(model.partials, HALF_HZ) < NOTHING;
  // Dark sound is made, and kept, at half of the rate: what is told to the tools is twice as high and falls twice as fast.
  const half = dark ? 2 : 1;
  const rate = RATE / half;
  const period = wholePeriods(hz, model.loop).period / half;
  const start = Math.round(model.until * rate);
  const sides = Array.from({ length: model.sides }, () => new Float64Array(start + period));
  const slowest = Math.min(LONGEST_DECAY / DECAY_OF_FALL, Math.max(...model.partials.map(({ fall }) => fall)));
  /** What is left of a fall once the slowest is taken from it. */
  const left = (fall: number) => (fall >= slowest ? 1e9 : 1 / (1 / fall - 1 / slowest)) / half;
  const first = sides.map((side) => new Float64Array(side.length));
  for (const { amplitude, hz: partialHz, fall, first: stage, sides: loud = [1, 1], beside } of model.partials) {
    if (partialHz > (dark ? HALF_HZ : HIGHEST_HZ)) continue;
    const phase = chance.share();
    sides.forEach((side, s) => {
      const level = amplitude * loud[s];
      addPartial(side, level, inLoop(partialHz * half, period), phase, left(fall), start);
      if (beside) {
        const besideHz = inLoop(partialHz * half, period, beside.turns);
        addPartial(side, level * beside.level, besideHz, chance.share(), left(fall), start);
      }
      // Two strings that are struck together go apart by about a cent.
      if (stage)
        for (const cents of [-0.5, 0.5])
          addPartial(
            first[s],
            level * stage.level * (cents < 0 ? 0.6 : 0.4),
            partialHz * half * 2 ** (cents / 1200),
            phase,
            left(stage.fall),
          );
    });
  }
  sides.forEach((side, s) => {
    // The first stage is over where the loop begins.
    shape(first[s], (t) => rise(model.until - t, model.until * 0.4), rate);
    mixed(side, first[s]);
    const strike = new Float64Array(Math.round(STRIKE_SECONDS * RATE));
    model.strike?.(strike, chance);
    shape(strike, (t) => rise(STRIKE_SECONDS - t, STRIKE_SECONDS / 3));
    mixed(side, dark ? strike.filter((_, i) => i % 2 === 0) : strike);
    shape(side, (t) => rise(t, model.speaks), rate);
  });
  return {
    audio: finish(sides, rate),
    loop: { start, end: start + period },
    params: {
      decay: Math.round(slowest * DECAY_OF_FALL * 1000) / 1000,
      sustain: -60,
      release: Math.round(model.damped * 1000) / 1000,
    },
  };
}
