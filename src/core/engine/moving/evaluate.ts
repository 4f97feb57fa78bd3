import { bendInPlace } from '../../space/curve';
import { FORMULA_DEPTH, runFormula } from '../../space/formula';
import { normalisedOf } from '../../space/source';
import { multiplyByWindow } from '../../space/window';
import { CC } from '../../music/midi';
import { MOVERS } from '../../movers';
import {
  HELD,
  INPUT,
  MOST_PARAMETERS,
  PHASE,
  SEED,
  seedOf,
  STAGE,
  STATE_SIZE,
  TIME_SIZE,
  VALUE,
} from '../../movers/mover';
import { unitInPlace, XY_PARAMETERS, type Parameter } from '../../rig/parameters';
import { type Counted } from '../hands/counted';
import { ALTERNATE, NOTE_STATE, type NoteValues } from '../hands/noteValues';
import type { Controllers } from '../hands/controllers';
import { PadState } from './padState';
import {
  PAD_PARAMETERS,
  type CompiledMover,
  type CompiledRoute,
  type CompiledWindow,
  type PlayedProgram,
  type ProgramLayer,
  type SourceSlot,
} from '../program/program';
import { MOST_SPANS } from '../program/tick';

/** Readings at the end of each span of a run; the first row is where the run before ended. */
import { beginMover, PatchMovers } from './patchMovers';
const ROWS = MOST_SPANS + 1;

const MOVER_PARAMETERS: readonly (readonly Parameter[])[] = MOVERS.map((kind) => Object.values(kind.parameters));
const ENVELOPE = MOVERS.findIndex((kind) => kind.id === 'envelope');
const ADVANCE = MOVERS.map((kind) => kind.advance);
const PADS: readonly Parameter[] = PAD_PARAMETERS.map((id) => XY_PARAMETERS[id]);

/**
 * The performance space at work: turns the hands' present state, and what moves by itself, into window gains and
 * parameter values. Allocates nothing once made for a program.
 * It is asked in three steps, each on the last: what the whole patch shares, what one layer hears, what one note adds.
 */
export class Evaluator {
  /**
   * Row after row, the value of every source in its own unit: first as the whole patch has it, then as the layer that
   * was looked at last.
   */
  readonly values: Float64Array;
  /** Length of the span that was looked at last, and where it ends: see the movers' time. */
  readonly time = new Float64Array(TIME_SIZE);
  readonly pads: readonly PadState[];
  /** How loud each layer of the program, and after them the whole, was in the last span: what followers hear. */
  readonly levels: Float64Array;
  /** The same as routes see them: 0…1, or −1…1. */
  private readonly normals: Float64Array;
  private readonly count: number;
  /** Where the row that was looked at last begins. */
  private at = 0;
  private readonly stack = new Float64Array(FORMULA_DEPTH);
  private readonly single = new Float64Array(1);
  private readonly bent = new Float64Array(1);
  private readonly slotByName = new Map<string, number>();
  private readonly valueOfName = (name: string): number => this.values[this.at + this.slotByName.get(name)!];
  private readonly noteParams = new Float64Array(MOST_PARAMETERS);
  /** Movers of the patch. */
  readonly movers: PatchMovers;

  constructor(
    private readonly program: PlayedProgram,
    private readonly controllers: Controllers,
    private readonly counted: Counted | null = null,
    private readonly seed = 1,
  ) {
    const { sources, movers } = program;
    this.count = sources.length;
    this.values = new Float64Array(2 * ROWS * sources.length);
    this.normals = new Float64Array(2 * ROWS * sources.length);
    sources.forEach((slot, i) => this.slotByName.set(slot.id, i));
    this.pads = program.pads.map((pad) => new PadState(pad, seedOf(seed, 1000 + pad.number)));
    this.levels = new Float64Array(program.layers.length + 1);
    this.movers = new PatchMovers(movers, seed);
    this.lookPatch(0, false);
  }

  /** Goes on where another left off, mover by mover and pad by pad. */
  takeOver(other: Evaluator): void {
    this.movers.takeOver(other.movers);
    this.program.pads.forEach((pad, p) => {
      const old = other.program.pads.findIndex((candidate) => candidate.number === pad.number);
      if (old >= 0) this.pads[p].takeOver(other.pads[old]);
    });
    this.time.set(other.time);
    this.lookPatch(0, false);
  }

  /** Everything that the transport leads begins with it. */
  restart(): void {
    for (let p = 0; p < this.pads.length; p++) this.pads[p].restart();
    this.movers.restart();
  }

  /** Moves the states of a note's movers to where this program has them. */
  moveStates(other: Evaluator, note: NoteValues, scratch: Float64Array): void {
    const { movers } = this.program;
    scratch.set(note.states.subarray(note.row, note.row + NOTE_STATE));
    for (let m = 0; m < movers.length; m++) {
      const old = other.program.movers.findIndex((mover) => mover.id === movers[m].id);
      const at = note.row + m * STATE_SIZE;
      if (old >= 0) note.states.set(scratch.subarray(old * STATE_SIZE, (old + 1) * STATE_SIZE), at);
      else this.beginOne(movers[m], m, note, note.key);
    }
  }

  /**
   * Reads every source that a layer needs as it hears it, or without a layer every source there is; without a note,
   * sources of notes are at rest. Everything below answers from these readings.
   */
  look(layer: ProgramLayer | null, note: NoteValues | null): void {
    const { sources } = this.program;
    this.at = this.rowOfLayer(0);
    if (layer) {
      // What is of notes comes after what all share, and never moves it.
      for (let i = 0; i < layer.shared.length; i++) this.readInto(layer.shared[i], layer, note);
      for (let i = 0; i < layer.ofNote.length; i++) this.readInto(layer.ofNote[i], layer, note);
    } else for (let i = 0; i < sources.length; i++) this.readInto(i, layer, note);
  }

  /** Reads what all notes share, at the end of a span; `advances`: what moves by itself goes on by it. */
  lookPatch(row: number, advances: boolean): void {
    const { shared, sources, movers } = this.program;
    this.at = row * this.count;
    for (let i = 0; i < shared.length; i++) {
      const slot = sources[shared[i]];
      if (slot.kind === 'xyX' || slot.kind === 'xyY') this.readDot(slot, shared[i], advances);
      else if (slot.place >= 0 && slot.kind !== 'xyAnchor')
        this.readMover(movers[slot.place], slot, shared[i], advances);
      else this.readInto(shared[i], null, null);
    }
  }

  /** The last readings of what all share become where the next run begins. */
  carryOver(row: number): void {
    if (row === 0) return;
    const { count } = this;
    this.values.copyWithin(0, row * count, (row + 1) * count);
    this.normals.copyWithin(0, row * count, (row + 1) * count);
  }

  /** Reads what a layer hears of the hands, at the end of a span that {@link lookPatch} has seen. */
  lookLayer(row: number, layer: ProgramLayer): void {
    this.at = this.rowOfLayer(row);
    for (let i = 0; i < layer.shared.length; i++) this.readInto(layer.shared[i], layer, null);
  }

  /** Adds what a note has for itself, its movers as they are. */
  lookNote(row: number, layer: ProgramLayer, note: NoteValues): void {
    this.at = this.rowOfLayer(row);
    for (let i = 0; i < layer.ofNote.length; i++) this.readInto(layer.ofNote[i], layer, note);
  }

  /** Takes the movers of a note on by the span, and reads again what of the note moves in its layer. */
  advanceNote(row: number, layer: ProgramLayer, note: NoteValues): void {
    const { sources, movers } = this.program;
    const { values, normals } = this;
    const at = this.rowOfLayer(row);
    this.at = at;
    for (let i = 0; i < layer.movingNote.length; i++) {
      const slot = layer.movingNote[i];
      const { place } = sources[slot];
      if (place < 0) {
        this.readInto(slot, layer, note);
        continue;
      }
      const mover = movers[place];
      if (!mover.on) continue;
      const state = note.row + place * STATE_SIZE;
      if (mover.moved.length > 0 || mover.input >= 0 || mover.follows > -2) this.advanceForNote(mover, place, note);
      else ADVANCE[mover.kind](note.states, state, mover.rests, 0, mover.spec, this.time);
      values[at + slot] = normals[at + slot] = note.states[state + VALUE];
    }
  }

  /** Goes back to what all shared at the end of a span. */
  readRow(row: number): void {
    this.at = row * this.count;
  }

  /** Where the readings of a layer begin. */
  private rowOfLayer(row: number): number {
    return (ROWS + row) * this.count;
  }

  /**
   * The movers of a note begin; everything that is not of the note must have been looked at. `serial` tells strikes
   * apart.
   */
  beginNote(layer: ProgramLayer, note: NoteValues, serial: number): void {
    const { sources, movers } = this.program;
    this.at = this.rowOfLayer(0);
    for (let i = 0; i < layer.ofNote.length; i++) {
      const slot = sources[layer.ofNote[i]];
      if (slot.place >= 0) this.beginOne(movers[slot.place], slot.place, note, serial);
      this.readInto(layer.ofNote[i], layer, note);
    }
  }

  private beginOne(mover: CompiledMover, place: number, note: NoteValues, serial: number): void {
    const at = note.row + place * STATE_SIZE;
    note.states[at + SEED] = seedOf(this.seed + serial, mover.number * 64 + mover.kind * 8);
    this.readParams(mover, place);
    if (mover.input >= 0) note.states[at + INPUT] = this.normals[this.at + mover.input];
    beginMover(mover, note.states, at, 0, this.noteParams);
  }

  /** The key of a note went up. */
  releaseNote(note: NoteValues): void {
    for (let m = 0; m < this.program.movers.length; m++) note.states[note.row + m * STATE_SIZE + HELD] = 0;
  }

  noteValue(note: NoteValues, place: number): number {
    return note.states[note.row + place * STATE_SIZE + VALUE];
  }

  notePhase(note: NoteValues, place: number): number {
    return this.program.movers[place].kind === ENVELOPE
      ? note.states[note.row + place * STATE_SIZE + STAGE] + 1
      : note.states[note.row + place * STATE_SIZE + PHASE];
  }

  /** The same for a pad's dot. */
  showDot(place: number, x: number, y: number): void {
    this.pads[place].own[0] = x;
    this.pads[place].own[1] = y;
    this.shownDots = true;
  }
  private shownDots = false;

  /** The value of a source by the last readings, in its own unit; undefined for one that the patch does not use. */
  valueOf(id: string): number | undefined {
    const slot = this.slotByName.get(id);
    return slot === undefined ? undefined : this.values[this.at + slot];
  }

  /** Product of windows, by the last readings. */
  gainOf(windows: readonly CompiledWindow[]): number {
    this.single[0] = 1;
    this.multiply(windows, this.single, 0);
    return this.single[0];
  }

  /** Whether a note keeps silent whatever moves while it sounds, by the last readings. */
  isShutFor(windows: readonly CompiledWindow[]): boolean {
    this.single[0] = 1;
    for (let i = 0; i < windows.length; i++)
      if (windows[i].fixed) multiplyByWindow(windows[i], this.values, this.at + windows[i].source, this.single, 0);
    return this.single[0] === 0;
  }

  /** Multiplies an element of an array by the same product. */
  multiply(windows: readonly CompiledWindow[], into: Float64Array, place: number): void {
    for (let i = 0; i < windows.length; i++)
      multiplyByWindow(windows[i], this.values, this.at + windows[i].source, into, place);
  }

  /** Where routes take a resting place in 0…1: clamp(base + Σ depth · curve(source) · scale). */
  moved(base: number, routes: readonly CompiledRoute[]): number {
    this.single[0] = base;
    this.move(this.single, 0, routes, this.single);
    return this.single[0];
  }

  /** What one route adds to its target now, as a share of the target's range. */
  contribution(route: CompiledRoute): number {
    const { normals, at } = this;
    const x = normals[at + route.source];
    this.bent[0] = !route.inverted ? x : this.program.sources[route.source].low < 0 ? -x : 1 - x;
    bendInPlace(route.curve, this.bent, 0);
    return route.depth * this.bent[0] * (route.scaledBy < 0 ? 1 : normals[at + route.scaledBy]);
  }

  /**
   * The same as {@link moved} from the resting place `bases[place]` to `into[place]`. Fractions stay in arrays: handed
   * to a function they may be put on the heap.
   */
  move(bases: Float64Array, place: number, routes: readonly CompiledRoute[], into: Float64Array): void {
    const { sources } = this.program;
    const { normals, bent, at } = this;
    const base = bases[place];
    let sum = base;
    let low = 0;
    let high = 1;
    for (let i = 0; i < routes.length; i++) {
      const route = routes[i];
      const x = normals[at + route.source];
      bent[0] = !route.inverted ? x : sources[route.source].low < 0 ? -x : 1 - x;
      bendInPlace(route.curve, bent, 0);
      sum += route.depth * bent[0] * (route.scaledBy < 0 ? 1 : normals[at + route.scaledBy]);
      if (!route.bound) continue;
      if (base + route.low > low) low = base + route.low;
      if (base + route.high < high) high = base + route.high;
    }
    into[place] = sum < low ? low : sum > high ? high : sum;
  }

  private readInto(i: number, layer: ProgramLayer | null, note: NoteValues | null): void {
    const slot = this.program.sources[i];
    const { at } = this;
    this.values[at + i] = this.read(slot, i, layer, note);
    this.normals[at + i] = normalisedOf(slot, this.values[at + i]);
  }

  private read(slot: SourceSlot, i: number, layer: ProgramLayer | null, note: NoteValues | null): number {
    const { controllers } = this;
    const channel = layer ? layer.channel : 0;
    const from: NoteValues | null = slot.counts >= 0 ? (this.counted ? this.counted.notes[slot.counts] : null) : note;
    switch (slot.kind) {
      case 'key':
        return from ? from.key : slot.base;
      case 'velocity':
        return from ? from.velocity : slot.base;
      case 'releaseVelocity':
        return from ? from.releaseVelocity : slot.base;
      case 'random':
        return from ? from.randoms[slot.index - 1] : slot.base;
      case 'alternate':
        return from ? from.randoms[ALTERNATE] : slot.base;
      case 'scatter':
        return from ? from.scatters[slot.index - 1] : slot.base;
      case 'pressure':
        if (!from || (layer && !layer.receive.pressure)) return 0;
        return controllers.masterOf[from.channel] > 0
          ? controllers.channelPressure[from.channel]
          : controllers.keyPressure[from.channel * 128 + from.key];
      case 'slide':
        return from
          ? controllers.cc[(controllers.masterOf[from.channel] > 0 ? from.channel : channel) * 128 + CC.slide]
          : slot.base;
      case 'channelPressure':
        return !layer || layer.receive.pressure ? controllers.channelPressure[channel] : 0;
      case 'bend': {
        if (layer && !layer.receive.bend) return 0;
        const master = from ? controllers.masterOf[from.channel] : 0;
        return master > 0 ? controllers.bend[from!.channel] : controllers.bend[channel];
      }
      case 'cc':
        return layer && !hears(layer, slot.index) ? slot.base : controllers.cc[channel * 128 + slot.index];
      case 'macro': {
        const byHand = controllers.macros[slot.index];
        return this.moved(Number.isNaN(byHand) ? slot.base : byHand, slot.routes);
      }
      case 'strip':
        return Number.isNaN(controllers.strips[slot.index]) ? slot.base : controllers.strips[slot.index];
      case 'blend':
        return this.moved(slot.base, slot.routes);
      case 'formula':
        return Math.max(-1, Math.min(1, runFormula(slot.formula!, this.valueOfName, this.stack)));
      case 'xyX':
      case 'xyY':
        return slot.place < 0 ? slot.base : this.values[this.patchRow() + i];
      case 'xyAnchor': {
        if (slot.place < 0) return 0;
        const { shares } = this.pads[slot.place];
        return slot.part <= this.program.pads[slot.place].anchors.length / 2
          ? this.isPatchRow()
            ? shares[slot.part - 1]
            : this.values[this.patchRow() + i]
          : 0;
      }
      default: {
        if (slot.place < 0) return 0;
        const mover = this.program.movers[slot.place];
        if (!mover.on) return 0;
        if (mover.ofNote && slot.counts < 0) return note ? note.states[note.row + slot.place * STATE_SIZE + VALUE] : 0;
        return this.values[this.patchRow() + i];
      }
    }
  }

  private isPatchRow(): boolean {
    return this.at < ROWS * this.count;
  }

  /** The row of what all share that goes with the one being read. */
  private patchRow(): number {
    return this.isPatchRow() ? this.at : this.at - ROWS * this.count;
  }

  private readMover(mover: CompiledMover, slot: SourceSlot, i: number, advances: boolean): void {
    const set = slot.counts < 0 ? 0 : 1 + slot.counts;
    const at = set * NOTE_STATE + slot.place * STATE_SIZE;
    if (advances) {
      const first = slot.place * MOST_PARAMETERS;
      this.readParams(mover, slot.place);
      for (let p = 0; p < MOST_PARAMETERS; p++) this.movers.params[first + p] = this.noteParams[p];
      if (mover.input >= 0) this.movers.states[at + INPUT] = this.normals[this.at + mover.input];
      if (mover.follows > -2)
        this.movers.states[at + INPUT] =
          mover.follows < 0 ? this.levels[this.levels.length - 1] : this.levels[mover.follows];
      MOVERS[mover.kind].advance(this.movers.states, at, this.noteParams, 0, mover.spec, this.time);
    }
    this.values[this.at + i] = this.normals[this.at + i] = mover.on ? this.movers.states[at + VALUE] : 0;
  }

  private advanceForNote(mover: CompiledMover, place: number, note: NoteValues): void {
    const at = note.row + place * STATE_SIZE;
    this.readParams(mover, place);
    if (mover.input >= 0) note.states[at + INPUT] = this.normals[this.at + mover.input];
    if (mover.follows > -2)
      note.states[at + INPUT] = mover.follows < 0 ? this.levels[this.levels.length - 1] : this.levels[mover.follows];
    MOVERS[mover.kind].advance(note.states, at, this.noteParams, 0, mover.spec, this.time);
  }

  /** The parameters of a mover in their units, by the last readings. */
  private readParams(mover: CompiledMover, place: number): void {
    const { noteParams } = this;
    for (let p = 0; p < MOST_PARAMETERS; p++) noteParams[p] = mover.rests[p];
    for (let n = 0; n < mover.moved.length; n++) {
      const { parameter, routes } = mover.moved[n];
      this.move(mover.bases, parameter, routes, noteParams);
      unitInPlace(MOVER_PARAMETERS[this.program.movers[place].kind][parameter], noteParams, parameter);
    }
  }

  /** Reads a dot's place; the first of the two that comes moves the dot, the second has it shared out. */
  private readDot(slot: SourceSlot, i: number, advances: boolean): void {
    const { controllers, values, normals, at } = this;
    const pad = this.program.pads[slot.place];
    if (!pad) {
      values[at + i] = normals[at + i] = slot.base;
      return;
    }
    const state = this.pads[slot.place];
    const axis = slot.kind === 'xyX' ? 0 : 1;
    const otherSlot = this.slotByName.get(axis === 0 ? `xy.${pad.number}.y` : `xy.${pad.number}.x`)!;
    const isFirst = otherSlot > i;
    if (isFirst) {
      for (let n = 0; n < pad.moved.length; n++) {
        const { parameter, routes } = pad.moved[n];
        this.move(pad.bases, parameter, routes, state.values);
        unitInPlace(PADS[parameter], state.values, parameter);
      }
      this.timeOrNone[0] = advances ? this.time[0] : 0;
      if (!this.shownDots)
        state.advance(controllers.dots, 2 * pad.number, controllers.letGo[pad.number] === 1, this.timeOrNone);
    }
    this.single[0] = state.own[axis] < 0 ? 0 : state.own[axis] > 1 ? 1 : state.own[axis];
    // A dot that is shown has its routes in it already.
    if (!this.shownDots) this.move(this.single, 0, axis === 0 ? pad.routesX : pad.routesY, this.single);
    values[at + i] = normals[at + i] = this.single[0];
    if (!isFirst) state.shareOut(values, at + (axis === 0 ? i : otherSlot), at + (axis === 0 ? otherSlot : i));
  }
  private readonly timeOrNone = new Float64Array(1);
}

/** Whether a layer's switches let a controller through. */
export function hears(layer: ProgramLayer, controller: number): boolean {
  const { receive } = layer;
  if (controller === CC.wheel) return receive.wheel;
  if (controller === CC.sustain) return receive.sustain;
  if (controller === CC.sostenuto) return receive.sostenuto;
  if (controller === CC.volume || controller === CC.expression) return receive.expression;
  return true;
}
