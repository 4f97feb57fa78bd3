import fc from 'fast-check';
import { newSound, newZone, fullWindow } from '../rig/defaults';
import { readRig } from '../rig/read';
import { newRig } from '../rig/defaults';
import type { Sound, Zone } from '../rig/schema';
import { gainOfWindow } from '../space/window';
import { FileError } from './fileError';
import { FolderIndex } from './folder';
import { readSfz, type SfzSample } from './sfzRead';
import { cleanPath } from './paths';
import { readSfzText } from './sfzText';
import { writeSfz } from './sfzWrite';

/** SFZ v1 opcode list as documented by sfzformat; semantics opcode by opcode. */
const sample = (path: string): SfzSample | undefined =>
  path.endsWith('.wav')
    ? {
        sampleId: path,
        frames: 1000,
        root: 62,
        tuneCents: -5,
        loop: path.includes('looped') ? { start: 100, end: 900 } : null,
      }
    : undefined;
const read = (text: string, files: Record<string, string> = {}) =>
  readSfz(text, 'test.sfz', (path) => files[path], sample);
const one = (opcodes: string): Zone => {
  const { zones } = read(`<region> sample=a.wav ${opcodes}`);
  expect(zones).toHaveLength(1);
  return zones[0];
};

describe('structure', () => {
  test('global, master, group and region inherit in this order, and begin anew', () => {
    const { zones } = read(
      '<global> volume=-1 pan=10\n<master> pan=20\n<group> pan=30 tune=5\n<region> sample=a.wav\n<region> sample=b.wav pan=40\n<group>\n<region> sample=c.wav\n<master> volume=-9\n<region> sample=d.wav',
    );
    expect(zones.map(({ gain, pan, tune }) => [gain, pan, tune])).toEqual([
      [-1, 0.3, 5],
      [-1, 0.4, 5],
      [-1, 0.2, 0],
      [-9, 0.1, 0],
    ]);
  });
  test('defines, includes, comments, paths with spaces and backslashes', () => {
    const { zones, warnings } = read(
      '#define $KEY 61\n#define $KEYS 63 // two\n<control> default_path=Loud\\\n/* nothing\n<region> sample=never.wav */\n#include "inner/more.sfz"\n<region> sample=my tone 1.wav key=$KEYS // end',
      { 'inner/more.sfz': '<region> sample=x.wav key=$KEY' },
    );
    expect(zones.map((zone) => [zone.sampleId, zone.root])).toEqual([
      ['Loud/x.wav', 61],
      ['Loud/my tone 1.wav', 63],
    ]);
    expect(warnings).toEqual([]);
  });
  test('an include of itself, of nothing or out of the folder is refused with its line', () => {
    expect(() => read('\n#include "a.sfz"', { 'a.sfz': '#include "a.sfz"' })).toThrow(
      new FileError('a.sfz, line 1', '#include "a.sfz" includes itself'),
    );
    expect(() => read('#include "test.sfz"', { 'test.sfz': '' })).toThrow('includes itself');
    expect(() => read('#include "gone.sfz"')).toThrow('test.sfz, line 1: #include "gone.sfz" is not in the folder');
    expect(() => read('#include "../../x"')).toThrow('is not in the folder');
    expect(() => read('#include "C:/x"')).toThrow('leads out of the folder');
    expect(cleanPath('a/../../b')).toBeUndefined();
    expect(cleanPath('C:\\b.wav')).toBeUndefined();
    expect(cleanPath('./a\\.\\b/../c.wav')).toBe('a/c.wav');
  });
  test('octave_offset and note_offset move keys and roots', () => {
    const { zones } = read(
      '<control> octave_offset=1 note_offset=-2\n<region> sample=a.wav lokey=40 hikey=c4 pitch_keycenter=50',
    );
    expect(zones[0]).toMatchObject({ root: 60, key: { low: 50, high: 70 } });
  });
  test('a control header holds for what follows it, until another says otherwise', () => {
    const { zones, notCarried } = read(
      '<control> default_path=one/ set_cc1=3\n<region> sample=a.wav\n<control> note_offset=12\n<region> sample=b.wav key=60\n<control> default_path=two/\n<region> sample=c.wav',
    );
    expect(zones.map(({ sampleId, root }) => [sampleId, root])).toEqual([
      ['one/a.wav', 60],
      ['one/b.wav', 72],
      ['two/c.wav', 72],
    ]);
    expect(notCarried).toEqual([{ what: 'set_cc1', count: 1 }]);
  });
  test('what a region does not inherit any more is gone, and what only one region says stays its own', () => {
    const { zones, notCarried } = read(
      '<group> volume=-3 odd=1 pan=50\n<region> sample=a.wav tune=9\n<region> sample=b.wav odd=2\n<group> pan=20\n<region> sample=c.wav volume=-1\n<region> sample=d.wav',
    );
    expect(zones.map(({ gain, pan, tune }) => [gain, pan, tune])).toEqual([
      [-3, 0.5, 9],
      [-3, 0.5, 0],
      [-1, 0.2, 0],
      [0, 0.2, 0],
    ]);
    expect(notCarried).toEqual([{ what: 'odd', count: 2 }]);
  });
  test('any line is cut where one pattern cuts it: at headers, and at names after a space or a header', () => {
    const pattern = /<\s*([a-z_]+)\s*>|(?<![^\s>])([A-Za-z0-9_]+)=/g;
    const expected = (line: string): Record<string, string>[] => {
      const regions: Record<string, string>[] = [];
      let into: Record<string, string> | undefined;
      const marks = [...line.matchAll(pattern)];
      marks.forEach((mark, i) => {
        if (mark[1] === 'region') regions.push((into = {}));
        else if (mark[1]) into = undefined;
        else if (into)
          into[mark[2].toLowerCase()] = line.slice(mark.index + mark[0].length, marks[i + 1]?.index).trim();
      });
      return regions;
    };
    const pieces = fc
      .array(
        fc.constantFrom(
          '<region>',
          '< region >',
          '<curve>',
          '<Region>',
          '<',
          '>',
          '=',
          ' ',
          '\t',
          'key=',
          'Key=60',
          'sample=a b',
          '.wav',
          'x',
          '-1',
          'é',
          'lokey=c4 ',
          '>pan=3',
        ),
        { maxLength: 25 },
      )
      .map((some) => some.join(''));
    fc.assert(
      fc.property(pieces, (line) => {
        const regions: Record<string, string>[] = [];
        readSfzText(line, 'x', () => undefined, {
          region: (opcodes) => {
            const names: string[] = [];
            opcodes.forEachUnread((name) => names.push(name));
            regions.push(Object.fromEntries(names.map((name) => [name, opcodes.take(name)!])));
          },
        });
        expect(regions).toEqual(expected(line.trim()));
      }),
      { numRuns: 2000 },
    );
  });
});

describe('opcodes', () => {
  test('keys: c4 is 60, key sets range and root', () => {
    expect(one('key=c4')).toMatchObject({ root: 60, key: { low: 60, high: 60 } });
    expect(one('lokey=f#3 hikey=Gb4 pitch_keycenter=a3')).toMatchObject({ root: 57, key: { low: 54, high: 66 } });
    expect(one('')).toMatchObject({ root: 60, key: { low: 0, high: 127 }, velocity: { low: 1, high: 127 } });
    expect(one('pitch_keycenter=sample')).toMatchObject({ root: 62, tune: -5 });
  });
  test('pitch: transpose, tune, keytrack', () => {
    const semitones = (zone: Zone, key: number) => ((key - zone.root) * zone.pitchPerKey + zone.tune) / 100;
    expect(semitones(one('pitch_keycenter=60 transpose=7 tune=-20'), 60)).toBeCloseTo(6.8, 9);
    expect(semitones(one('pitch_keycenter=60 pitch_keytrack=0 transpose=-3'), 90)).toBeCloseTo(-3, 9);
    expect(semitones(one('pitch_keycenter=120 transpose=-12'), 60)).toBeCloseTo(-72, 9);
    expect(semitones(one('tune=2400'), 60)).toBeCloseTo(24, 9);
  });
  test('level, pan, velocity tracking, bend', () => {
    expect(one('volume=-6.5 pan=-100 amp_veltrack=40 bend_up=1200 bend_down=-1200')).toMatchObject({
      gain: -6.5,
      pan: -1,
      params: { velocityToLevel: 40, bendRange: 12 },
    });
    expect(read('<region> sample=a.wav bend_up=200 bend_down=-1200').notCarried).toEqual([
      { what: 'bend_down=-1200 (bend is the same both ways)', count: 1 },
    ]);
  });
  test('offset and end', () => {
    expect(one('offset=100 end=499')).toMatchObject({ start: 100, end: 500 });
    expect(one('end=5000').end).toBeNull();
    expect(read('<region> sample=a.wav end=-1').zones).toEqual([]);
  });
  test('loops: mode and points, else those of the file', () => {
    expect(one('loop_mode=loop_continuous loop_start=10 loop_end=19').loop).toEqual({
      start: 10,
      end: 20,
      crossfade: 0,
      until: 'end',
    });
    expect(one('loop_mode=loop_sustain').loop).toEqual({ start: 0, end: 1000, crossfade: 0, until: 'release' });
    expect(one('loop_mode=one_shot')).toMatchObject({ loop: null, playback: 'full-length' });
    expect(read('<region> sample=looped.wav').zones[0].loop).toEqual({
      start: 100,
      end: 900,
      crossfade: 0,
      until: 'end',
    });
    expect(read('<region> sample=looped.wav loop_mode=no_loop').zones[0].loop).toBeNull();
    expect(read('<region> sample=a.wav loop_mode=loop_continuous loop_start=500 loop_end=20').warnings[0]).toContain(
      'does not lie in its sample',
    );
  });
  test('the amplifier’s envelope', () => {
    expect(
      one(
        'ampeg_delay=0.1 ampeg_start=20 ampeg_attack=0.5 ampeg_hold=0.2 ampeg_decay=2 ampeg_sustain=50 ampeg_release=3',
      ).params,
    ).toEqual({
      delay: 0.1,
      startLevel: 20,
      attack: 0.5,
      hold: 0.2,
      decay: 2,
      sustain: expect.closeTo(-6.02, 2),
      release: 3,
    });
    expect(one('ampeg_sustain=0').params.sustain).toBe(-60);
  });
  test('the filter', () => {
    expect(one('cutoff=800 resonance=12 fil_keytrack=100 fil_veltrack=2400').params).toEqual({
      cutoff: 800,
      resonance: expect.closeTo(2.815, 3),
      keyTrack: 100,
      velocityTrack: 24,
    });
    expect(one('cutoff=800 fil_keytrack=100 fil_keycenter=48').params.cutoff).toBeCloseTo(1600, 6);
    expect(one('fil_type=hpf_2p cutoff=300').params).toEqual({ lowCut: 300 });
    expect(read('<region> sample=a.wav fil_type=bpf_2p cutoff=300').notCarried).toEqual([
      { what: 'fil_type=bpf_2p', count: 1 },
    ]);
  });
  test('crossfades by key, velocity and controller: power is −3 dB in the middle, gain −6 dB', () => {
    const db = (window: Parameters<typeof gainOfWindow>[0], x: number) => 20 * Math.log10(gainOfWindow(window, x));
    const zone = one(
      'xfin_lokey=40 xfin_hikey=50 xfout_lokey=70 xfout_hikey=80 xfin_lovel=20 xfin_hivel=40 xf_velcurve=gain xfin_locc1=64 xfin_hicc1=127',
    );
    expect(zone.key).toEqual({ low: 40, high: 80, fadeIn: 10, fadeOut: 10, shape: 'root' });
    expect(db(zone.key, 45)).toBeCloseTo(-3.01, 2);
    expect(db(zone.key, 75)).toBeCloseTo(-3.01, 2);
    expect(db(zone.velocity, 30)).toBeCloseTo(-6.02, 2);
    expect(zone.windows).toEqual([
      { source: 'cc.1', low: 64, high: 127, fadeIn: 63, fadeOut: 0, shape: 'root', read: 'always' },
    ]);
  });
  test('a range that cuts into a fade leaves the fade where it is', () => {
    const zone = one('lokey=45 xfin_lokey=40 xfin_hikey=50 xf_keycurve=gain');
    const gain = (key: number) =>
      gainOfWindow(zone.key, key) * zone.windows.reduce((product, window) => product * gainOfWindow(window, key), 1);
    expect([44, 45, 48, 50, 127].map(gain)).toEqual([0, 0.5, expect.closeTo(0.8, 9), 1, 1]);
  });
  test('conditions on controllers, chance, bend and pressure are windows that are read when the note begins', () => {
    const once = { read: 'at-strike' as const };
    expect(one('locc64=64 hicc64=127 lorand=0.25 hirand=0.5 lobend=0 lochanaft=10 hipolyaft=90').windows).toEqual([
      { ...fullWindow('cc.64'), low: 64, ...once },
      { ...fullWindow('random.8'), low: 0.25, high: 0.5 },
      { ...fullWindow('bend'), low: 0, ...once },
      { ...fullWindow('channelPressure'), low: 10, ...once },
      { ...fullWindow('pressure'), high: 90, ...once },
    ]);
  });
  test('sequences, groups and triggers', () => {
    expect(one('seq_length=3 seq_position=2').alternate).toBe(1);
    expect(one('group=1 off_by=2 off_mode=normal').choke).toEqual({ group: 1, by: 2, fade: 'release' });
    expect(one('group=0').choke).toBeNull();
    expect(one('trigger=release').trigger).toBe('release');
    expect(read('<region> sample=a.wav trigger=legato').warnings).toEqual(['a region with trigger=legato is left out']);
  });
  test('what is not carried is listed by opcode and count, never dropped', () => {
    const { notCarried, warnings } = read(
      '<curve> v000=1\n<global> lfo01_freq=2\n<region> sample=a.wav sw_last=24 volume=loud\n<region> sample=b.wav sw_last=25 sw_lokey=20\n<region> sample=*sine\n<region> sample=gone.flac\n<region> sample=C:/up.wav',
    );
    expect(notCarried).toEqual(
      expect.arrayContaining([
        { what: 'lfo01_freq', count: 2 },
        { what: 'sw_last', count: 2 },
        { what: 'sw_lokey', count: 1 },
        { what: 'volume=loud', count: 1 },
        { what: '<curve>', count: 1 },
      ]),
    );
    expect(warnings.join('\n')).toMatch(
      /\*sine.*not carried[\s\S]*gone\.flac is not in the folder[\s\S]*up\.wav leads out/,
    );
  });
});

const edge = (least: number) =>
  fc
    .record({
      low: fc.integer({ min: least, max: 127 }),
      high: fc.integer({ min: least, max: 127 }),
      fadeIn: fc.integer({ min: 0, max: 20 }),
      fadeOut: fc.integer({ min: 0, max: 20 }),
      shape: fc.constantFrom('linear' as const, 'root' as const),
    })
    .map(({ low, high, fadeIn, fadeOut, shape }) => {
      const [a, b] = [Math.min(low, high), Math.max(low, high)];
      const f = { low: a, high: b, fadeIn: Math.min(fadeIn, b - a), fadeOut: Math.min(fadeOut, b - a) };
      return { ...f, shape: f.fadeIn + f.fadeOut > 0 ? shape : ('sine' as const) };
    });
const zones: fc.Arbitrary<Zone> = fc
  .record({
    root: fc.integer({ min: 0, max: 127 }),
    tune: fc.integer({ min: -1200, max: 1200 }),
    pitchPerKey: fc.constantFrom(100, 100, 50, 0),
    gain: fc.integer({ min: -960, max: 60 }).map((x) => x / 10),
    pan: fc.integer({ min: -100, max: 100 }).map((x) => x / 100),
    key: edge(0),
    velocity: edge(1),
    start: fc.integer({ min: 0, max: 400 }),
    end: fc.option(fc.integer({ min: 500, max: 999 })),
    reverse: fc.boolean(),
    loop: fc.option(
      fc.record({
        start: fc.integer({ min: 0, max: 400 }),
        end: fc.integer({ min: 500, max: 1000 }),
        crossfade: fc.constant(0),
        until: fc.constantFrom('end' as const, 'release' as const),
      }),
    ),
    choke: fc.option(
      fc.record({
        group: fc.integer({ min: 1, max: 9 }),
        by: fc.option(fc.integer({ min: 1, max: 9 })),
        fade: fc.constantFrom('fast' as const, 'release' as const),
      }),
    ),
    windows: fc.constantFrom<Zone['windows']>(
      [],
      [{ ...fullWindow('cc.11'), low: 20, high: 90, fadeIn: 10, fadeOut: 5, shape: 'root' }],
      [
        { ...fullWindow('cc.1'), high: 63 },
        { ...fullWindow('cc.2'), low: 9, read: 'at-strike' },
        { ...fullWindow('random.8'), low: 0.5 },
      ],
    ),
    params: fc.constantFrom<Zone['params']>(
      {},
      { attack: 0.25, sustain: -60, release: 4 },
      { cutoff: 1234.5, resonance: 3, keyTrack: 50, velocityTrack: -12 },
      { lowCut: 200, velocityToLevel: 30 },
      { delay: 1, hold: 2, startLevel: 10, bendRange: 7 },
    ),
  })
  .map((values) => ({ ...newZone('a.wav', 60), ...values, trigger: 'attack' as const }));

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
