import { createHash } from 'node:crypto';
import { newSound, newZone } from '../rig/defaults';
import type { Sample, Sound, Zone } from '../rig/schema';
import { readAudioFile } from './audioFile';
import { bringSfz, lookOver, samplePathsOf, type BroughtFile } from './bringIn';
import { answersNearMiddleC } from '../rig/answering';
import { baseName, FolderIndex, folderOf, stemOf } from './folder';
import { exportSound } from './exportSound';
import { safeName } from './safeName';
import { readWav, writeWav } from './wav';

const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const tone = (amplitude: number, frames = 4410) =>
  writeWav({
    rate: 44100,
    channels: 1,
    data: Float32Array.from({ length: frames }, (_, i) => amplitude * Math.sin(i / 20)),
  });
const wavs = new Map([
  ['a', tone(0.5)],
  ['b', tone(0.2)],
]);
const samples: Sample[] = [
  { id: 'a', name: 'tone: one?.wav', rate: 44100, channels: 1, frames: 4410 },
  { id: 'b', name: 'Tone_ one_.aif', rate: 44100, channels: 1, frames: 4410 },
];
const soundOf = (...zones: Partial<Zone>[]): Sound =>
  newSound(
    's',
    'My/Sound',
    zones.map((zone) => ({ ...newZone('a', 60), ...zone })),
  );

test('names that every system takes, each of its own', async () => {
  expect(safeName('a/b\\c:d*e?"<>|=$\u0007f')).toBe('a_b_c_d_e________f');
  expect(safeName('..hidden ')).toBe('hidden');
  expect(safeName('')).toBe('unnamed');
  // Most file systems take 255 bytes of a name.
  for (const sign of ['x', 'é', '潮', '🌊'])
    expect(new TextEncoder().encode(`${safeName(sign.repeat(300))} (99).wav`).length).toBeLessThan(255);
  expect(safeName('🌊'.repeat(300))).toMatch(/^🌊+$/u);
  const { files } = await exportSound(soundOf({}, { sampleId: 'b' }), samples, (id) => wavs.get(id)!, 'sfz');
  expect(files.map(({ path }) => path)).toEqual([
    'My_Sound.sfz',
    'samples/tone_ one_.wav',
    'samples/Tone_ one_ (2).wav',
  ]);
});

test('a sound that goes out as SFZ comes back from its folder', async () => {
  const sound = soundOf(
    { root: 50, gain: -3, key: { low: 40, high: 55, fadeIn: 4, fadeOut: 0, shape: 'root' } },
    { sampleId: 'b', velocity: { low: 1, high: 60, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
  );
  const { files, notCarried } = await exportSound(sound, samples, (id) => wavs.get(id)!, 'sfz');
  expect(notCarried).toEqual([]);
  const text = new TextDecoder().decode(files[0].bytes);
  const looked = new Map<string, BroughtFile>();
  for (const { path, bytes } of files.slice(1))
    looked.set(`Folder/${path}`, lookOver(await readAudioFile(bytes), path, hash(bytes)));
  const index = new FolderIndex(looked, 'Folder');
  expect(samplePathsOf(text, 'x.sfz', () => undefined)).toEqual([
    'samples/tone_ one_.wav',
    'samples/Tone_ one_ (2).wav',
  ]);
  const back = bringSfz(
    text,
    'My_Sound.sfz',
    () => undefined,
    (path) => index.find(path),
  );
  expect(back).toMatchObject({ name: 'My_Sound', warnings: [], notCarried: [] });
  expect(back.zones.map(({ sampleId: _, ...zone }) => zone)).toEqual(
    sound.zones.map(({ sampleId: _, ...zone }) => zone),
  );
  expect(back.zones.map(({ sampleId }) => sampleId)).toEqual([hash(wavs.get('a')!), hash(wavs.get('b')!)]);
  expect(back.samples.map(({ name }) => name)).toEqual(['tone_ one_.wav', 'Tone_ one_ (2).wav']);
});

test('WAVs carry root, tuning, loop and ranges, and the rest is listed', async () => {
  const zone: Partial<Zone> = {
    root: 57,
    tune: 30,
    loop: { start: 100, end: 4000, crossfade: 50, until: 'end' },
    key: { low: 50, high: 60, fadeIn: 2, fadeOut: 0, shape: 'sine' },
    gain: -1,
    pan: 0.2,
    alternate: 1,
    reverse: true,
    params: { attack: 0.5 },
    choke: { group: 1, by: 1, fade: 'fast' },
    start: 10,
    playback: 'full-length',
    pitchPerKey: 0,
    trigger: 'release',
  };
  const { files, notCarried } = await exportSound(soundOf(zone), samples, (id) => wavs.get(id)!, 'wav');
  const read = readWav(files[0].bytes);
  // The zone plays it 30 cents higher at key 57, so it sounds at 56.7 by itself.
  expect(read).toMatchObject({
    root: 56,
    tuneCents: expect.closeTo(70, 3),
    loop: { start: 100, end: 4000 },
    range: { keyLow: 50, keyHigh: 60, velocityLow: 1, velocityHigh: 127 },
  });
  expect(read.audio.data).toEqual(readWav(wavs.get('a')!).audio.data);
  expect(notCarried.map(({ what }) => what)).toEqual([
    'fades of keys or velocities',
    'gain',
    'pan',
    'start and end',
    'reversed playback',
    'full-length playback',
    'release trigger',
    'alternates',
    'choke groups',
    'pitch per key',
    'the crossfade of a loop',
    'attack',
  ]);
});

test('files of a folder are found whatever their case and slashes, and never outside it', () => {
  const index = new FolderIndex(
    [
      ['Kit/Samples/A.wav', 1],
      ['other.wav', 2],
    ] as const,
    'Kit',
  );
  expect(index.find('samples\\a.WAV')).toBe(1);
  expect(index.find('../other.wav')).toBe(2);
  expect(index.find('../../other.wav')).toBeUndefined();
  expect(index.find('none.wav')).toBeUndefined();
  expect([baseName('a/b.c.wav'), folderOf('a/b/c.wav'), folderOf('c.wav'), stemOf('a/b.c.wav')]).toEqual([
    'b.c.wav',
    'a/b',
    '',
    'b.c',
  ]);
});

test('a file is looked over: what the plan wants, the sample, its levels', async () => {
  const bytes = writeWav(
    { rate: 22050, channels: 2, data: new Float32Array(2000).fill(0.25) },
    { root: 40, tuneCents: 10 },
  );
  const { plan, sample, levels } = lookOver(await readAudioFile(bytes), 'soft/x.wav', 'id');
  expect(sample).toEqual({ id: 'id', name: 'x.wav', rate: 22050, channels: 2, frames: 1000 });
  expect(plan).toMatchObject({
    path: 'soft/x.wav',
    sampleId: 'id',
    root: 40,
    tuneCents: expect.closeTo(-10, 3),
    frames: 1000,
  });
  expect(levels.peakDb).toBeCloseTo(-12.04, 1);
});

test('a sound is tried on the key nearest to middle C that answers, by those zones alone', () => {
  const zone = (low: number, high: number, velocityHigh = 127, trigger: 'attack' | 'release' = 'attack') => ({
    ...newZone('s', 60),
    key: { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
    velocity: { low: 1, high: velocityHigh, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
    trigger,
  });
  expect(answersNearMiddleC([zone(0, 40), zone(70, 80), zone(60, 60, 99), zone(60, 60, 127, 'release')], 100)).toEqual({
    key: 70,
    zones: [zone(70, 80)],
  });
  expect(answersNearMiddleC([zone(0, 127), zone(0, 127)], 100)).toMatchObject({ key: 60, zones: [{}, {}] });
  expect(answersNearMiddleC([zone(0, 127, 90)], 100)).toBeUndefined();
});
