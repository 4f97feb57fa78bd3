import fc from 'fast-check';
import { WaveFile } from 'wavefile';
import { readAudioFile, inTune } from './audioFile';
import { FileError } from './fileError';
import { aiff, flac } from '../../../tests/kit/audioFiles';
import { narrowestEncoding, readWav, readWavHeader, writeWav } from './wav';

const tone = Float32Array.from({ length: 400 }, (_, i) => Math.round(20000 * Math.sin(i / 7)) / 32768);

describe('WAV chunks', () => {
  test('smpl and inst written here are read by another reader, and the other way round', () => {
    const bytes = writeWav(
      { rate: 44100, channels: 1, data: tone },
      {
        root: 55,
        tuneCents: 25,
        loop: { start: 10, end: 390 },
        range: { keyLow: 50, keyHigh: 59, velocityLow: 1, velocityHigh: 90 },
      },
    );
    // wavefile reads RIFF chunks independently.
    const other = new WaveFile(bytes) as unknown as {
      smpl: { dwMIDIUnityNote: number; dwMIDIPitchFraction: number; loops: { dwStart: number; dwEnd: number }[] };
      getSamples: () => ArrayLike<number>;
    };
    expect(other.smpl.dwMIDIUnityNote).toBe(55);
    expect(other.smpl.dwMIDIPitchFraction / 2 ** 32).toBeCloseTo(0.25, 6);
    expect(other.smpl.loops[0]).toMatchObject({ dwStart: 10, dwEnd: 389 });
    expect(readWav(bytes)).toMatchObject({
      root: 55,
      tuneCents: expect.closeTo(25, 4),
      loop: { start: 10, end: 390 },
      range: { keyLow: 50, keyHigh: 59, velocityLow: 1, velocityHigh: 90 },
    });
  });
  test('inst alone gives the root', () => {
    const bytes = writeWav(
      { rate: 44100, channels: 1, data: tone },
      { root: 55, range: { keyLow: 1, keyHigh: 2, velocityLow: 3, velocityHigh: 4 } },
    );
    const smpl = bytes.findIndex((_, i) => String.fromCharCode(...bytes.subarray(i, i + 4)) === 'smpl');
    bytes.set([120], smpl);
    expect(readWavHeader(bytes)).toMatchObject({ root: 55, range: { keyLow: 1, velocityHigh: 4 } });
  });
  test('what lies above the root is tuned down, to the nearest key', () => {
    expect(inTune(60.2)).toEqual({ root: 60, tuneCents: -20 });
    expect(inTune(60.7)).toEqual({ root: 61, tuneCents: 30 });
  });
});

describe('kinds of files', () => {
  test('AIFF, 16 and 24 bits, without loss', async () => {
    for (const bits of [16, 24] as const) {
      const { audio, wav } = await readAudioFile(aiff(tone, 2, bits));
      expect(audio).toMatchObject({ rate: 44100, channels: 2 });
      expect(Math.max(...audio.data.map((x, i) => Math.abs(x - tone[i])))).toBeLessThan(1e-6);
      expect(readWav(wav).audio.data).toEqual(audio.data);
      expect(readWavHeader(wav).format.bits).toBe(16);
    }
  });
  test('FLAC, sample by sample', async () => {
    const samples = Int16Array.from(tone, (x) => Math.round(x * 32768));
    const { audio } = await readAudioFile(flac(samples));
    expect(audio).toMatchObject({ rate: 44100, channels: 1 });
    expect([...audio.data].map((x) => Math.round(x * 32768))).toEqual([...samples]);
  });
  test('a WAV is kept as it is, whatever its name', async () => {
    const bytes = writeWav({ rate: 22050, channels: 1, data: tone }, { encoding: 'pcm24', root: 40, tuneCents: 60 });
    const file = await readAudioFile(bytes);
    expect(file.wav).toBe(bytes);
    expect(file).toMatchObject({ root: 41, tuneCents: expect.closeTo(40, 4) });
  });
  test('the narrowest coding keeps every sample', () => {
    expect(narrowestEncoding(Float32Array.of(0.5, -1))).toBe('pcm16');
    expect(narrowestEncoding(Float32Array.of(0.5, 1 / 8388608))).toBe('pcm24');
    expect(narrowestEncoding(Float32Array.of(0.1))).toBe('float32');
    expect(narrowestEncoding(Float32Array.of(1.5))).toBe('float32');
  });
});

describe('bad files get one clear line', () => {
  const wav = writeWav({ rate: 44100, channels: 1, data: tone }, { root: 60 });
  const huge = wav.slice();
  new DataView(huge.buffer).setUint32(huge.length - 800 - 4, 0xfffffff0, true);
  test.each<[string, Uint8Array, string]>([
    ['empty', new Uint8Array(0), 'the file is empty'],
    ['a text', new TextEncoder().encode('hello, I am a wave'), 'no audio file that is known'],
    ['cut off', wav.subarray(0, wav.length - 100), 'data chunk: is cut off'],
    ['a huge header', huge, 'is cut off'],
    ['no audio', writeWav({ rate: 44100, channels: 1, data: new Float32Array(0) }), 'it holds no audio'],
    ['an OGG', new TextEncoder().encode('OggS and so on'), 'read in the browser only'],
    ['a cut AIFF', aiff(tone, 1, 16).subarray(0, 30), 'AIFF file is damaged|holds no audio'],
    [
      'a cut FLAC',
      flac(Int16Array.from({ length: 64 }, (_, i) => i)).subarray(0, 60),
      'holds no audio|FLAC file is damaged|not supported',
    ],
  ])('%s', async (_, bytes, message) => {
    await expect(readAudioFile(bytes)).rejects.toThrow(FileError);
    await expect(readAudioFile(bytes)).rejects.toThrow(new RegExp(message));
  });
  test('samples that are not numbers become silence', async () => {
    const bytes = writeWav(
      { rate: 44100, channels: 1, data: Float32Array.of(0.5, NaN, Infinity, 0.25) },
      { encoding: 'float32' },
    );
    expect([...(await readAudioFile(bytes)).audio.data]).toEqual([0.5, 0, 0, 0.25]);
  });
  test('chunks that point round in circles or beyond the end are passed over', () => {
    const odd = wav.slice();
    new DataView(odd.buffer).setUint32(16, 0xffffffff, true);
    expect(() => readWavHeader(odd)).toThrow(FileError);
  });
  test('whatever bytes change, a file is read or refused, and what is read is sound', async () => {
    const sources = [wav, aiff(tone, 1, 16), flac(Int16Array.from(tone.subarray(0, 64), (x) => x * 32768))];
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...sources),
        fc.array(fc.tuple(fc.nat(200), fc.integer({ min: 0, max: 255 })), { minLength: 1, maxLength: 12 }),
        fc.nat(900),
        async (source, changes, cut) => {
          const bytes = source.slice(0, Math.max(1, source.length - (cut > 450 ? cut - 450 : 0)));
          for (const [at, value] of changes) bytes[at % bytes.length] = value;
          try {
            const { audio } = await readAudioFile(bytes);
            expect(audio.data.length).toBeGreaterThan(0);
            expect(audio.data.every((x) => Number.isFinite(x))).toBe(true);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 120 },
    );
  }, 60_000);
});
