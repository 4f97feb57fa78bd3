import { WAVES_SHAPE } from '../../sounds/synth/parameters';
import { Draws } from '../notes/draws';
import { Kernel } from '../../dsp/kernel/kernel';
import { SynthMemory } from '../../dsp/kernel/synthMemory';
import { OUTPUTS, STRIP_BYTES, SYNTH_PAGES } from '../../dsp/kernel/synthLayout';
import type { WaveSet } from '../../dsp/waves';
import type { LayerParameterId } from '../../rig/parameters';
import { SynthGenerator } from '../voice/generators/synth';
import { SYNTH_PLACES } from '../voice/ownPlaces';
import { ownValuesOf } from '../program/ownValues';
import { OF_SYNTH, SHAPES_KEY } from '../program/program';

/** Frames of one cycle of a picture, and how long oscillators run before it is taken. */
const CYCLE = 128,
  SETTLE = 4096,
  SPAN = 32,
  RATE = 48000;

let made: { synth: SynthMemory; generator: SynthGenerator } | null = null;

/**
 * What the oscillators of a synth give over two cycles of the note, by the code that plays them: each before its level,
 * its modulation by the others included. `value` gives each parameter in its unit, `setOf`
 * the waves of a key; null while they are not there.
 */
export function oscillatorPicture(
  value: (id: LayerParameterId) => number,
  waves: readonly string[],
  setOf: (key: string) => WaveSet | undefined,
): Float32Array[] | null {
  made ??= (() => {
    const synth = new SynthMemory(new Kernel(SYNTH_PAGES));
    return { synth, generator: new SynthGenerator(synth, 0, SYNTH_PLACES, RATE, true) };
  })();
  const { synth, generator } = made;
  // A row that nobody reads need not be there.
  const needed = [SHAPES_KEY, ...waves.filter((_, n) => value(`osc${n + 1}Shape` as LayerParameterId) === WAVES_SHAPE)];
  for (const key of needed) {
    const set = setOf(key);
    if (!set) return null;
    synth.keep((each) => needed.includes(each));
    synth.hold(key, set);
  }
  const { rests, strikeRests } = ownValuesOf(OF_SYNTH, value);
  generator.values.targets.set(rests);
  generator.begin(strikeRests, waves, SHAPES_KEY, new Draws(1), false, true);
  generator.speed(Float64Array.of(RATE / CYCLE / 440), 0);
  const pictures = [0, 1, 2].map(() => new Float32Array(2 * CYCLE));
  for (let frame = 0; frame < SETTLE + 2 * CYCLE; frame += SPAN) {
    generator.make(SPAN);
    if (frame >= SETTLE)
      pictures.forEach((picture, n) =>
        picture.set(
          synth.kernel.floats.subarray((OUTPUTS + n * STRIP_BYTES) >> 2, ((OUTPUTS + n * STRIP_BYTES) >> 2) + SPAN),
          frame - SETTLE,
        ),
      );
  }
  return pictures;
}
