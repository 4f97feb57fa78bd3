import { bendInPlace } from '../space/curve';
import { FORMULA_DEPTH, runFormula } from '../space/formula';
import { normalisedOf } from '../space/source';
import { multiplyByWindow } from '../space/window';
import { CC } from '../music/midi';
import type { Controllers } from './controllers';
import type { CompiledRoute, CompiledWindow, PlayedProgram, ProgramLayer, SourceSlot } from './program';

/** What a sounding note contributes to the sources. */
export interface NoteValues {
  channel: number;
  key: number;
  /** As struck. */
  velocity: number;
  releaseVelocity: number;
  /** random.1 … random.8, drawn at note-on. */
  randoms: Float64Array;
}
export const RANDOMS = 8;

/**
 * The performance space at work: turns the hands' present state into window gains and parameter values. Allocates nothing once made for a program.
 */
export class Evaluator {
  /** The present value of every source in its own unit, filled by {@link look}. */
  readonly values: Float64Array;
  /** The same as routes see them: 0…1, or −1…1. */
  private readonly normals: Float64Array;
  private readonly stack = new Float64Array(FORMULA_DEPTH);
  private readonly single = new Float64Array(1);
  private readonly bent = new Float64Array(1);
  private readonly slotByName = new Map<string, number>();
  private readonly valueOfName = (name: string): number => this.values[this.slotByName.get(name)!];

  constructor(private readonly program: PlayedProgram, private readonly controllers: Controllers) {
    this.values = new Float64Array(program.sources.length);
    this.normals = new Float64Array(program.sources.length);
    program.sources.forEach((slot, i) => this.slotByName.set(slot.id, i));
  }

  /** Reads every source as one layer hears it; without a note, sources of notes are at rest. Everything below answers from these readings. */
  look(layer: ProgramLayer | null, note: NoteValues | null): void {
    const { sources } = this.program;
    for (let i = 0; i < sources.length; i++) {
      this.values[i] = this.read(sources[i], layer, note);
      this.normals[i] = normalisedOf(sources[i], this.values[i]);
    }
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
    for (let i = 0; i < windows.length; i++) if (windows[i].fixed) multiplyByWindow(windows[i], this.values, windows[i].source, this.single, 0);
    return this.single[0] === 0;
  }

  /** Multiplies an element of an array by the same product. */
  multiply(windows: readonly CompiledWindow[], into: Float64Array, place: number): void {
    for (let i = 0; i < windows.length; i++) multiplyByWindow(windows[i], this.values, windows[i].source, into, place);
  }

  /** Where routes take a resting place in 0…1: clamp(base + Σ depth · curve(source) · scale). */
  moved(base: number, routes: readonly CompiledRoute[]): number {
    this.single[0] = base;
    this.move(this.single, 0, routes, this.single);
    return this.single[0];
  }

  /** The same from the resting place `bases[place]` to `into[place]`. Fractions stay in arrays: handed to a function they may be put on the heap. */
  move(bases: Float64Array, place: number, routes: readonly CompiledRoute[], into: Float64Array): void {
    const { sources } = this.program;
    const { normals, bent } = this;
    let sum = bases[place];
    for (let i = 0; i < routes.length; i++) {
      const route = routes[i];
      const x = normals[route.source];
      bent[0] = !route.inverted ? x : sources[route.source].low < 0 ? -x : 1 - x;
      bendInPlace(route.curve, bent, 0);
      sum += route.depth * bent[0] * (route.scaledBy < 0 ? 1 : normals[route.scaledBy]);
    }
    into[place] = sum < 0 ? 0 : sum > 1 ? 1 : sum;
  }

  private read(slot: SourceSlot, layer: ProgramLayer | null, note: NoteValues | null): number {
    const { controllers } = this;
    const channel = layer ? layer.channel : 0;
    switch (slot.kind) {
      case 'key': return note ? note.key : slot.base;
      case 'velocity': return note ? note.velocity : slot.base;
      case 'releaseVelocity': return note ? note.releaseVelocity : slot.base;
      case 'random': return note ? note.randoms[slot.index - 1] : slot.base;
      case 'pressure': return note && (!layer || layer.receive.pressure) ? controllers.keyPressure[note.channel * 128 + note.key] : 0;
      case 'channelPressure': return !layer || layer.receive.pressure ? controllers.channelPressure[channel] : 0;
      case 'bend': return !layer || layer.receive.bend ? controllers.bend[channel] : 0;
      case 'cc': return layer && !hears(layer, slot.index) ? slot.base : controllers.cc[channel * 128 + slot.index];
      case 'macro': {
        const byHand = controllers.macros[slot.index];
        return this.moved(Number.isNaN(byHand) ? slot.base : byHand, slot.routes);
      }
      case 'blend': return this.moved(slot.base, slot.routes);
      case 'formula': return Math.max(-1, Math.min(1, runFormula(slot.formula!, this.valueOfName, this.stack)));
    }
  }
}

/** Whether a layer's switches let a controller through. */
export function hears(layer: ProgramLayer, controller: number): boolean {
  const { receive } = layer;
  if (controller === CC.wheel) return receive.wheel;
  if (controller === CC.sustain || controller === CC.sostenuto) return receive.sustain;
  if (controller === CC.volume || controller === CC.expression) return receive.expression;
  return true;
}
