import { SoundFont2 } from 'soundfont2';
import type { Audio } from '../dsp/sample';
import { newSound, newZone } from '../rig/defaults';
import type { Zone } from '../rig/schema';
import { readSoundFont } from './soundFont';
import { absoluteCentsOf, timecentsOf, writeSoundFont } from './soundFontWrite';

const RATE = 44100;
const sixteen = (x: number) => Math.round(x * 32767) / 32768;
const tone = (hz: number): Float32Array =>
  Float32Array.from({ length: 6000 }, (_, n) => sixteen(0.5 * Math.sin((2 * Math.PI * hz * n) / RATE)));
const both = (): Float32Array => {
  const [l, r] = [tone(300), tone(500)];
  return Float32Array.from({ length: 12000 }, (_, n) => (n % 2 === 0 ? l : r)[n >> 1]);
};
const audios: Record<string, Audio> = {
  a: { rate: RATE, channels: 1, data: tone(440) },
  b: { rate: RATE, channels: 1, data: tone(880) },
  wide: { rate: RATE, channels: 2, data: both() },
};
const write = (zones: readonly Zone[], more: Partial<ReturnType<typeof newSound>> = {}) =>
  writeSoundFont(
    'Low Tide',
    [{ ...newSound('s', 'Felt', [...zones]), ...more }],
    (id) => audios[id],
    (id) => `${id}.wav`,
  );
const on = (id: string, root: number, low: number, high: number, more: Partial<Zone> = {}): Zone => ({
  ...newZone(id, root),
  key: { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  ...more,
});
const full: Zone[] = [
  on('a', 57, 40, 60, {
    tune: -30,
    gain: -6,
    velocity: { low: 1, high: 80, fadeIn: 0, fadeOut: 0, shape: 'sine' },
    loop: { start: 1000, end: 4000, crossfade: 0, until: 'end' },
    params: { attack: 0.5, decay: 2, sustain: -12, release: 1.5, cutoff: 1000, resonance: 2 },
  }),
  on('a', 57, 40, 60, {
    pan: 0.5,
    velocity: { low: 81, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
    loop: { start: 1200, end: 3900, crossfade: 0, until: 'release' },
    start: 50,
    end: 5000,
    choke: { group: 3, by: 3, fade: 'fast' },
  }),
  on('b', 72, 61, 90, { pitchPerKey: 50, params: { velocityToLevel: 40, delay: 0.2, hold: 0.1 } }),
];

test('units are those of the specification', () => {
  // SoundFont 2.04, 9.1.6: 1 s is 0 timecents, half a second −1200; 8.1.2: 0 absolute cents are 8.176 Hz, 13 500 about
  // 20 kHz.
  expect([timecentsOf(1), timecentsOf(0.5), timecentsOf(10), timecentsOf(0)]).toEqual([0, -1200, 3986, -12000]);
  expect([absoluteCentsOf(8.176 * 2), absoluteCentsOf(440), absoluteCentsOf(30000)]).toEqual([1500, 6900, 13500]);
});

test('what was written is read again by us: the same zones and the same frames', () => {
  const { bytes, notCarried } = write(full);
  expect(notCarried).toEqual([]);
  const {
    presets: [preset],
    samples,
    name,
  } = readSoundFont(bytes);
  expect([name, preset.name, preset.notCarried]).toEqual(['Low Tide', 'Felt', []]);
  expect(samples.map(({ audio }) => audio.data.length)).toEqual([6000, 6000]);
  for (const [n, id] of ['a', 'b'].entries())
    expect(samples[n].audio.data.every((x, i) => Math.abs(x - audios[id].data[i]) <= 1 / 32768)).toBe(true);
  preset.zones.forEach(({ zone }, n) => {
    const { sampleId: _, params, ...rest } = zone;
    const { sampleId: __, params: wanted, ...expected } = full[n];
    expect(rest).toEqual({ ...expected, tune: expect.closeTo(expected.tune, 1) as number });
    // A release of 0.2 s, where nobody says another, is written: a SoundFont’s own is a millisecond.
    for (const [id, x] of Object.entries({ release: 0.2, ...wanted }))
      if (id !== 'release' || x !== 0.2) expect((params[id as 'release'] ?? NaN) / x).toBeCloseTo(1, 2);
  });
});

test('an independent reader finds the same headers, ranges and generators', () => {
  const font = SoundFont2.from(write(full).bytes);
  expect(font.metaData).toMatchObject({ version: '2.4', name: 'Low Tide' });
  expect(font.presets.map(({ header }) => header.name.replace(/\0/g, ''))).toEqual(['Felt']);
  const [a, b, c] = font.instruments[0].zones;
  // Numbers of generators after section 8.1.2: 43 key range, 44 velocity range, 58 root, 48 attenuation in cB, 34
  // attack, 8 cutoff, 54 sample modes, 57 exclusive class, 56 scale tuning.
  expect([a.keyRange, a.generators[44]!.range]).toEqual([
    { lo: 40, hi: 60 },
    { lo: 1, hi: 80 },
  ]);
  expect([
    a.generators[58]!.value,
    a.generators[48]!.value,
    a.generators[34]!.value,
    a.generators[8]!.value,
    a.generators[54]!.value,
  ]).toEqual([57, 60, -1200, absoluteCentsOf(1000), 1]);
  expect([b.generators[54]!.value, b.generators[57]!.value, b.generators[17]!.value]).toEqual([3, 3, 250]);
  expect(c.generators[56]!.value).toBe(50);
  expect(
    font.samples
      .filter(({ header }) => !header.name.startsWith('EOS'))
      .map(({ header }) => [header.sampleRate, header.originalPitch]),
  ).toEqual([
    [RATE, 60],
    [RATE, 60],
  ]);
});

test('both sides become linked samples with hard pans, loops with a crossfade and reversed recordings are written into samples of their own', () => {
  const { bytes, notCarried } = write([
    on('wide', 60, 0, 60),
    on('a', 60, 61, 80, { reverse: true }),
    on('a', 60, 81, 127, { loop: { start: 2000, end: 4000, crossfade: 500, until: 'end' } }),
  ]);
  expect(notCarried).toEqual([]);
  const {
    presets: [{ zones }],
    samples,
  } = readSoundFont(bytes);
  expect(zones.map(({ zone }) => zone.pan)).toEqual([-1, 1, 0, 0]);
  expect(samples).toHaveLength(4);
  expect(samples[zones[2].sample].audio.data[5]).toBeCloseTo(audios.a.data[5994], 4);
  const faded = samples[zones[3].sample].audio.data;
  expect(faded[1000]).toBeCloseTo(audios.a.data[1000], 4);
  expect(faded.subarray(3600, 3990).some((x, i) => Math.abs(x - audios.a.data[3600 + i]) > 1e-3)).toBe(true);
});

test('what the format has no words for is listed, and sounds without samples are refused', () => {
  const { notCarried } = write([
    on('a', 60, 0, 60, {
      key: { low: 0, high: 60, fadeIn: 4, fadeOut: 0, shape: 'sine' },
      windows: [{ source: 'cc.1', low: 0, high: 64, fadeIn: 0, fadeOut: 0, shape: 'sine', read: 'always' }],
      playback: 'full-length',
    }),
    on('a', 60, 61, 70, { alternate: 0 }),
    on('b', 60, 61, 70, { alternate: 1 }),
    on('a', 60, 71, 80, { trigger: 'release' }),
    on('a', 60, 81, 90, { gain: 6, choke: { group: 1, by: 2, fade: 'fast' }, params: { lowCut: 200 } }),
  ]);
  expect(notCarried.map(({ what }) => what)).toEqual([
    'the level of “Felt”: all of it is 6 dB softer',
    'fades of keys or velocities',
    'windows on further sources',
    'full-length playback',
    'alternates (the first of each round stays)',
    'a release trigger (left out)',
    'choke groups that end others than themselves',
    'low cut',
  ]);
  expect(() => write([], { kind: 'synth' })).toThrow('bounce it first');
});

// SoundFont 2.04, 7.10: a sample whose type has its highest bit set lies in the memory of a device, wherever that is.
test('a sample that no file holds is told, and takes no room, however long its record says that it is', () => {
  const { bytes } = write([on('a', 57, 40, 60), on('b', 72, 61, 90)]);
  const at = bytes.findIndex((_, n) => String.fromCharCode(...bytes.subarray(n, n + 4)) === 'shdr') + 8;
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  view.setUint16(at + 44, view.getUint16(at + 44, true) | 0x8000, true);
  view.setUint32(at + 24, 0x7fffffff, true);
  const { presets, samples } = readSoundFont(bytes);
  expect([samples.length, presets[0].zones.length]).toEqual([1, 1]);
  expect(presets[0].notCarried.map(({ what }) => what).join()).toContain('is empty or unreadable');
});
