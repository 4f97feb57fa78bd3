import fc from 'fast-check';
import { readNames } from './names';
import { FOLDER_MEANINGS } from './folders';
import { stereoPairs } from './stereoPairs';
import { layoutWithoutKeys } from './plan';
import { LAYOUTS } from './planModel';
import { file, plan, ranges } from '../../../tests/kit/mapping';

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
