import type { MidiMessage } from './midi';

/** What a controller says of itself by registered parameter numbers. */
export type Registered =
  /**
   * MPE Configuration Message: so many member channels of the zone whose master this channel is (MPE 1.0, RPN 6 on
   * channel 1 or 16).
   */
  | { type: 'members'; zone: 'lower' | 'upper'; members: number }
  /** Pitch bend sensitivity (MIDI 1.0, RPN 0): semitones, with cents. */
  | { type: 'bendRange'; channel: number; semitones: number };

/** Follows the registered parameter numbers of one port: CC 101 and 100 address one, CC 6 and 38 set it. */
export class RegisteredReader {
  private readonly numbers = new Int32Array(17).fill(-1);
  private readonly high = new Uint8Array(17).fill(127);
  private readonly semitones = new Uint8Array(17);

  read(message: MidiMessage): Registered | undefined {
    if (message.type !== 'controller') return undefined;
    const { channel, controller, value } = message;
    switch (controller) {
      case 98:
      case 99:
        this.numbers[channel] = -1;
        return undefined;
      case 101:
        this.high[channel] = value;
        this.numbers[channel] = -1;
        return undefined;
      case 100:
        this.numbers[channel] = this.high[channel] === 127 && value === 127 ? -1 : this.high[channel] * 128 + value;
        return undefined;
      case 6:
        if (this.numbers[channel] === 6 && (channel === 1 || channel === 16))
          return { type: 'members', zone: channel === 1 ? 'lower' : 'upper', members: Math.min(15, value) };
        if (this.numbers[channel] !== 0) return undefined;
        this.semitones[channel] = value;
        return { type: 'bendRange', channel, semitones: value };
      case 38:
        return this.numbers[channel] === 0
          ? { type: 'bendRange', channel, semitones: this.semitones[channel] + value / 100 }
          : undefined;
      default:
        return undefined;
    }
  }
}
