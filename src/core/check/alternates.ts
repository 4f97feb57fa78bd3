import type { Sound, Zone } from '../rig/schema';

/** Zones that take turns with one another: they share keys and velocities. As lists of places, each of two and more. */
export function roundsOf({ zones }: Pick<Sound, 'zones'>): number[][] {
  const rounds = new Map<string, number[]>();
  const name = ({ key, velocity, trigger }: Zone) =>
    `${key.low} ${key.high} ${velocity.low} ${velocity.high} ${trigger}`;
  zones.forEach((zone, place) => {
    if (zone.alternate !== null) rounds.set(name(zone), [...(rounds.get(name(zone)) ?? []), place]);
  });
  return [...rounds.values()].filter((places) => new Set(places.map((place) => zones[place].alternate)).size > 1);
}
