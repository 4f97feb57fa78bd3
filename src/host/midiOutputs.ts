import type { Monitor } from './monitor';

/** The output that is always there: it writes what it gets into the monitor, as a device would show it. */
export const STAND_IN_OUTPUT = 'stand-in output';

interface OutputPort { send(bytes: readonly number[]): void }

/** MIDI outputs by name. Each knows what it holds down, so that nothing hangs when a patch, or the way there, changes. */
export class MidiOutputs {
  private readonly ports = new Map<string, OutputPort>();
  /** By port: channel · 128 + key of what is held. */
  private readonly held = new Map<string, Set<number>>();

  constructor(monitor: Monitor) {
    this.ports.set(STAND_IN_OUTPUT, { send: (bytes) => monitor.hear({
      at: performance.now(), port: STAND_IN_OUTPUT, bytes,
      message: { type: bytes[0] >> 4 === 9 ? 'noteOn' : 'noteOff', channel: (bytes[0] & 15) + 1, key: bytes[1], velocity: bytes[2] }, moved: 'sent by a layer',
    }) });
  }

  get names(): string[] {
    return [...this.ports.keys()];
  }

  /** The outputs that are there now, besides the stand-in. */
  follow(outputs: Iterable<{ name: string | null; state: string; send(bytes: number[]): void }>): void {
    for (const name of this.ports.keys()) if (name !== STAND_IN_OUTPUT) this.ports.delete(name);
    for (const output of outputs) if (output.state === 'connected') this.ports.set(output.name ?? 'output', { send: (bytes) => output.send([...bytes]) });
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

  /** Ends everything that is held anywhere. */
  letGo(): void {
    for (const [name, held] of this.held) for (const at of [...held]) this.note(name, at >> 7, at & 127, 0);
  }
}
