import { draw, DRAW, SEED, seedOf, STATE_SIZE } from '../../movers/mover';

/** Chance that can begin again from any seed: the generator of the movers. Draws nothing on the heap. */
export class Draws {
  private readonly state = new Float64Array(STATE_SIZE);
  /** The last draw, 0…1, 1 excluded: a field, because a fraction that a function gives may be put on the heap. */
  readonly share = new Float64Array(1);

  constructor(seed: number) {
    this.seed(seed);
  }

  /** Begins from a whole number. */
  seed(seed: number): void {
    this.state[SEED] = seedOf(seed, 77);
    this.next();
  }

  next(): void {
    draw(this.state, 0);
    this.share[0] = Math.min(0.9999999, (this.state[DRAW] + 1) / 2);
  }

  /** A number −1…1. */
  signed(): number {
    this.next();
    return 2 * this.share[0] - 1;
  }

  /** A whole number from 0 to count − 1. */
  below(count: number): number {
    this.next();
    return Math.floor(this.share[0] * count);
  }
}
