import type { Layer, Zone } from '../rig/schema';
import { KEYS } from '../music/pitch';
import { gainOfWindow } from '../space/window';
import type { StrikeTable } from './program';

/** A layer as the table sees it. `firstZone` is the place of its sound's first zone among all zones. */
export interface TableLayer { layer: Layer; touch: Uint8Array; zones: readonly Zone[]; firstZone: number }

interface Candidate { zone: number; low: number; high: number; place: number; alternate: number }

/**
 * Works out for every key and velocity who may sound. Velocities of a key between which nothing changes share one cell, so the table stays small
 * however many zones there are.
 */
export function buildStrikeTable(layers: readonly TableLayer[]): StrikeTable {
  const cellOf = new Uint32Array(KEYS * 128);
  const cellStart: number[] = [0, 0];
  const slotLayer: number[] = [];
  const slotStart: number[] = [0];
  const slotZone: number[] = [];
  const slotPlace: number[] = [];
  const placeIds = new Map<number, number>();
  const maps = layers.map(keyMapOf);
  const ranges = layers.map(({ layer }) => layer.windows.filter((window) => window.source === 'velocity'));
  const borders = new Uint8Array(129);

  for (let key = 0; key < KEYS; key++) {
    borders.fill(0);
    borders[1] = 1;
    const here = layers.map(({ layer }, l) => {
      const alive = layer.windows.every((window) => window.source !== 'key' || gainOfWindow(window, key) > 0);
      const candidates = alive ? maps[l].byKey[Math.min(127, Math.max(0, key + layer.transpose))] : [];
      for (const { low, high } of candidates) borders[low] = borders[high + 1] = 1;
      if (candidates.length > 0) for (const { low, high } of ranges[l]) borders[Math.max(1, Math.ceil(low))] = borders[Math.floor(high) + 1] = 1;
      return candidates;
    });
    let cell = 0;
    for (let velocity = 1; velocity < 128; velocity++) {
      if (borders[velocity]) {
        const firstSlot = slotLayer.length;
        here.forEach((candidates, l) => {
          if (ranges[l].some(({ low, high }) => velocity < low || velocity > high)) return;
          let lastPlace = -1;
          for (const { zone, low, high, place } of candidates) {
            if (velocity < low || velocity > high) continue;
            if (place < 0 || place !== lastPlace) {
              slotLayer.push(l);
              slotPlace.push(place < 0 ? -1 : placeOf(placeIds, l * 1e6 + place));
              slotStart.push(slotZone.length);
            }
            slotZone.push(layers[l].firstZone + zone);
            slotStart[slotStart.length - 1] = slotZone.length;
            lastPlace = place;
          }
        });
        if (slotLayer.length === firstSlot) cell = 0;
        else {
          cell = cellStart.length - 1;
          cellStart.push(slotLayer.length);
        }
      }
      cellOf[key * 128 + velocity] = cell;
    }
  }
  return {
    cellOf, cellStart: Uint32Array.from(cellStart), slotLayer: Uint16Array.from(slotLayer), slotStart: Uint32Array.from(slotStart),
    slotZone: Uint32Array.from(slotZone), slotPlace: Int32Array.from(slotPlace), places: placeIds.size,
  };
}

const placeOf = (ids: Map<number, number>, key: number): number => {
  let id = ids.get(key);
  if (id === undefined) ids.set(key, (id = ids.size));
  return id;
};

/** By key of the sound: its zones with the velocities as struck that reach them, alternates of one place together and in their order. */
function keyMapOf({ touch, zones }: TableLayer): { byKey: Candidate[][] } {
  const byKey: Candidate[][] = Array.from({ length: KEYS }, () => []);
  const places = new Map<string, number>();
  const candidates = zones.map((zone, i): Candidate => {
    const { low, high } = struckRange(touch, zone.velocity.low, zone.velocity.high);
    let place = -1;
    if (zone.alternate !== null) {
      const name = `${zone.key.low} ${zone.key.high} ${zone.velocity.low} ${zone.velocity.high}`;
      place = places.get(name) ?? places.size;
      places.set(name, place);
    }
    return { zone: i, low, high, place, alternate: zone.alternate ?? 0 };
  });
  candidates.sort((a, b) => a.place - b.place || a.alternate - b.alternate || a.zone - b.zone);
  for (const candidate of candidates) {
    if (candidate.low > candidate.high) continue;
    const { key } = zones[candidate.zone];
    for (let k = Math.ceil(key.low); k <= key.high; k++) byKey[k].push(candidate);
  }
  return { byKey };
}

/** The velocities as struck that a layer feels as low … high; low above high where there are none. */
function struckRange(touch: Uint8Array, low: number, high: number): { low: number; high: number } {
  let first = 128;
  let last = 0;
  for (let velocity = 1; velocity < 128; velocity++) {
    if (touch[velocity] < low || touch[velocity] > high) continue;
    if (first === 128) first = velocity;
    last = velocity;
  }
  return { low: first, high: last };
}
