import { tunedBy, type TunedKeys } from '../../music/tunings';
import { FADE_SHAPES, riseOf } from '../../space/window';
import type { StrikeChance } from './strikeChance';
import {
  EDGES,
  type Alternation,
  type OwnTable,
  type ProgramLayer,
  type StrikeTable,
  type ZoneColumns,
} from '../program/program';

/**
 * Decides which zones answer a strike: everything that is not an alternate, and the alternates whose turn it is.
 * Remembers the turns.
 */
export class Strikes {
  /**
   * The answers to the last strike: layer and zone, `count` of them; of a layer that finds its zones itself, also which
   * sound of its list.
   */
  readonly layers = new Uint16Array(MOST_ANSWERS);
  readonly zones = new Uint32Array(MOST_ANSWERS);
  readonly choices = new Uint8Array(MOST_ANSWERS);
  count = 0;
  private readonly turn: Uint16Array;
  /** For shuffled alternates: a bit for each one already heard in this round, and the last one heard. */
  private readonly heard: Uint32Array;
  private readonly last: Int16Array;

  /** The table's memories of turns, and after them one for each zone that layers find themselves. */
  constructor(
    private readonly table: StrikeTable,
    private readonly programLayers: readonly ProgramLayer[],
    private readonly chance: StrikeChance,
    zoneCount = 0,
  ) {
    const places = table.places + (programLayers.some((layer) => layer.own) ? zoneCount : 0);
    this.turn = new Uint16Array(places);
    this.heard = new Uint32Array(places);
    this.last = new Int16Array(places).fill(-1);
  }

  /** Fills {@link layers} and {@link zones} for a key 0…127 and a velocity 1…127. */
  strike(key: number, velocity: number): void {
    const { table } = this;
    const cell = table.cellOf[key * 128 + velocity];
    this.count = 0;
    for (let slot = table.cellStart[cell]; slot < table.cellStart[cell + 1]; slot++) {
      const layer = table.slotLayer[slot];
      const turns = table.slotTurns[slot];
      const turn =
        turns === 0
          ? 0
          : this.choose(
              table.slotPlace[slot],
              turns,
              this.programLayers[layer].alternation,
              this.programLayers[layer].kept,
            );
      for (let i = table.slotStart[slot]; i < table.slotStart[slot + 1] && this.count < MOST_ANSWERS; i++) {
        if (turns > 0 && table.zoneTurn[i] !== turn) continue;
        this.layers[this.count] = layer;
        this.choices[this.count] = 0;
        this.zones[this.count++] = table.slotZone[i];
      }
    }
  }

  /**
   * Adds what answers in one sound of a layer that finds its zones itself: for a key of the sound and a velocity as
   * felt, both whole.
   */
  strikeOwn(layer: number, own: OwnTable, choice: number, key: number, velocity: number, atEnd: boolean): void {
    const from = own.keyStart[key];
    const to = own.keyStart[key + 1];
    const release = atEnd ? 1 : 0;
    let turns = 0;
    let round = 0;
    let first = -1;
    let last = -2;
    for (let i = from; i < to; i++) {
      if (own.release[i] !== release || velocity < own.low[i] || velocity > own.high[i]) continue;
      const alternate = own.alternate[i];
      if (alternate < 0) this.addOwn(layer, own.zone[i], choice);
      else {
        if (first < 0) first = own.zone[i];
        if (alternate !== last) turns++;
        last = alternate;
        if (own.turns[i] > round) round = own.turns[i];
      }
    }
    if (turns === 0) return;
    const count = round > 0 ? round : turns;
    const turn =
      count === 1 ? 0 : this.choose(this.table.places + first, count, own.alternation, this.programLayers[layer].kept);
    let n = -1;
    last = -2;
    for (let i = from; i < to; i++) {
      if (own.release[i] !== release || velocity < own.low[i] || velocity > own.high[i] || own.alternate[i] < 0)
        continue;
      if (own.alternate[i] !== last) n++;
      last = own.alternate[i];
      if ((round > 0 ? last % round : n) === turn) this.addOwn(layer, own.zone[i], choice);
    }
  }

  private addOwn(layer: number, zone: number, choice: number): void {
    if (this.count === MOST_ANSWERS) return;
    this.layers[this.count] = layer;
    this.choices[this.count] = choice;
    this.zones[this.count++] = zone;
  }

  private choose(place: number, choices: number, how: Alternation, kept: number): number {
    // A strike that is kept has the same alternate each time, whatever their order.
    if (kept >= 0 || how === 'random' || (how === 'shuffled' && choices > MOST_SHUFFLED))
      return this.chance.pick(place, choices, kept);
    if (how === 'in-turn') {
      const choice = this.turn[place] % choices;
      this.turn[place] = choice + 1;
      return choice;
    }
    const all = (1 << choices) - 1;
    if ((this.heard[place] & all) === all) this.heard[place] = 0;
    const fresh = this.heard[place] === 0;
    let left = 0;
    for (let i = 0; i < choices; i++) if (this.isOpen(place, i, fresh && choices > 1)) left++;
    let pick = this.chance.pick(place, left, kept);
    for (let i = 0; i < choices; i++) {
      if (!this.isOpen(place, i, fresh && choices > 1) || pick-- > 0) continue;
      this.heard[place] |= 1 << i;
      this.last[place] = i;
      return i;
    }
    return 0;
  }

  /** A new round does not begin with the one that ended the last. */
  private isOpen(place: number, i: number, barLast: boolean): boolean {
    return (this.heard[place] & (1 << i)) === 0 && !(barLast && this.last[place] === i);
  }
}

/** One bit for each shuffled alternate; more of them are simply drawn. */
const MOST_SHUFFLED = 30;

/** More than one strike can usefully sound; a patch that wants more is cut here. */
export const MOST_ANSWERS = 512;

/** Gain of a zone's own key and velocity windows. `key` and `velocity` as its layer feels them. */
export function gainOfZone(zones: ZoneColumns, zone: number, key: number, velocity: number): number {
  return gainOfEdge(zones.edges, zone * EDGES, key) * gainOfEdge(zones.edges, zone * EDGES + 5, velocity);
}

/** The window formula on columns instead of an object. */
function gainOfEdge(edges: Float32Array, at: number, x: number): number {
  const low = edges[at],
    high = edges[at + 1],
    fadeIn = edges[at + 2],
    fadeOut = edges[at + 3];
  if (x < low || x > high) return 0;
  if (fadeIn === 0 && fadeOut === 0) return 1;
  const shape = FADE_SHAPES[edges[at + 4]];
  const tIn = fadeIn > 0 ? Math.min(1, (x - low) / fadeIn) : 1;
  const tOut = fadeOut > 0 ? Math.min(1, (high - x) / fadeOut) : 1;
  return riseOf(shape, tIn) * riseOf(shape, tOut);
}

/** The same as {@link semitonesOfZone} as it is tuned; what does not follow the keys follows no tuning. */
export const tunedSemitonesOfZone = (zones: ZoneColumns, zone: number, key: number, tuned: TunedKeys | null): number =>
  tuned === null
    ? semitonesOfZone(zones, zone, key)
    : semitonesOfZone(zones, zone, key) + tunedBy(tuned, key) * zones.semitonesPerKey[zone];

/** Distance of a zone's pitch from its sample's own, for a key of its sound (which may lie beyond 0…127). */
export const semitonesOfZone = (zones: ZoneColumns, zone: number, key: number): number =>
  (key - zones.root[zone]) * zones.semitonesPerKey[zone] + zones.tune[zone] / 100;
