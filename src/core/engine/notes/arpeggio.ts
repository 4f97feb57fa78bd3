import { ORDER, type CompiledArpeggio } from '../program/compiledPath';
import type { Draws } from './draws';

/** Keys that an arpeggio can hold. */
export const MOST_HELD = 64;

/** The keys that drive an arpeggio, and where it is among them. Made once, allocates nothing. */
export class HeldKeys {
  /**
   * In the order in which they were pressed: the key as the scale and chord made it, the one that was played, its
   * address, velocity, transposition and gain.
   */
  readonly keys = new Int16Array(MOST_HELD);
  readonly played = new Int16Array(MOST_HELD);
  readonly channels = new Int16Array(MOST_HELD);
  readonly velocities = new Uint8Array(MOST_HELD);
  readonly transposes = new Float64Array(MOST_HELD);
  readonly gains = new Float64Array(MOST_HELD);
  /** 0: it is up, and only held on to. */
  readonly down = new Uint8Array(MOST_HELD);
  count = 0;
  /** Places in order of pitch. */
  private readonly sorted = new Uint8Array(MOST_HELD);

  add(
    key: number,
    played: number,
    channel: number,
    velocity: number,
    transposes: Float64Array,
    gains: Float64Array,
  ): void {
    let at = 0;
    while (at < this.count && (this.keys[at] !== key || this.played[at] !== played || this.channels[at] !== channel))
      at++;
    if (at === this.count) {
      if (this.count === MOST_HELD) return;
      this.count++;
    }
    this.keys[at] = key;
    this.played[at] = played;
    this.channels[at] = channel;
    this.velocities[at] = velocity;
    this.transposes[at] = transposes[0];
    this.gains[at] = gains[0];
    this.down[at] = 1;
    this.sort();
  }

  /** A key goes up: what it brought is left out, or with `keep` only known to be up. */
  lift(played: number, channel: number, keep: boolean): void {
    for (let i = this.count - 1; i >= 0; i--) {
      if (this.played[i] !== played || this.channels[i] !== channel) continue;
      if (keep) this.down[i] = 0;
      else this.remove(i);
    }
    this.sort();
  }

  /** Everything whose key is up is left out. */
  dropLifted(): void {
    for (let i = this.count - 1; i >= 0; i--) if (this.down[i] === 0) this.remove(i);
    this.sort();
  }

  clear(): void {
    this.count = 0;
  }

  get anyDown(): boolean {
    for (let i = 0; i < this.count; i++) if (this.down[i] === 1) return true;
    return false;
  }

  private remove(at: number): void {
    this.count--;
    for (let i = at; i < this.count; i++) {
      this.keys[i] = this.keys[i + 1];
      this.played[i] = this.played[i + 1];
      this.channels[i] = this.channels[i + 1];
      this.velocities[i] = this.velocities[i + 1];
      this.transposes[i] = this.transposes[i + 1];
      this.gains[i] = this.gains[i + 1];
      this.down[i] = this.down[i + 1];
    }
  }

  private sort(): void {
    for (let i = 0; i < this.count; i++) {
      let at = i;
      while (at > 0 && this.keys[this.sorted[at - 1]] > this.keys[i]) {
        this.sorted[at] = this.sorted[at - 1];
        at--;
      }
      this.sorted[at] = i;
    }
  }

  /**
   * Which of the held keys the n-th note of an arpeggio is, and how many octaves it is moved: its place, and octaves ·
   * {@link MOST_HELD}. Going up and down does not repeat the ends; outside in takes the
   * lowest, the highest, the second lowest and so on. `octaves` is how many octaves it goes through.
   */
  noteAt(n: number, { order }: CompiledArpeggio, octaves: number, draws: Draws): number {
    const { count } = this;
    const length = count * octaves;
    let at: number;
    switch (order) {
      case ORDER.down:
        at = length - 1 - (n % length);
        break;
      case ORDER['up-down']: {
        const round = length < 2 ? 1 : 2 * length - 2;
        const place = n % round;
        at = place < length ? place : round - place;
        break;
      }
      case ORDER.random:
        at = draws.below(length);
        break;
      case ORDER['outside-in']: {
        const place = n % length;
        at = place % 2 === 0 ? place / 2 : length - 1 - (place - 1) / 2;
        break;
      }
      default:
        at = n % length;
    }
    const octave = Math.floor(at / count);
    const place = at % count;
    return (order === ORDER['as-played'] ? place : this.sorted[place]) + octave * MOST_HELD;
  }
}
