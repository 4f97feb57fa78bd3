import { CC } from '../core/music/midi';

interface Channel {
  bank: number;
  program: number;
  controllers: Map<number, number>;
  held: Set<number>;
  bend: number;
}
const newChannel = (): Channel => ({ bank: 0, program: -1, controllers: new Map(), held: new Set(), bend: 0 });

/** Bytes that ask any instrument what it is, on any device number (MIDI 1.0, universal non-real time: identity). */
export const IDENTITY_REQUEST = [0xf0, 0x7e, 0x7f, 0x06, 0x01, 0xf7] as const;
/** What the stand-in says it is: 7D is the maker's number for what is not sold (MIDI 1.0). */
const IDENTITY = [0xf0, 0x7e, 0x7f, 0x06, 0x02, 0x7d, 0x01, 0x00, 0x01, 0x00, 0x00, 0x00, 0x00, 0x01, 0xf7] as const;

/** An instrument outside that ships with the product: it makes no sound, and shows what it was told. */
export class StandInInstrument {
  readonly channels = new Map<number, Channel>();
  /** Quarters a minute of the clock it gets; 0: none. */
  tempo = 0;
  runs = false;
  version = 0;
  private readonly ticks: number[] = [];
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Takes one message; gives its answer to one that asks. */
  take(bytes: readonly number[], now = performance.now()): readonly number[] | undefined {
    this.version++;
    const [status, one = 0, two = 0] = bytes;
    if (status >= 0xf0) {
      const answer = this.takeSystem(bytes, now);
      this.tell();
      return answer;
    }
    const number = (status & 15) + 1;
    let channel = this.channels.get(number);
    if (!channel) this.channels.set(number, (channel = newChannel()));
    switch (status >> 4) {
      case 0x9:
        if (two > 0) channel.held.add(one);
        else channel.held.delete(one);
        break;
      case 0x8:
        channel.held.delete(one);
        break;
      case 0xb:
        if (one === 0) channel.bank = (two << 7) | (channel.bank & 127);
        else if (one === 32) channel.bank = (channel.bank & ~127) | two;
        else if (one === CC.allNotesOff || one === CC.allSoundOff) channel.held.clear();
        else channel.controllers.set(one, two);
        break;
      case 0xc:
        channel.program = one;
        break;
      case 0xe:
        channel.bend = ((two << 7) | one) - 8192;
        break;
    }
    this.tell();
    return undefined;
  }

  private takeSystem(bytes: readonly number[], now: number): readonly number[] | undefined {
    if (bytes[0] === 0xf8) {
      this.ticks.push(now);
      if (this.ticks.length > 25) this.ticks.shift();
      const count = this.ticks.length - 1;
      if (count > 0) this.tempo = (60_000 * count) / (24 * Math.max(1, now - this.ticks[0]));
    }
    if (bytes[0] === 0xfa || bytes[0] === 0xfb) this.runs = true;
    if (bytes[0] === 0xfc) this.runs = false;
    const asks = IDENTITY_REQUEST.every((byte, i) => bytes[i] === byte || (i === 2 && bytes[i] < 0x80));
    return asks ? IDENTITY : undefined;
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }

  /** What it was told on each channel, a line each. */
  get words(): string[] {
    return [...this.channels]
      .sort(([a], [b]) => a - b)
      .map(([number, channel]) => `channel ${number}: ${said(channel)}`);
  }
}

function said({ bank, program, controllers, held, bend }: Channel): string {
  const parts = [
    program < 0 ? 'no program yet' : `program ${program + 1}${bank > 0 ? ` of bank ${bank}` : ''}`,
    ...[...controllers]
      .sort(([a], [b]) => a - b)
      .slice(0, 6)
      .map(([cc, value]) => `CC ${cc} = ${value}`),
    ...(bend === 0 ? [] : [`bend ${bend}`]),
    held.size === 0 ? 'no key down' : `${held.size} ${held.size === 1 ? 'key' : 'keys'} down`,
  ];
  return parts.join(', ');
}
