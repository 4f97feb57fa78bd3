import type { Layer, Zone } from '../../rig/schema';
import { KEYS } from '../../music/pitch';
import { gainOfWindow } from '../../space/window';
import { ofObject } from './ofObject';
import type { StrikeTable } from './program';

/** A layer as the table sees it. `firstZone` is the place of its sound's first zone among all zones. */
export interface TableLayer {
  layer: Layer;
  touch: Uint8Array;
  zones: readonly Zone[];
  firstZone: number;
}

/** A zone with the velocities as struck that reach it. `alternate` −1: it always sounds. */
interface Candidate {
  zone: number;
  low: number;
  high: number;
  alternate: number;
  turns: number;
}

const NOBODY: readonly Candidate[] = [];

/**
 * Works out for every key and velocity who may sound. Velocities of a key between which nothing changes share one cell,
 * so the table stays small
 * however many zones there are. Alternates that meet in a cell take turns, by their numbers; those with equal numbers
 * sound together.
 */
export function buildStrikeTable(layers: readonly TableLayer[], trigger: Zone['trigger'] = 'attack'): StrikeTable {
  const cellOf = new Uint32Array(KEYS * 128);
  const cellStart: number[] = [0, 0];
  const slotLayer: number[] = [];
  const slotStart: number[] = [0];
  const slotZone: number[] = [];
  const slotTurns: number[] = [];
  const slotPlace: number[] = [];
  const zoneTurn: number[] = [];
  const placeIds = new Map<string, number>();
  const maps = layers.map((layer) => keyMapOf(layer, trigger));
  const ranges = layers.map(({ layer }) => layer.windows.filter((window) => window.source === 'velocity'));
  const keyWindows = layers.map(({ layer }) => layer.windows.filter((window) => window.source === 'key'));
  const borders = new Uint8Array(129);

  /** By layer, the alternates that met last and the memory of their turns: mostly the same meet again. */
  const lastMet = layers.map((): { zones: number[]; place: number } => ({ zones: [], place: -1 }));
  const placeOf = (layer: number, candidates: readonly Candidate[], from: number, to: number): number => {
    const last = lastMet[layer];
    let same = last.zones.length === to - from;
    for (let i = from; same && i < to; i++) same = last.zones[i - from] === candidates[i].zone;
    if (same) return last.place;
    last.zones = candidates.slice(from, to).map(({ zone }) => zone);
    const name = `${layer} ${last.zones.join(' ')}`;
    last.place = placeIds.get(name) ?? placeIds.size;
    placeIds.set(name, last.place);
    return last.place;
  };

  const addSlot = (layer: number, candidates: readonly Candidate[], from: number, to: number): void => {
    const { firstZone } = layers[layer];
    const takesTurns = candidates[from].alternate >= 0;
    // Where a round has silent turns, each alternate has the turn of its number; else they follow one another.
    let round = 0;
    for (let i = from; takesTurns && i < to; i++) round = Math.max(round, candidates[i].turns);
    let turn = 0;
    for (let i = from; i < to; i++) {
      const { zone, alternate } = candidates[i];
      if (round > 0) turn = alternate % round;
      else if (i > from && alternate !== candidates[i - 1].alternate) turn++;
      slotZone.push(firstZone + zone);
      zoneTurn.push(takesTurns ? turn : 0);
    }
    const turns = round > 0 ? round : turn + 1;
    const place = takesTurns && turns > 1 ? placeOf(layer, candidates, from, to) : -1;
    slotLayer.push(layer);
    slotPlace.push(place);
    slotTurns.push(place < 0 ? 0 : turns);
    slotStart.push(slotZone.length);
  };

  const inside: Candidate[] = [];
  /** Adds those of a layer that sound at a velocity. */
  const addLayer = (layer: number, candidates: readonly Candidate[], velocity: number): void => {
    for (const { low, high } of ranges[layer]) if (velocity < low || velocity > high) return;
    inside.length = 0;
    for (const candidate of candidates)
      if (velocity >= candidate.low && velocity <= candidate.high) inside.push(candidate);
    // Sorted: those that always sound first, then the alternates by their numbers.
    let always = 0;
    while (always < inside.length && inside[always].alternate < 0) always++;
    if (always > 0) addSlot(layer, inside, 0, always);
    if (always < inside.length) addSlot(layer, inside, always, inside.length);
  };

  const here: (readonly Candidate[])[] = layers.map(() => NOBODY);
  const addLayers = (velocity: number): void => {
    for (let l = 0; l < layers.length; l++) if (here[l].length > 0) addLayer(l, here[l], velocity);
  };
  /** Where, going up the velocities, others begin to answer. */
  const markBorders = (): void => {
    borders.fill(0);
    borders[1] = 1;
    here.forEach((candidates, l) => {
      for (const { low, high } of candidates) borders[low] = borders[high + 1] = 1;
      if (candidates.length === 0) return;
      for (const { low, high } of ranges[l]) borders[Math.max(1, Math.ceil(low))] = borders[Math.floor(high) + 1] = 1;
    });
  };
  for (let key = 0; key < KEYS; key++) {
    let same = key > 0;
    for (let l = 0; l < layers.length; l++) {
      const { layer } = layers[l];
      const alive = keyWindows[l].every((window) => gainOfWindow(window, key) > 0);
      const candidates = alive ? maps[l][Math.min(127, Math.max(0, key + layer.transpose))] : NOBODY;
      if (candidates !== here[l]) same = false;
      here[l] = candidates;
    }
    // Where everybody answers as on the key below, it is the same.
    if (same) {
      cellOf.copyWithin(key * 128, (key - 1) * 128, key * 128);
      continue;
    }
    markBorders();
    let cell = 0;
    for (let velocity = 1; velocity < 128; velocity++) {
      if (borders[velocity]) {
        const firstSlot = slotLayer.length;
        addLayers(velocity);
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
    cellOf,
    cellStart: Uint32Array.from(cellStart),
    slotLayer: Uint16Array.from(slotLayer),
    slotStart: Uint32Array.from(slotStart),
    slotZone: Uint32Array.from(slotZone),
    slotTurns: Uint16Array.from(slotTurns),
    slotPlace: Int32Array.from(slotPlace),
    zoneTurn: Uint16Array.from(zoneTurn),
    places: placeIds.size,
  };
}

/**
 * By key of the sound: the zones of one trigger that reach it, those that always sound first, then alternates in the
 * order of their numbers.
 */
function keyMapOf({ touch, zones }: TableLayer, trigger: Zone['trigger']): Candidate[][] {
  const known = keyMapsOf(zones);
  const maps = known.get(touch) ?? {};
  known.set(touch, maps);
  return (maps[trigger] ??= makeKeyMap(touch, zones, trigger));
}

/** By zones of a sound and by touch: zones mostly stay as they are while a layer is edited. */
const keyMapsOf = ofObject(
  (_zones: readonly Zone[]) => new WeakMap<Uint8Array, Partial<Record<Zone['trigger'], Candidate[][]>>>(),
);

function makeKeyMap(touch: Uint8Array, zones: readonly Zone[], trigger: Zone['trigger']): Candidate[][] {
  const byKey: Candidate[][] = Array.from({ length: KEYS }, () => []);
  const candidates: Candidate[] = [];
  // Zones mostly share a few ranges of velocities, and what a layer feels are whole numbers.
  const ranges = new Map<number, { low: number; high: number }>();
  zones.forEach((zone, i) => {
    if (zone.trigger !== trigger) return;
    const from = Math.ceil(zone.velocity.low);
    const to = Math.floor(zone.velocity.high);
    let range = ranges.get(from * 128 + to);
    if (!range) ranges.set(from * 128 + to, (range = struckRange(touch, from, to)));
    const { low, high } = range;
    if (low <= high) candidates.push({ zone: i, low, high, alternate: zone.alternate ?? -1, turns: zone.turns ?? 0 });
  });
  candidates.sort((a, b) => a.alternate - b.alternate || a.zone - b.zone);
  for (const candidate of candidates) {
    const { key } = zones[candidate.zone];
    for (let k = Math.ceil(key.low); k <= key.high; k++) byKey[k].push(candidate);
  }
  // Keys on which the same answer share one list, by which it is seen that they do.
  for (let k = 1; k < KEYS; k++) {
    const below = byKey[k - 1];
    if (byKey[k].length === below.length && byKey[k].every((candidate, i) => candidate === below[i])) byKey[k] = below;
  }
  return byKey;
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
