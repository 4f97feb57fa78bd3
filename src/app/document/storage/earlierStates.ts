/** An earlier state of a rig, as far as keeping it goes. `name`: the player keeps it for good. */
export interface Kept {
  id: number;
  at: number;
  name: string | null;
}

const MINUTE = 60_000,
  HOUR = 60 * MINUTE,
  DAY = 24 * HOUR;
/** A state is kept when the newest kept one is this old. */
export const EVERY_MS = 4 * MINUTE;
/** How old a state may be, and the length of time of which one stays. Beyond the last none does. */
const SPACING: readonly (readonly [until: number, each: number])[] = [
  [HOUR, EVERY_MS],
  [DAY, 2 * HOUR],
  [8 * DAY, DAY],
];

/**
 * Which states go: of each length of time the first stays, and none that is older than a week. Named ones stay for
 * good. The states come in any order.
 */
export function spareStates(states: readonly Kept[], now: number): number[] {
  const taken = new Set<string>();
  return [...states]
    .sort((a, b) => a.at - b.at)
    .flatMap(({ id, at, name }) => {
      if (name !== null) return [];
      const each = SPACING.find(([until]) => now - at <= until)?.[1];
      const span = `${each} ${Math.floor(at / (each ?? 1))}`;
      if (each === undefined || taken.has(span)) return [id];
      taken.add(span);
      return [];
    });
}
