import type { NoteValues } from './noteValues';
import { NOTES_COUNT } from '../../rig/limits';

/** The ways in which one of the held notes counts where there can be only one. */
export const COUNTED = NOTES_COUNT;
const LAST = 0,
  HIGHEST = 1,
  LOWEST = 2,
  LOUDEST = 3,
  MEAN = 4;
const MOST_HELD = 128;

/** Which note counts, in each way, of the keys that are down; the last to count stays when all are up. */
export class Counted {
  /** By way of counting. */
  readonly notes: NoteValues[];
  private readonly keys = new Uint8Array(MOST_HELD);
  private readonly velocities = new Uint8Array(MOST_HELD);
  private readonly channels = new Uint8Array(MOST_HELD);
  private readonly serials = new Float64Array(MOST_HELD);
  private readonly counting = new Float64Array(COUNTED.length).fill(-1);
  private count = 0;
  private serial = 0;

  constructor(randoms: number) {
    const none = new Float64Array(0);
    this.notes = COUNTED.map(() => ({
      channel: 1,
      key: 60,
      velocity: 100,
      releaseVelocity: 64,
      randoms: new Float64Array(randoms),
      scatters: new Float64Array(randoms).fill(0.5),
      states: none,
      row: 0,
    }));
  }

  get isEmpty(): boolean {
    return this.count === 0;
  }

  /** A key went down; gives a bit for each way in which another note counts now. */
  strike(channel: number, key: number, velocity: number, randoms: Float64Array): number {
    this.remove(channel, key);
    if (this.count === MOST_HELD) this.removeAt(0);
    const at = this.count++;
    this.keys[at] = key;
    this.velocities[at] = velocity;
    this.channels[at] = channel;
    this.serials[at] = ++this.serial;
    return this.find(randoms);
  }

  /** A key went up. */
  lift(channel: number, key: number): number {
    this.remove(channel, key);
    return this.count === 0 ? 0 : this.find(null);
  }

  clear(): void {
    this.count = 0;
  }

  private remove(channel: number, key: number): void {
    for (let i = this.count - 1; i >= 0; i--)
      if (this.keys[i] === key && this.channels[i] === channel) this.removeAt(i);
  }

  private removeAt(i: number): void {
    this.count--;
    for (let n = i; n < this.count; n++) {
      this.keys[n] = this.keys[n + 1];
      this.velocities[n] = this.velocities[n + 1];
      this.channels[n] = this.channels[n + 1];
      this.serials[n] = this.serials[n + 1];
    }
  }

  private find(randoms: Float64Array | null): number {
    const { keys, velocities, count } = this;
    let highest = 0,
      lowest = 0,
      loudest = 0,
      keySum = 0,
      velocitySum = 0;
    for (let i = 0; i < count; i++) {
      if (keys[i] >= keys[highest]) highest = i;
      if (keys[i] <= keys[lowest]) lowest = i;
      if (velocities[i] >= velocities[loudest]) loudest = i;
      keySum += keys[i];
      velocitySum += velocities[i];
    }
    const changed =
      this.put(LAST, count - 1, randoms) |
      this.put(HIGHEST, highest, randoms) |
      this.put(LOWEST, lowest, randoms) |
      this.put(LOUDEST, loudest, randoms) |
      this.put(MEAN, count - 1, randoms);
    this.notes[MEAN].key = keySum / count;
    this.notes[MEAN].velocity = velocitySum / count;
    return changed;
  }

  private put(way: number, i: number, randoms: Float64Array | null): number {
    if (this.counting[way] === this.serials[i]) return 0;
    this.counting[way] = this.serials[i];
    const note = this.notes[way];
    note.key = this.keys[i];
    note.velocity = this.velocities[i];
    note.channel = this.channels[i];
    if (randoms && i === this.count - 1) for (let n = 0; n < randoms.length; n++) note.randoms[n] = randoms[n];
    return 1 << way;
  }
}
