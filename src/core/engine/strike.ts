import type { Chance } from '../dsp/chance';
import { FADE_SHAPES, riseOf } from '../space/window';
import { EDGES, type ProgramLayer, type StrikeTable, type ZoneColumns } from './program';

/**
 * Decides which zones answer a strike: everything that is not an alternate, and the alternates whose turn it is. Remembers the turns.
 */
export class Strikes {
  /** The answers to the last strike: layer and zone, `count` of them. */
  readonly layers = new Uint16Array(MOST_ANSWERS);
  readonly zones = new Uint32Array(MOST_ANSWERS);
  count = 0;
  private readonly turn: Uint16Array;
  /** For shuffled alternates: a bit for each one already heard in this round, and the last one heard. */
  private readonly heard: Uint32Array;
  private readonly last: Int16Array;

  constructor(private readonly table: StrikeTable, private readonly programLayers: readonly ProgramLayer[], private readonly chance: Chance) {
    const { places } = table;
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
      const turn = turns === 0 ? 0 : this.choose(table.slotPlace[slot], turns, this.programLayers[layer].alternation);
      for (let i = table.slotStart[slot]; i < table.slotStart[slot + 1] && this.count < MOST_ANSWERS; i++) {
        if (turns > 0 && table.zoneTurn[i] !== turn) continue;
        this.layers[this.count] = layer;
        this.zones[this.count++] = table.slotZone[i];
      }
    }
  }

  private choose(place: number, choices: number, how: 'in-turn' | 'random' | 'shuffled'): number {
    if (how === 'random' || (how === 'shuffled' && choices > MOST_SHUFFLED)) return this.chance.below(choices);
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
    let pick = this.chance.below(left);
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
  const low = edges[at], high = edges[at + 1], fadeIn = edges[at + 2], fadeOut = edges[at + 3];
  if (x < low || x > high) return 0;
  if (fadeIn === 0 && fadeOut === 0) return 1;
  const shape = FADE_SHAPES[edges[at + 4]];
  const tIn = fadeIn > 0 ? Math.min(1, (x - low) / fadeIn) : 1;
  const tOut = fadeOut > 0 ? Math.min(1, (high - x) / fadeOut) : 1;
  return riseOf(shape, tIn) * riseOf(shape, tOut);
}

/** Distance of a zone's pitch from its sample's own, for a key of its sound (which may lie beyond 0…127). */
export const semitonesOfZone = (zones: ZoneColumns, zone: number, key: number): number => (key - zones.root[zone]) * zones.semitonesPerKey[zone] + zones.tune[zone] / 100;
