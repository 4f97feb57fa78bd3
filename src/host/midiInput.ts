import { MidiDecoder, type MidiMessage } from '../core/music/midi';

export interface MidiStatus { kind: 'unasked' | 'unsupported' | 'refused' | 'none' | 'ready'; names: string[]; text: string }

/** Web MIDI: every input that is there or comes later, each with a decoder of its own for its running status. */
export class MidiInput {
  status: MidiStatus = { kind: 'unasked', names: [], text: 'controllers: not looked for yet' };
  private readonly decoders = new Map<string, MidiDecoder>();
  private readonly listeners = new Set<() => void>();

  constructor(private readonly receive: (message: MidiMessage) => void) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  async open(): Promise<void> {
    if (!('requestMIDIAccess' in navigator)) {
      this.change({ kind: 'unsupported', names: [], text: 'this browser has no MIDI: play with the keys on screen or on the computer' });
      return;
    }
    try {
      const access = await navigator.requestMIDIAccess();
      access.onstatechange = () => this.listen(access);
      this.listen(access);
    } catch {
      this.change({ kind: 'refused', names: [], text: 'MIDI was not permitted: allow it in the browser’s site settings, or play with the keys on screen' });
    }
  }

  private listen(access: MIDIAccess): void {
    const inputs = [...access.inputs.values()].filter((input) => input.state === 'connected');
    for (const input of inputs) {
      if (!this.decoders.has(input.id)) this.decoders.set(input.id, new MidiDecoder());
      input.onmidimessage = (message) => {
        for (const decoded of this.decoders.get(input.id)!.decode(message.data ?? [])) this.receive(decoded);
      };
    }
    const names = inputs.map((input) => input.name ?? 'controller');
    this.change(names.length > 0
      ? { kind: 'ready', names, text: `controller: ${names.join(', ')}` }
      : { kind: 'none', names, text: 'no controller is connected: plug one in at any time' });
  }

  private change(status: MidiStatus): void {
    this.status = status;
    for (const listener of this.listeners) listener();
  }
}
