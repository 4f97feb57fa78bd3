import type { Zone } from './schema';

/**
 * The key nearest to middle C on which a strike of that velocity is answered, and the zones that answer it; undefined
 * where none is.
 */
export function answersNearMiddleC(
  zones: readonly Zone[],
  velocity: number,
): { key: number; zones: Zone[] } | undefined {
  for (let distance = 0; distance < 128; distance++) {
    for (const key of distance === 0 ? [60] : [60 - distance, 60 + distance]) {
      const answering = zones.filter(
        (zone) =>
          zone.trigger === 'attack' &&
          key >= zone.key.low &&
          key <= zone.key.high &&
          velocity >= zone.velocity.low &&
          velocity <= zone.velocity.high,
      );
      if (answering.length > 0) return { key, zones: answering };
    }
  }
  return undefined;
}
