import { VOICE_BYTES } from '../../dsp/kernel/layout';
import { VALUES } from '../program/voiceValues';
import type { Generator } from './generators/generator';

interface Looked {
  readonly numbers: Float64Array;
  readonly first: number;
  readonly now: Float64Array;
  readonly targets: Float64Array;
  readonly generator: Generator;
  readonly amplitude: number;
}

/** Whether all that the sound of a voice is made of are numbers. */
export function isSound({ numbers, first, now, targets, generator, amplitude }: Looked): boolean {
  let sum = amplitude * 0;
  for (let i = first; i < first + VOICE_BYTES / 8; i++) sum += numbers[i] * 0;
  for (let place = 0; place < VALUES; place++) sum += (now[place] + targets[place]) * 0;
  if (generator.values !== null)
    for (let i = 0; i < generator.values.now.length; i++)
      sum += (generator.values.now[i] + generator.values.targets[i]) * 0;
  return sum === 0;
}
