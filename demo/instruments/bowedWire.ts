import { Chance } from '../../src/core/dsp/chance';
import { frequencyOfKey } from '../../src/core/music/pitch';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { addPartial, addPeriodicNoise, finish, RATE, rise, shape, wholePeriods, type Recording } from './tools';

const ONSET = 0.7;

/**
 * Three wires bowed together, a little apart in pitch, with the bow's breath: every fourth key, looped over about two
 * seconds in which everything repeats exactly.
 */
export function bowedWire(): Recording[] {
  return Array.from({ length: 17 }, (_, i) => bow(32 + 4 * i));
}

function bow(key: number): Recording {
  const hz = frequencyOfKey(key);
  const { period, cycles } = wholePeriods(hz, 2);
  const chance = new Chance(key * 13);
  const start = Math.round(ONSET * RATE);
  const frames = start + period;
  const sides = [new Float64Array(frames), new Float64Array(frames)];
  const bright = 1100 + 1.4 * hz;
  const apart = Math.max(1, Math.round(cycles * 0.0023));
  for (const [wire, offset] of [-apart, 0, apart].entries()) {
    // Low partials speak first; the bright ones follow once the bow has caught.
    const early = new Float64Array(frames);
    const late = new Float64Array(frames);
    for (let n = 1; n <= 28; n++) {
      const partialHz = (n * (cycles + offset) * RATE) / period;
      if (partialHz > 9500) break;
      const body = 1 + 0.5 * Math.cos(partialHz / 310 + 0.7) + 0.25 * Math.cos(partialHz / 97);
      const amplitude = (body / n ** 0.85) * Math.exp(-partialHz / bright) * (wire === 1 ? 1 : 0.7);
      addSwaying(n <= 4 ? early : late, amplitude, partialHz, chance.share(), ((1 + ((n + wire) % 3)) * RATE) / period);
    }
    shape(early, (t) => rise(t, 0.2));
    shape(late, (t) => rise(t, 0.55));
    sides.forEach((side, s) => {
      const pan = [0.85, 0.6, 0.3][s === 0 ? wire : 2 - wire];
      for (let i = 0; i < frames; i++) side[i] += pan * (early[i] + late[i]);
    });
  }
  sides.forEach((side) => {
    const breath = new Float64Array(frames);
    addPeriodicNoise(breath, 0.05, Math.max(500, hz), Math.max(2800, 3 * hz), period, 60, chance);
    shape(breath, (t) => rise(t, 0.25));
    breath.forEach((x, i) => {
      side[i] += x;
    });
  });
  return {
    name: `Bowed Wire ${fileNameOfKey(key)}.wav`,
    root: key,
    velocity: [1, 127],
    audio: finish(sides),
    loop: { start, end: frames },
  };
}

/**
 * A partial whose level sways by 12 % at `swayHz`: the tone and a sideband on either side, so that it repeats exactly
 * where they do.
 */
function addSwaying(out: Float64Array, amplitude: number, hz: number, phase: number, swayHz: number): void {
  addPartial(out, amplitude, hz, phase, 1e9);
  addPartial(out, amplitude * 0.06, hz - swayHz, phase, 1e9);
  addPartial(out, amplitude * 0.06, hz + swayHz, phase + 0.5, 1e9);
}
