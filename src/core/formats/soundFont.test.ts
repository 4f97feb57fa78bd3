import fc from 'fast-check';
import { BasicInstrument, BasicPreset, BasicSoundBank, EmptySample } from 'spessasynth_core';
import { FileError } from './fileError';
import { hzOfAbsoluteCents, readSoundFont, secondsOfTimecents } from './soundFont';

/** A bank of one preset, written by the library that other programs use. */
async function bankBytes(): Promise<Uint8Array> {
  const bank = new BasicSoundBank();
  const sample = new EmptySample();
  Object.assign(sample, { name: 'reed', originalKey: 62, pitchCorrection: -7 });
  sample.setAudioData(
    Float32Array.from({ length: 500 }, (_, i) => 0.5 * Math.sin(i / 10)),
    32000,
  );
  Object.assign(sample, { loopStart: 100, loopEnd: 300 });
  const instrument = new BasicInstrument();
  instrument.name = 'reed';
  // Generator numbers of the SoundFont 2.04 specification, section 8.1.2.
  instrument.globalZone.setGenerator(48, 60);
  instrument.globalZone.setGenerator(34, 0);
  const low = instrument.createZone(sample);
  low.keyRange = { min: 20, max: 63 };
  low.velRange = { min: 0, max: 80 };
  for (const [type, value] of [
    [54, 1],
    [17, -250],
    [34, -1200],
    [37, 200],
    [38, 1200],
    [8, 6900],
    [9, 60],
    [57, 3],
    [58, 60],
    [2, 5],
  ] as const)
    low.setGenerator(type, value);
  const high = instrument.createZone(sample);
  high.keyRange = { min: 64, max: 127 };
  for (const [type, value] of [
    [54, 3],
    [56, 50],
    [6, 30],
  ] as const)
    high.setGenerator(type, value);
  const preset = new BasicPreset(bank);
  preset.name = 'Reed Pipe';
  preset.program = 5;
  preset.globalZone.setGenerator(48, 10);
  const zone = preset.createZone(instrument);
  zone.keyRange = { min: 30, max: 100 };
  zone.setGenerator(51, -1);
  zone.setGenerator(34, 1200);
  bank.addSamples(sample);
  bank.addInstruments(instrument);
  bank.addPresets(preset);
  return new Uint8Array(await bank.writeSF2());
}

// SoundFont 2.04, sections 8.1.2 and 9.1: units.
test('units', () => {
  expect(secondsOfTimecents(0)).toBe(1);
  expect(secondsOfTimecents(-12000)).toBeCloseTo(0.000977, 6);
  expect(secondsOfTimecents(1200)).toBe(2);
  expect(hzOfAbsoluteCents(6900)).toBeCloseTo(440, 0);
  expect(hzOfAbsoluteCents(13500)).toBeCloseTo(19914, -2);
});

test('a preset becomes a sound: zones joined, ranges narrowed, preset values added', async () => {
  const { presets, samples } = readSoundFont(await bankBytes());
  expect(samples).toHaveLength(1);
  expect(samples[0]).toMatchObject({ name: 'reed.wav', audio: { rate: 32000, channels: 1 } });
  expect(samples[0].audio.data[50]).toBeCloseTo(0.5 * Math.sin(5), 3);
  const [{ name, program, zones, notCarried }] = presets;
  expect([name, program]).toEqual(['Reed Pipe', 5]);
  const [low, high] = zones.map(({ zone }) => zone);
  expect(low).toMatchObject({
    root: 60,
    tune: -107,
    gain: -7,
    pan: -0.5,
    key: { low: 30, high: 63 },
    velocity: { low: 1, high: 80 },
    loop: { start: 105, end: 300, crossfade: 0, until: 'end' },
    choke: { group: 3, by: 3, fade: 'fast' },
    // Attack: −1200 of the instrument's zone, which stands in for its global zone's 0, plus 1200 of the preset: one
    // second.
    params: {
      attack: 1,
      sustain: -20,
      release: 2,
      cutoff: expect.closeTo(440, 0),
      resonance: expect.closeTo(Math.SQRT1_2 * 10 ** 0.3, 3),
    },
  });
  expect(high).toMatchObject({
    root: 62,
    pitchPerKey: 50,
    key: { low: 64, high: 100 },
    loop: { start: 100, end: 300, until: 'release' },
    params: { attack: 2 },
  });
  expect(notCarried).toEqual([{ what: 'vibrato', count: 1 }]);
});

describe('damaged banks', () => {
  /** Where a chunk's body begins. */
  const chunkAt = (bytes: Uint8Array, name: string) =>
    bytes.findIndex((_, i) => String.fromCharCode(...bytes.subarray(i, i + 4)) === name) + 8;
  const changed = async (change: (bytes: Uint8Array, view: DataView) => void) => {
    const bytes = await bankBytes();
    change(bytes, new DataView(bytes.buffer, bytes.byteOffset));
    return bytes;
  };
  test.each<[string, (bytes: Uint8Array, view: DataView) => void, RegExp]>([
    [
      'a preset that points past the bags',
      (bytes, view) => view.setUint16(chunkAt(bytes, 'phdr') + 38 + 24, 9999, true),
      /phdr: record 1 points to 9999 of \d+ records of pbag/,
    ],
    [
      'bags that fall back',
      (bytes, view) => view.setUint16(chunkAt(bytes, 'ibag') + 4, 0xffff, true),
      /ibag: record 1 points to 65535/,
    ],
    [
      'a sample beyond the data',
      (bytes, view) => view.setUint32(chunkAt(bytes, 'shdr') + 24, 0x7fffffff, true),
      /shdr: sample 1 lies from frame 0 to 2147483647, but there are/,
    ],
    [
      'a table that is cut',
      (bytes, view) => view.setUint32(chunkAt(bytes, 'shdr') - 4, 45, true),
      /shdr: this table of the SoundFont is cut off/,
    ],
    [
      'a chunk larger than the file',
      (bytes, view) => view.setUint32(chunkAt(bytes, 'phdr') - 4, 0xffffffff, true),
      /phdr: this part of pdta is cut off/,
    ],
    [
      'a missing table',
      (bytes) => bytes.set([120], chunkAt(bytes, 'igen') - 8),
      /igen: this table of the SoundFont is missing/,
    ],
  ])('%s', async (_, change, message) => {
    const bytes = await changed(change);
    expect(() => readSoundFont(bytes)).toThrow(FileError);
    expect(() => readSoundFont(bytes)).toThrow(message);
  });
  test('others', () => {
    expect(() => readSoundFont(new Uint8Array(3))).toThrow(FileError);
    expect(() => readSoundFont(new TextEncoder().encode('RIFFxxxxsfbkLIST'))).toThrow(FileError);
  });
  test('whatever bytes change, they are read or refused, never more', async () => {
    const good = await bankBytes();
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.integer({ min: 0, max: 255 })), { maxLength: 10 }),
        fc.nat(good.length),
        (changes, keep) => {
          const bytes = good.slice(0, changes.length % 3 === 0 ? keep : good.length);
          for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value;
          try {
            for (const { zones } of readSoundFont(bytes).presets)
              for (const { zone } of zones) expect(zone.key.low).toBeLessThanOrEqual(zone.key.high);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});
