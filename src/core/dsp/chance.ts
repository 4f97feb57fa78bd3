import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** The one origin of chance: the same seed gives the same draws, and a draw allocates nothing. */
export class Chance {
  private readonly generator;

  constructor(seed: number) {
    this.generator = xoroshiro128plus(seed | 0);
    for (let i = 0; i < 8; i++) this.generator.next();
  }

  /** A number in 0…1, 1 excluded. */
  share(): number {
    return (this.generator.next() >>> 0) / 0x1_0000_0000;
  }

  /** A whole number from 0 to count − 1. */
  below(count: number): number {
    return Math.floor(this.share() * count);
  }
}
