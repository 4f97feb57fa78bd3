import type { EffectRooms } from '../../dsp/kernel/effectRooms';
import type { PreparedSample } from '../../dsp/sample';
import { EFFECTS, type EffectContext } from '../../effects';
import { seedOf } from '../../movers/mover';
import { CONNECTION_PARAMETERS, levelGain } from '../../rig/parameters';
import {
  LEVEL,
  STRIP,
  WIDTH,
  type CompiledConnection,
  type CompiledEffect,
  type CompiledMix,
  type CompiledPlace,
} from '../program/compiledMix';
import { stripOf } from '../program/compile/mix';
import { EffectSlot, type Faults, type SlotContext } from './effectSlot';
import { ConnectionState, PlaceState, sideOf } from './places';
import { MOST_LEVELS } from '../../rig/limits';

const CONNECTION = CONNECTION_PARAMETERS.level;

/** What all effects of a mix are told: the time, and where they tell that they failed. */
interface Around {
  time: Float64Array;
  tempo: Float64Array;
  faults: Faults;
  /** What keys are tuned to, see {@link EffectContext.cents}. */
  cents: Float64Array;
  /** Where effects work. */
  rooms: EffectRooms;
}

/**
 * What a mix is made of at this moment: places with their chains, connections with their delays. What an edit leaves as
 * it was keeps its state; what an edit takes away stays until it has faded.
 */
export class MixLayout {
  /** In the order of the program; what leaves comes before. */
  places: PlaceState[] = [];
  connections: ConnectionState[] = [];
  main!: PlaceState;
  compiled!: CompiledMix;
  readonly byLayer: (PlaceState | undefined)[] = [];
  /** Frames by which main is later than the layers. */
  latency = 0;

  constructor(
    private readonly rate: number,
    private readonly seed: number,
    private readonly around: Around,
    private impulses: ReadonlyMap<string, PreparedSample>,
  ) {}

  /** An edit. What stays keeps its state by its id. */
  take(compiled: CompiledMix, isNew = false): void {
    this.compiled = compiled;
    const { cents } = this.around;
    for (let key = 0; key < cents.length; key++) cents[key] = compiled.tuned?.cents[key] ?? 0;
    this.handOver = new Float64Array(compiled.places.length).fill(1);
    // What has not sounded yet stands where it would have begun.
    for (const { now, targets } of [...this.places, ...this.connections]) if (Number.isNaN(now[0])) now.set(targets);
    const before = new Map(
      this.places.filter(({ isLeaving }) => !isLeaving).map((place) => [place.compiled.id, place]),
    );
    // What no longer belongs to the program keeps the values it last had: whoever is found again below comes back.
    for (const place of this.places) for (const slot of [...place.slots, ...(place.next ?? [])]) slot.orphaned = true;
    const slots = new Map(
      this.places.flatMap((place) =>
        [...place.slots, ...(place.next ?? [])].map((slot) => [keyOf(slot.compiled), slot] as const),
      ),
    );
    const places = compiled.places.map((each) => {
      const state = before.get(each.id) ?? new PlaceState(each);
      this.takeLevel(state, each);
      state.compiled = each;
      return state;
    });
    for (const state of places) {
      this.takeChain(state, places, slots, isNew);
      this.endLift(state);
    }
    // A pair of outputs stays until what went there has faded: it must not come out elsewhere meanwhile.
    const ends = this.places.filter((place) => place.compiled.pair >= 0 && !places.includes(place));
    for (const place of [...places, ...ends]) place.ends = ends.includes(place);
    const gone = this.places.filter((place) => !places.includes(place) && !ends.includes(place));
    for (const place of gone) place.isLeaving = true;
    this.main = places.find(({ compiled: { id } }) => id === 'main')!;
    const connectionsBefore = new Map(
      this.connections
        .filter(({ isLeaving }) => !isLeaving)
        .map((state) => [wayOf(state.compiled, state.from, state.to), state]),
    );
    const kept = compiled.connections.map((each) => {
      const [from, to] = [places[each.from], places[each.to]];
      const state = connectionsBefore.get(wayOf(each, from, to)) ?? new ConnectionState(each, from, to);
      // What comes later than the patch itself comes in from nothing.
      if (!isNew && Number.isNaN(state.now[0]) && before.has(from.compiled.id)) state.now[0] = 0;
      state.compiled = each;
      return state;
    });
    const leaving = this.connections.filter(
      (state) =>
        !kept.includes(state) && (places.includes(state.to) || ends.includes(state.to) || gone.includes(state.to)),
    );
    for (const state of leaving) {
      state.isLeaving = true;
      if (gone.includes(state.to)) state.to = this.main;
    }
    this.places = [...gone, ...places, ...ends];
    this.connections = [...leaving, ...kept];
    this.byLayer.length = 0;
    for (const place of places) if (place.compiled.layer >= 0) this.byLayer[place.compiled.layer] = place;
    this.aimAtRest();
    this.alignDelays();
  }

  /**
   * By layer, the factor that its notes take over from strips with this program: a level that stands on a strip while
   * there are effects, and is the notes' own without.
   */
  handOver = new Float64Array(0);

  /**
   * The level goes over to the strip with the first effect, and back to the notes with the last: both at once, so that
   * nothing is heard of it.
   */
  private takeLevel(state: PlaceState, next: CompiledPlace): void {
    const { compiled, now } = state;
    const goes = compiled.effects.length > 0 !== next.effects.length > 0;
    if (!goes || compiled === next) return;
    const [level] = stripOf(next.id);
    const factor = levelGain(next.rests[LEVEL], level!.low) / levelGain(compiled.rests[LEVEL], level!.low);
    if (!(factor > 0) || !Number.isFinite(factor) || factor === 1) return;
    now[LEVEL] *= factor;
    // What leaves goes on as it was fed.
    const lift = next.effects.length === 0 ? state.lift * factor : 1;
    this.evenOut(state, (state.lift * factor) / lift);
    state.lift = lift;
    for (const layer of next.feeds) this.handOver[layer] /= factor;
  }

  /** What is tapped before the strip became softer by a factor at once: its connections make up for it, and glide. */
  private evenOut(place: PlaceState, by: number): void {
    for (let c = 0; c < this.connections.length; c++) {
      const { from, compiled, now } = this.connections[c];
      if (from === place && compiled.before) now[0] *= by;
    }
  }

  /** Nothing is left that must go on as it was fed. */
  endLift(place: PlaceState): void {
    if (place.lift === 1 || place.slots.length > 0) return;
    this.evenOut(place, place.lift);
    place.lift = 1;
  }

  private takeChain(
    state: PlaceState,
    places: readonly PlaceState[],
    slots: ReadonlyMap<string, EffectSlot>,
    isNew: boolean,
  ): void {
    const { effects } = state.compiled;
    const chain = effects.map((compiled) => {
      const old = slots.get(keyOf(compiled));
      if (old) {
        old.follow(compiled);
        old.orphaned = false;
        old.effectContext.side = compiled.listens < 0 ? null : sideOf(places[compiled.listens]);
        if (!state.slots.includes(old)) {
          // It comes from another place: a state that two chains share would be heard twice, so it begins anew here.
          return this.newSlot(compiled, places, state, false);
        }
        return old;
      }
      return this.newSlot(compiled, places, state, isNew);
    });
    const same = state.slots.length === chain.length && chain.every((slot, n) => slot === state.slots[n]);
    if (same) {
      state.next = null;
      for (const slot of chain) slot.leaving = false;
      return;
    }
    const inOrder = stayingInOrder(state.slots, chain);
    for (const slot of state.slots) slot.leaving = !inOrder.has(slot);
    if (state.slots.every(({ isOut, leaving }) => !leaving || isOut)) {
      state.next = chain;
      this.reorder(state, isNew);
    } else state.next = chain;
  }

  private newSlot(
    compiled: CompiledEffect,
    places: readonly PlaceState[],
    state: PlaceState,
    isNew: boolean,
  ): EffectSlot {
    const kind = EFFECTS[compiled.kind];
    const floats = kind.room?.(this.rate) ?? 0;
    const steps = new Float64Array(MOST_LEVELS + 1);
    steps.set(compiled.steps);
    steps[MOST_LEVELS] = compiled.steps.length;
    const effectContext: EffectContext = {
      rate: this.rate,
      seed: seedOf(this.seed, 7000 + seedOfText(compiled.id)),
      room: floats > 0 ? this.around.rooms.take(floats) : null,
      time: this.around.time,
      key: state.key,
      cents: this.around.cents,
      steps,
      side: compiled.listens < 0 ? null : sideOf(places[compiled.listens]),
      impulse: this.impulseOf(compiled.impulse),
    };
    const context: SlotContext = {
      rate: this.rate,
      seed: this.seed,
      time: this.around.time,
      key: state.key,
      tempo: this.around.tempo,
      faults: this.around.faults,
    };
    const slot = new EffectSlot(compiled, context, effectContext);
    slot.isShared = state.compiled.id.startsWith('pool.');
    if (isNew) slot.standStill();
    return slot;
  }

  private impulseOf(key: string): EffectContext['impulse'] {
    return key === '' ? null : (this.impulses.get(key) ?? null);
  }

  /** What was let go is out: the chain is what it should be. */
  reorder(state: PlaceState, isNew: boolean): void {
    const next = state.next!;
    if (!isNew)
      for (let n = 0; n < next.length; n++) if (!state.slots.includes(next[n]) || next[n].leaving) next[n].comeIn();
    state.slots = next;
    state.next = null;
  }

  /** Delays that make all ways into a place equally late. */
  private alignDelays(): void {
    for (const place of this.places) {
      let arrival = 0;
      for (const { to, from } of this.connections) if (to === place) arrival = Math.max(arrival, from.latency);
      // Pairs beside the first are not heard before it; one to which a longer way leads comes later.
      if (place.compiled.pair >= 0) arrival = Math.max(arrival, this.main.latency);
      let own = 0;
      for (const slot of place.next ?? place.slots) own += slot.latency;
      place.latency = arrival + own;
      for (const connection of this.connections)
        if (connection.to === place) connection.delayBy(arrival - connection.from.latency);
    }
    this.latency = this.main.latency;
  }

  /** Where strips and connections rest; what routes move is looked at before it sounds. */
  private aimAtRest(): void {
    for (const place of this.places) {
      // What leaves only fades: all else of it stays as it was last.
      if (place.isLeaving) {
        place.targets[LEVEL] = 0;
        continue;
      }
      for (let i = 0; i < STRIP.length; i++) place.targets[i] = place.compiled.rests[i];
      this.inFactors(place);
    }
    for (const connection of this.connections) {
      connection.targets[0] =
        connection.isLeaving || !connection.compiled.on ? 0 : levelGain(connection.compiled.rests[0], CONNECTION.low);
    }
  }

  private inFactors(place: PlaceState): void {
    const [level] = stripOf(place.compiled.id);
    place.targets[LEVEL] = !place.compiled.on ? 0 : levelGain(place.targets[LEVEL], level!.low);
    place.targets[WIDTH] /= 100;
  }

  /** What has no recording yet, when one has come. */
  findRooms(into: Set<Float32Array>): void {
    for (const { slots, next } of this.places)
      for (const { effectContext } of next ? [...slots, ...next] : slots)
        if (effectContext.room) into.add(effectContext.room.memory);
  }

  findImpulses(impulses: ReadonlyMap<string, PreparedSample>): void {
    this.impulses = impulses;
    for (const place of this.places) {
      for (const slot of [...place.slots, ...(place.next ?? [])]) {
        if (slot.compiled.impulse === '' || slot.effectContext.impulse) continue;
        const impulse = this.impulseOf(slot.compiled.impulse);
        if (!impulse) continue;
        slot.effectContext.impulse = impulse;
        slot.effect = slot.kind.make(slot.effectContext);
        slot.follow(slot.compiled);
      }
    }
  }

  /** What has left and is no longer heard is dropped. */
  forget(): void {
    const { places, connections } = this;
    let kept = 0;
    for (let c = 0; c < connections.length; c++) {
      const connection = connections[c];
      if (!connection.isLeaving || connection.now[0] > 1e-5) connections[kept++] = connection;
    }
    while (connections.length > kept) connections.pop();
    kept = 0;
    for (let p = 0; p < places.length; p++) {
      const place = places[p];
      const isOver = place.ends ? !this.isFed(place) : place.isLeaving && !(place.now[LEVEL] > 1e-5);
      if (!isOver) places[kept++] = place;
    }
    while (places.length > kept) places.pop();
  }

  /** Whether any connection leads there still. */
  private isFed(place: PlaceState): boolean {
    for (let c = 0; c < this.connections.length; c++) if (this.connections[c].to === place) return true;
    return false;
  }

  /** Everything stands at once where it should: what it was on its way from is no number. */
  stand(): void {
    for (let p = 0; p < this.places.length; p++) this.places[p].now.fill(NaN);
    for (let c = 0; c < this.connections.length; c++) this.connections[c].now.fill(NaN);
  }
}

const keyOf = (compiled: CompiledEffect): string => `${compiled.id} ${compiled.kind} ${compiled.impulse}`;
const wayOf = (compiled: CompiledConnection, from: PlaceState, to: PlaceState): string =>
  `${compiled.id} ${from.compiled.id} ${to.compiled.id} ${compiled.before}`;
const seedOfText = (text: string): number => {
  let n = 0;
  for (let i = 0; i < text.length; i++) n = (Math.imul(n, 31) + text.charCodeAt(i)) | 0;
  return n;
};

/**
 * The effects of a chain that can stay where they are while the others come and go: the longest row of them that keeps
 * its order.
 */
function stayingInOrder(before: readonly EffectSlot[], after: readonly EffectSlot[]): ReadonlySet<EffectSlot> {
  const rows: EffectSlot[][] = [];
  for (const [n, slot] of after.entries()) {
    const at = before.indexOf(slot);
    let best: EffectSlot[] = [];
    if (at >= 0)
      for (let m = 0; m < n; m++)
        if (rows[m].length > best.length && before.indexOf(rows[m][rows[m].length - 1]) < at) best = rows[m];
    rows.push(at >= 0 ? [...best, slot] : []);
  }
  return new Set(rows.reduce<EffectSlot[]>((best, row) => (row.length > best.length ? row : best), []));
}
