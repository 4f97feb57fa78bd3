import { CC, type MidiMessage, type TimeMessage } from '../core/music/midi';
import { nameOfKey } from '../core/music/noteNames';
import { labelOfSource } from '../core/space/source';

/** A message as it came. `at` in milliseconds of the page's clock. */
export interface Heard {
  at: number;
  port: string;
  bytes: readonly number[];
  message: MidiMessage | TimeMessage | null;
  moved: string;
  /** Whether it came in, or was sent. */
  way: 'in' | 'out';
}

const MOST_LINES = 500;

/** The last messages from every port, and the lowest and highest seen of everything. */
export class Monitor {
  readonly lines: Heard[] = [];
  readonly ranges = new Map<string, { low: number; high: number }>();
  version = 0;
  held = false;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  hear(heard: Heard): void {
    const { message } = heard;
    if (heard.way === 'in' && message && 'channel' in message) {
      const [name, value] = measured(message);
      if (name) {
        const range = this.ranges.get(name);
        this.ranges.set(name, {
          low: Math.min(range?.low ?? value, value),
          high: Math.max(range?.high ?? value, value),
        });
      }
    }
    if (this.held) return;
    this.lines.push(heard);
    if (this.lines.length > MOST_LINES) this.lines.shift();
    this.tell();
  }

  hold(held: boolean): void {
    this.held = held;
    this.tell();
  }

  clear(): void {
    this.lines.length = 0;
    this.ranges.clear();
    this.tell();
  }

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }
}

function measured(message: MidiMessage): [name: string, value: number] {
  switch (message.type) {
    case 'noteOn':
      return ['velocity', message.velocity];
    case 'controller':
      return [labelOfSource(`cc.${message.controller}`), message.value];
    case 'channelPressure':
      return ['aftertouch', message.pressure];
    case 'keyPressure':
      return ['poly aftertouch', message.pressure];
    case 'bend':
      return ['bend', Math.round(message.bend * 1000) / 1000];
    default:
      return ['', 0];
  }
}

const MODES: Record<number, string> = {
  [CC.allSoundOff]: 'all sound off',
  [CC.resetControllers]: 'controllers reset',
  122: 'local control',
  [CC.allNotesOff]: 'all notes off',
  [CC.omniOff]: 'omni off',
  [CC.omniOn]: 'omni on',
  [CC.mono]: 'mono',
  [CC.poly]: 'poly',
};

/** A message in words; `bytes`: what it was read from. */
export function wordsOf(message: MidiMessage | TimeMessage | null, bytes: readonly number[] = []): string {
  if (!message) return bytes[0] === 0xf0 ? `system exclusive, ${bytes.length} bytes` : 'not understood';
  switch (message.type) {
    case 'noteOn':
      return `note on ${nameOfKey(message.key)} (${message.key}), velocity ${message.velocity}`;
    case 'noteOff':
      return `note off ${nameOfKey(message.key)} (${message.key})`;
    case 'keyPressure':
      return `aftertouch of ${nameOfKey(message.key)}: ${message.pressure}`;
    case 'controller':
      return MODES[message.controller] ?? `${labelOfSource(`cc.${message.controller}`)} = ${message.value}`;
    case 'program':
      return `program ${message.program + 1}`;
    case 'channelPressure':
      return `aftertouch ${message.pressure}`;
    case 'bend':
      return `bend ${message.bend.toFixed(3)}`;
    case 'songPosition':
      return `song position ${message.sixteenths} sixteenths`;
    default:
      return message.type;
  }
}

export const bytesAsText = (bytes: readonly number[]): string =>
  bytes.map((byte) => byte.toString(16).padStart(2, '0').toUpperCase()).join(' ');

/** All lines as text, one each. */
export const monitorText = (lines: readonly Heard[]): string =>
  lines
    .map(
      ({ at, port, bytes, message, moved, way }) =>
        `${(at / 1000).toFixed(3)}\t${way === 'out' ? 'to' : 'from'} ${port}\t${message && 'channel' in message ? `channel ${message.channel}` : ''}\t${bytesAsText(bytes)}\t${wordsOf(message, bytes)}\t${moved}`,
    )
    .join('\n');
