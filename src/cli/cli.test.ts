import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { folder, rigPath, takePath, bundle, wavicle } from '../../tests/kit/commandLine';

test('show gives the outline, as it is called', () => {
  const { stdout } = spawnSync('npm', ['run', '-s', 'wavicle', '--', 'show', rigPath], { encoding: 'utf8' });
  const json = JSON.parse(stdout) as unknown;
  expect(wavicle('show', rigPath).json).toEqual(json);
  expect(json).toMatchObject({
    name: 'R',
    patches: [{ name: 'Low Tide', layers: [{ name: 'Left', sound: 'S' }, { name: 'Right' }] }],
    sounds: [{ kind: 'multisample', zones: [{ sample: 'c4.wav', root: 60, key: [0, 127], velocity: [1, 127] }] }],
  });
});

test('a reader that closes the pipe is the end, and no fault', () => {
  const { stderr, stdout } = spawnSync(
    'bash',
    ['-c', `set -o pipefail; "${process.execPath}" "${bundle}" show "${rigPath}" | head -c 20`],
    { encoding: 'utf8' },
  );
  expect([stderr, stdout.length]).toEqual(['', 20]);
});

test('a step of 0 is no step', () =>
  expect(
    wavicle(
      'bounce',
      rigPath,
      '--patch',
      'p',
      '--keys',
      '48-60/0',
      '--velocities',
      '100',
      '--seconds',
      '1',
      '--out',
      join(folder, 'b.wavicle'),
    ),
  ).toMatchObject({ status: 2, stderr: expect.stringContaining('a step of 0 leads nowhere') as string }));

test('resolve tells who sounds on either side of a split, by name or number, patch by name or id', () => {
  const layer = (...args: string[]) =>
    (wavicle('resolve', rigPath, ...args).json as unknown as { sounding: { layer: string }[] }[]).map(({ sounding }) =>
      sounding.map((answer) => answer.layer),
    );
  expect(layer('--patch', 'low tide', '--key', '59', '--velocity', '90')).toEqual([['Left']]);
  expect(layer('--patch', 'p', '--key', 'C4', '--velocity', '90', '--repeat', '2')).toEqual([['Right'], ['Right']]);
  expect(wavicle('resolve', rigPath, '--patch', 'p', '--key', '72', '--velocity', '64').json).toMatchObject([
    {
      strike: 1,
      sounding: [
        { sound: 'S', sample: 'c4.wav', gain: 1, gainDb: 0, touchDb: expect.closeTo(-11.9, 1), semitones: 12, pan: 0 },
      ],
    },
  ]);
});

const nowhere = join(folder, 'nowhere.wavicle');
test.each<[string[], number, RegExp]>([
  [
    [],
    2,
    /a command is missing; there are demo, show, resolve, render, moves, paths, check, rehearse, draw, bounce, import, export/,
  ],
  [['dance'], 2, /"dance" is no command/],
  [['show'], 2, /RIG is missing/],
  [['show', nowhere], 1, /nowhere\.wavicle: there is no such file/],
  [['show', takePath], 1, /take\.mid: this is not a rig archive/],
  [
    ['resolve', rigPath, '--patch', 'X', '--key', '60', '--velocity', '90'],
    1,
    /--patch X: the rig has no such patch; it has Low Tide/,
  ],
  [['resolve', rigPath, '--patch', 'p', '--key', 'H9', '--velocity', '90'], 2, /--key H9: expected/],
  [
    ['resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '0'],
    2,
    /--velocity 0: expected a whole number from 1 to 127/,
  ],
  [
    ['resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '9', '--set', 'cc.1=900'],
    2,
    /cc\.1 goes from 0 to 127/,
  ],
  [['resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '9', '--set', 'key=3'], 2, /cannot be set/],
  [['import', '--out', nowhere], 2, /PATH is missing/],
  [['import', folder, '--out', nowhere, '--layout', 'heap'], 2, /--layout heap: expected one of names, run, one-key/],
  [
    ['export', rigPath, '--sound', 'X', '--format', 'sfz', '--out', folder],
    1,
    /--sound X: the rig has no such sound; it has S/,
  ],
  [
    ['export', rigPath, '--sound', 'S', '--format', 'mp3', '--out', folder],
    2,
    /--format mp3: expected sfz, sf2, wav, flac/,
  ],
  [
    ['render', rigPath, '--patch', 'p', '--take', rigPath, '--out', join(folder, 'bad.wav')],
    1,
    /not a readable MIDI file/,
  ],
  [
    ['render', rigPath, '--patch', 'p', '--take', takePath, '--out', join(folder, 'no', 'where.wav')],
    1,
    /cannot be written/,
  ],
])('%j fails with exit code %i, one line and no stack', (args, code, message) => {
  const { status, stderr, json } = wavicle(...args);
  expect(status).toBe(code);
  expect(stderr).toMatch(/^wavicle: [^\n]*$/);
  expect(stderr).toMatch(message);
  expect(json).toBeUndefined();
  expect(existsSync(join(folder, 'bad.wav'))).toBe(false);
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
});
