/** Moves the player's page on, or back, by whatever was learned for it: the page that is in sight hears it. */
class PageTurner {
  private readonly listeners = new Set<(way: 1 | -1) => void>();

  /** Gives what ends it. */
  onTurn(listener: (way: 1 | -1) => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  turn(way: 1 | -1): void {
    for (const listener of this.listeners) listener(way);
  }
}

export const pageTurner = new PageTurner();
