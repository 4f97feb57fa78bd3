import { useSyncExternalStore } from 'react';

/** Where the pointer is in the space of keys and velocities; for the readout, and for actions that happen "here". */
export interface Pointed {
  key: number;
  velocity: number;
}

let now: Pointed | null = null;
const listeners = new Set<() => void>();
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Tells where the pointer is; null: over no map. It is a store of its own, for it moves far more often than the rest. */
export function point(pointed: Pointed | null): void {
  if (pointed?.key === now?.key && pointed?.velocity === now?.velocity) return;
  now = pointed;
  for (const listener of listeners) listener();
}

export const pointedNow = (): Pointed | null => now;
export const usePointed = (): Pointed | null => useSyncExternalStore(subscribe, pointedNow);
