import { MidiDecoder, type MidiMessage, type TimeMessage } from '../core/music/midi';

/** A message from a port, with the bytes it came as. */
export type Receive = (message: MidiMessage | TimeMessage, port: string, bytes: readonly number[]) => void;

export interface MidiStatus {
  kind: 'unasked' | 'unsupported' | 'refused' | 'none' | 'ready';
  names: string[];
  text: string;
}

/** Pedals, and other switches that spring back when a foot leaves them. */
const PEDALS: ReadonlySet<number> = new Set([64, 66, 67, 69]);

/**
 * One input, with a decoder of its own for its running status. It knows what it holds down, so that nothing hangs when
 * its cable is pulled.
 */
export class Port {
  private readonly decoder = new MidiDecoder();
  /** What lets go of each thing that is held. */
  private readonly held = new Map<string, MidiMessage>();

  constructor(
    readonly name: string,
    private readonly receive: Receive,
  ) {}

  take(bytes: ArrayLike<number>): void {
    for (const message of this.decoder.decodeAll(bytes)) {
      if ('channel' in message) this.remember(message);
      this.receive(message, this.name, Array.from(bytes));
    }
  }

  letGo(): void {
    for (const message of this.held.values()) this.receive(message, this.name, []);
    this.held.clear();
  }

  private remember(message: MidiMessage): void {
    const { type, channel } = message;
    switch (type) {
      case 'noteOn':
        this.held.set(`key ${channel} ${message.key}`, { type: 'noteOff', channel, key: message.key, velocity: 64 });
        break;
      case 'noteOff':
        this.held.delete(`key ${channel} ${message.key}`);
        break;
      case 'controller':
        if (PEDALS.has(message.controller))
          this.keep(`pedal ${channel} ${message.controller}`, message.value !== 0, { ...message, value: 0 });
        break;
      case 'bend':
        this.keep(`bend ${channel}`, message.bend !== 0, { ...message, bend: 0 });
        break;
      case 'channelPressure':
        this.keep(`pressure ${channel}`, message.pressure !== 0, { ...message, pressure: 0 });
        break;
      case 'keyPressure':
        this.keep(`pressure ${channel} ${message.key}`, message.pressure !== 0, { ...message, pressure: 0 });
        break;
      case 'program':
        break;
    }
  }

  private keep(name: string, isHeld: boolean, lettingGo: MidiMessage): void {
    if (isHeld) this.held.set(name, lettingGo);
    else this.held.delete(name);
  }
}

/** Web MIDI: every input that is there or comes later. One that goes away lets go of what it held. */
export class MidiInput {
  /** The browser permits system exclusive. */
  exclusive = false;
  status: MidiStatus = { kind: 'unasked', names: [], text: 'controllers: not looked for yet' };
  private readonly ports = new Map<string, Port>();
  private readonly listeners = new Set<() => void>();

  /** `outputs` is told what there is to send to. */
  constructor(
    private readonly receive: Receive,
    private readonly outputs?: (ports: MIDIOutput[]) => void,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Asks the browser; `exclusive`: for system exclusive as well, which it may permit apart. */
  async open(exclusive = false): Promise<void> {
    if (!('requestMIDIAccess' in navigator)) {
      this.change({
        kind: 'unsupported',
        names: [],
        text: 'this browser has no MIDI: play with the keys on screen or on the computer',
      });
      return;
    }
    try {
      const access = await navigator.requestMIDIAccess(exclusive ? { sysex: true } : undefined);
      this.exclusive ||= exclusive;
      access.onstatechange = () => this.listen(access);
      this.listen(access);
    } catch {
      // What was permitted before is as it was.
      if (exclusive && this.status.kind !== 'unasked') return;
      this.change({
        kind: 'refused',
        names: [],
        text: 'MIDI was not permitted: allow it in the browser’s site settings, or play with the keys on screen',
      });
    }
  }

  private listen(access: MIDIAccess): void {
    const inputs = [...access.inputs.values()].filter((input) => input.state === 'connected');
    // Not every browser, nor every stand-in for one, has outputs.
    this.outputs?.([...((access as Partial<MIDIAccess>).outputs?.values() ?? [])]);
    for (const input of inputs) {
      const port = this.ports.get(input.id) ?? new Port(input.name ?? 'controller', this.receive);
      this.ports.set(input.id, port);
      input.onmidimessage = (message) => port.take(message.data ?? []);
    }
    for (const [id, port] of this.ports) {
      if (inputs.some((input) => input.id === id)) continue;
      this.ports.delete(id);
      port.letGo();
    }
    const names = inputs.map((input) => input.name ?? 'controller');
    this.change(
      names.length > 0
        ? { kind: 'ready', names, text: `controller: ${names.join(', ')}` }
        : { kind: 'none', names, text: 'no controller is connected: plug one in at any time' },
    );
  }

  private change(status: MidiStatus): void {
    this.status = status;
    for (const listener of this.listeners) listener();
  }
}
