import type { EngineEvent } from '../core/engine/hands/event';
import { bendTo14Bit, CC, MidiDecoder } from '../core/music/midi';
import { isExclusive, STAND_IN_OUTPUT } from '../core/music/outside';
import { Cable } from './cable';
import type { Monitor } from './monitor';
import { StandInInstrument } from './standInInstrument';

/** A port as Web MIDI has it. */
interface Port {
  send(bytes: number[], at?: number): void;
}

/** What hands have moved at an output, by {@link whatMoves}, and what brings it back to rest; empty: it may stay. */
type Rests = Map<number, readonly number[]>;

/**
 * MIDI outputs by name. Each knows what it holds down and what was moved there, so that nothing hangs when a patch, or
 * the way there, changes; and each gets what a cable carries, no more.
 */
export class MidiOutputs {
  /** System exclusive is permitted by the browser. */
  exclusive = false;
  readonly standIn = new StandInInstrument();
  /** Nothing is told to anything outside: another machine does. */
  silent = false;
  /** Called with the name of an output that was not there a moment ago. */
  onCame: (name: string) => void = () => undefined;
  private readonly cables = new Map<string, { cable: Cable; port: Port }>();
  /** By output: channel · 128 + key of what is held. */
  private readonly held = new Map<string, Set<number>>();
  private readonly moved = new Map<string, Rests>();
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly monitor: Monitor,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.add(STAND_IN_OUTPUT, {
      send: (bytes, at) => {
        const answer = this.standIn.take(bytes, at ?? this.now());
        if (answer) this.tellMonitor(STAND_IN_OUTPUT, answer, 'in');
      },
    });
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  get names(): string[] {
    return [...this.cables.keys()];
  }

  /** The first that hangs on a cable; the stand-in where none does. */
  get likeliest(): string {
    return this.names[1] ?? STAND_IN_OUTPUT;
  }

  has(name: string): boolean {
    return this.cables.has(name);
  }

  private add(name: string, port: Port): void {
    const cable = new Cable({
      send: (bytes, at) => {
        try {
          port.send([...bytes], at);
        } catch {
          // A port that closes in this very moment: what it holds is let go with it.
          return;
        }
        // Ticks of a clock would hide all else.
        if (bytes[0] !== 0xf8) this.tellMonitor(name, bytes, 'out');
      },
    });
    this.cables.set(name, { cable, port });
  }

  private tellMonitor(port: string, bytes: readonly number[], way: 'in' | 'out'): void {
    const message = new MidiDecoder().decodeAll(bytes)[0] ?? null;
    this.monitor.hear({ at: this.now(), port, bytes, message, moved: '', way });
  }

  /** The outputs that are there now, besides the stand-in. */
  follow(outputs: Iterable<Port & { name: string | null; state: string }>): void {
    const before = new Set(this.cables.keys());
    const there = new Set<string>([STAND_IN_OUTPUT]);
    const came: string[] = [];
    for (const output of outputs) {
      if (output.state !== 'connected') continue;
      const name = output.name ?? 'output';
      if (there.has(name)) continue;
      there.add(name);
      // A cable goes on with what waits for room in it; another that has the name begins anew.
      if (this.cables.get(name)?.port === output) continue;
      this.forget(name);
      this.add(name, output);
      came.push(name);
    }
    for (const name of before) if (!there.has(name)) this.forget(name);
    for (const name of came) this.onCame(name);
    if (came.length > 0 || before.size !== there.size) for (const listener of this.listeners) listener();
  }

  /** An output is gone: it holds nothing when it comes back. */
  private forget(name: string): void {
    this.cables.delete(name);
    this.held.delete(name);
    this.moved.delete(name);
  }

  /** A note for an output, on a channel 1…16; velocity 0 ends it. An output that is not there is passed over. */
  note(name: string, channel: number, key: number, velocity: number): void {
    let held = this.held.get(name);
    if (!held) this.held.set(name, (held = new Set()));
    const at = channel * 128 + key;
    if (velocity > 0) held.add(at);
    else if (!held.delete(at)) return;
    this.tell(name, [(velocity > 0 ? 0x90 : 0x80) | (channel - 1), key, velocity > 0 ? velocity : 64]);
  }

  /**
   * A message of its own, which never waits; `at` in ms of the page's clock. False where it cannot be sent: the output
   * is not there, or system exclusive is not permitted.
   */
  tell(name: string, bytes: readonly number[], at?: number): boolean {
    const there = this.cables.get(name);
    if (!there || (isExclusive(bytes) && !this.canTellExclusive(name))) return false;
    if (this.silent) return true;
    there.cable.send(bytes, this.now(), at);
    return true;
  }

  canTellExclusive(name: string): boolean {
    return this.exclusive || name === STAND_IN_OUTPUT;
  }

  /** An event of a take, or of hands, for an output: what has no words in MIDI is passed over. */
  event(name: string, event: EngineEvent, channel = 'channel' in event ? event.channel : 1): void {
    if (event.type === 'noteOn') return this.note(name, channel, event.key, event.velocity);
    if (event.type === 'noteOff') return this.note(name, channel, event.key, 0);
    const bytes = moveBytes(event, channel);
    if (!bytes) return;
    let moved = this.moved.get(name);
    if (!moved) this.moved.set(name, (moved = new Map()));
    moved.set(whatMoves(bytes), restOf(bytes));
    this.move(name, bytes);
  }

  /** A value that moves: where a cable has no room, the newest of it waits. */
  move(name: string, bytes: readonly number[]): void {
    if (!this.silent) this.cables.get(name)?.cable.move(whatMoves(bytes), bytes, this.now());
  }

  /** Sends what waits for room. */
  flush(): void {
    const now = this.now();
    for (const { cable } of this.cables.values()) cable.flush(now);
  }

  /** Ends everything that is held anywhere, and brings back what hands have moved there. */
  letGo(): void {
    for (const [name, held] of this.held) for (const at of [...held]) this.note(name, at >> 7, at & 127, 0);
    for (const [name, rests] of this.moved)
      for (const [what, rest] of rests) {
        this.cables.get(name)?.cable.forget(what);
        if (rest.length > 0) this.tell(name, rest);
      }
    this.moved.clear();
  }
}

/** What a message moves: its status, and the controller or the key where it is of one. */
const whatMoves = ([status, data]: readonly number[]): number =>
  (status << 8) | (status >> 4 === 0xb || status >> 4 === 0xa ? data : 0);

/** A move as MIDI 1.0 writes it; undefined: it has no words for it. */
function moveBytes(event: EngineEvent, channel: number): number[] | undefined {
  switch (event.type) {
    case 'controller':
      return [0xb0 | (channel - 1), event.controller, Math.round(event.value)];
    case 'channelPressure':
      return [0xd0 | (channel - 1), Math.round(event.pressure)];
    case 'keyPressure':
      return [0xa0 | (channel - 1), event.key, Math.round(event.pressure)];
    case 'bend': {
      const value = bendTo14Bit(Math.max(-1, Math.min(1, event.bend)));
      return [0xe0 | (channel - 1), value & 127, value >> 7];
    }
    default:
      return undefined;
  }
}

/** Controllers that stay where they are when hands leave: volumes, and all that is no pedal or wheel. */
const SPRUNG: ReadonlySet<number> = new Set([CC.wheel, CC.breath, CC.sustain, 65, CC.sostenuto, 67, 68, 69]);

/** What brings a move back to rest; nothing where it may stay. */
function restOf(bytes: readonly number[]): readonly number[] {
  const status = bytes[0] >> 4;
  if (status === 0xe) return [bytes[0], 0, 64];
  if (status === 0xd) return [bytes[0], 0];
  if (status === 0xa || (status === 0xb && SPRUNG.has(bytes[1]))) return [bytes[0], bytes[1], 0];
  return [];
}
