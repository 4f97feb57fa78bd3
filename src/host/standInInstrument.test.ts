import { IDENTITY_REQUEST, StandInInstrument } from './standInInstrument';

test('it shows what it was told, channel by channel', () => {
  const standIn = new StandInInstrument();
  for (const bytes of [
    [0xb1, 0, 1],
    [0xb1, 32, 2],
    [0xc1, 11],
    [0xb1, 74, 90],
    [0x91, 60, 100],
    [0x91, 64, 100],
    [0xe0, 0, 96],
  ])
    standIn.take(bytes);
  expect(standIn.words).toEqual([
    'channel 1: no program yet, bend 4096, no key down',
    'channel 2: program 12 of bank 130, CC 74 = 90, 2 keys down',
  ]);
  standIn.take([0x91, 60, 0]);
  expect(standIn.words[1]).toMatch(/1 key down/);
  standIn.take([0xb1, 123, 0]);
  expect(standIn.words[1]).toMatch(/no key down/);
});

test('it answers who asks what it is, and reads the clock', () => {
  const standIn = new StandInInstrument();
  // Universal non-real time, general information, identity reply (MIDI 1.0): F0 7E device 06 02 maker …
  expect(standIn.take(IDENTITY_REQUEST)!.slice(0, 6)).toEqual([0xf0, 0x7e, 0x7f, 6, 2, 0x7d]);
  expect(standIn.take([0xf0, 0x7d, 1, 0xf7])).toBeUndefined();
  for (let n = 0; n <= 30; n++) standIn.take([0xf8], n * 20);
  expect(standIn.tempo).toBeCloseTo(125, 5);
  standIn.take([0xfa]);
  expect(standIn.runs).toBe(true);
  standIn.take([0xfc]);
  expect(standIn.runs).toBe(false);
});
