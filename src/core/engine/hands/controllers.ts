import { CC } from '../../music/midi';
import { MOST_STRIPS, restOfController } from '../../space/source';

/** Ports that layers can tell apart; what comes from any other counts as none of them, port 0. */
export const PORTS = 4;
/** Channels of a port: 0 stands for "any" and keeps the newest value from whichever sent it. */
export const CHANNELS = 17;
/** Where something is heard: port · 17 + channel, either 0 for "any". */
export const ADDRESSES = (PORTS + 2) * CHANNELS;
/** The port of a layer whose own is not known: nothing comes from there. */
export const NO_PORT = PORTS + 1;
export const addressOf = (port: number, channel: number): number => port * CHANNELS + channel;

/** Whether what listens at one address hears what comes from another, which names a channel. */
export function hearsAddress(listening: number, from: number): boolean {
  if (listening === 0 || listening === from) return true;
  const port = Math.floor(listening / CHANNELS);
  const channel = listening % CHANNELS;
  if (port !== 0 && port !== Math.floor(from / CHANNELS)) return false;
  return channel === 0 || channel === from % CHANNELS;
}

/**
 * Semitones that the bend of an MPE member channel reaches until it is told otherwise (MIDI Polyphonic Expression 1.0).
 */
const MEMBER_BEND = 48;

/** Where every controller stands, by address, and what the macros and dots were moved to by hand. */
export class Controllers {
  readonly cc = new Float64Array(ADDRESSES * 128);
  readonly bend = new Float64Array(ADDRESSES);
  readonly channelPressure = new Float64Array(ADDRESSES);
  readonly keyPressure = new Float64Array(ADDRESSES * 128);
  /** By macro number; NaN: where the patch rests it. */
  readonly macros = new Float64Array(17).fill(NaN);
  /** By number, where a take has moved a strip; NaN: where it rests. */
  readonly strips = new Float64Array(MOST_STRIPS + 1).fill(NaN);
  /** x and y of each pad by its number; NaN: where the patch rests the dot. */
  readonly dots = new Float64Array(2 * 5).fill(NaN);
  /** By pad: the dot was let go of, and a sprung one may go back. */
  readonly letGo = new Uint8Array(5);
  /** MPE: by address of a member channel, that of its zone's master; 0: it is no member. */
  readonly masterOf = new Uint8Array(ADDRESSES);
  memberBend = MEMBER_BEND;

  constructor() {
    for (let address = 0; address < ADDRESSES; address++)
      for (let n = 0; n < 128; n++) this.cc[address * 128 + n] = restOfController(n);
  }

  /** Takes over everything from another: what a patch that rings out goes on with. */
  copyFrom(other: Controllers): void {
    this.cc.set(other.cc);
    this.bend.set(other.bend);
    this.channelPressure.set(other.channelPressure);
    this.keyPressure.set(other.keyPressure);
    this.macros.set(other.macros);
    this.strips.set(other.strips);
    this.dots.set(other.dots);
    this.letGo.set(other.letGo);
    this.masterOf.set(other.masterOf);
    this.memberBend = other.memberBend;
  }

  setController(from: number, controller: number, value: number): void {
    const { cc } = this;
    cc[from * 128 + controller] = value;
    // What a single finger does is nobody else's.
    if (this.masterOf[from] > 0 && controller === CC.slide) return;
    cc[controller] = value;
    if (from < CHANNELS) return;
    cc[(from % CHANNELS) * 128 + controller] = value;
    cc[(from - (from % CHANNELS)) * 128 + controller] = value;
  }

  setBend(from: number, bend: number): void {
    this.bend[from] = bend;
    if (this.masterOf[from] > 0) return;
    this.bend[0] = bend;
    if (from < CHANNELS) return;
    this.bend[from % CHANNELS] = bend;
    this.bend[from - (from % CHANNELS)] = bend;
  }

  setChannelPressure(from: number, pressure: number): void {
    this.channelPressure[from] = pressure;
    if (this.masterOf[from] > 0) return;
    this.channelPressure[0] = pressure;
    if (from < CHANNELS) return;
    this.channelPressure[from % CHANNELS] = pressure;
    this.channelPressure[from - (from % CHANNELS)] = pressure;
  }

  setKeyPressure(from: number, key: number, pressure: number): void {
    this.keyPressure[from * 128 + key] = pressure;
    this.keyPressure[key] = pressure;
  }

  /**
   * The zones of an expressive controller at a port: so many member channels from 2 upward, and from 15 downward; what
   * the upper zone leaves of the lower one is the lower one's (MPE 1.0, 2.1). The
   * bend range is that of each finger, in semitones.
   */
  setZones(port: number, lower: number, upper: number, bendRange: number): void {
    const { masterOf } = this;
    for (let channel = 1; channel < CHANNELS; channel++) {
      const at = addressOf(port, channel);
      const inLower = lower > 0 && channel >= 2 && channel <= 1 + lower && !(channel === 16 && upper > 0);
      const inUpper = upper > 0 && channel <= 15 && channel >= 16 - upper && !(channel === 1 && lower > 0);
      masterOf[at] = inLower ? addressOf(port, 1) : inUpper ? addressOf(port, 16) : 0;
    }
    this.memberBend = bendRange;
  }

  isDown(address: number, pedal: number): boolean {
    return this.cc[address * 128 + pedal] >= 64;
  }

  /**
   * CC 121: wheel, breath and pedals to 0, expression to 127, bend and pressure to rest; volume stays (MIDI RP-015).
   */
  reset(from: number): void {
    for (const at of from === 0
      ? [0]
      : from < CHANNELS
        ? [0, from]
        : [0, from % CHANNELS, from - (from % CHANNELS), from]) {
      this.bend[at] = 0;
      this.channelPressure[at] = 0;
      this.keyPressure.fill(0, at * 128, at * 128 + 128);
      for (const controller of [CC.wheel, CC.breath, CC.sustain, CC.sostenuto, 65, 67])
        this.cc[at * 128 + controller] = 0;
      this.cc[at * 128 + CC.expression] = 127;
    }
  }
}
