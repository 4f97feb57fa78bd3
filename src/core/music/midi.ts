/** What a controller sends, decoded. Channels are 1…16. Source: MIDI 1.0 Detailed Specification. */
export type MidiMessage =
  | { type: 'noteOn'; channel: number; key: number; velocity: number }
  | { type: 'noteOff'; channel: number; key: number; velocity: number }
  | { type: 'keyPressure'; channel: number; key: number; pressure: number }
  | { type: 'controller'; channel: number; controller: number; value: number }
  | { type: 'program'; channel: number; program: number }
  | { type: 'channelPressure'; channel: number; pressure: number }
  /** `bend` −1…1; the 14-bit centre 8192 is exactly 0. */
  | { type: 'bend'; channel: number; bend: number };

/** What concerns time and not a channel: a 24th of a quarter, beginnings and ends, and a position in sixteenths. */
export type TimeMessage =
  { type: 'clock' | 'start' | 'continue' | 'stop' } | { type: 'songPosition'; sixteenths: number };
const TIMES: Record<number, 'clock' | 'start' | 'continue' | 'stop'> = {
  0xf8: 'clock',
  0xfa: 'start',
  0xfb: 'continue',
  0xfc: 'stop',
};

/** What is played, of all that a controller sends. */
export type PlayedEvent = Exclude<MidiMessage, { type: 'program' }>;

/** Controller numbers with a meaning of their own in MIDI 1.0. */
export const CC = {
  wheel: 1,
  breath: 2,
  volume: 7,
  expression: 11,
  sustain: 64,
  sostenuto: 66,
  slide: 74,
  allSoundOff: 120,
  resetControllers: 121,
  allNotesOff: 123,
  omniOff: 124,
  omniOn: 125,
  mono: 126,
  poly: 127,
} as const;

const DATA_BYTES = [2, 2, 2, 2, 1, 1, 2];

/**
 * A decoder for a stream of MIDI bytes from one port. It keeps running status between calls, skips system exclusive,
 * lets
 * real-time bytes pass between others, and reads a note-on of velocity 0 as a note-off (velocity 64, as the
 * specification says
 * for keyboards without release velocity). Broken data is skipped, never thrown at.
 */
export class MidiDecoder {
  private status = 0;
  private first = -1;
  /** Of a song position: −2 none is coming, −1 its first byte is, else that byte. */
  private position = -2;

  decode(bytes: ArrayLike<number>): MidiMessage[] {
    return this.decodeAll(bytes).filter((message): message is MidiMessage => 'channel' in message);
  }

  /** The same with what concerns time. */
  decodeAll(bytes: ArrayLike<number>): (MidiMessage | TimeMessage)[] {
    const messages: (MidiMessage | TimeMessage)[] = [];
    for (let i = 0; i < bytes.length; i++) {
      const byte = bytes[i];
      if (byte >= 0xf8) {
        if (TIMES[byte]) messages.push({ type: TIMES[byte] });
        continue;
      }
      if (byte >= 0x80) {
        this.status = byte < 0xf0 ? byte : 0;
        this.position = byte === 0xf2 ? -1 : -2;
        this.first = -1;
        continue;
      }
      if (this.position > -2) {
        if (this.position < 0) this.position = byte;
        else {
          messages.push({ type: 'songPosition', sixteenths: this.position | (byte << 7) });
          this.position = -2;
        }
        continue;
      }
      if (this.status === 0) continue;
      if (DATA_BYTES[(this.status >> 4) - 8] === 2 && this.first < 0) {
        this.first = byte;
        continue;
      }
      const message = messageOf(this.status, this.first < 0 ? byte : this.first, byte);
      this.first = -1;
      messages.push(message);
    }
    return messages;
  }
}

function messageOf(status: number, a: number, b: number): MidiMessage {
  const channel = (status & 15) + 1;
  switch (status >> 4) {
    case 8:
      return { type: 'noteOff', channel, key: a, velocity: b };
    case 9:
      return b === 0
        ? { type: 'noteOff', channel, key: a, velocity: 64 }
        : { type: 'noteOn', channel, key: a, velocity: b };
    case 10:
      return { type: 'keyPressure', channel, key: a, pressure: b };
    case 11:
      return { type: 'controller', channel, controller: a, value: b };
    case 12:
      return { type: 'program', channel, program: a };
    case 13:
      return { type: 'channelPressure', channel, pressure: a };
    default:
      return { type: 'bend', channel, bend: bendOf14Bit(a | (b << 7)) };
  }
}

/** 0…16383 to −1…1, exactly 0 at the centre 8192 and exactly ±1 at both ends. */
export const bendOf14Bit = (value: number): number => (value < 8192 ? (value - 8192) / 8192 : (value - 8192) / 8191);

/** The inverse of {@link bendOf14Bit}, rounded. */
export const bendTo14Bit = (bend: number): number => Math.round(bend < 0 ? 8192 + bend * 8192 : 8192 + bend * 8191);

/**
 * Gain of CC 7 (volume) and CC 11 (expression): 40·log10(v/127) dB, which is (v/127)² (General MIDI 2 and DLS
 * recommended practice).
 */
export const gainOfVolumeController = (value: number): number => (value / 127) ** 2;
