import fc from 'fast-check';
import { bendOf14Bit, bendTo14Bit, gainOfVolumeController, MidiDecoder } from './midi';

const decode = (...bytes: number[]) => new MidiDecoder().decode(bytes);

// MIDI 1.0 Detailed Specification: status bytes, running status, velocity 0, 14-bit bend, real-time bytes between
// others.
test('each channel message is read', () => {
  expect(decode(0x90, 60, 100)).toEqual([{ type: 'noteOn', channel: 1, key: 60, velocity: 100 }]);
  expect(decode(0x8f, 60, 33)).toEqual([{ type: 'noteOff', channel: 16, key: 60, velocity: 33 }]);
  expect(decode(0xa1, 60, 7)).toEqual([{ type: 'keyPressure', channel: 2, key: 60, pressure: 7 }]);
  expect(decode(0xb0, 64, 127)).toEqual([{ type: 'controller', channel: 1, controller: 64, value: 127 }]);
  expect(decode(0xc0, 5)).toEqual([{ type: 'program', channel: 1, program: 5 }]);
  expect(decode(0xd0, 90)).toEqual([{ type: 'channelPressure', channel: 1, pressure: 90 }]);
  expect(decode(0xe0, 0, 64)).toEqual([{ type: 'bend', channel: 1, bend: 0 }]);
});

test('running status, and a note-on of velocity 0 is a note-off', () => {
  expect(decode(0x90, 60, 100, 64, 90, 60, 0)).toEqual([
    { type: 'noteOn', channel: 1, key: 60, velocity: 100 },
    { type: 'noteOn', channel: 1, key: 64, velocity: 90 },
    { type: 'noteOff', channel: 1, key: 60, velocity: 64 },
  ]);
});

test('running status lasts from one packet to the next, and real-time bytes pass through', () => {
  const decoder = new MidiDecoder();
  expect(decoder.decode([0x90, 60])).toEqual([]);
  expect(decoder.decode([0xf8, 100, 0xfe, 61])).toHaveLength(1);
  expect(decoder.decode([90])).toEqual([{ type: 'noteOn', channel: 1, key: 61, velocity: 90 }]);
});

test('system exclusive is passed over and ends running status', () => {
  expect(decode(0x90, 60, 100, 0xf0, 1, 2, 3, 0xf7, 62, 100)).toHaveLength(1);
});

test('bend: centre 8192 is exactly 0, both ends exactly 1', () => {
  expect([0, 8192, 16383].map(bendOf14Bit)).toEqual([-1, 0, 1]);
  for (let value = 0; value < 16384; value += 7) expect(bendTo14Bit(bendOf14Bit(value))).toBe(value);
});

// DLS and General MIDI 2: 40·log10(value / 127) dB.
test('volume and expression', () => {
  expect(20 * Math.log10(gainOfVolumeController(64))).toBeCloseTo(40 * Math.log10(64 / 127), 10);
  expect(gainOfVolumeController(127)).toBe(1);
  expect(gainOfVolumeController(0)).toBe(0);
});

test('no bytes whatever make the decoder throw or give values outside MIDI’s ranges', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
      for (const message of new MidiDecoder().decode(bytes)) {
        expect(message.channel).toBeGreaterThanOrEqual(1);
        expect(message.channel).toBeLessThanOrEqual(16);
        for (const [name, value] of Object.entries(message))
          if (typeof value === 'number' && name !== 'bend') expect(value).toBeLessThanOrEqual(127);
      }
    }),
  );
});
