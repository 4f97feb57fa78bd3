/**
 * A few words that this browser keeps between visits; where it keeps nothing (storage forbidden, or full), they hold as
 * long as the page.
 */
class Small {
  /** What could not be kept; null: taken away. */
  private readonly held = new Map<string, string | null>();

  constructor(private readonly storage: () => Storage) {}

  get(key: string): string | null {
    const held = this.held.get(key);
    if (held !== undefined) return held;
    try {
      return this.storage().getItem(key);
    } catch {
      return null;
    }
  }

  /** Gives whether it is kept beyond this page. */
  set(key: string, text: string): boolean {
    try {
      this.storage().setItem(key, text);
      this.held.delete(key);
      return true;
    } catch {
      this.held.set(key, text);
      return false;
    }
  }

  remove(key: string): void {
    try {
      this.storage().removeItem(key);
      this.held.delete(key);
    } catch {
      this.held.set(key, null);
    }
  }
}

/** For all tabs, from one visit to the next. */
export const small = new Small(() => localStorage);
/** For this tab, until it is closed. */
export const smallOfTab = new Small(() => sessionStorage);
