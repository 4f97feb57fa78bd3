/** How this machine stands to a second one that plays in step. Small: the Stage looks at it from its first moment. */
export interface SpareNow {
  /** `leads`: it is heard, another follows; `follows`: it plays along, mute. */
  role: 'none' | 'leads' | 'follows';
  line: 'none' | 'joining' | 'open' | 'lost';
  /** What the other machine is called. */
  other: string;
  /** It offers itself, and waits to be let in. */
  offers: boolean;
  /** The line stands, but nothing has come by it for half a second. */
  silent: boolean;
  /** Why this machine took over by itself; empty: it did not. */
  tookOver: string;
  /** Both say that they lead. */
  both: boolean;
  /** Since when both make the same bits, in ms since 1970; null: they do not. */
  since: number | null;
  /** Why they do not, or what is waited for. */
  why: string;
  /** Ms that the one that follows is behind. */
  lagMs: number;
  /** What went wrong when it joined. */
  problem: string;
}

export const ALONE: SpareNow = {
  role: 'none',
  line: 'none',
  other: '',
  offers: false,
  silent: false,
  tookOver: '',
  both: false,
  since: null,
  why: '',
  lagMs: 0,
  problem: '',
};

class SpareState {
  now: SpareNow = ALONE;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  set(to: Partial<SpareNow>): void {
    const keys = Object.keys(to) as (keyof SpareNow)[];
    if (keys.every((key) => Object.is(this.now[key], to[key]))) return;
    this.now = { ...this.now, ...to };
    for (const listener of this.listeners) listener();
  }
}
export const spareState = new SpareState();
