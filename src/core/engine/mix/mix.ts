import { EFFECTS, type EffectContext } from '../../effects';
import { AT_QUARTERS, QUARTERS_PER_FRAME } from '../../effects/effect';
import type { Kernel } from '../../dsp/kernel/kernel';
import type { PreparedSample } from '../../dsp/sample';
import { POSITION, seedOf, SPAN_QUARTERS, TIME_SIZE } from '../../movers/mover';
import { runBiquad, SECTION } from '../../effects/biquad';
import { kWeighting } from '../../measure/loudness';
import { unitInPlace } from '../../space/parameter';
import { CONNECTION_PARAMETERS, levelGain } from '../../rig/parameters';
import { MOST_LEVELS } from '../../rig/schema';
import { stripOf } from '../program/compile/mix';
import type { Evaluator } from '../moving/evaluate';
import { near, type LayerState, type Motion } from '../notes/layerState';
import { MOST_SPANS, RUN } from '../program/tick';
import {
  BALANCE,
  LEVEL,
  STRIP,
  WIDTH,
  type CompiledConnection,
  type CompiledEffect,
  type CompiledMix,
  type CompiledPlace,
} from '../program/compiledMix';
import { EffectSlot, type Faults, type SlotContext } from './effectSlot';

/** Memory for effects, by id, as the page made it ready. */
export type EffectMemory = ReadonlyMap<string, Float32Array>;

/** What of the mix is heard alone: a connection, what comes out of a place, or what an effect changes. */
export type Listening = { kind: 'connection' | 'place' | 'change'; id: string };

const CONNECTION = CONNECTION_PARAMETERS.level;

/** A place at work: what flows in, its chain, its strip. */
class PlaceState {
  readonly left = new Float32Array(RUN);
  readonly right = new Float32Array(RUN);
  readonly outLeft = new Float32Array(RUN);
  readonly outRight = new Float32Array(RUN);
  slots: EffectSlot[] = [];
  /** The chain as it will be when all that leaves it has faded; null: it is so. */
  next: EffectSlot[] | null = null;
  /** Level as a factor, balance, width as a factor: now and where they are going. NaN: at once. */
  readonly now = new Float64Array(STRIP.length).fill(NaN);
  readonly targets = new Float64Array(STRIP.length);
  /** Greatest sample since it was last asked, on each side; mean square beside it. */
  peakLeft = 0;
  peakRight = 0;
  fed = false;
  sounds = false;
  hasSounded = false;
  isLeaving = false;
  readonly key = new Float64Array(1).fill(NaN);
  /** States of the K-weighting on both sides, and the mean power that it gives. */
  readonly weighing = new Float64Array(8);
  readonly power = new Float64Array(1);
  /** Frames by which it is later than the layers. */
  latency = 0;
  /**
   * What flows in is lifted by this, and what goes out lowered: a level that went over to the notes stays after the
   * effects while those that leave still sound.
   */
  lift = 1;

  constructor(public compiled: CompiledPlace) {}

  get isAwake(): boolean {
    for (let n = 0; n < this.slots.length; n++) if (this.slots[n].isAwake) return true;
    return false;
  }
}

/** A connection at work. */
class ConnectionState {
  readonly now = new Float64Array(1).fill(NaN);
  readonly targets = new Float64Array(1);
  peak = 0;
  isLeaving = false;
  delayLeft = new Float32Array(0);
  delayRight = new Float32Array(0);
  delayAt = 0;
  /** Frames since something last went in: the delay must be played out. */
  empty = 0;
  constructor(
    public compiled: CompiledConnection,
    public from: PlaceState,
    public to: PlaceState,
  ) {}

  delayBy(frames: number): void {
    if (frames === this.delayLeft.length) return;
    this.delayLeft = new Float32Array(frames);
    this.delayRight = new Float32Array(frames);
    this.delayAt = 0;
  }
}

/**
 * How the sound of a patch flows: from its layers through effects and strips, along connections, into groups, shared
 * effects and main. What an edit leaves as it was keeps its state; what an edit takes away
 * fades first. Allocates nothing while it plays.
 */
export class Mix {
  readonly time = new Float64Array(2);
  readonly faults: Faults = { count: 0, last: '' };
  /** Quarters a minute. */
  readonly tempo = Float64Array.of(120);
  private places: PlaceState[] = [];
  private connections: ConnectionState[] = [];
  private main!: PlaceState;
  private compiled: CompiledMix;
  private readonly byLayer: (PlaceState | undefined)[] = [];
  private readonly monitorLeft = new Float32Array(RUN);
  private readonly monitorRight = new Float32Array(RUN);
  private readonly monitored = new Float64Array(1);
  private monitor: Listening | null = null;
  private heard: ConnectionState | PlaceState | EffectSlot | null = null;
  /** Gain that makes up for what is left out: now, and where it is going. */
  private readonly makeup = Float64Array.of(1, 1);
  private without: readonly string[] = [];
  private readonly scratch = new Float64Array(STRIP.length);
  private readonly lines = new Float64Array(MOST_SPANS + 1);
  /** All fades, for good or until it is empty. */
  private readonly hush = Float64Array.of(1, 1);
  /** Its order is that of {@link compiled}; what leaves comes before. */
  private impulses: ReadonlyMap<string, PreparedSample> = new Map();
  /** Frames by which main is later than the layers. */
  latency = 0;

  constructor(
    compiled: CompiledMix,
    private readonly rate: number,
    private readonly seed: number,
    memory: EffectMemory,
    impulses: ReadonlyMap<string, PreparedSample>,
  ) {
    this.compiled = compiled;
    this.impulses = impulses;
    this.weights = kWeighting(rate);
    this.setProgram(compiled, memory, true);
  }

  /** Nothing but layers that flow into main as they are: the engine adds them up by itself. */
  get isPlain(): boolean {
    return (
      this.compiled.plain &&
      !this.isLookedInto &&
      !this.monitor &&
      this.monitored[0] === 0 &&
      this.places.length === this.compiled.places.length &&
      this.makeup[0] === 1 &&
      this.makeup[1] === 1 &&
      this.hush[0] === 1 &&
      this.hush[1] === 1 &&
      !this.keepsSlots
    );
  }
  /** What comes out of a place is looked at by somebody, so that each must be made apart. */
  isLookedInto = false;
  private get keepsSlots(): boolean {
    for (let p = 0; p < this.places.length; p++) if (this.places[p].slots.length > 0) return true;
    return false;
  }

  /** An edit. What stays keeps its state by its id. */
  setProgram(compiled: CompiledMix, memory: EffectMemory, isNew = false): void {
    this.compiled = compiled;
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
      this.takeChain(state, places, slots, memory, isNew);
      this.endLift(state);
    }
    const gone = this.places.filter((place) => !places.includes(place));
    for (const place of gone) place.isLeaving = true;
    this.main = places[places.length - 1];
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
      (state) => !kept.includes(state) && (places.includes(state.to) || gone.includes(state.to)),
    );
    for (const state of leaving) {
      state.isLeaving = true;
      if (!places.includes(state.to)) state.to = this.main;
    }
    this.places = [...gone, ...places];
    this.connections = [...leaving, ...kept];
    this.byLayer.length = 0;
    for (const place of places) if (place.compiled.layer >= 0) this.byLayer[place.compiled.layer] = place;
    this.aimAtRest();
    this.alignDelays();
    this.find();
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
  private endLift(place: PlaceState): void {
    if (place.lift === 1 || place.slots.length > 0) return;
    this.evenOut(place, place.lift);
    place.lift = 1;
  }

  private takeChain(
    state: PlaceState,
    places: readonly PlaceState[],
    slots: ReadonlyMap<string, EffectSlot>,
    memory: EffectMemory,
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
          return this.newSlot(compiled, places, memory, state, false);
        }
        return old;
      }
      return this.newSlot(compiled, places, memory, state, isNew);
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
    memory: EffectMemory,
    state: PlaceState,
    isNew: boolean,
  ): EffectSlot {
    const kind = EFFECTS[compiled.kind];
    const room = kind.room?.(this.rate) ?? 0;
    const ready = memory.get(compiled.id);
    const steps = new Float64Array(MOST_LEVELS + 1);
    steps.set(compiled.steps);
    steps[MOST_LEVELS] = compiled.steps.length;
    const effectContext: EffectContext = {
      rate: this.rate,
      seed: seedOf(this.seed, 7000 + seedOfText(compiled.id)),
      memory: ready && ready.length === room ? ready : new Float32Array(room),
      time: this.time,
      key: state.key,
      steps,
      side: compiled.listens < 0 ? null : sideOf(places[compiled.listens]),
      impulse: this.impulseOf(compiled.impulse),
    };
    const context: SlotContext = {
      rate: this.rate,
      seed: this.seed,
      time: this.time,
      key: state.key,
      tempo: this.tempo,
      faults: this.faults,
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
  private reorder(state: PlaceState, isNew: boolean): void {
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

  /**
   * Leaves effects, connections or all effects (`*`) out, with a gain that makes up for it; nothing: all is as it is.
   */
  hearWithout(ids: readonly string[], gainDb: number): void {
    this.without = ids;
    this.makeup[1] = 10 ** (gainDb / 20);
    this.find();
  }

  /** Puts one thing alone before the ears; null: everything. */
  listenTo(listening: Listening | null): void {
    this.monitor = listening;
    this.find();
  }

  /** Finds again by id what is heard alone, and what is left out. */
  private find(): void {
    const { monitor, without } = this;
    const all = without.includes('*');
    let heard: ConnectionState | PlaceState | EffectSlot | null = null;
    for (const place of this.places) {
      if (monitor?.kind === 'place' && place.compiled.id === monitor.id) heard = place;
      for (const slot of [...place.slots, ...(place.next ?? [])]) {
        slot.without = all || without.includes(slot.id) || without.includes(place.compiled.id);
        slot.wantsChange = monitor?.kind === 'change' && slot.id === monitor.id;
        if (slot.wantsChange) heard = slot;
      }
    }
    for (const connection of this.connections)
      if (monitor?.kind === 'connection' && connection.compiled.id === monitor.id && !connection.isLeaving)
        heard = connection;
    if (heard) this.heard = heard;
    else this.monitor = null;
  }

  /** Ends all that sounds here in a few milliseconds; `forGood`: nothing comes after. */
  silence(forGood: boolean): void {
    this.hush[1] = 0;
    this.ends = forGood;
  }
  private ends = false;

  /**
   * Whether something here comes or goes: what ends then ends with a run, so that runs must end at every tick for it to
   * be the same however the output is cut.
   */
  get isChanging(): boolean {
    const { hush, makeup, places, connections } = this;
    if (hush[0] !== 1 || hush[1] !== 1 || makeup[0] !== makeup[1]) return true;
    for (let p = 0; p < places.length; p++)
      if (places[p].isLeaving || places[p].next || places[p].lift !== 1) return true;
    for (let c = 0; c < connections.length; c++) if (connections[c].isLeaving) return true;
    return false;
  }

  /** Everything stands at once where it should: what it was on its way from is no number. */
  stand(): void {
    for (let p = 0; p < this.places.length; p++) this.places[p].now.fill(NaN);
    for (let c = 0; c < this.connections.length; c++) this.connections[c].now.fill(NaN);
    this.makeup[0] = this.makeup[1];
  }

  /** Whether anything still rings here. */
  get isAwake(): boolean {
    if (this.ends && this.hush[0] === 0) return false;
    for (let p = 0; p < this.places.length; p++) if (this.places[p].isAwake) return true;
    return false;
  }

  /** Every voice of a layer has been made: its sound, as the kernel's bus has it, flows in. */
  feed(layer: LayerState, index: number, { bus, busRight }: Kernel, frames: number): void {
    const place = this.byLayer[index];
    if (!place) return;
    if (!Number.isNaN(layer.lastKey)) place.key[0] = layer.lastKey;
    if (layer.voiceCount === 0) return;
    place.fed = true;
    const { left, right } = place;
    for (let i = 0; i < frames; i++) {
      left[i] = bus[i];
      right[i] = busRight[i];
    }
  }

  /**
   * Takes a run from the layers to main and adds it to the output. Main's level is in `motion`, and each layer's own
   * gain in its state.
   */
  run(
    layers: readonly LayerState[],
    evaluator: Evaluator,
    motion: Motion,
    readsRows: boolean,
    looks: boolean,
    times: Float64Array,
    left: Float32Array,
    right: Float32Array,
  ): void {
    const { spans, frames, smoothing, main: mainLine } = motion;
    let total = 0;
    for (let s = 0; s < spans; s++) total += frames[s];
    for (let p = 0; p < this.places.length; p++) {
      const place = this.places[p];
      const { slots } = place;
      const ownsGain = place.compiled.layer >= 0 && !place.isLeaving;
      const awake = place.isAwake;
      place.sounds = place.fed || awake;
      if (place.lift !== 1 && place.sounds) {
        for (let i = 0; i < total; i++) {
          place.left[i] *= place.lift;
          place.right[i] *= place.lift;
        }
      }
      if (place.sounds || place.next) {
        for (let s = 0, at = 0; s < spans; at += frames[s++]) {
          if (readsRows) evaluator.readRow(s + 1);
          const looksNow = readsRows || (looks && s === 0);
          this.time[AT_QUARTERS] = times[s * TIME_SIZE + POSITION] - times[s * TIME_SIZE + SPAN_QUARTERS];
          this.time[QUARTERS_PER_FRAME] = times[s * TIME_SIZE + SPAN_QUARTERS] / frames[s];
          for (let n = 0; n < slots.length; n++) {
            if (looksNow && slots[n].isMoved) slots[n].look(evaluator);
            slots[n].process(place.left, place.right, at, at + frames[s], smoothing);
          }
        }
        if (place.next && this.isOut(place)) this.reorder(place, false);
      } else if (looks || readsRows)
        for (let n = 0; n < slots.length; n++)
          if (slots[n].isMoved) {
            if (readsRows) evaluator.readRow(spans);
            slots[n].look(evaluator);
          }
      this.strip(
        place,
        ownsGain ? layers[place.compiled.layer] : null,
        evaluator,
        motion,
        readsRows,
        looks,
        total,
        place === this.main ? mainLine : null,
      );
      if (this.isLookedInto) this.weigh(place, total);
      this.flow(place, evaluator, motion, readsRows, looks, total);
      this.endLift(place);
      if (place.fed || awake) {
        for (let i = 0; i < total; i++) place.left[i] = place.right[i] = 0;
        place.fed = false;
      }
    }
    this.drain(left, right, total);
    this.forget();
  }
  private isOut(place: PlaceState): boolean {
    for (let n = 0; n < place.slots.length; n++) if (place.slots[n].leaving && !place.slots[n].isOut) return false;
    return true;
  }

  /** Level, balance and width, each in straight lines through the spans; `layer`: mute, solo and volume with them. */
  private strip(
    place: PlaceState,
    layer: LayerState | null,
    evaluator: Evaluator,
    motion: Motion,
    readsRows: boolean,
    looks: boolean,
    total: number,
    mainLine: Float64Array | null,
  ): void {
    const { spans, frames, smoothing } = motion;
    const { now, targets, compiled, left, right, outLeft, outRight, lift } = place;
    let peakLeft = 0,
      peakRight = 0;
    if (!place.sounds && place.hasSounded) {
      // Whoever listens to it hears that it has ended.
      outLeft.fill(0);
      outRight.fill(0);
    }
    place.hasSounded = place.sounds;
    const strip = compiled.moved.length > 0 && !place.isLeaving ? stripOf(compiled.id) : null;
    for (let s = 0, i = 0; s < spans; s++) {
      if (strip && (readsRows || (looks && s === 0))) {
        if (readsRows) evaluator.readRow(s + 1);
        for (let m = 0; m < compiled.moved.length; m++) {
          const { parameter, routes } = compiled.moved[m];
          evaluator.move(compiled.bases, parameter, routes, this.scratch);
          unitInPlace(strip[parameter]!, this.scratch, parameter);
          targets[parameter] = this.scratch[parameter];
          if (parameter === LEVEL) targets[LEVEL] = !compiled.on ? 0 : levelGain(targets[LEVEL], strip[LEVEL]!.low);
          else if (parameter === WIDTH) targets[WIDTH] /= 100;
        }
      }
      if (Number.isNaN(now[LEVEL])) for (let k = 0; k < STRIP.length; k++) now[k] = targets[k];
      const share = smoothing[frames[s]];
      const level0 = now[LEVEL],
        balance0 = now[BALANCE],
        width0 = now[WIDTH];
      for (let k = 0; k < STRIP.length; k++) now[k] = near(now[k], targets[k], share);
      if (!place.sounds) {
        i += frames[s];
        continue;
      }
      const level1 = mainLine ? mainLine[s + 1] : now[LEVEL];
      const g0 = ((mainLine ? mainLine[s] : level0) * (layer ? layer.gainAt(s) : 1)) / lift;
      const g1 = (level1 * (layer ? layer.gainAt(s + 1) : 1)) / lift;
      const l0 = g0 * (balance0 > 0 ? 1 - balance0 : 1),
        r0 = g0 * (balance0 < 0 ? 1 + balance0 : 1);
      const l1 = g1 * (now[BALANCE] > 0 ? 1 - now[BALANCE] : 1),
        r1 = g1 * (now[BALANCE] < 0 ? 1 + now[BALANCE] : 1);
      let gl = l0,
        gr = r0,
        width = width0;
      const ls = (l1 - l0) / frames[s],
        rs = (r1 - r0) / frames[s],
        ws = (now[WIDTH] - width0) / frames[s];
      const wide = width0 !== 1 || ws !== 0;
      for (const end = i + frames[s]; i < end; i++) {
        gl += ls;
        gr += rs;
        let l = left[i],
          r = right[i];
        if (wide) {
          width += ws;
          const middle = 0.5 * (l + r),
            side = 0.5 * (l - r) * width;
          l = middle + side;
          r = middle - side;
        }
        l *= gl;
        r *= gr;
        outLeft[i] = l;
        outRight[i] = r;
        if (l > peakLeft) peakLeft = l;
        else if (-l > peakLeft) peakLeft = -l;
        if (r > peakRight) peakRight = r;
        else if (-r > peakRight) peakRight = -r;
      }
    }
    if (peakLeft > place.peakLeft) place.peakLeft = peakLeft;
    if (peakRight > place.peakRight) place.peakRight = peakRight;
    if (layer) {
      layer.level = Math.max(peakLeft, peakRight);
      if (layer.level > layer.peak) layer.peak = layer.level;
    }
    if (this.heard === place && this.monitor) this.hear(outLeft, outRight, total, place.sounds, 1);
    for (let n = 0; n < place.slots.length; n++)
      if (this.heard === place.slots[n] && this.monitor)
        this.hear(place.slots[n].change.left, place.slots[n].change.right, total, place.sounds, now[LEVEL]);
  }

  private hear(left: Float32Array, right: Float32Array, total: number, sounds: boolean, gain: number): void {
    for (let i = 0; i < total; i++) {
      this.monitorLeft[i] = sounds ? left[i] * gain : 0;
      this.monitorRight[i] = sounds ? right[i] * gain : 0;
    }
  }

  /** What leaves a place flows on. */
  private flow(
    place: PlaceState,
    evaluator: Evaluator,
    motion: Motion,
    readsRows: boolean,
    looks: boolean,
    total: number,
  ): void {
    const { spans, frames, smoothing } = motion;
    const { lines } = this;
    for (let c = 0; c < this.connections.length; c++) {
      const connection = this.connections[c];
      if (connection.from !== place) continue;
      const { now, targets, compiled, to } = connection;
      lines[0] = Number.isNaN(now[0]) ? NaN : now[0];
      for (let s = 0; s < spans; s++) {
        if (compiled.moved.length > 0 && !connection.isLeaving && (readsRows || (looks && s === 0))) {
          if (readsRows) evaluator.readRow(s + 1);
          evaluator.move(compiled.bases, 0, compiled.moved[0].routes, this.scratch);
          unitInPlace(CONNECTION, this.scratch, 0);
          targets[0] = compiled.on ? levelGain(this.scratch[0], CONNECTION.low) : 0;
        }
        const target = connection.isLeaving || this.leavesOut(compiled.id) ? 0 : targets[0];
        if (Number.isNaN(lines[0])) lines[0] = target;
        lines[s + 1] = near(lines[s], target, smoothing[frames[s]]);
      }
      now[0] = lines[spans];
      const late = connection.delayLeft.length;
      if (!place.sounds) {
        if (connection.empty >= late) continue;
        connection.empty += total;
      } else connection.empty = 0;
      const fromLeft = compiled.before ? place.left : place.outLeft;
      const fromRight = compiled.before ? place.right : place.outRight;
      const monitored = this.heard === connection && this.monitor !== null;
      let peak = 0;
      to.fed = true;
      for (let s = 0, i = 0; s < spans; s++) {
        let gain = lines[s];
        const step = (lines[s + 1] - gain) / frames[s];
        for (const end = i + frames[s]; i < end; i++) {
          gain += step;
          let l = place.sounds ? fromLeft[i] * gain : 0;
          let r = place.sounds ? fromRight[i] * gain : 0;
          if (late > 0) {
            const at = connection.delayAt;
            const heldLeft = connection.delayLeft[at],
              heldRight = connection.delayRight[at];
            connection.delayLeft[at] = l;
            connection.delayRight[at] = r;
            connection.delayAt = at + 1 === late ? 0 : at + 1;
            l = heldLeft;
            r = heldRight;
          }
          if (l > peak) peak = l;
          else if (-l > peak) peak = -l;
          if (r > peak) peak = r;
          else if (-r > peak) peak = -r;
          to.left[i] += l;
          to.right[i] += r;
          if (monitored) {
            this.monitorLeft[i] = l;
            this.monitorRight[i] = r;
          }
        }
      }
      if (peak > connection.peak) connection.peak = peak;
    }
  }

  private leavesOut(id: string): boolean {
    for (let n = 0; n < this.without.length; n++) if (this.without[n] === id) return true;
    return false;
  }

  /** Main, or what is heard in its place, goes out. */
  private drain(left: Float32Array, right: Float32Array, total: number): void {
    const { main, monitored, makeup, hush } = this;
    const step = 1 / (0.01 * this.rate);
    let share = monitored[0];
    const wanted = this.monitor ? 1 : 0;
    let gain = makeup[0];
    let quiet = hush[0];
    for (let i = 0; i < total; i++) {
      share = wanted > share ? Math.min(1, share + step) : Math.max(wanted, share - step);
      gain += (makeup[1] - gain) * 4 * step;
      quiet = hush[1] > quiet ? Math.min(1, quiet + step) : Math.max(hush[1], quiet - step);
      const main1 = (1 - share) * quiet * gain;
      const other = share * quiet;
      left[i] += (main.sounds ? main.outLeft[i] * main1 : 0) + (share > 0 ? this.monitorLeft[i] * other : 0);
      right[i] += (main.sounds ? main.outRight[i] * main1 : 0) + (share > 0 ? this.monitorRight[i] * other : 0);
    }
    monitored[0] = share;
    if (share === 0 && !this.monitor) this.heard = null;
    makeup[0] = Math.abs(makeup[1] - gain) < 1e-6 ? makeup[1] : gain;
    hush[0] = quiet;
    if (quiet === 0 && hush[1] === 0 && !this.ends) {
      for (let p = 0; p < this.places.length; p++)
        for (let n = 0; n < this.places[p].slots.length; n++) this.places[p].slots[n].reset();
      hush[1] = 1;
    }
    for (let i = 0; i < total; i++) this.monitorLeft[i] = this.monitorRight[i] = 0;
  }

  /** What has left and is no longer heard is dropped. */
  private forget(): void {
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
      if (!place.isLeaving || place.now[LEVEL] > 1e-5) places[kept++] = place;
    }
    while (places.length > kept) places.pop();
  }

  /**
   * Levels for pictures: both sides of each place of the program, in its order, then each connection's; what was read
   * begins anew.
   */
  readLevels(
    into: Float32Array,
    placesAt: number,
    mostPlaces: number,
    connectionsAt: number,
    mostConnections: number,
  ): void {
    const gone = this.places.length - this.compiled.places.length;
    for (let p = 0; p < mostPlaces; p++) {
      const place = p < this.compiled.places.length ? this.places[gone + p] : undefined;
      into[placesAt + 2 * p] = Math.max(place ? place.peakLeft : 0, into[placesAt + 2 * p]);
      into[placesAt + 2 * p + 1] = Math.max(place ? place.peakRight : 0, into[placesAt + 2 * p + 1]);
      if (place) place.peakLeft = place.peakRight = 0;
    }
    const before = this.connections.length - this.compiled.connections.length;
    for (let c = 0; c < mostConnections; c++) {
      const connection = c < this.compiled.connections.length ? this.connections[before + c] : undefined;
      into[connectionsAt + c] = Math.max(connection ? connection.peak : 0, into[connectionsAt + c]);
      if (connection) connection.peak = 0;
    }
  }

  /** Mean power of each place of the program over 0.4 s, weighted as BS.1770 has it; only while somebody looks. */
  readPowers(into: Float32Array, at: number, most: number): void {
    const gone = this.places.length - this.compiled.places.length;
    for (let p = 0; p < most; p++)
      into[at + p] = this.isLookedInto && p < this.compiled.places.length ? this.places[gone + p].power[0] : 0;
  }

  private weigh(place: PlaceState, total: number): void {
    const { weighing, power, outLeft, outRight } = place;
    if (!place.sounds && power[0] === 0) return;
    let sum = 0;
    for (let side = 0; side < 2; side++) {
      const buffer = side === 0 ? outLeft : outRight;
      for (let i = 0; i < total; i++) this.weighed[i] = place.sounds ? buffer[i] : 0;
      runBiquad(this.weights, 0, weighing, side * 4, this.weighed, 0, total);
      runBiquad(this.weights, SECTION, weighing, side * 4 + 2, this.weighed, 0, total);
      for (let i = 0; i < total; i++) sum += this.weighed[i] * this.weighed[i];
    }
    power[0] += (sum / total - power[0]) * (1 - Math.exp(-total / (0.2 * this.rate)));
    if (power[0] < 1e-12) power[0] = 0;
  }
  private readonly weighed = new Float32Array(RUN);
  private readonly weights: Float64Array;

  /** What effects tell of themselves, in the order of the program, `stride` numbers each. */
  readEffects(into: Float32Array, at: number, most: number, stride: number): void {
    const gone = this.places.length - this.compiled.places.length;
    let n = 0;
    for (let p = 0; p < this.compiled.places.length; p++) {
      const { effects } = this.compiled.places[p];
      for (let e = 0; e < effects.length && n < most; e++, n++) {
        const { slots, next } = this.places[gone + p];
        const readings = next || e >= slots.length ? undefined : slots[e].effect.readings;
        for (let k = 0; k < stride; k++)
          into[at + n * stride + k] = readings && k < readings.length && slots[e].isAwake ? readings[k] : 0;
      }
    }
  }

  /** What comes out of a place or of an effect in the run just made; null where there is none such. */
  placeNamed(id: string): { outLeft: Float32Array; outRight: Float32Array; sounds: boolean } | null {
    for (let p = 0; p < this.places.length; p++)
      if (this.places[p].compiled.id === id && !this.places[p].isLeaving) return this.places[p];
    return null;
  }
}

const keyOf = (compiled: CompiledEffect): string => `${compiled.id} ${compiled.kind} ${compiled.impulse}`;
const wayOf = (compiled: CompiledConnection, from: PlaceState, to: PlaceState): string =>
  `${compiled.id} ${from.compiled.id} ${to.compiled.id} ${compiled.before}`;
const sideOf = (place: PlaceState): { left: Float32Array; right: Float32Array } => ({
  left: place.outLeft,
  right: place.outRight,
});
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
