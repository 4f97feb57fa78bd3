import type { Rig } from '../../core/rig/schema';

/** What all views know of the findings; the rules themselves load later, see `checking`. */
class CheckState {
  /** How many count, of the patch in view: sure and measured ones that nobody set aside; null: nobody looked yet. */
  count: number | null = null;
  /** A rig as it would be with an edit that is heard before it is taken. */
  trial: { patchId: string; rig: Rig; key: string } | null = null;
  /** Keys where the finding in view is, lit on the keyboard; null: nowhere. */
  keys: readonly [number, number] | null = null;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  set(change: Partial<Pick<CheckState, 'count' | 'trial' | 'keys'>>): void {
    if (Object.entries(change).every(([name, value]) => this[name as 'count'] === value)) return;
    Object.assign(this, change);
    for (const listener of this.listeners) listener();
  }
}

export const checkState = new CheckState();
