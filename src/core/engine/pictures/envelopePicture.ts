import { Envelope } from '../../dsp/envelope';
import { paramOf } from '../../rig/defaults';
import type { Layer } from '../../rig/schema';
import { envelopeOf, strikeRestsOf } from '../program/strikeValues';

const RATE = 48000;

/**
 * A layer's envelope by its own code, in parts: what it is worth at `steps` even times within each of the given
 * stretches of seconds; the key goes up before the last of them. Gives also its start and
 * sustain levels, as amplitudes.
 */
export function envelopeValues(
  layer: Layer,
  stretches: readonly number[],
  steps: number,
): { parts: number[][]; startLevel: number; sustain: number } {
  const shape = envelopeOf(strikeRestsOf((id) => paramOf(layer, id)));
  const envelope = new Envelope();
  envelope.start(shape);
  const parts = stretches.map((seconds, part) => {
    if (part === stretches.length - 1) envelope.release();
    return Array.from({ length: steps }, () => {
      if (seconds > 0) envelope.advance(shape, (seconds / steps) * RATE, RATE);
      return Math.min(1, envelope.value);
    });
  });
  return { parts, startLevel: shape.startLevel, sustain: shape.sustain };
}
