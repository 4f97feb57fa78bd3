/**
 * What the page needs to know of the tray before anything was brought in: the tray itself is read with the first file.
 */
export interface TrayState {
  version: number;
  open: boolean;
  isFull: boolean;
  canGoBack(way: 'undone' | 'redone'): boolean;
  goBack(way: 'undone' | 'redone'): void;
}

const NOTHING: TrayState = { version: 0, open: false, isFull: false, canGoBack: () => false, goBack: () => undefined };
const listeners = new Set<() => void>();

export const openTray = {
  tray: NOTHING,
  /** The tray is there, and tells from now on when it changes. */
  takeUp(tray: TrayState & { subscribe: (listener: () => void) => unknown }): void {
    openTray.tray = tray;
    tray.subscribe(() => {
      for (const listener of listeners) listener();
    });
  },
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
};
