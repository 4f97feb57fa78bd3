/** What a person does with a page. */
const TOUCHES = ['pointerdown', 'keydown', 'wheel', 'drop'] as const;

/** Something that says when it changes. */
interface Telling {
  subscribe: (listener: () => void) => () => void;
}

/** What can be touched. */
export interface Touched {
  page: Pick<EventTarget, 'addEventListener'>;
  hands: Telling & { readonly held: { readonly size: number } };
  takes: Telling & { readonly playing: boolean };
}

/** Knows for how long nothing was touched: neither the page nor a controller; a take that plays is as good as hands. */
export class Rest {
  private touchedAt: number;

  /** `touched` is told of each touch; `now`: a clock, in ms. */
  constructor(
    private readonly of: Touched,
    touched: () => void,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.touchedAt = now();
    const note = () => {
      this.touchedAt = this.now();
      touched();
    };
    for (const type of TOUCHES) of.page.addEventListener(type, note, { capture: true, passive: true });
    of.hands.subscribe(note);
    of.takes.subscribe(() => {
      if (of.takes.playing) note();
    });
  }

  /** Milliseconds that are left until nothing was touched for so long; 0: it was so. */
  leftOf(ms: number): number {
    const { hands, takes } = this.of;
    return hands.held.size > 0 || takes.playing ? ms : Math.max(0, this.touchedAt + ms - this.now());
  }
}
