import { RUN } from '../program/tick';
import type { EffectSlot } from './effectSlot';
import type { MixLayout } from './layout';
import type { ConnectionState, PlaceState } from './places';

/** What of the mix is heard alone: a connection, what comes out of a place, or what an effect changes. */
export type Listening = { kind: 'connection' | 'place' | 'change'; id: string };

/** One thing of a mix that is put alone before the ears, and what is left out. */
export class ListeningIn {
  /** The sound of what is heard alone, for the run just made. */
  readonly left = new Float32Array(RUN);
  readonly right = new Float32Array(RUN);
  /** How far it has come before the ears: 0…1. */
  readonly share = new Float64Array(1);
  monitor: Listening | null = null;
  heard: ConnectionState | PlaceState | EffectSlot | null = null;
  /** Ids of what is left out; `*`: all effects. */
  without: readonly string[] = [];

  constructor(private readonly layout: MixLayout) {}

  /** Puts one thing alone before the ears; null: everything. */
  listenTo(listening: Listening | null): void {
    this.monitor = listening;
    this.find();
  }

  /** Finds again by id what is heard alone, and what is left out. */
  find(): void {
    const { monitor, without } = this;
    const all = without.includes('*');
    let heard: ConnectionState | PlaceState | EffectSlot | null = null;
    for (const place of this.layout.places) {
      if (monitor?.kind === 'place' && place.compiled.id === monitor.id) heard = place;
      for (const slot of [...place.slots, ...(place.next ?? [])]) {
        slot.without = all || without.includes(slot.id) || without.includes(place.compiled.id);
        slot.wantsChange = monitor?.kind === 'change' && slot.id === monitor.id;
        if (slot.wantsChange) heard = slot;
      }
    }
    for (const connection of this.layout.connections)
      if (monitor?.kind === 'connection' && connection.compiled.id === monitor.id && !connection.isLeaving)
        heard = connection;
    if (heard) this.heard = heard;
    else this.monitor = null;
  }

  hear(left: Float32Array, right: Float32Array, total: number, sounds: boolean, gain: number): void {
    for (let i = 0; i < total; i++) {
      this.left[i] = sounds ? left[i] * gain : 0;
      this.right[i] = sounds ? right[i] * gain : 0;
    }
  }

  leavesOut(id: string): boolean {
    for (let n = 0; n < this.without.length; n++) if (this.without[n] === id) return true;
    return false;
  }

  /** Whether this is what is heard alone. */
  isHeard(what: ConnectionState | PlaceState | EffectSlot): boolean {
    return this.heard === what && this.monitor !== null;
  }
}
