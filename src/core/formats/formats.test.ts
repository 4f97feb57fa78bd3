import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { WaveFile } from 'wavefile';
import { newRig, newSound, newZone } from '../rig/defaults';
import type { Rig } from '../rig/schema';
import { FileError } from './fileError';
import { readTake, writeTake } from './midiFile';
import { pathOfSample, readArchive, readArchiveRig, writeArchive } from './rigArchive';
import { readWav, writeWav } from './wav';

const samples = Float32Array.from({ length: 200 }, (_, i) => Math.sin(i * 0.3) * (1 - i / 250));
const audio = { rate: 44100, channels: 2 as const, data: samples };

describe('WAV', () => {
  // The wavefile package, an independent reader and writer of RIFF/WAVE.
  test.each(['8', '16', '24', '32', '32f', '64'])('files of %s bits by another writer are read', (depth) => {
    const file = new WaveFile();
    const full = depth === '8' ? 127 : depth.includes('f') || depth === '64' ? 1 : 2 ** (Number(depth) - 1) - 1;
    const left = [...samples].filter((_, i) => i % 2 === 0),
      right = [...samples].filter((_, i) => i % 2);
    const scaled = (values: number[]) =>
      values.map((x) => (depth === '8' ? Math.round(128 + x * 127) : full === 1 ? x : Math.round(x * full)));
    file.fromScratch(2, 48000, depth, [scaled(left), scaled(right)]);
    const { audio: read } = readWav(file.toBuffer());
    expect(read).toMatchObject({ rate: 48000, channels: 2 });
    read.data.forEach((x, i) => expect(x).toBeCloseTo(samples[i], depth === '8' ? 1 : 4));
  });
  test.each(['pcm16', 'pcm24', 'float32'] as const)(
    '%s files are read by another reader, with their smpl chunk',
    (encoding) => {
      const file = new WaveFile(writeWav(audio, { encoding, root: 64, loop: { start: 10, end: 90 } }));
      expect(file.fmt).toMatchObject({ numChannels: 2, sampleRate: 44100 });
      const chunk = file.smpl as unknown as { dwMIDIUnityNote: number; loops: { dwStart: number; dwEnd: number }[] };
      expect(chunk.dwMIDIUnityNote).toBe(64);
      // Multimedia Programming Interface 1.0: the end of a loop is the last frame played.
      expect(chunk.loops[0]).toMatchObject({ dwStart: 10, dwEnd: 89 });
    },
  );
  test('root, tuning and loop come back, also after chunks of odd length', () => {
    const bytes = writeWav(audio, { root: 61, tuneCents: 25, loop: { start: 4, end: 100 } });
    const odd = new Uint8Array(bytes.length + 12);
    odd.set(bytes.subarray(0, 12));
    odd.set([...strToU8('LIST'), 3, 0, 0, 0, 1, 2, 3, 0], 12);
    odd.set(bytes.subarray(12), 24);
    for (const each of [bytes, odd]) {
      const read = readWav(each);
      expect(read).toMatchObject({ root: 61, loop: { start: 4, end: 100 } });
      expect(read.tuneCents).toBeCloseTo(25, 5);
    }
  });
  test('beyond full scale is held, not turned round', () =>
    expect([...readWav(writeWav({ rate: 8000, channels: 1, data: Float32Array.from([3, -3]) })).audio.data]).toEqual([
      expect.closeTo(1, 4),
      -1,
    ]));
  test('floats that are no numbers become silence', () =>
    expect([
      ...readWav(
        writeWav({ rate: 8000, channels: 1, data: Float32Array.from([NaN, 0.5, Infinity]) }, { encoding: 'float32' }),
      ).audio.data,
    ]).toEqual([0, 0.5, 0]));
  test('a cut-off file says so', () =>
    expect(() => readWav(writeWav(audio).subarray(0, 300))).toThrow(
      /data chunk: is cut off: 256 of 400 bytes are there/,
    ));
  test('a loop whose end is written one frame late ends with the file; loops that run backward are told', () => {
    const bytes = writeWav(audio, { root: 60, loop: { start: 10, end: 100 } });
    const view = new DataView(bytes.buffer);
    const loopAt = Buffer.from(bytes).indexOf('smpl') + 8 + 36;
    view.setUint32(loopAt + 12, 100, true);
    view.setUint32(loopAt + 4, 1, true);
    const read = readWav(bytes);
    expect(read.loop).toEqual({ start: 10, end: 100 });
    expect(read.warnings).toEqual(['its loop runs forward and backward in turn; it is played forward']);
  });
  test('a stream whose length was left open goes on to its end', () => {
    for (const [riff, data] of [
      [0xffffffff, 0xffffffff],
      [0, 0],
      [0xffffffff, 0],
    ]) {
      const bytes = writeWav(audio);
      const view = new DataView(bytes.buffer);
      view.setUint32(4, riff, true);
      view.setUint32(Buffer.from(bytes).indexOf('data') + 4, data, true);
      expect(readWav(bytes).audio.data).toHaveLength(samples.length);
    }
  });
  // Multimedia Programming Interface 1.0: the fine tune of `inst` goes from −50 to +50 cents.
  test('inst tunes within its limits', () => {
    const range = { keyLow: 0, keyHigh: 127, velocityLow: 1, velocityHigh: 127 };
    const inst = (tuneCents: number, root = 60) => {
      const bytes = writeWav(audio, { root, tuneCents, range });
      const at = Buffer.from(bytes).indexOf('inst') + 8;
      return [bytes[at], new Int8Array(bytes.buffer)[at + 1]];
    };
    expect([inst(49), inst(51), inst(99.9), inst(80, 127)]).toEqual([
      [60, 49],
      [61, -49],
      [61, 0],
      [127, 50],
    ]);
  });
  test('a loop beyond the end is left out', () =>
    expect(readWav(writeWav(audio, { root: 60, loop: { start: 0, end: 5000 } })).loop).toBeNull());
  test('no change of bytes makes the reader fail in any other way than by a FileError', () => {
    const good = writeWav(audio, { root: 60, loop: { start: 0, end: 50 } });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { maxLength: 8 }),
        fc.nat(good.length),
        (changes, length) => {
          const bytes = good.slice(0, length);
          for (const [at, value] of changes) if (at < length) bytes[at] = value;
          try {
            readWav(bytes);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('takes', () => {
  const events = [
    { at: 0, event: { type: 'controller' as const, channel: 1, controller: 1, value: 0 } },
    { at: 0.5, event: { type: 'noteOn' as const, channel: 1, key: 60, velocity: 100 } },
    { at: 1, event: { type: 'noteOff' as const, channel: 1, key: 60, velocity: 64 } },
  ];
  test('there and back', () => {
    const read = readTake(writeTake({ name: 'x', seconds: 2, events }, 90), 'x.mid');
    expect(read.seconds).toBeCloseTo(2, 3);
    read.events.forEach(({ at, event }, i) => {
      expect(at).toBeCloseTo(events[i].at, 3);
      expect(event).toEqual(events[i].event);
    });
  });
  // Standard MIDI Files (RP-001): 96 ticks to the quarter, a tempo change to 60 after one quarter at 120, running
  // status.
  test('tempo changes are followed', () => {
    const track = [
      0, 0xff, 0x51, 3, 0x07, 0xa1, 0x20, 96, 0xff, 0x51, 3, 0x0f, 0x42, 0x40, 0, 0x90, 60, 100, 96, 60, 0, 0, 0xff,
      0x2f, 0,
    ];
    const bytes = Uint8Array.from([
      ...strToU8('MThd'),
      0,
      0,
      0,
      6,
      0,
      0,
      0,
      1,
      0,
      96,
      ...strToU8('MTrk'),
      0,
      0,
      0,
      track.length,
      ...track,
    ]);
    expect(readTake(bytes, 'x').events.map(({ at, event }) => [at, event.type])).toEqual([
      [0.5, 'noteOn'],
      [1.5, 'noteOff'],
    ]);
  });
  test('what is no MIDI file is refused by name', () => {
    expect(() => readTake(strToU8('hello'), 'notes.mid')).toThrow(/^notes\.mid: /);
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (noise) => {
        const bytes = Uint8Array.from([
          ...strToU8('MThd'),
          0,
          0,
          0,
          6,
          0,
          0,
          0,
          1,
          0,
          96,
          ...strToU8('MTrk'),
          0,
          0,
          0,
          noise.length,
          ...noise,
        ]);
        try {
          readTake(bytes, 'n');
        } catch (error) {
          expect(error).toBeInstanceOf(FileError);
        }
      }),
    );
  });
});

describe('rig archive', () => {
  const wav = writeWav(audio);
  const rig: Rig = {
    ...newRig('r', 'R'),
    samples: [{ id: 'abc', name: 'a b.wav', rate: 44100, channels: 2, frames: 100 }],
    sounds: [{ ...newSound('s', 'S'), zones: [newZone('abc', 60)] }],
  };
  const bytes = writeArchive(rig, () => wav);
  test('there and back, sample and all; nothing else is inside', () => {
    const read = readArchive(bytes);
    expect(read.rig).toEqual(rig);
    expect(read.wavs.get('abc')).toEqual(wav);
    expect(Object.keys(unzipSync(bytes)).sort()).toEqual(['rig.json', 'samples/abc.wav']);
  });
  test('the same rig gives the same bytes', () => expect(writeArchive(rig, () => wav)).toEqual(bytes));
  test('a missing sample is told', () => {
    const { 'rig.json': json } = unzipSync(bytes);
    expect(() => readArchive(zipSync({ 'rig.json': json }))).toThrow(
      `${pathOfSample(rig.samples[0])}: is missing ("a b.wav")`,
    );
  });
  test('a fault inside rig.json is told with its path', () =>
    expect(() => readArchiveRig(zipSync({ 'rig.json': strToU8(JSON.stringify({ ...rig, name: 7 })) }))).toThrow(
      'rig.json: name: 7 is not a text',
    ));
  test.each([
    ['empty', new Uint8Array()],
    ['no zip', strToU8('hello there')],
    ['cut off', bytes.subarray(0, bytes.length - 40)],
    ['another zip', zipSync({ 'x.txt': strToU8('x') })],
  ])('%s: refused with one clear line', (_, wrong) => {
    expect(() => readArchive(wrong)).toThrow(FileError);
  });
  test('a zip that grows without end is refused before it does', () => {
    const bomb = zipSync({ 'rig.json': new Uint8Array(70 * 2 ** 20) }, { level: 9 });
    expect(bomb.length).toBeLessThan(2 ** 20);
    expect(() => readArchiveRig(bomb)).toThrow('rig.json: claims to be larger than 64 MiB');
    // One that lies about its size does not get further than what it claims.
    const liar = bomb.slice();
    const view = new DataView(liar.buffer);
    for (let at = 0; at + 4 < liar.length; at++)
      if (view.getUint32(at, true) === 70 * 2 ** 20) view.setUint32(at, 1000, true);
    expect(() => readArchiveRig(liar)).toThrow(FileError);
  });
  test('no change of bytes makes it fail in any other way', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        (changes) => {
          const wrong = bytes.slice();
          for (const [at, value] of changes) wrong[at] = value;
          try {
            readArchive(wrong);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});
