import fc from 'fast-check';
import { newSound, newZone, fullWindow } from '../rig/defaults';
import { readRig } from '../rig/read';
import { newRig } from '../rig/defaults';
import type { Sound } from '../rig/schema';
import { FileError } from './fileError';
import { FolderIndex } from './folder';
import { readSfz } from './sfzRead';
import { readSfzText } from './sfzText';
import { writeSfz } from './sfzWrite';
import { read, zones } from '../../../tests/kit/sfz';

describe('what stands nearer wins', () => {
  const keys = (text: string) => {
    const { key, root } = read(text).zones[0];
    return [key.low, key.high, root];
  };
  test('key stands for three opcodes, each of which counts where it is said as near', () => {
    expect(keys('<group> lokey=36 hikey=48 pitch_keycenter=40 <region> sample=a.wav key=60')).toEqual([60, 60, 60]);
    expect(keys('<group> key=60 <region> sample=a.wav lokey=50')).toEqual([50, 60, 60]);
    expect(keys('<group> key=60 <region> sample=a.wav pitch_keycenter=48')).toEqual([60, 60, 48]);
    expect(keys('<region> sample=a.wav pitch_keycenter=48 lokey=20 key=60')).toEqual([20, 60, 48]);
    expect(keys('<global> lokey=1 hikey=2 <master> key=70 <group> hikey=80 <region> sample=a.wav')).toEqual([
      70, 80, 70,
    ]);
  });
  test('two spellings of an opcode are one', () => {
    expect(
      read('<group> loop_mode=one_shot <region> sample=a.wav loopmode=loop_sustain loopstart=3 loop_end=9').zones[0],
    ).toMatchObject({ playback: 'while-held', loop: { start: 3, end: 10, until: 'release' } });
    expect(read('<group> polyphony_group=4 offby=5 <region> sample=a.wav group=6').zones[0].choke).toEqual({
      group: 6,
      by: 5,
      fade: 'fast',
    });
  });
});

describe('directives and comments', () => {
  const zoneOf = (text: string, files: Record<string, string> = {}) => read(text, files).zones[0];
  test('a define can be given anew, and stands anywhere in a line with others and after a header', () => {
    expect(
      read(
        '#define $K 60 #define $L 62 <region> sample=a.wav key=$K <region> sample=a.wav key=$L\n<region> #define $K 64\nsample=a.wav key=$K',
      ).zones.map((zone) => zone.root),
    ).toEqual([60, 62, 64]);
    expect(zoneOf('<group>#define $V 0.5 ampeg_attack=$V <region> sample=a.wav').params.attack).toBe(0.5);
    expect(zoneOf('<group> key=61 #include "more.sfz"', { 'more.sfz': '<region> sample=a.wav' }).root).toBe(61);
    expect(zoneOf('#define $A 6\n#define $B $A5\n<region> sample=a.wav key=$B').root).toBe(65);
  });
  test('a comment at the end of a value is none of it', () => {
    expect(zoneOf('<region> key=60//low lokey=3\nsample=a.wav//end')).toMatchObject({
      root: 60,
      sampleId: 'a.wav',
      key: { low: 60 },
    });
    expect(zoneOf('<region> sample=a//b.wav // key=3')).toMatchObject({ sampleId: 'a/b.wav', root: 60 });
  });
});

test('a folder above the file is reached where it lies in what was given, in any spelling of its accents', () => {
  const files = new FolderIndex([['Töne/e\u0301.wav', 'found']], 'Presets');
  const paths: string[] = [];
  readSfz(
    '<control> default_path=../To\u0308ne/\n<region> sample=é.wav',
    'x.sfz',
    () => undefined,
    (path) => {
      paths.push(path);
      return undefined;
    },
  );
  expect(files.find(paths[0])).toBe('found');
  expect(files.find('../../x')).toBeUndefined();
});

test('a round with silent turns stays one; filled rounds count themselves', () => {
  const turns = (text: string) => read(text).zones.map(({ alternate, turns: count }) => [alternate, count]);
  expect(turns('<region> sample=a.wav key=60 seq_length=2 seq_position=2')).toEqual([[1, 2]]);
  expect(
    turns('<group> seq_length=2 key=60 <region> sample=a.wav seq_position=1 <region> sample=b.wav seq_position=2'),
  ).toEqual([
    [0, null],
    [1, null],
  ]);
  const { zones } = read('<region> sample=a.wav seq_length=2 seq_position=2');
  expect(writeSfz(newSound('s', 'S', zones), (id) => id).text).toContain('seq_length=2 seq_position=2');
});

test('a sustain without a decay is there at once', () => {
  expect(read('<region> sample=a.wav ampeg_sustain=50').zones[0].params).toMatchObject({
    decay: 0.001,
    sustain: expect.closeTo(-6.02, 2),
  });
  expect(read('<region> sample=a.wav ampeg_sustain=50 ampeg_decay=2').zones[0].params.decay).toBe(2);
});

describe('writing', () => {
  test('rig → SFZ → rig keeps every carried value, and so does the next round', () => {
    fc.assert(
      fc.property(fc.array(zones, { minLength: 1, maxLength: 8 }), (some) => {
        const sound: Sound = newSound('s', 'S', some);
        const text = writeSfz(sound, (id) => id).text;
        const first = read(text);
        expect(first.warnings).toEqual([]);
        expect(first.notCarried).toEqual([]);
        const second = read(writeSfz({ ...sound, zones: first.zones }, (id) => id).text);
        first.zones.forEach((zone, i) => {
          expect(zone).toEqual(roughly(some[i]));
          expect(second.zones[i]).toEqual(roughly(zone));
        });
        const rig = {
          ...newRig('r', 'R'),
          sounds: [{ ...sound, zones: first.zones }],
          samples: [{ id: 'a.wav', name: 'a', rate: 44100, channels: 1, frames: 1000 }],
        };
        expect(
          readRig({
            ...rig,
            sounds: rig.sounds.map((each) => ({
              ...each,
              zones: each.zones.map((zone) => ({ ...zone, sampleId: 'a' })),
            })),
            samples: [{ ...rig.samples[0], id: 'a' }],
          }),
        ).toBeTruthy();
      }),
      { numRuns: 150 },
    );
  });
  test('alternates become sequences, or slices of chance', () => {
    const alternates = [0, 1, 2].map((alternate) => ({ ...newZone('a.wav', 60), alternate }));
    expect(
      read(writeSfz(newSound('s', 'S', alternates), (id) => id).text).zones.map(({ alternate }) => alternate),
    ).toEqual([0, 1, 2]);
    const random = writeSfz({ ...newSound('s', 'S', alternates), alternation: 'random' }, (id) => id).text;
    expect(random).toContain('hirand=0.3333333333333333');
    expect(read(random).zones[2].windows[0]).toMatchObject({ source: 'random.8', high: 1 });
  });
  test('alternates on unequal ranges are one round, which is told; choke group 0 gets a number that means something', () => {
    const alternates = [0, 1].map((alternate) => ({
      ...newZone('a.wav', 60),
      key: { ...newZone('a', 60).key, high: 60 + alternate },
      alternate,
      choke: { group: 0, by: 3, fade: 'fast' as const },
    }));
    const { text, notCarried } = writeSfz(newSound('s', 'S', alternates), (id) => id);
    expect(read(text).zones.map(({ alternate, choke }) => [alternate, choke])).toEqual([
      [0, { group: 4, by: 3, fade: 'fast' }],
      [1, { group: 4, by: 3, fade: 'fast' }],
    ]);
    expect(notCarried).toEqual([
      { what: 'alternates on unequal ranges (written as one round for all of them)', count: 2 },
    ]);
  });
  test('what SFZ has no words for is listed', () => {
    const zone = {
      ...newZone('a.wav', 60),
      windows: [{ ...fullWindow('macro.1'), low: 0.5 }],
      loop: { start: 0, end: 9, crossfade: 3, until: 'end' as const },
      key: { low: 0, high: 90, fadeIn: 0, fadeOut: 5, shape: 'sine' as const },
    };
    expect(
      writeSfz({ ...newSound('s', 'S', [zone]), alternation: 'shuffled' }, (id) => id).notCarried.map(
        ({ what }) => what,
      ),
    ).toEqual([
      'the sine shape of a fade (written as root, of constant power too)',
      'the crossfade of a loop',
      'a window on macro.1',
    ]);
  });
});

/**
 * The same with numbers as close as their way through decibels and percents leaves them. A full-length playback has no
 * loop.
 */
function roughly(value: unknown): unknown {
  if (typeof value === 'number') return expect.closeTo(value, 6);
  if (Array.isArray(value)) return value.map(roughly);
  if (value !== null && typeof value === 'object')
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, roughly(inner)]));
  return value;
}

test('whatever the text, it is read or refused with a place', () => {
  const good =
    '<control> default_path=x/\n<global> volume=-3\n<group> lokey=c2 xfin_lokey=30\n<region> sample=a.wav seq_length=3 loop_mode=loop_sustain cutoff=500 #define $A 1';
  const bits = fc.array(
    fc.oneof(
      fc.constantFrom(
        '<region>',
        'sample=a.wav',
        'lokey=',
        '=',
        '$',
        '#define',
        '#include "x"',
        '/*',
        '*/',
        '//',
        '\n',
        'xfin_hicc999=5',
        'loop_start=1e99',
        'tune=NaN',
      ),
      fc.string({ maxLength: 5 }),
    ),
    { maxLength: 40 },
  );
  fc.assert(
    fc.property(bits, fc.integer({ min: 0, max: good.length }), (some, cut) => {
      for (const text of [some.join(' '), good.slice(0, cut) + some.join(' ') + good.slice(cut)]) {
        try {
          read(text);
          readSfzText(text, 'x', () => undefined, { region: () => undefined });
        } catch (error) {
          expect(error).toBeInstanceOf(FileError);
        }
      }
    }),
    { numRuns: 300 },
  );
});
