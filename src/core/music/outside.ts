/** Messages to an instrument outside, as MIDI 1.0 writes them. */

export interface OutsideMessage {
  readonly kind: 'program' | 'controller' | 'nrpn' | 'notesOff' | 'bytes';
  readonly number: number;
  readonly value: number;
  readonly bytes: string;
}

/** The MIDI output that is always there: an instrument that ships with the product, and shows what it was told. */
export const STAND_IN_OUTPUT = 'stand-in output';

/** Bytes of one text at the most. */
const MOST_BYTES = 256;
const COMMON_LENGTH: Readonly<Record<number, number>> = { 0xf1: 2, 0xf2: 3, 0xf3: 2, 0xf6: 1 };

/**
 * The MIDI messages that a text of bytes spells, two hexadecimal digits each; spaces and commas between them are passed
 * over. `problem` says what is wrong with it: a digit that is none, data without a status, a message that is cut off.
 * Source of the lengths: MIDI 1.0 Detailed Specification, tables 1 and 2.
 */
export function bytesOfText(text: string): { messages: number[][] } | { problem: string } {
  const digits = text.replace(/[\s,]+/g, '');
  const odd = /[^0-9a-fA-F]/.exec(digits);
  if (odd) return { problem: `"${odd[0]}" is no hexadecimal digit` };
  if (digits.length % 2 === 1) return { problem: 'a byte has two digits, and the last has one' };
  const bytes = digits.match(/../g)?.map((pair) => parseInt(pair, 16)) ?? [];
  if (bytes.length > MOST_BYTES) return { problem: `${bytes.length} bytes are more than ${MOST_BYTES}` };
  const messages: number[][] = [];
  for (let at = 0; at < bytes.length;) {
    const status = bytes[at];
    if (status < 0x80) return { problem: `byte ${at + 1} (${hex(status)}) is data where a message should begin` };
    const length = lengthFrom(bytes, at);
    if (typeof length === 'string') return { problem: length };
    messages.push(bytes.slice(at, at + length));
    at += length;
  }
  return { messages };
}

const hex = (byte: number): string => byte.toString(16).toUpperCase().padStart(2, '0');

/** How many bytes a message has that begins there, or what is wrong with it. */
function lengthFrom(bytes: readonly number[], at: number): number | string {
  const status = bytes[at];
  if (status === 0xf0) {
    const end = bytes.indexOf(0xf7, at);
    if (end < 0) return 'a system exclusive message has no end (F7)';
    const wrong = bytes.slice(at + 1, end).findIndex((byte) => byte > 0x7f);
    return wrong < 0 ? end - at + 1 : `byte ${at + wrong + 2} (${hex(bytes[at + wrong + 1])}) is no data`;
  }
  const isVoice = status < 0xf0;
  const length = isVoice ? ((status & 0xe0) === 0xc0 ? 2 : 3) : status >= 0xf8 ? 1 : COMMON_LENGTH[status];
  if (length === undefined || status === 0xf9 || status === 0xfd) return `${hex(status)} begins no message`;
  const data = bytes.slice(at + 1, at + length);
  if (data.length < length - 1) return `the message ${hex(status)} is cut off`;
  const wrong = data.findIndex((byte) => byte > 0x7f);
  return wrong < 0 ? length : `byte ${at + wrong + 2} (${hex(data[wrong])}) is no data`;
}

export const isExclusive = (bytes: readonly number[]): boolean => bytes[0] === 0xf0;

/**
 * What a message is on a channel 1…16, in MIDI messages in order. A program is told after its bank (CC 0 and 32), an
 * NRPN with its number (CC 99 and 98) before its value (CC 6 and 38) and closed by the null number, so that no later
 * data entry reaches it (MIDI 1.0 Detailed Specification, Registered and Non-Registered Parameter Numbers). Notes off
 * is CC 123 after the sustain pedal has been let go. Bytes that cannot be read are none.
 */
export function bytesOfMessage({ kind, number, value, bytes }: OutsideMessage, channel: number): number[][] {
  const controller = (cc: number, to: number): number[] => [0xb0 | (channel - 1), cc, to & 127];
  switch (kind) {
    case 'program':
      return [
        ...(value >= 0 ? [controller(0, value >> 7), controller(32, value)] : []),
        [0xc0 | (channel - 1), number & 127],
      ];
    case 'controller':
      return [controller(number & 127, Math.min(127, Math.max(0, value)))];
    case 'nrpn':
      return [
        controller(99, number >> 7),
        controller(98, number),
        controller(6, Math.max(0, value) >> 7),
        controller(38, Math.max(0, value)),
        controller(99, 127),
        controller(98, 127),
      ];
    case 'notesOff':
      return [controller(64, 0), controller(123, 0)];
    case 'bytes': {
      const found = bytesOfText(bytes);
      return 'problem' in found ? [] : found.messages;
    }
  }
}

/** A message in words, as the rehearsal and the monitor tell it. */
export function wordsOfMessage({ kind, number, value, bytes }: OutsideMessage): string {
  switch (kind) {
    case 'program':
      return `program ${number + 1}${value >= 0 ? ` of bank ${value}` : ''}`;
    case 'controller':
      return `CC ${number} = ${value}`;
    case 'nrpn':
      return `NRPN ${number} = ${value}`;
    case 'notesOff':
      return 'notes off';
    case 'bytes':
      return bytes.trim() === '' ? 'no bytes yet' : bytes.length > 24 ? `${bytes.slice(0, 23)}…` : bytes;
  }
}
