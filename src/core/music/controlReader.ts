import type { ControlId } from './control';
import type { MidiMessage } from './midi';

/** Something on a controller moved: to a place 0…1, or, where only that is known, by so many steps. */
export interface ControlMove {
  control: ControlId;
  channel: number;
  value: number;
  steps?: number;
  message: MidiMessage;
}

/**
 * The two usual codings of relative encoders: two's complement (1, 2 … up, 127, 126 … down), and an offset from 64.
 * Common practice, no source.
 */
export type Coding = 'absolute' | 'twos' | 'offset';
export const stepsOf = (coding: Coding, value: number): number =>
  coding === 'twos' ? (value < 64 ? value : value - 128) : coding === 'offset' ? value - 64 : 0;

/**
 * Reads what controls a stream of messages moves, one port at a time. CC 0…31 whose fine half (CC 32…63) comes right
 * after them are one control of 14 bits; numbers sent as NRPN (CC 99, 98, 6, 38)
 * are one as well (MIDI 1.0 Detailed Specification). What is half of something else moves nothing by itself.
 */
export class ControlReader {
  /** By channel: the non-registered number that data go to; −1: none, for registered ones are addressed. */
  private readonly numbers = new Int32Array(17).fill(-1);
  private readonly numberHigh = new Uint8Array(17);
  private readonly dataHigh = new Uint8Array(17);
  private readonly dataValue = new Float64Array(17);
  /** The coarse half that came last, by channel: its controller and value. */
  private readonly coarse = new Int16Array(17).fill(-1);
  private readonly coarseValue = new Uint8Array(17);
  /** Pairs that were seen, channel · 32 + controller. */
  private readonly pairs = new Set<number>();

  read(message: MidiMessage): ControlMove[] {
    const { channel } = message;
    const move = (control: ControlId, value: number, steps?: number): ControlMove => ({
      control,
      channel,
      value,
      steps,
      message,
    });
    if (message.type !== 'controller') this.coarse[channel] = -1;
    switch (message.type) {
      case 'noteOn':
        return [move(`note.${message.key}`, message.velocity / 127)];
      case 'noteOff':
        return [move(`note.${message.key}`, 0)];
      case 'program':
        return [move(`program.${message.program}`, 1)];
      case 'bend':
        return [move('bend', (message.bend + 1) / 2)];
      case 'channelPressure':
        return [move('pressure', message.pressure / 127)];
      case 'keyPressure':
        return [move('keyPressure', message.pressure / 127)];
      default:
        return this.ofController(message, move);
    }
  }

  /**
   * The value 0…127 with a fraction that a coarse and a fine half make together; undefined where a message is no fine
   * half of a pair.
   */
  fineValue(message: MidiMessage): { controller: number; value: number } | undefined {
    if (
      message.type !== 'controller' ||
      message.controller < 32 ||
      message.controller > 63 ||
      this.coarse[message.channel] !== message.controller - 32
    )
      return undefined;
    return {
      controller: message.controller - 32,
      value: ((this.coarseValue[message.channel] * 128 + message.value) / 16383) * 127,
    };
  }

  private ofController(
    { channel, controller, value }: MidiMessage & { type: 'controller' },
    move: (control: ControlId, value: number, steps?: number) => ControlMove,
  ): ControlMove[] {
    switch (controller) {
      case 99:
        this.numberHigh[channel] = value;
        this.numbers[channel] = -1;
        return [];
      case 98:
        this.numbers[channel] = this.numberHigh[channel] * 128 + value;
        return [];
      case 100:
      case 101:
        this.numbers[channel] = -1;
        return [];
      case 6:
        if (this.numbers[channel] < 0) return [];
        this.dataHigh[channel] = value;
        this.dataValue[channel] = (value * 128) / 16383;
        return [move(`nrpn.${this.numbers[channel]}`, Math.min(1, value / 127))];
      case 38:
        if (this.numbers[channel] < 0) return [];
        this.dataValue[channel] = (this.dataHigh[channel] * 128 + value) / 16383;
        return [move(`nrpn.${this.numbers[channel]}`, this.dataValue[channel])];
      case 96:
      case 97:
        return this.numbers[channel] < 0
          ? []
          : [move(`nrpn.${this.numbers[channel]}`, this.dataValue[channel], controller === 96 ? 1 : -1)];
    }
    if (controller >= 120) return [];
    if (controller >= 32 && controller < 64 && this.coarse[channel] === controller - 32) {
      this.pairs.add(channel * 32 + controller - 32);
      return [move(`cc14.${controller - 32}`, (this.coarseValue[channel] * 128 + value) / 16383)];
    }
    this.coarse[channel] = controller < 32 ? controller : -1;
    this.coarseValue[channel] = value;
    const moves = [move(`cc.${controller}`, value / 127)];
    // Of a known pair the fine half comes at once: the coarse one alone would be a step back.
    return controller < 32 && this.pairs.has(channel * 32 + controller) ? [] : moves;
  }
}
