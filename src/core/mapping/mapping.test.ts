import fc from 'fast-check';
import { newPatch, newRig } from '../rig/defaults';
import { applyPlan } from '../rig/edits/plans';
import { partsOfName } from './nameParts';
import { readNames } from './names';
import { naturalCompare } from './naturalOrder';
import { FOLDER_MEANINGS } from './folders';
import { stereoPairs } from './stereoPairs';
import { layoutWithoutKeys, makePlan } from './plan';
import { LAYOUTS, PLAN_DEFAULTS, type PlanFile, type PlanOptions } from './planModel';
import { stretchedKeys } from './stretch';
import { gapsAndOverlaps, parseRanges, shareOut, withSoftEdges } from './velocities';

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
const file = (path: string, more: Partial<PlanFile> = {}): PlanFile => ({
  path,
  sampleId: path,
  frames: 100,
  levelDb: -20,
  root: null,
  tuneCents: 0,
  loop: null,
  ...more,
});
const plan = (files: PlanFile[], options: Partial<PlanOptions>) => makePlan(files, { ...PLAN_DEFAULTS, ...options });
const ranges = (made: ReturnType<typeof plan>) =>
  made.rows.map((row) => [row.keyLow, row.root, row.keyHigh, row.velocityLow, row.velocityHigh]);

describe('folders', () => {
  const hits = (folder: string, levels: number[], names = levels.map((_, i) => `${i + 1}.wav`)) =>
    levels.map((levelDb, i) => file(`Kit/${folder}/${names[i]}`, { levelDb }));
  const run = (folder: string, count: number, levelDb: number) => hits(folder, new Array<number>(count).fill(levelDb));
  const places = (made: ReturnType<typeof plan>) =>
    made.rows.map((row) => [row.root, row.velocityLow, row.velocityHigh]);
  test.each([
    ['names', 36],
    ['run', 36],
    ['effects', 21],
  ] as const)('equal runs by words are dynamics in the layout %s, each from the first key', (layout, from) => {
    const files = ['high', 'low', 'mid'].flatMap((folder) =>
      ['a', 'b'].map((_, i) => file(`${folder}/${layout === 'names' ? `n ${36 + i}` : i + 1}.wav`)),
    );
    const made = plan(files, { layout, from, stretch: 'none' });
    expect(made.dynamics).toEqual(['low', 'mid', 'high']);
    expect(places(made)).toEqual([
      [from, 85, 127],
      [from + 1, 85, 127],
      [from, 1, 42],
      [from + 1, 1, 42],
      [from, 43, 84],
      [from + 1, 43, 84],
    ]);
    expect(made.explanation[0]).toContain('dynamics, soft to hard (by their names)');
    expect(made.warnings.join()).not.toContain('share one place');
  });
  test('equal runs without words are dynamics by their measured levels', () => {
    const made = plan([...run('A', 4, -6), ...run('B', 4, -30), ...run('C', 4, -18)], { layout: 'run', from: 60 });
    expect(made.dynamics).toEqual(['B', 'C', 'A']);
    expect(made.explanation[0]).toContain('equal runs, by their measured levels');
  });
  test('unequal runs, or runs as loud as one another, are separate sounds', () => {
    const made = plan([...run('Wire', 3, -20), ...run('Reed', 4, -20)], { layout: 'run', from: 60 });
    expect(made.sounds).toEqual(['Reed', 'Wire']);
    expect(made.rows.map((row) => [row.sound, row.root])).toEqual([
      [1, 60],
      [1, 61],
      [1, 62],
      [0, 60],
      [0, 61],
      [0, 62],
      [0, 63],
    ]);
  });
  test('alternates by their names, or because somebody says so', () => {
    const made = plan([...run('rr1', 2, -20), ...run('rr2', 2, -20)], { layout: 'run', from: 60 });
    expect(made.rows.map((row) => [row.root, row.alternate])).toEqual([
      [60, 0],
      [61, 0],
      [60, 1],
      [61, 1],
    ]);
    expect(
      plan([...run('Wire', 2, -20), ...run('Reed', 2, -20)], { layout: 'run', folders: 'alternates' }).rows.map(
        (row) => row.alternate,
      ),
    ).toEqual([1, 1, 0, 0]);
  });
  // Keys: General MIDI percussion map.
  test('a kit of folders is put on the drum keys that their names tell, with dynamics and alternates inside', () => {
    const made = plan(
      [
        ...['soft', 'hard'].flatMap((d) => hits(`Kick/${d}`, [-20, -20])),
        ...hits('Snare', [-30, -18, -6]),
        ...hits('Hat Closed', [-20, -21]),
        ...hits('Hat Open', [-20]),
        ...hits('Low Tom', [-20]),
        ...hits('Foghorn', [-20]),
      ],
      { layout: 'names', from: 60 },
    );
    expect(made.folders?.meaning).toBe('pads');
    expect(made.rows.map((row) => [row.root, row.velocityLow, row.velocityHigh, row.alternate])).toEqual([
      [36, 1, 63, 0],
      [36, 1, 63, 1],
      [36, 64, 127, 0],
      [36, 64, 127, 1],
      [38, 1, 42, null],
      [38, 43, 84, null],
      [38, 85, 127, null],
      [42, 1, 127, 0],
      [42, 1, 127, 1],
      [46, 1, 127, null],
      [45, 1, 127, null],
      [60, 1, 127, null],
    ]);
    expect(made.rows.every((row) => row.fullLength && row.keyLow === row.root && row.keyHigh === row.root)).toBe(true);
    expect(made.explanation.join()).toMatch(/Foghorn: C4 \(60\), a free key/);
  });
  test('so is a kit of names alone', () => {
    const made = plan(
      ['kick_v1_rr1', 'kick_v1_rr2', 'kick_v2_rr1', 'kick_v2_rr2', 'snare_v1', 'snare_v2', 'hihat open'].map((name) =>
        file(`${name}.wav`),
      ),
      { layout: 'kit' },
    );
    expect(made.rows.map((row) => [row.root, row.velocityHigh, row.alternate])).toEqual([
      [36, 63, 0],
      [36, 63, 1],
      [36, 127, 0],
      [36, 127, 1],
      [38, 63, null],
      [38, 127, null],
      [46, 127, null],
    ]);
  });
  test('numbers that count a series are alternates: kick 1 … 5 and snare 1 … 3 are two drums, not five', () => {
    const names = [...[1, 2, 3, 4, 5].map((n) => `kick ${n}`), ...[1, 2, 3].map((n) => `snare ${n}`), 'ride 2'];
    const files = names.map((name, n) => file(`${name}.wav`, { levelDb: -10 - 4 * (n % 3) }));
    expect(layoutWithoutKeys(files)).toMatchObject({ layout: 'kit', fallback: true });
    const made = plan(files, { ...layoutWithoutKeys(files) });
    expect(made.rows.map((row) => [row.root, row.velocityLow, row.velocityHigh, row.alternate])).toEqual([
      ...[0, 1, 2, 3, 4].map((n) => [36, 1, 127, n]),
      ...[0, 1, 2].map((n) => [38, 1, 127, n]),
      [59, 1, 127, null],
    ]);
    expect(made.explanation.join()).toMatch(/the names tell drums.*kick: .*5 alternates.*snare: .*3 alternates/);
  });
  test('one file with the name of a drum goes on its key, one with another name does not', () => {
    expect(layoutWithoutKeys([file('Kick.wav')]).layout).toBe('kit');
    expect(plan([file('Kick.wav')], { layout: 'kit', from: 36 }).rows[0]).toMatchObject({
      root: 36,
      keyLow: 36,
      keyHigh: 36,
      fullLength: true,
    });
    expect(layoutWithoutKeys([file('Foghorn.wav')]).layout).toBe('run');
  });
  test('ranges in the names of folders and files are velocities', () => {
    const byFolder = plan(
      ['64-127', '1-63'].flatMap((folder) => ['C3', 'D3'].map((note) => file(`${folder}/${note}.wav`))),
      {},
    );
    expect(byFolder.rows.map((row) => [row.velocityLow, row.velocityHigh])).toEqual([
      [64, 127],
      [64, 127],
      [1, 63],
      [1, 63],
    ]);
    const byName = plan(
      ['C3 1-40', 'C3 41-100', 'C3 101-127'].map((name) => file(`${name}.wav`)),
      {},
    );
    expect(byName.rows.map((row) => [row.root, row.velocityLow, row.velocityHigh])).toEqual([
      [48, 1, 40],
      [48, 41, 100],
      [48, 101, 127],
    ]);
  });
  test('folders inside a sound are read once more', () => {
    const made = plan(
      ['Wire', 'Reed'].flatMap((sound) =>
        ['soft', 'hard'].flatMap((d) => ['C3', 'D3'].map((note) => file(`${sound}/${d}/${note}.wav`))),
      ),
      {},
    );
    expect(made.sounds).toEqual(['Reed', 'Wire']);
    expect(made.rows.slice(0, 4).map((row) => [row.sound, row.root, row.velocityLow])).toEqual([
      [1, 48, 1],
      [1, 50, 1],
      [1, 48, 64],
      [1, 50, 64],
    ]);
  });
  test('never throws, and every file has its row', () => {
    const path = fc
      .array(fc.constantFrom('a', 'Kick', 'soft', 'rr1', '1-63', '64-127', 'C3', '', '..', '12'), {
        minLength: 1,
        maxLength: 4,
      })
      .map((parts) => `${parts.join('/')}.wav`);
    fc.assert(
      fc.property(
        fc.array(path, { maxLength: 20 }),
        fc.constantFrom(...LAYOUTS),
        fc.constantFrom('auto' as const, ...FOLDER_MEANINGS),
        (paths, layout, folders) => {
          const { rows } = plan(
            paths.map((each) => file(each)),
            { layout, folders },
          );
          expect(rows.map((row) => row.file)).toEqual(paths.map((_, i) => i));
        },
      ),
    );
  });
});

test.each([
  ['vel 1', 'vel 2', ['vel 1', 'vel 2']],
  ['velocity_1', 'velocity_2', ['velocity_1', 'velocity_2']],
  ['Layer 2', 'Layer 10', ['Layer 2', 'Layer 10']],
])('%s and %s are dynamics', (a, b, dynamics) =>
  expect(readNames([`C3 ${a}.wav`, `C3 ${b}.wav`]).dynamics).toEqual(dynamics),
);

test('of two columns of numbers the one that varies as keys do is the key, the other one velocities', () => {
  const { files } = readNames(
    [40, 52, 64].flatMap((key) => [60, 127].map((velocity) => `bell ${velocity} ${key}.wav`)),
  );
  expect(files.map((each) => [each.key, each.velocity])).toEqual([
    [40, 60],
    [40, 127],
    [52, 60],
    [52, 127],
    [64, 60],
    [64, 127],
  ]);
});

test('names that were not understood are said where the files go one after another instead', () => {
  expect(plan([file('wash.wav'), file('drip.wav')], { layout: 'run', from: 36, fallback: true }).explanation[0]).toBe(
    'the names say nothing about keys (“wash.wav”, “drip.wav”), so the files go one after another',
  );
});

test('left and right files are one recording, where both are there and no row of letters runs through them', () => {
  expect(stereoPairs(['C3_L.wav', 'C3_R.wav', 'D3-left.wav', 'D3-Right.wav', 'E3_L.wav', 'Control.wav'])).toEqual([
    { path: 'C3.wav', left: 'C3_L.wav', right: 'C3_R.wav' },
    { path: 'D3.wav', left: 'D3-left.wav', right: 'D3-Right.wav' },
    { path: 'E3_L.wav', left: 'E3_L.wav', right: null },
    { path: 'Control.wav', left: 'Control.wav', right: null },
  ]);
  expect(
    stereoPairs(['a_K.wav', 'a_L.wav', 'a_R.wav', 'x/L.wav', 'x/R.wav']).every((each) => each.right === null),
  ).toBe(true);
});

describe('layouts', () => {
  test('48 notes in three folders become one instrument of three dynamics', () => {
    const files = ['hard', 'mid', 'soft'].flatMap((folder) =>
      Array.from({ length: 48 }, (_, i) => file(`${folder}/note ${36 + i}.wav`)),
    );
    const made = plan(files, {
      layout: 'names',
      ranges: [
        { low: 1, high: 39 },
        { low: 40, high: 79 },
        { low: 80, high: 127 },
      ],
    });
    expect(made.dynamics).toEqual(['soft', 'mid', 'hard']);
    expect(made.rows.every((row) => row.placed)).toBe(true);
    expect(ranges(made)[0]).toEqual([0, 36, 36, 80, 127]);
    expect(ranges(made)[143]).toEqual([83, 83, 127, 1, 39]);
    expect(made.warnings).toEqual([]);
  });
  test('a run goes key by key, or over the white keys, and ends with them', () => {
    const files = Array.from({ length: 10 }, (_, i) => file(`${i + 1}.wav`));
    expect(plan(files, { layout: 'run', from: 60, stretch: 'none' }).rows.map((row) => row.root)).toEqual([
      60, 61, 62, 63, 64, 65, 66, 67, 68, 69,
    ]);
    expect(
      plan(files, { layout: 'run', from: 61, step: 'white', stretch: 'none' }).rows.map((row) => row.root),
    ).toEqual([62, 64, 65, 67, 69, 71, 72, 74, 76, 77]);
    expect(plan(files, { layout: 'run', from: 48, step: 3 }).rows[9]).toMatchObject({ root: 75, keyHigh: 127 });
    const late = plan(files, { layout: 'run', from: 120, stretch: 'none' });
    expect(late.rows.filter((row) => !row.placed).map((row) => row.problem)).toEqual([
      'the keys end before it',
      'the keys end before it',
    ]);
    expect(late.warnings.join()).toContain('2 of 10 files have no place');
  });
  test('sixteen takes on one key share the velocities, full-length, none stretched', () => {
    const made = plan(
      Array.from({ length: 16 }, (_, i) => file(`snare ${i + 1}.wav`)),
      { layout: 'one-key', from: 38 },
    );
    expect(ranges(made)[1]).toEqual([38, 38, 38, 8, 15]);
    expect(made.rows.every((row) => row.fullLength)).toBe(true);
  });
  test('levels and names that disagree about soft and hard are both told', () => {
    const files = [
      file('hit 1.wav', { levelDb: -6 }),
      file('hit 2.wav', { levelDb: -30 }),
      file('hit 3.wav', { levelDb: -20 }),
    ];
    const byName = plan(files, { layout: 'one-key' });
    expect(byName.warnings[0]).toContain(
      'the names say hit 1.wav, hit 2.wav, hit 3.wav, the measured levels say hit 2.wav, hit 3.wav, hit 1.wav; the names decide',
    );
    expect(plan(files, { layout: 'one-key', order: 'level' }).rows.map((row) => row.dynamic)).toEqual([2, 0, 1]);
  });
  test('alternates keep together and take turns', () => {
    const files = ['soft', 'hard'].flatMap((d) => [1, 2, 3].map((n) => file(`kick_${d}_rr${n}.wav`)));
    const made = plan(files, { layout: 'one-key', from: 36 });
    expect(made.rows.map((row) => [row.velocityLow, row.alternate])).toEqual([
      [1, 0],
      [1, 1],
      [1, 2],
      [64, 0],
      [64, 1],
      [64, 2],
    ]);
    expect(made.warnings).toEqual([]);
  });
  test('effects keep their own pitch at every velocity', () => {
    const made = plan([file('a.wav'), file('b.wav')], { layout: 'effects', from: 21 });
    expect(made.rows[1]).toMatchObject({
      root: 22,
      keyLow: 22,
      keyHigh: 22,
      pitchPerKey: 0,
      fullLength: true,
      velocityLow: 1,
      velocityHigh: 127,
    });
  });
  test('by pitch: what is unclear is left out and said, what is sharp is tuned back', () => {
    const made = plan(
      [
        file('x.wav', { pitch: { key: 57, cents: 12, clarity: 0.97 } }),
        file('y.wav', { pitch: { key: 40, cents: 0, clarity: 0.4 } }),
        file('z.wav', { pitch: null }),
      ],
      { layout: 'pitch' },
    );
    expect(made.rows[0]).toMatchObject({ placed: true, root: 57, tuneCents: -12 });
    expect(made.rows.slice(1).map((row) => row.problem)).toEqual(['unpitched (clarity 40 %)', 'unpitched']);
  });
  test('the file’s own root helps where the name says nothing', () => {
    const made = plan([file('pad one.wav', { root: 43 }), file('pad two.wav')], { layout: 'names', stretch: 'none' });
    expect(made.rows[0]).toMatchObject({ placed: true, root: 43 });
    expect(made.rows[1].problem).toContain('neither its name nor the file');
  });
  test('and its own ranges stay as they are', () => {
    const range = { keyLow: 40, keyHigh: 47, velocityLow: 64, velocityHigh: 127 };
    const made = plan(
      [file('pad one.wav', { root: 43, range }), file('pad C4.wav', { root: 43, range }), file('pad G4.wav')],
      { layout: 'names' },
    );
    expect(ranges(made)).toEqual([
      [40, 43, 47, 64, 127],
      [0, 60, 63, 1, 127],
      [64, 67, 127, 1, 127],
    ]);
    expect(made.explanation.join()).toContain('1 of the files are put where their own sampler data says');
  });
  test('the same audio in one place, and files that all sound at once, are pointed out', () => {
    const made = plan([file('C3 pad.wav', { sampleId: 'same' }), file('C3 pad copy.wav', { sampleId: 'same' })], {
      layout: 'names',
    });
    expect(made.warnings.join('\n')).toContain(
      '“C3 pad.wav” and “C3 pad copy.wav” hold the same audio in the same place',
    );
    expect(made.warnings.join('\n')).toContain('2 files share one place and would sound at once');
  });
});
