import type { Rig } from '../../core/rig/schema';

/** What is heard of the store in the place of a patch, by a key that names it. */
export interface Heard {
  patchId: string;
  rig: Rig;
  key: string;
}

/** Known from the start; the store itself comes when it is opened. */
class StoreHeard {
  now: Heard | null = null;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  set(heard: Heard | null): void {
    if (heard === this.now) return;
    this.now = heard;
    for (const listener of this.listeners) listener();
  }
}

export const storeHeard = new StoreHeard();
