import type { Chance } from '../../dsp/chance';
import { RANDOMS } from '../hands/noteValues';
import { Draws } from './draws';

/** Seeds of strikes: few enough that a meter can tell one exactly. */
export const STRIKE_SEEDS = 1 << 24;

/**
 * What chance does with a strike. All of it follows from one seed that the strike draws: what its layers have in
 * common, what each voice has for itself, which alternates answer. A layer that was told to keep a
 * strike has the seed of that one for every strike.
 */
export class StrikeChance {
  /** Seed of the strike that is being answered. */
  seed = 0;
  readonly draws = new Draws(1);
  /** By layer, voices of this strike that have drawn. */
  private counts = new Int32Array(0);

  /** A strike begins. */
  begin(chance: Chance, layers: number): void {
    this.seed = chance.below(STRIKE_SEEDS);
    if (this.counts.length < layers) this.counts = new Int32Array(layers);
    else this.counts.fill(0);
  }

  /** What all layers of a strike have in common. */
  drawShared(randoms: Float64Array, kept: number): void {
    const { draws } = this;
    draws.seed(kept >= 0 ? kept : this.seed);
    for (let i = 0; i < RANDOMS; i++) {
      draws.next();
      randoms[i] = draws.share[0];
    }
  }

  /** What the next voice of a layer has for itself; `draws` goes on from there with all else that it needs. */
  drawOwn(scatters: Float64Array, layer: number, kept: number): void {
    const { draws } = this;
    draws.seed(
      ((kept >= 0 ? kept : this.seed) ^ 0x5bd1e995) + 7919 * (layer + 1) + 104729 * (this.counts[layer]++ + 1),
    );
    for (let i = 0; i < RANDOMS; i++) {
      draws.next();
      scatters[i] = draws.share[0];
    }
  }

  /** One of some alternates that share a place. */
  pick(place: number, count: number, kept: number): number {
    this.draws.seed(((kept >= 0 ? kept : this.seed) ^ 0x2545f491) + 15485863 * (place + 1));
    return this.draws.below(count);
  }
}
