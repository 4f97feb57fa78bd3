import { parseControl } from '../core/music/control';
import { stepsOf, type ControlMove } from '../core/music/controlReader';
import { isAction } from '../core/rig/bindings';
import type { Binding, ControllerSetup } from '../core/rig/schema';

/** What bindings need to know and do: where a target stands now, what sort it is, and how it is moved. */
export interface Bound {
  valueOf(target: string): number | undefined;
  styleOf(target: string): 'strip' | 'momentary' | 'latched';
  move(target: string, value: number): void;
  /** Does what a target that stands for an action says: another step, another patch, silence. */
  act(target: string): void;
}

/** Near enough to have been reached. */
const REACHED = 1 / 96;
const STEP = 1 / 100;
/** Where a pedal or a button counts as down, and as up again. */
const PRESSED = 0.5,
  RELEASED = 0.35;

interface State {
  last: number;
  took: boolean;
}

/** What was learned, at work: controls that move macros and pads, with the takeover that the rig asks for. */
export class Bindings {
  setup: Pick<ControllerSetup, 'bindings' | 'takeover'> = { bindings: [], takeover: 'jump' };
  private readonly states = new Map<string, State>();

  constructor(private readonly bound: Bound) {}

  /** Another patch: values stand elsewhere than the controls that moved them. */
  patchChanged(): void {
    // A pedal that is still down has done what it does, and does it again only when it comes back.
    for (const [key, state] of this.states) if (!isAction(key.slice(key.lastIndexOf(' ') + 1))) state.took = false;
  }

  /** Moves what is bound to a control; whether anything is. */
  take(move: ControlMove, port: string): boolean {
    let found = false;
    for (const binding of this.setup.bindings) {
      if (!isMeant(binding, move, port)) continue;
      found = true;
      this.follow(binding, move);
    }
    return found;
  }

  /**
   * What a control has to reach before it moves its target again, and where it stands: 0…1; undefined where it has hold
   * of it.
   */
  waiting(target: string): { at: number; has: number; control: string } | undefined {
    if (this.setup.takeover !== 'pick-up') return undefined;
    const binding = this.setup.bindings.find((candidate) => candidate.target === target);
    const state = binding && this.states.get(keyOf(binding));
    const value = this.bound.valueOf(target);
    return !binding || !state || state.took || value === undefined
      ? undefined
      : { at: state.last, has: value, control: binding.control };
  }

  private follow(binding: Binding, move: ControlMove): void {
    const { target } = binding;
    if (isAction(target)) return this.press(binding, move);
    const value = this.bound.valueOf(target);
    if (value === undefined) return;
    const style = this.bound.styleOf(target);
    const kind = parseControl(binding.control)!.kind;
    if (kind === 'relative' || move.steps !== undefined) {
      const steps = move.steps ?? stepsOf(binding.coding, move.message.type === 'controller' ? move.message.value : 64);
      this.bound.move(target, Math.min(1, Math.max(0, value + steps * STEP)));
      return;
    }
    if (kind === 'note' || kind === 'program' || style !== 'strip') {
      const state = this.stateOf(binding, move.value);
      const down = move.value > 0 && (kind === 'note' || kind === 'program' || move.value >= 0.5);
      const pressed = down && (!state.took || kind === 'program');
      state.took = down;
      if (style === 'latched' || kind === 'program') {
        if (pressed) this.bound.move(target, value >= 0.5 ? 0 : 1);
      } else this.bound.move(target, down ? 1 : 0);
      return;
    }
    this.absolute(binding, move.value, value);
  }

  /**
   * An action is done when its control goes down past the middle; an encoder does it with each step upward, and what
   * goes back with each downward.
   */
  private press(binding: Binding, move: ControlMove): void {
    const { kind } = parseControl(binding.control)!;
    if (kind === 'relative' || move.steps !== undefined) {
      const steps = move.steps ?? stepsOf(binding.coding, move.message.type === 'controller' ? move.message.value : 64);
      if (binding.target === 'show.previous' ? steps < 0 : steps > 0) this.bound.act(binding.target);
      return;
    }
    const state = this.stateOf(binding, move.value);
    // A continuous pedal that trembles about the middle acts once.
    const down =
      kind === 'note' || kind === 'program'
        ? move.value > 0
        : state.took
          ? move.value >= RELEASED
          : move.value >= PRESSED;
    if (down && (!state.took || kind === 'program')) this.bound.act(binding.target);
    state.took = down;
  }

  private absolute(binding: Binding, at: number, value: number): void {
    const state = this.stateOf(binding, at);
    const { last } = state;
    const { takeover } = this.setup;
    state.last = at;
    if (takeover === 'jump') this.bound.move(binding.target, at);
    else if (takeover === 'pick-up') {
      if (!state.took) state.took = Math.abs(at - value) <= REACHED || (last - value) * (at - value) <= 0;
      if (state.took) this.bound.move(binding.target, at);
    } else if (at !== last) {
      // In proportion to the way that is left to either end.
      const next =
        at > last
          ? value + ((at - last) * (1 - value)) / Math.max(1e-9, 1 - last)
          : value + ((at - last) * value) / Math.max(1e-9, last);
      this.bound.move(binding.target, Math.min(1, Math.max(0, next)));
    }
  }

  private stateOf(binding: Binding, at: number): State {
    const key = keyOf(binding);
    let state = this.states.get(key);
    if (!state) this.states.set(key, (state = { last: at, took: false }));
    return state;
  }
}

const ACTION_NAMES: Readonly<Record<string, string>> = {
  'show.next': 'next',
  'show.previous': 'back',
  'show.silence': 'silence',
  'show.page': 'page on',
  'show.page.back': 'page back',
  'show.lead': 'take over',
};
/** What an action is called. */
export const labelOfAction = (target: string): string =>
  ACTION_NAMES[target] ?? (target.startsWith('show.step.') ? `step ${target.slice(10)} of the setlist` : 'a patch');

const keyOf = ({ control, channel, port, target }: Binding): string => `${port} ${channel} ${control} ${target}`;

const isMeant = (binding: Binding, { control, channel }: ControlMove, port: string): boolean =>
  (binding.control === control ||
    (binding.control.startsWith('relative.') && control === `cc.${binding.control.slice(9)}`)) &&
  (binding.channel === 0 || binding.channel === channel) &&
  (binding.port === 'any' || binding.port === port);
