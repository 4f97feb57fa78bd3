import fc from 'fast-check';
import { newPatch, newRig } from '../rig/defaults';
import { applyPlan } from '../rig/edits/plans';
import { partsOfName } from './nameParts';
import { readNames } from './names';
import { naturalCompare } from './naturalOrder';
import { stretchedKeys } from './stretch';
import { gapsAndOverlaps, parseRanges, shareOut, withSoftEdges } from './velocities';
import { file, plan } from '../../../tests/kit/mapping';

describe('sharing out velocities', () => {
  // Common practice, no source: 16 dynamics share out as 1–7, 8–15, 16–23 … 120–127.
  test('sixteen', () => {
    const ranges = shareOut(16);
    expect(ranges.slice(0, 3)).toEqual([
      { low: 1, high: 7 },
      { low: 8, high: 15 },
      { low: 16, high: 23 },
    ]);
    expect(ranges[15]).toEqual({ low: 120, high: 127 });
  });
  test('every count from 1 to 127 covers 1–127 with no gap and no overlap', () => {
    for (let count = 1; count <= 127; count++) {
      const ranges = shareOut(count);
      expect(ranges[0].low).toBe(1);
      expect(ranges[count - 1].high).toBe(127);
      ranges.forEach(({ low, high }, i) => {
        expect(high).toBeGreaterThanOrEqual(low);
        if (i > 0) expect(low).toBe(ranges[i - 1].high + 1);
      });
    }
    expect(() => shareOut(0)).toThrow(RangeError);
    expect(() => shareOut(128)).toThrow(RangeError);
  });
  // Common practice, no source: three dynamics by hand.
  test('by hand', () => {
    const three = [
      { low: 1, high: 39 },
      { low: 40, high: 79 },
      { low: 80, high: 127 },
    ];
    expect(parseRanges('1–39, 40–79, 80–127')).toEqual(three);
    expect(parseRanges('39; 79; 127')).toEqual(three);
    expect(gapsAndOverlaps(three)).toEqual([]);
    expect(
      gapsAndOverlaps([
        { low: 1, high: 40 },
        { low: 40, high: 60 },
        { low: 70, high: 120 },
      ]),
    ).toEqual(['velocities 40 sound twice', 'velocities 61–69 are silent', 'velocities 121–127 are silent']);
  });
  test.each([
    ['', 'type ranges'],
    ['1-200', 'leaves the velocities'],
    ['9-3', 'upside down'],
    ['soft', 'no range such as'],
  ])('%j is refused', (text, message) => expect(parseRanges(text)).toContain(message));
  test('soft edges keep constant power over the border', () => {
    const [soft, hard] = withSoftEdges(
      [
        { low: 1, high: 63 },
        { low: 64, high: 127 },
      ],
      9,
    );
    expect(soft.high - hard.low).toBe(soft.fadeOut);
    expect(soft.fadeOut).toBe(hard.fadeIn);
    let both = 0;
    for (let v = hard.low; v <= soft.high; v++) {
      const down = Math.sin((Math.PI / 2) * Math.min(1, (soft.high - v) / soft.fadeOut));
      const up = Math.sin((Math.PI / 2) * Math.min(1, (v - hard.low) / hard.fadeIn));
      expect(down ** 2 + up ** 2).toBeCloseTo(1, 12);
      if (down > 1e-9 && up > 1e-9) both++;
    }
    expect(both).toBe(9);
  });
});

test('files come in the order in which people count', () => {
  const names = ['take 10.wav', 'take 9.wav', 'b/1.wav', 'a/2.wav', 'a/11.wav', 'take 1.wav'];
  expect([...names].sort(naturalCompare)).toEqual([
    'a/2.wav',
    'a/11.wav',
    'b/1.wav',
    'take 1.wav',
    'take 9.wav',
    'take 10.wav',
  ]);
});

describe('stretching', () => {
  const roots = [48, 51, 60];
  test.each([
    [
      'nearest',
      [
        [0, 49],
        [50, 55],
        [56, 127],
      ],
    ],
    [
      'up',
      [
        [0, 50],
        [51, 59],
        [60, 127],
      ],
    ],
    [
      'down',
      [
        [0, 48],
        [49, 51],
        [52, 127],
      ],
    ],
    [
      'none',
      [
        [48, 48],
        [51, 51],
        [60, 60],
      ],
    ],
  ] as const)('%s', (stretch, expected) =>
    expect([...stretchedKeys(roots, stretch).values()].map(({ low, high }) => [low, high])).toEqual(expected),
  );
  test('no key is dead and none has two, whatever the roots', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 127 }), { minLength: 1 }),
        fc.constantFrom('nearest' as const, 'up' as const, 'down' as const),
        (some, stretch) => {
          const owners = new Array<number>(128).fill(0);
          for (const { low, high } of stretchedKeys(some, stretch).values())
            for (let key = low; key <= high; key++) owners[key]++;
          expect(owners.every((count) => count === 1)).toBe(true);
        },
      ),
    );
  });
});

describe('parts of names', () => {
  const texts = (name: string) => partsOfName(name).map((part) => `${part.text}:${part.kind}`);
  test.each([
    ['F#3_v12_rr2.wav', ['F#3:note', 'v12:numbered', 'rr2:numbered']],
    ['HullC4.wav', ['Hull:word', 'C4:note']],
    ['soft/Gb3 take 2.aif', ['soft:word', 'Gb3:note', 'take:word', '2:digits']],
    ['Bass3-fs3-v80.flac', ['Bass:word', '3:digits', 'fs3:note', 'v80:numbered']],
    ['Low A-1 pp.wav', ['Low:word', 'A-1:note', 'pp:word']],
    ['036.wav', ['036:digits']],
  ])('%s', (name, expected) => expect(texts(name)).toEqual(expected));
});

describe('reading names', () => {
  const read = (paths: string[], ...rest: [(3 | 4 | 5)?, Record<number, never>?]) => readNames(paths, ...rest);
  test('notes, dynamics and alternates in one guess', () => {
    const paths = ['C3', 'F#3', 'Bb4'].flatMap((note) =>
      [1, 2, 12].flatMap((v) => [1, 2].map((rr) => `Wire ${note}_v${v}_rr${rr}.wav`)),
    );
    const { files, dynamics, alternates, explanation } = read(paths);
    expect(files[0]).toMatchObject({ key: 48, dynamic: 'v1', alternate: 'rr1' });
    expect(files[17]).toMatchObject({ key: 70, dynamic: 'v12', alternate: 'rr2' });
    expect(dynamics).toEqual(['v1', 'v2', 'v12']);
    expect(alternates).toEqual(['rr1', 'rr2']);
    expect(explanation.join(' ')).toContain('name 3 notes, with middle C as C4');
  });
  test.each([
    [3, 72],
    [4, 60],
    [5, 48],
  ] as const)('middle C as C%i makes C4 key %i', (middleC, key) =>
    expect(read(['a C4.wav', 'a D4.wav'], middleC).files[0].key).toBe(key),
  );
  test('fs3, Gb3 and F#3 are one key', () =>
    expect(new Set(['fs3', 'Gb3', 'F#3'].map((note) => read([`${note}.wav`]).files[0].key))).toEqual(new Set([54])));
  test('velocities are told from counted dynamics', () => {
    const { files } = read(['C3 vel40.wav', 'C3 vel80.wav', 'C3 vel127.wav']);
    expect(files.map((file) => file.velocity)).toEqual([40, 80, 127]);
  });
  test('letters and words are dynamics and alternates', () => {
    const { dynamics, files } = read([
      'D2 ff_a.wav',
      'D2 ff_b.wav',
      'D2 pp_a.wav',
      'D2 pp_b.wav',
      'D2 mf_a.wav',
      'D2 mf_b.wav',
    ]);
    expect(dynamics).toEqual(['pp', 'mf', 'ff']);
    expect(files[1].alternate).toBe('b');
  });
  test('key numbers are told from running counts', () => {
    expect(read(['bell 048.wav', 'bell 060.wav', 'bell 072.wav']).files.map((file) => file.key)).toEqual([48, 60, 72]);
    const run = read(Array.from({ length: 20 }, (_, i) => `fx ${i + 1}.wav`));
    expect(run.files.every((file) => file.key === null)).toBe(true);
    expect(run.files[10].run).toBe(11);
  });
  test('folders with the same notes are dynamics', () => {
    const { dynamics } = read(
      ['soft', 'mid', 'hard'].flatMap((folder) => ['C3', 'D3'].map((note) => `${folder}/${note}.wav`)),
    );
    expect(dynamics).toEqual(['soft', 'mid', 'hard']);
    expect(
      read(['one', 'two'].flatMap((folder) => ['C3', 'D3'].map((note) => `${folder}/${note}.wav`))).dynamics,
    ).toEqual(['one', 'two']);
  });
  test('a guess gives way to what a person says of a part', () => {
    const paths = ['60 1.wav', '60 2.wav', '62 1.wav', '62 2.wav'];
    expect(readNames(paths).files[3]).toMatchObject({ key: 62, alternate: '2', dynamic: null });
    expect(readNames(paths, 4, { 1: 'dynamic' }).files[3]).toMatchObject({ key: 62, alternate: null, dynamic: '2' });
    expect(readNames(paths, 4, { 0: 'nothing', 1: 'nothing' }).files[3]).toMatchObject({
      key: null,
      alternate: null,
      dynamic: null,
    });
  });
  test('never throws', () => {
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 30 }), (paths) => {
        readNames(paths);
      }),
    );
  });
});

describe('what velocity does to the level', () => {
  const dynamics = (levels: readonly number[]) => levels.map((levelDb, n) => file(`C3 v${n + 1}.wav`, { levelDb }));
  test('nothing on top of recorded dynamics, and the plan says so', () => {
    const made = plan(dynamics([-50, -30, -10]), {});
    expect(made.rows.map((row) => row.levelFollows)).toEqual([0, 0, 0]);
    expect(made.explanation.join()).toContain('level follows velocity: 0 %');
    const { rig } = applyPlan(
      { ...newRig('r', 'R'), patches: [newPatch('p', 'P')] },
      made,
      dynamics([-50, -30, -10]),
      [],
      { soundId: null, name: 'Drum', newId: ids(), patchId: 'p', dynamicsApart: false },
    );
    expect(rig.patches[0].layers[0].params.velocityToLevel).toBe(0);
    expect(rig.sounds[0].zones.every((zone) => zone.params.velocityToLevel === 0)).toBe(true);
  });
  test('all that it does elsewhere: one dynamic, or dynamics that were brought to one level', () => {
    expect(plan([file('C3.wav'), file('D3.wav')], {}).rows.map((row) => row.levelFollows)).toEqual([null, null]);
    const even = plan(dynamics([-20, -20.5, -20]), {});
    expect(even.rows.map((row) => row.levelFollows)).toEqual([null, null, null]);
    expect(even.explanation.join()).toContain('goes on following velocity: 100 %');
  });
  test('effects on keys sound the same at every velocity', () => {
    expect(
      plan([file('a.wav'), file('b.wav')], { layout: 'effects', from: 36 }).rows.map((row) => row.levelFollows),
    ).toEqual([0, 0]);
  });
});

describe('sounds to choose from', () => {
  const heard = (key: number, clarity = 0.99) => ({ key, cents: 10, clarity });
  test('each has a root of its own: of its name, of the file, by ear, or one for all', () => {
    const files = [
      file('bell C5.wav'),
      file('bell E4.wav', { root: 20 }),
      file('horn.wav', { root: 50 }),
      file('gong.wav', { pitch: heard(45) }),
      file('wind.wav', { pitch: heard(70, 0.2) }),
    ];
    const made = plan(files, { list: true });
    expect(made.rows.map((row) => [row.root, row.keyLow, row.keyHigh, row.sound])).toEqual([
      [72, 0, 127, 0],
      [64, 0, 127, 1],
      [50, 0, 127, 2],
      [45, 0, 127, 3],
      [60, 0, 127, 4],
    ]);
  });
  test('forty recordings of one pitch are in tune with one another', () => {
    const files = Array.from({ length: 40 }, (_, n) => file(`take ${n + 1}.wav`, { pitch: heard(57) }));
    for (const layout of ['names', 'run', 'pitch'] as const) {
      const made = plan(files, { layout, from: 36, list: true });
      expect(new Set(made.rows.map((row) => row.root))).toEqual(new Set([57]));
      const { rig } = applyPlan({ ...newRig('r', 'R'), patches: [newPatch('p', 'P')] }, made, files, [], {
        soundId: null,
        name: 'Takes',
        newId: ids(),
        patchId: 'p',
        dynamicsApart: false,
        oneList: true,
      });
      expect(rig.patches[0].layers).toHaveLength(1);
      expect(rig.patches[0].layers[0].list).toHaveLength(40);
      expect(
        rig.sounds.every(({ zones }) => zones[0].root === 57 && zones[0].tune === -10 && zones[0].key.low === 0),
      ).toBe(true);
      expect(made.explanation.join()).toContain('40 by ear');
    }
  });
});

const ids = () => {
  let n = 0;
  return () => `id${++n}`;
};
