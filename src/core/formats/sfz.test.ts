import fc from 'fast-check';
import { fullWindow } from '../rig/defaults';
import type { Zone } from '../rig/schema';
import { gainOfWindow } from '../space/window';
import { FileError } from './fileError';
import { cleanPath } from './paths';
import { readSfzText } from './sfzText';
import { read } from '../../../tests/kit/sfz';

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
