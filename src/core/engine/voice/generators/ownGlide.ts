import { LEAD, TICK } from '../../program/tick';

/** What is left of a way when it has arrived, as a share of it. */
const ENOUGH = 1e-5;

/**
 * Values that a generator alone has, on their way: what hands move nears its target by a share in each span, what moves
 * by itself goes there in a straight line.
 */
export class OwnGlide {
  readonly targets: Float64Array;
  readonly now: Float64Array;
  /** Something of it moved in the span before, or is on its way. */
  moves = false;
  private readonly steps: Float64Array;
  private readonly isLed: Uint8Array;
  private ticks = 0;
  private settled = true;

  /**
   * `whole`: a 1 for each place whose value is one of several, which has nothing between: it is there at once, whatever
   * moves it.
   */
  constructor(
    count: number,
    private readonly whole: Uint8Array,
  ) {
    this.targets = new Float64Array(count);
    this.now = new Float64Array(count);
    this.steps = new Float64Array(count);
    this.isLed = new Uint8Array(count);
  }

  /** Begins where it is to go. */
  begin(): void {
    this.now.set(this.targets);
    this.isLed.fill(0);
    this.ticks = 0;
    this.settled = true;
    this.moves = false;
  }

  unsettle(): void {
    this.settled = false;
  }

  /** Sets some values on their way, to be there in {@link LEAD} ticks. */
  lead(places: readonly number[]): void {
    const { targets, now, steps, isLed, whole } = this;
    for (let i = 0; i < places.length; i++) {
      const place = places[i];
      if (whole[place] === 1) continue;
      steps[place] = (targets[place] - now[place]) / LEAD;
      isLed[place] = 1;
    }
    this.ticks = LEAD;
    this.settled = false;
  }

  /** Goes on by a span; `smoothing` holds, by frames, the share by which values near their targets. */
  advance(smoothing: Float64Array, frames: number): void {
    if (this.settled) {
      this.moves = false;
      return;
    }
    const { targets, now, steps, isLed, whole } = this;
    const share = smoothing[frames];
    let ticks = frames / TICK;
    if (ticks > this.ticks) ticks = this.ticks;
    this.ticks -= ticks;
    let settled = this.ticks <= 0;
    for (let place = 0; place < now.length; place++) {
      const way = targets[place] - now[place];
      if (way === 0) continue;
      if (whole[place] === 1) now[place] = targets[place];
      else if (isLed[place] === 1) {
        if (this.ticks <= 0) now[place] = targets[place];
        else now[place] += steps[place] * ticks;
      } else {
        const size = targets[place] < 0 ? -targets[place] : targets[place];
        if (way < ENOUGH * (size + 0.01) && way > -ENOUGH * (size + 0.01)) now[place] = targets[place];
        else {
          now[place] += way * share;
          settled = false;
        }
      }
    }
    this.settled = settled;
    this.moves = true;
  }
}
