import { CC } from '../music/midi';
import { restOfController } from '../space/source';

/** Channel 0 stands for "any": it keeps the newest value from whichever channel sent it. */
export const CHANNELS = 17;

/** Where every controller stands, by channel, and what the macros were moved to by hand. */
export class Controllers {
  readonly cc = new Float64Array(CHANNELS * 128);
  readonly bend = new Float64Array(CHANNELS);
  readonly channelPressure = new Float64Array(CHANNELS);
  readonly keyPressure = new Float64Array(CHANNELS * 128);
  /** By macro number; NaN: where the patch rests it. */
  readonly macros = new Float64Array(17).fill(NaN);

  constructor() {
    for (let channel = 0; channel < CHANNELS; channel++) for (let n = 0; n < 128; n++) this.cc[channel * 128 + n] = restOfController(n);
  }

  setController(channel: number, controller: number, value: number): void {
    this.cc[channel * 128 + controller] = value;
    this.cc[controller] = value;
  }

  setBend(channel: number, bend: number): void {
    this.bend[channel] = bend;
    this.bend[0] = bend;
  }

  setChannelPressure(channel: number, pressure: number): void {
    this.channelPressure[channel] = pressure;
    this.channelPressure[0] = pressure;
  }

  setKeyPressure(channel: number, key: number, pressure: number): void {
    this.keyPressure[channel * 128 + key] = pressure;
    this.keyPressure[key] = pressure;
  }

  isDown(channel: number, pedal: number): boolean {
    return this.cc[channel * 128 + pedal] >= 64;
  }

  /** CC 121: wheel, breath and pedals to 0, expression to 127, bend and pressure to rest; volume stays (MIDI RP-015). */
  reset(channel: number): void {
    for (const c of channel === 0 ? [0] : [0, channel]) {
      this.bend[c] = 0;
      this.channelPressure[c] = 0;
      this.keyPressure.fill(0, c * 128, c * 128 + 128);
      for (const controller of [CC.wheel, CC.breath, CC.sustain, CC.sostenuto, 65, 67]) this.cc[c * 128 + controller] = 0;
      this.cc[c * 128 + CC.expression] = 127;
    }
  }
}
