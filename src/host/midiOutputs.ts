import type { EngineEvent } from '../core/engine/hands/event';
import type { Monitor } from './monitor';

/** The output that is always there: it writes what it gets into the monitor, as a device would show it. */
export const STAND_IN_OUTPUT = 'stand-in output';

interface OutputPort {
  send(bytes: readonly number[]): void;
}

/**
 * MIDI outputs by name. Each knows what it holds down, so that nothing hangs when a patch, or the way there, changes.
 */
export class MidiOutputs {
  private readonly ports = new Map<string, OutputPort>();
  /** By port: channel · 128 + key of what is held. */
  private readonly held = new Map<string, Set<number>>();

  constructor(monitor: Monitor) {
    this.ports.set(STAND_IN_OUTPUT, {
      send: (bytes) => {
        if (bytes[0] >> 4 === 8 || bytes[0] >> 4 === 9)
          monitor.hear({
            at: performance.now(),
            port: STAND_IN_OUTPUT,
            bytes,
            message: {
              type: bytes[0] >> 4 === 9 ? 'noteOn' : 'noteOff',
              channel: (bytes[0] & 15) + 1,
              key: bytes[1],
              velocity: bytes[2],
            },
            moved: 'sent by a layer',
          });
        else if (bytes[0] >> 4 === 11)
          monitor.hear({
            at: performance.now(),
            port: STAND_IN_OUTPUT,
            bytes,
            message: { type: 'controller', channel: (bytes[0] & 15) + 1, controller: bytes[1], value: bytes[2] },
            moved: 'sent by a take',
          });
      },
    });
  }

  get names(): string[] {
    return [...this.ports.keys()];
  }

  /** The outputs that are there now, besides the stand-in. */
  follow(outputs: Iterable<{ name: string | null; state: string; send(bytes: number[]): void }>): void {
    for (const name of this.ports.keys()) if (name !== STAND_IN_OUTPUT) this.ports.delete(name);
    for (const output of outputs)
      if (output.state === 'connected')
        this.ports.set(output.name ?? 'output', { send: (bytes) => output.send([...bytes]) });
  }

  /** A note for an output, on a channel 1…16; velocity 0 ends it. An output that is not there is passed over. */
  note(name: string, channel: number, key: number, velocity: number): void {
    const port = this.ports.get(name);
    let held = this.held.get(name);
    if (!held) this.held.set(name, (held = new Set()));
    const at = channel * 128 + key;
    if (velocity > 0) held.add(at);
    else if (!held.delete(at)) return;
    try {
      port?.send([(velocity > 0 ? 0x90 : 0x80) | (channel - 1), key, velocity > 0 ? velocity : 64]);
    } catch {
      // A port that closes in this very moment: its notes are let go with it.
    }
  }

  /** An event of a take for an output: notes, controllers, bend and pressure; all else has no words in MIDI. */
  event(name: string, event: EngineEvent): void {
    if (event.type === 'noteOn') return this.note(name, event.channel, event.key, event.velocity);
    if (event.type === 'noteOff') return this.note(name, event.channel, event.key, 0);
    const bytes = moveBytes(event);
    if (!bytes) return;
    try {
      this.ports.get(name)?.send(bytes);
    } catch {
      // As with notes.
    }
  }

  /** Ends everything that is held anywhere. */
  letGo(): void {
    for (const [name, held] of this.held) for (const at of [...held]) this.note(name, at >> 7, at & 127, 0);
  }
}

/** A move as MIDI 1.0 writes it; undefined: it has no words for it. */
function moveBytes(event: EngineEvent): number[] | undefined {
  switch (event.type) {
    case 'controller':
      return [0xb0 | (event.channel - 1), event.controller, Math.round(event.value)];
    case 'channelPressure':
      return [0xd0 | (event.channel - 1), Math.round(event.pressure)];
    case 'keyPressure':
      return [0xa0 | (event.channel - 1), event.key, Math.round(event.pressure)];
    case 'bend': {
      const value = Math.max(0, Math.min(16383, Math.round(8192 + event.bend * (event.bend < 0 ? 8192 : 8191))));
      return [0xe0 | (event.channel - 1), value & 127, value >> 7];
    }
    default:
      return undefined;
  }
}
