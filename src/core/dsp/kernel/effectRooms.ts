import { EffectKernel } from './effectKernel';
import { ROOMS } from './effectLayout';

/** Bytes of rooms that a kernel has at least. */
const BANK = 40 * 1024 * 1024;
/** Memories before what was given back is wiped at once. */
const MOST_BANKS = 3;
/** Rooms begin at multiples of this. */
const EVEN = 64;

/** Where an effect works: zeros when it is given, `memory` is all of it. */
export interface Room {
  readonly kernel: EffectKernel;
  readonly memory: Float32Array;
}

interface Place {
  at: number;
  end: number;
  /** Who has it; null: it was given back, and is zeros up to `clean`. */
  room: Room | null;
  clean: number;
}

/**
 * The memory of an engine's effects. What is given back is wiped a little at a time, so that neither taking a room nor
 * leaving it costs the audio thread more than a look.
 */
export class EffectRooms {
  private readonly banks: { kernel: EffectKernel; places: Place[] }[] = [];
  private wiping = 0;

  /** `bytes`: of the first kernel; it is made when the first room is taken, or by {@link prepare}. */
  constructor(private readonly bytes = BANK) {}

  prepare(): void {
    if (this.banks.length === 0) this.banks.push({ kernel: new EffectKernel(this.bytes), places: [] });
  }

  /** A room of so many 32-bit floats. */
  take(floats: number): Room {
    this.prepare();
    const bytes = Math.ceil((4 * floats) / EVEN) * EVEN;
    const found = this.find(floats, bytes);
    if (found) return found;
    // Wiping at once takes longer than another memory; but of those there shall not be many.
    if (this.wiping > 0 && this.banks.length >= MOST_BANKS) {
      this.wipe(Infinity);
      const now = this.find(floats, bytes);
      if (now) return now;
    }
    this.banks.push({ kernel: new EffectKernel(Math.max(this.bytes, bytes + EVEN)), places: [] });
    return this.find(floats, bytes)!;
  }

  private find(floats: number, bytes: number): Room | null {
    for (const { kernel, places } of this.banks) {
      let at = Math.ceil(ROOMS / EVEN) * EVEN;
      let n = 0;
      for (; n < places.length && places[n].at - at < bytes; n++) at = places[n].end;
      if (at + bytes > kernel.floats.byteLength) continue;
      const room: Room = { kernel, memory: new Float32Array(kernel.floats.buffer, at, floats) };
      places.splice(n, 0, { at, end: at + bytes, room, clean: at });
      return room;
    }
    return null;
  }

  /** Rooms that nobody has any more are given back. */
  keep(isUsed: (memory: Float32Array) => boolean): void {
    for (const { places } of this.banks)
      for (const place of places) {
        if (!place.room || isUsed(place.room.memory)) continue;
        place.room = null;
        this.wiping++;
      }
  }

  /** Wipes so many bytes of what was given back. For the audio thread: it allocates nothing. */
  wipe(bytes: number): void {
    if (this.wiping === 0) return;
    for (let b = 0; b < this.banks.length && bytes > 0; b++) {
      const { kernel, places } = this.banks[b];
      for (let n = places.length - 1; n >= 0 && bytes > 0; n--) {
        const place = places[n];
        if (place.room) continue;
        const end = Math.min(place.end, place.clean + bytes);
        kernel.floats.fill(0, place.clean >> 2, end >> 2);
        bytes -= end - place.clean;
        place.clean = end;
        if (place.clean < place.end) return;
        for (let k = n + 1; k < places.length; k++) places[k - 1] = places[k];
        places.pop();
        this.wiping--;
      }
    }
  }
}
