import { ControlReader, type ControlMove } from '../core/music/controlReader';
import { Learner, type Learned } from '../core/music/learn';
import type { MidiMessage, TimeMessage } from '../core/music/midi';
import { RegisteredReader } from '../core/music/registered';
import type { EngineEvent } from '../core/engine/hands/event';
import { labelIn, labelOfTarget } from '../core/rig/moves';
import { placeOfProgram } from '../core/rig/setlist';
import type { ControllerSetup, Patch } from '../core/rig/schema';
import { isAction } from '../core/rig/bindings';
import { Bindings, labelOfAction } from './bindings';
import { ClockFollower } from './clock';
import { Monitor, wordsOf, type Heard } from './monitor';

/**
 * What hearing needs to know and do: the controllers of the rig, the patch that plays, how something is played, and
 * where macros and dots stand.
 */
export interface HearingDoes {
  setup(): ControllerSetup;
  patch(): Patch | null;
  play(event: EngineEvent): void;
  liveOf(target: string): number | undefined;
  moveLive(target: string, value: number): void;
  /** Does what a bound control stands for: see `isAction`. */
  act(target: string): void;
  /** A program change chooses a step or a patch by its place, as the rig says. */
  choose(which: 'setlist' | 'patches', place: number): void;
  /** One came that chooses nothing, by its number from 0: the rig takes none, or none on this channel. */
  unchosen(program: number, channel: number): void;
}

/** Hands that rest for so long have shown what they meant. */
const QUIET_MS = 350;

/**
 * The one door by which everything from controllers comes in, hardware or stand-in: it is shown, learned, bound to what
 * was learned before, or played.
 */
export class Hearing {
  readonly monitor = new Monitor();
  readonly bindings: Bindings;
  readonly clock: ClockFollower;
  /** What was heard last and what it moved, in words. */
  lastHeard = '';
  private readonly readers = new Map<string, ControlReader>();
  private readonly registered = new Map<
    string,
    { reader: RegisteredReader; zones: { lower: number; upper: number; bendRange: number } }
  >();
  /** By port, channel and key: the number of the port by which a held note began. */
  private readonly heldAt = new Map<string, number>();
  private learning: {
    learner: Learner;
    done: (learned: Learned) => void;
    quiet: ReturnType<typeof setTimeout> | undefined;
  } | null = null;
  private ranging: ((key: number, velocity: number) => void) | null = null;

  constructor(private readonly does: HearingDoes) {
    this.bindings = new Bindings({
      valueOf: does.liveOf,
      move: does.moveLive,
      act: does.act,
      styleOf: (target) => does.patch()?.macros.find(({ number }) => `macro.${number}` === target)?.style ?? 'strip',
    });
    this.clock = new ClockFollower(does.play);
  }

  /** A message from a port, hardware or stand-in: what is learned, bound or played. */
  receive(message: MidiMessage | TimeMessage, port: string, bytes: readonly number[]): void {
    const line: Heard = { at: performance.now(), port, bytes, message, moved: '', way: 'in' };
    if (!('channel' in message)) {
      this.clock.take(message);
      if (message.type !== 'clock') this.monitor.hear(line);
      return;
    }
    let reader = this.readers.get(port);
    if (!reader) this.readers.set(port, (reader = new ControlReader()));
    this.hearRegistered(message, port);
    const fine = reader.fineValue(message);
    const moves = reader.read(message);
    const { learning } = this;
    const bank = this.hearBank(message, port);
    let bound = false;
    for (const move of moves) {
      if (learning) this.feedLearner(move);
      else if (this.bindings.take(move, port)) bound = true;
    }
    if (message.type === 'program' && !bound && !learning) {
      if (this.choosesBy(message.channel))
        this.does.choose(this.setup.programs as 'setlist' | 'patches', placeOfProgram(bank, message.program));
      else this.does.unchosen(message.program, message.channel);
    }
    // What is learned is played as well: on stage nothing may swallow a note.
    if (!bound) {
      if (message.type === 'noteOn' && this.ranging) this.ranging(message.key, message.velocity);
      const at = this.portOf(message, port);
      const adjusted = fine
        ? { ...message, controller: fine.controller, value: fine.value }
        : message.type === 'controller'
          ? { ...message, value: this.pedalValue(message.controller, message.value) }
          : message;
      this.does.play(at > 0 ? { ...adjusted, port: at } : adjusted);
    }
    line.moved = this.movedBy(message, moves, bound);
    this.lastHeard = `${wordsOf(message)}, channel ${message.channel}, port “${port}”${line.moved ? ` → ${line.moved}` : ''}`;
    this.monitor.hear(line);
  }

  private choosesBy(channel: number): boolean {
    const { programs, programChannel } = this.setup;
    return programs !== 'off' && (programChannel === 0 || programChannel === channel);
  }

  /**
   * Bank select, coarse (CC 0) and fine (CC 32), by port and channel; gives the bank that the next program change is
   * in.
   */
  private hearBank(message: MidiMessage, port: string): number {
    const key = `${port} ${message.channel}`;
    const bank = this.banks.get(key) ?? 0;
    if (message.type !== 'controller' || (message.controller !== 0 && message.controller !== 32)) return bank;
    const next = message.controller === 0 ? (message.value << 7) | (bank & 127) : (bank & ~127) | message.value;
    this.banks.set(key, next);
    return next;
  }
  private readonly banks = new Map<string, number>();

  /**
   * A controller says what zones it has, or how far its fingers bend: that holds at once, for as long as the page is
   * open.
   */
  private hearRegistered(message: MidiMessage, port: string): void {
    let reader = this.registered.get(port);
    if (!reader) this.registered.set(port, (reader = { reader: new RegisteredReader(), zones: { ...this.setup.mpe } }));
    const said = reader.reader.read(message);
    if (!said) return;
    const { zones } = reader;
    if (said.type === 'members') zones[said.zone] = said.members;
    else if (said.channel !== 1 && said.channel !== 16 && zones.lower + zones.upper > 0)
      zones.bendRange = Math.min(96, said.semitones);
    else return;
    this.does.play({ type: 'zones', port: this.setup.ports.indexOf(port) + 1, ...zones });
  }

  /** The number of a port; a note ends by the one by which it began, whatever was edited in between. */
  private portOf(message: MidiMessage, port: string): number {
    const now = this.setup.ports.indexOf(port) + 1;
    if (message.type !== 'noteOn' && message.type !== 'noteOff') return now;
    const key = `${port} ${message.channel} ${message.key}`;
    if (message.type === 'noteOn') this.heldAt.set(key, now);
    const began = this.heldAt.get(key) ?? now;
    if (message.type === 'noteOff') this.heldAt.delete(key);
    return began;
  }

  private movedBy(message: MidiMessage, moves: readonly ControlMove[], bound: boolean): string {
    const patch = this.does.patch();
    if (!patch || message.type === 'noteOff') return '';
    if (bound)
      return moves
        .flatMap((move) =>
          this.setup.bindings
            .filter(({ control }) => control === move.control || control.replace('relative', 'cc') === move.control)
            .map(({ target }) => (isAction(target) ? labelOfAction(target) : labelIn(patch, target))),
        )
        .join(', ');
    const source =
      message.type === 'controller'
        ? `cc.${message.controller}`
        : message.type === 'channelPressure'
          ? 'channelPressure'
          : message.type === 'bend'
            ? 'bend'
            : message.type === 'keyPressure'
              ? 'pressure'
              : '';
    const routes = patch.routes
      .filter((route) => route.on && route.source === source)
      .map((route) => labelOfTarget(patch, route.target));
    const windows = patch.layers
      .filter((layer) => layer.windows.some((window) => window.source === source))
      .map((layer) => `window of ${layer.name}`);
    return [...routes, ...windows].join(', ');
  }

  private get setup(): ControllerSetup {
    return this.does.setup();
  }

  /** A pedal as the rig knows it: turned round, or up and down alone. */
  private pedalValue(controller: number, value: number): number {
    const pedal = this.setup.pedals.find((candidate) => candidate.controller === controller);
    if (!pedal) return value;
    const turned = pedal.inverted ? 127 - value : value;
    return pedal.kind === 'switch' ? (turned >= 64 ? 127 : 0) : turned;
  }

  /** The next control that is moved is told. Gives what ends the learning. */
  learn(done: (learned: Learned) => void): () => void {
    clearTimeout(this.learning?.quiet);
    this.learning = { learner: new Learner(), done, quiet: undefined };
    return () => this.endLearning();
  }

  get isLearning(): boolean {
    return this.learning !== null;
  }

  endLearning(): void {
    clearTimeout(this.learning?.quiet);
    this.learning = null;
  }

  private feedLearner(move: ControlMove): void {
    const { learning } = this;
    if (!learning) return;
    const finish = (learned: Learned | undefined) => {
      if (!learned || this.learning !== learning) return;
      this.endLearning();
      learning.done(learned);
    };
    clearTimeout(learning.quiet);
    const found = learning.learner.take(move);
    if (found) finish(found);
    else learning.quiet = setTimeout(() => finish(learning.learner.finish()), QUIET_MS);
  }

  /** Each strike from now on is told, for the real range of the controller. Gives what ends it. */
  watchRange(told: (key: number, velocity: number) => void): () => void {
    this.ranging = told;
    return () => {
      this.ranging = null;
    };
  }
}
