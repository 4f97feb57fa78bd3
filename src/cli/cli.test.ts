import { buildSync } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { zipSync } from 'fflate';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BasicInstrument, BasicPreset, BasicSoundBank, EmptySample } from 'spessasynth_core';
import { writeTake } from '../core/formats/midiFile';
import { readArchive, writeArchive } from '../core/formats/rigArchive';
import { addEffect, addPool, addSend, setEffectParam } from '../core/rig/edits/mix';
import { readWav, writeWav } from '../core/formats/wav';
import {
  markAt,
  newEntry,
  newLayer,
  newMover,
  newPatch,
  newRig,
  newRoute,
  newSetlist,
  newSound,
  newZone,
} from '../core/rig/defaults';
import { splitLayersAt } from '../core/rig/edits/windows';

const folder = mkdtempSync(join(tmpdir(), 'wavicle test '));
const rigPath = join(folder, 'a rig.wavicle');
const takePath = join(folder, 'take.mid');
afterAll(() => rmSync(folder, { recursive: true }));

const wav = writeWav(
  {
    rate: 44100,
    channels: 1,
    data: Float32Array.from({ length: 44100 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * 261.6 * i) / 44100)),
  },
  { root: 60 },
);
const id = createHash('sha256').update(wav).digest('hex');
beforeAll(() => {
  const layers = [newLayer('a', 'Left', 's', markAt(0)), newLayer('b', 'Right', 's', markAt(1))];
  const patch = splitLayersAt({ ...newPatch('p', 'Low Tide'), layers }, 'a', 'b', 60, 0);
  const zone = { ...newZone(id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } };
  const rig = {
    ...newRig('r', 'R'),
    patches: [patch],
    samples: [{ id, name: 'c4.wav', rate: 44100, channels: 1, frames: 44100 }],
    sounds: [{ ...newSound('s', 'S'), zones: [zone] }],
  };
  writeFileSync(
    rigPath,
    writeArchive(rig, () => wav),
  );
  writeFileSync(
    takePath,
    writeTake(
      {
        name: 't',
        seconds: 1,
        events: [
          { at: 0, event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 } },
          { at: 0.5, event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } },
        ],
      },
      120,
    ),
  );
});

/**
 * The command line, bundled once for all tests: as it is, it compiles its TypeScript anew at each call, which the first
 * test does.
 */
const bundle = join('build', `cli-test-${process.pid}.mjs`);
beforeAll(() => {
  buildSync({
    entryPoints: ['src/cli/main.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    outfile: bundle,
    packages: 'external',
    logLevel: 'error',
  });
});
afterAll(() => rmSync(bundle, { force: true }));

function wavicle(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bundle, ...args], { encoding: 'utf8' });
  return {
    status,
    json: stdout ? (JSON.parse(stdout) as never) : undefined,
    stderr: stderr
      .split('\n')
      .filter((line) => line.startsWith('wavicle') || line.includes('    at '))
      .join('\n'),
  };
}

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

test('check tells what is wrong with its place and edits; strict ends with 1 where it is no matter of taste', () => {
  const sure = (json: unknown) =>
    (json as { findings: { severity: string }[] }).findings.filter(({ severity }) => severity !== 'taste');
  const fine = wavicle('check', rigPath, '--quick', '--strict');
  expect([fine.status, sure(fine.json)]).toEqual([0, []]);
  const { rig } = readArchive(readFileSync(rigPath));
  const [patch] = rig.patches;
  const path = join(folder, 'wrong.wavicle');
  writeFileSync(
    path,
    writeArchive(
      { ...rig, patches: [{ ...patch, macros: [{ number: 1, name: 'Swell', value: 0, style: 'strip' }] }] },
      () => wav,
    ),
  );
  const findings = [
    {
      rule: 'idle-macro',
      severity: 'sure',
      where: { patch: 'Low Tide', layers: [], macro: 1 },
      message: 'The macro “Swell” moves nothing.',
      edits: ['Remove the macro'],
    },
  ];
  const wrong = wavicle('check', path, '--quick');
  expect([wrong.status, sure(wrong.json)]).toEqual([0, findings]);
  const strict = wavicle('check', path, '--patch', 'low tide', '--quick', '--strict');
  expect([strict.status, sure(strict.json), strict.stderr]).toEqual([
    1,
    findings,
    'wavicle: 1 finding that is no matter of taste',
  ]);
});

test('check listens: a recording that begins late is measured, and what was set aside does not count', () => {
  const late = writeWav({
    rate: 44100,
    channels: 1,
    data: Float32Array.from({ length: 44100 }, (_, i) =>
      i < 4410 ? 0 : 0.4 * Math.sin((2 * Math.PI * 261.6 * i) / 44100),
    ),
  });
  const lateId = createHash('sha256').update(late).digest('hex');
  const { rig } = readArchive(readFileSync(rigPath));
  const path = join(folder, 'late.wavicle');
  const planted = {
    ...rig,
    samples: [{ ...rig.samples[0], id: lateId }],
    sounds: rig.sounds.map((sound) => ({
      ...sound,
      zones: sound.zones.map((zone) => ({ ...zone, sampleId: lateId })),
    })),
  };
  writeFileSync(
    path,
    writeArchive(planted, () => late),
  );
  type Found = {
    findings: {
      rule: string;
      severity: string;
      message: string;
      where: { patch: string; sound?: string };
      aside?: string;
    }[];
  };
  const found = (wavicle('check', path).json as unknown as Found).findings.filter(({ rule }) => rule === 'late-start');
  expect(found).toMatchObject([
    {
      severity: 'measured',
      rule: 'late-start',
      message: expect.stringMatching(/at most (100|99\.9) ms/) as unknown,
      where: { patch: 'Low Tide', sound: 'S' },
    },
  ]);
  expect(
    (wavicle('check', path, '--quick').json as unknown as Found).findings.filter(
      ({ severity }) => severity === 'measured',
    ),
  ).toEqual([]);
  writeFileSync(
    path,
    writeArchive(
      { ...planted, checks: { thresholds: { 'late-start.ms': 200, 'limited-take.db': 12 }, aside: [] } },
      () => late,
    ),
  );
  expect(wavicle('check', path, '--strict')).toMatchObject({ status: 0, stderr: '' });
});

test('bounce writes a rig with the new sound and its patch; lists may be runs; odd ones are told', () => {
  const out = join(folder, 'bounced.wavicle');
  const { json } = wavicle(
    'bounce',
    rigPath,
    '--patch',
    'Low Tide',
    '--keys',
    '48-72/12',
    '--velocities',
    '60,127',
    '--seconds',
    '0.3',
    '--out',
    out,
  );
  expect(json).toMatchObject({ zones: 6, silent: 0 });
  const { rig, wavs } = readArchive(readFileSync(out));
  expect(rig.patches.map(({ name }) => name)).toEqual(['Low Tide', 'Low Tide bounced']);
  expect(rig.sounds[1].zones.map(({ root }) => root)).toEqual([48, 48, 60, 60, 72, 72]);
  expect(readWav(wavs.get(rig.sounds[1].zones[0].sampleId)!).audio.data.some((x) => Math.abs(x) > 0.05)).toBe(true);
  expect(
    wavicle(
      'bounce',
      rigPath,
      '--patch',
      'Low Tide',
      '--keys',
      'C4',
      '--velocities',
      '100',
      '--seconds',
      '0.3',
      '--out',
      out,
      '--layer',
      'Left',
      '--rebuild',
      '--mono',
    ),
  ).toMatchObject({ status: 0 });
  expect(
    wavicle(
      'bounce',
      rigPath,
      '--patch',
      'Low Tide',
      '--keys',
      '48,300',
      '--velocities',
      '100',
      '--seconds',
      '1',
      '--out',
      out,
    ),
  ).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--keys 48,300: expected numbers from 0 to 127/) as unknown,
  });
  expect(
    wavicle(
      'bounce',
      rigPath,
      '--patch',
      'Low Tide',
      '--keys',
      '48',
      '--velocities',
      '100',
      '--seconds',
      '1',
      '--out',
      out,
      '--layer',
      'Nobody',
    ),
  ).toMatchObject({ status: 2, stderr: expect.stringMatching(/--layer Nobody: Low Tide has Left, Right/) as unknown });
});

test('a sound goes out as a SoundFont and as FLAC, and comes back', () => {
  const out = join(folder, 'fonts');
  expect(wavicle('export', rigPath, '--sound', 'S', '--format', 'sf2', '--out', out).json).toEqual({
    files: ['S.sf2'],
    notCarried: [],
  });
  expect(wavicle('import', join(out, 'S.sf2'), '--out', join(folder, 'back.wavicle')).json).toMatchObject({
    sounds: [{ name: 'S', zones: 1 }],
  });
  const back = readArchive(readFileSync(join(folder, 'back.wavicle')));
  expect(back.rig.sounds[0].zones[0]).toMatchObject({ root: 60, key: { low: 0, high: 127 } });
  expect(wavicle('export', rigPath, '--sound', 'S', '--format', 'flac', '--out', out).json).toMatchObject({
    files: ['c4.flac'],
  });
});

test('rehearse goes through a setlist as it is played; render goes through the show by program changes', () => {
  const { rig } = readArchive(readFileSync(rigPath));
  const entries = [
    newEntry('e1', 'patch', ['p']),
    newEntry('e2', 'pause'),
    { ...newEntry('e3', 'patch', ['p']), name: 'Higher', transpose: 5 },
  ];
  const path = join(folder, 'show.wavicle');
  writeFileSync(
    path,
    writeArchive(
      { ...rig, setlists: [newSetlist('s', 'Evening', entries), newSetlist('t', 'Empty')], setlist: 's' },
      () => wav,
    ),
  );
  const found = wavicle('rehearse', path).json as unknown as {
    setlist: string;
    steps: { patch?: string; pause?: string; song?: string; lufs: number; missing: number }[];
  };
  expect(found.setlist).toBe('Evening');
  expect(found.steps.map(({ patch, pause, song }) => patch ?? pause + (song ?? ''))).toEqual([
    'Low Tide',
    'Pause',
    'Low Tide',
  ]);
  expect(found.steps[0]).toMatchObject({ missing: 0, lufs: expect.any(Number) as unknown });
  expect(wavicle('rehearse', path, '--setlist', 'Empty').json).toEqual({ setlist: 'Empty', steps: [] });
  expect(wavicle('rehearse', path, '--setlist', 'Nowhere')).toMatchObject({
    status: 2,
    stderr: 'wavicle: --setlist Nowhere: there are Evening, Empty',
  });
  const on = (at: number, key: number) => ({ at, event: { type: 'noteOn' as const, channel: 1, key, velocity: 100 } });
  const off = (at: number, key: number) => ({ at, event: { type: 'noteOff' as const, channel: 1, key, velocity: 64 } });
  const choose = (at: number, program: number) => ({ at, event: { type: 'program' as const, channel: 1, program } });
  const take = join(folder, 'show.mid');
  writeFileSync(
    take,
    writeTake(
      {
        name: 's',
        seconds: 2,
        events: [choose(0, 0), on(0.05, 60), off(0.8, 60), choose(1, 2), on(1.05, 60), off(1.8, 60)],
      },
      120,
    ),
  );
  const out = join(folder, 'show.wav');
  expect(wavicle('render', path, '--show', '--take', take, '--out', out, '--tail', '0').json).toMatchObject({
    seconds: 2,
    steps: 3,
  });
  // 261.6 Hz by its root, then five semitones higher: 349.2 Hz, equal temperament.
  const { data, rate } = readWav(readFileSync(out)).audio;
  const crossings = (from: number, to: number) => {
    let count = 0;
    for (let i = Math.round(from * rate); i < to * rate; i++) if (data[2 * i] < 0 && data[2 * i + 2] >= 0) count++;
    return count / (to - from);
  };
  expect(crossings(0.2, 0.7)).toBeCloseTo(261.6, -1);
  expect(crossings(1.2, 1.7)).toBeCloseTo(349.2, -1);
}, 30_000);

test('paths tells the signal path; render leaves effects out, and writes stems', () => {
  const rig = readArchive(readFileSync(rigPath)).rig;
  const [old] = rig.patches;
  const shared = addSend(addPool(old, 'x', 'reverb')!.patch, 'layer.b', 'pool.x');
  const patch = setEffectParam(addEffect(shared, 'layer.b', 'equaliser')!.patch, 'effect-2', 'kind1', 1);
  const loud = setEffectParam(addEffect(patch, 'main', 'saturation')!.patch, 'effect-3', 'level', -24);
  const path = join(folder, 'mixed.wavicle');
  writeFileSync(
    path,
    writeArchive({ ...rig, patches: [loud] }, () => wav),
  );
  const { connections } = wavicle('paths', path, '--patch', 'p').json as unknown as {
    connections: { from: string; to: string; levelDb: number; on: boolean; effects: { kind: string; on: boolean }[] }[];
  };
  expect(
    connections.map(({ from, to, levelDb, effects }) => [from, to, levelDb, effects.map(({ kind }) => kind)]),
  ).toEqual([
    ['layer.a', 'main', 0, []],
    ['layer.b', 'main', 0, ['equaliser']],
    ['layer.b', 'pool.x', -12, []],
    ['pool.x', 'main', 0, ['reverb']],
    ['main', 'limiter', 0, ['saturation']],
  ]);
  const out = join(folder, 'mix.wav');
  const rendered = (...args: string[]) =>
    wavicle('render', path, '--patch', 'p', '--take', takePath, '--out', out, ...args).json as unknown as {
      peakDb: number;
      stems?: string[];
    };
  const [whole, dry, less] = [rendered(), rendered('--dry'), rendered('--without', 'saturation')];
  expect(dry.peakDb).toBeGreaterThan(whole.peakDb + 12);
  expect(less.peakDb).toBeGreaterThan(whole.peakDb + 12);
  const { stems } = rendered('--stems');
  expect(stems).toHaveLength(2);
  for (const stem of stems!) expect(readWav(readFileSync(stem)).audio.channels).toBe(2);
  expect(wavicle('render', path, '--patch', 'p', '--take', takePath, '--out', out, '--without', 'gate').stderr).toMatch(
    /--without gate: Low Tide has equaliser on Right \(effect-2\), reverb on Reverb/,
  );
});

test('draw rolls what is open within its limits, keeps the draw with its seed, moves nothing that is locked, and the same seed draws the same', () => {
  const rig = readArchive(readFileSync(rigPath)).rig;
  const [old] = rig.patches;
  const locked = join(folder, 'locked.wavicle');
  writeFileSync(
    locked,
    writeArchive(
      {
        ...rig,
        patches: [
          {
            ...old,
            layers: old.layers.map((layer) => ({ ...layer, params: { ...layer.params, tune: 3 } })),
            locks: ['layer.b'],
          },
        ],
      },
      () => wav,
    ),
  );
  const drawn = (file: string, ...args: string[]) => {
    const out = join(folder, file);
    const answer = wavicle('draw', locked, '--patch', 'p', '--out', out, ...args);
    return { ...answer, patch: existsSync(out) ? readArchive(readFileSync(out)).rig.patches[0] : undefined };
  };
  const first = drawn('a.wavicle', '--seed', '7');
  expect(first.status).toBe(0);
  const changed = (first.json as unknown as { changed: { target: string }[] }).changed.map(({ target }) => target);
  expect(changed.length).toBeGreaterThan(5);
  expect(changed.filter((target) => !target.startsWith('layer.a.'))).toEqual([]);
  expect(first.patch!.layers[1]).toEqual({ ...old.layers[1], params: { ...old.layers[1].params, tune: 3 } });
  expect(first.patch!.draws).toMatchObject([{ seed: 7, amount: 1, scope: 'the whole patch' }]);
  expect(drawn('b.wavicle', '--seed', '7').patch).toEqual(first.patch);
  expect(drawn('c.wavicle', '--seed', '8').patch!.layers).not.toEqual(first.patch!.layers);
  // One parameter, and no way at all: nothing moves, and that is kept as well.
  const one = drawn('d.wavicle', '--seed', '7', '--only', 'layer.a.cutoff');
  expect((one.json as unknown as { changed: { target: string }[] }).changed.map(({ target }) => target)).toEqual([
    'layer.a.cutoff',
  ]);
  expect(drawn('e.wavicle', '--seed', '7', '--amount', '0').patch!.layers).toEqual(
    readArchive(readFileSync(locked)).rig.patches[0].layers,
  );
  for (const [args, complaint] of [
    [['--seed', '7', '--only', 'Nobody'], /--only Nobody/],
    [['--seed', 'x'], /--seed/],
    [['--seed', '7', '--amount', '2'], /--amount/],
    [['--seed', '7', '--sounds', 'brass'], /--sounds brass/],
  ] as const) {
    const refused = drawn('f.wavicle', ...args);
    expect([refused.status, refused.patch]).toEqual([2, undefined]);
    expect(refused.stderr).toMatch(complaint);
  }
});

test('help for all commands and for each', () => {
  const call = (...args: string[]) => spawnSync(process.execPath, [bundle, ...args], { encoding: 'utf8' });
  const all = call('--help');
  expect(all.status).toBe(0);
  for (const name of ['demo', 'show', 'resolve', 'render', 'import', 'export']) {
    expect(all.stdout).toContain(`\n  ${name} `);
    const one = call(name, '--help');
    expect([one.status, one.stderr]).toEqual([0, '']);
    expect(one.stdout).toContain(`wavicle ${name}`);
  }
  expect(call('help', 'render').stdout).toContain('--tail SECONDS');
});

test('sources are set on every channel, strikes are asked for on one, and what a take moves goes on', () => {
  const rigOf = (channel: number) => {
    const window = {
      source: 'cc.1',
      low: 64,
      high: 127,
      fadeIn: 0,
      fadeOut: 0,
      shape: 'sine' as const,
      read: 'always' as const,
    };
    const layer = {
      ...newLayer('a', 'Far', 's', markAt(0)),
      receive: { ...newLayer('a', '', '', markAt(0)).receive, channel },
    };
    const zone = {
      ...newZone(id, 60),
      key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
      loop: { start: 1000, end: 40000, crossfade: 0, until: 'end' as const },
    };
    const path = join(folder, `channel ${channel}.wavicle`);
    writeFileSync(
      path,
      writeArchive(
        {
          ...newRig('r', 'R'),
          patches: [{ ...newPatch('p', 'P'), layers: [{ ...layer, windows: [...layer.windows, window] }] }],
          samples: [{ id, name: 'c4.wav', rate: 44100, channels: 1, frames: 44100 }],
          sounds: [{ ...newSound('s', 'S'), zones: [zone] }],
        },
        () => wav,
      ),
    );
    return path;
  };
  const path = rigOf(5);
  const sounding = (...args: string[]) =>
    (
      wavicle('resolve', path, '--patch', 'p', '--key', '60', '--velocity', '100', ...args).json as unknown as {
        sounding: unknown[];
      }[]
    )[0].sounding.length;
  expect([
    sounding('--set', 'cc.1=127'),
    sounding('--channel', '5', '--set', 'cc.1=127'),
    sounding('--channel', '5'),
  ]).toEqual([0, 1, 0]);
  // The take strikes on channel 5 and closes the wheel half-way.
  const moves = join(folder, 'moves.mid');
  const on = (at: number, event: object) => ({ at, event: { channel: 5, ...event } as never });
  writeFileSync(
    moves,
    writeTake(
      {
        name: 't',
        seconds: 1,
        events: [
          on(0, { type: 'noteOn', key: 60, velocity: 127 }),
          on(0.5, { type: 'controller', controller: 1, value: 0 }),
          on(0.99, { type: 'noteOff', key: 60, velocity: 64 }),
        ],
      },
      120,
    ),
  );
  const out = join(folder, 'moves.wav');
  wavicle('render', path, '--patch', 'p', '--take', moves, '--out', out, '--set', 'cc.1=127');
  const { data } = readWav(readFileSync(out)).audio;
  const peak = (from: number, to: number) =>
    data.slice(from * 96000, to * 96000).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  expect(peak(0.2, 0.45)).toBeGreaterThan(0.1);
  expect(peak(0.7, 0.9)).toBeLessThan(0.001);
});

test('one bad SFZ in a folder is told and the rest comes in; folders become what they are; an export comes back as its zip', () => {
  const many = join(folder, 'many');
  mkdirSync(many);
  writeFileSync(join(many, 'good.sfz'), '<region> sample=c4.wav key=60');
  writeFileSync(join(many, 'bad.sfz'), '#include "gone.sfz"');
  writeFileSync(join(many, 'c4.wav'), wav);
  const out = join(folder, 'out.wavicle');
  const { json } = wavicle('import', many, '--out', out) as unknown as {
    json: { sounds: { name: string }[]; warnings: string[] };
  };
  expect(json.sounds).toEqual([{ name: 'good', zones: 1 }]);
  expect(json.warnings.join()).toMatch(/bad\.sfz.*gone\.sfz" is not in the folder; left out/);
  const kit = join(folder, 'kit');
  for (const pad of ['Kick', 'Snare']) {
    mkdirSync(join(kit, pad), { recursive: true });
    writeFileSync(join(kit, pad, 'one.wav'), wav);
  }
  expect(wavicle('import', kit, '--out', out).json).toMatchObject({ sounds: [{ name: 'kit', zones: 2 }] });
  expect(
    (wavicle('show', out).json as unknown as { sounds: { zones: { root: number }[] }[] }).sounds[0].zones.map(
      ({ root }) => root,
    ),
  ).toEqual([36, 38]);
  expect(wavicle('import', kit, '--out', out, '--folders', 'sounds', '--layout', 'run').json).toMatchObject({
    sounds: [{ name: 'Kick' }, { name: 'Snare' }],
  });
  expect(wavicle('import', kit, '--out', out, '--folders', 'drums')).toMatchObject({ status: 2 });
  const sfz = join(folder, 'sfz');
  wavicle('export', rigPath, '--sound', 'S', '--format', 'sfz', '--out', sfz);
  const zip = join(folder, 'S.zip');
  writeFileSync(
    zip,
    zipSync({ 'S.sfz': readFileSync(join(sfz, 'S.sfz')), 'samples/c4.wav': readFileSync(join(sfz, 'samples/c4.wav')) }),
  );
  expect(wavicle('import', zip, '--out', out).json).toMatchObject({ sounds: [{ name: 'S', zones: 1 }], warnings: [] });
});

describe('what moves what', () => {
  const path = join(folder, 'moving.wavicle');
  beforeAll(() => {
    const layers = [
      { ...newLayer('a', 'Left', 's', markAt(0)), params: { level: -18 } },
      newLayer('b', 'Right', 's', markAt(1)),
    ];
    const zone = { ...newZone(id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } };
    const patch = {
      ...newPatch('p', 'P'),
      layers,
      macros: [{ number: 1, name: 'Swell', value: 0, style: 'strip' as const }],
      movers: [newMover('lfo', 1, 'Breath')],
      xyPads: [{ number: 1, name: 'Pad', x: 0.5, y: 0.5, motion: 'hand' as const, anchors: [], path: [], params: {} }],
      routes: [
        newRoute('r', 'macro.1', 'layer.a.level', 12 / 66),
        newRoute('s', 'lfo.1', 'layer.b.pan', 0.25),
        { ...newRoute('t', 'scatter.1', 'layer.a.delay', 0.1), scaledBy: 'macro.1' },
        newRoute('u', 'xy.1.x', 'layer.b.cutoff', -0.5),
      ],
    };
    writeFileSync(
      path,
      writeArchive(
        {
          ...newRig('r', 'R'),
          patches: [patch],
          samples: [{ id, name: 'c4.wav', rate: 44100, channels: 1, frames: 44100 }],
          sounds: [{ ...newSound('s', 'S'), zones: [zone] }],
        },
        () => wav,
      ),
    );
  });
  const moves = (...args: string[]) =>
    (wavicle('moves', path, '--patch', 'p', ...args).json as unknown as { routes: Record<string, unknown>[] }).routes;
  test('from both ends, with the reach in the target’s unit', () => {
    expect(moves()).toHaveLength(4);
    expect(moves('--source', 'macro.1').map(({ target }) => target)).toEqual(['layer.a.level', 'layer.a.delay']);
    expect(moves('--target', 'layer.a.level')).toMatchObject([
      {
        source: 'macro.1',
        sourceName: 'Swell',
        targetName: 'level of Left',
        from: expect.closeTo(-18, 6),
        to: expect.closeTo(-6, 6),
        depth: 12 / 66,
        curve: 'linear',
        on: true,
      },
    ]);
    expect(moves('--target', 'layer.b.pan')).toMatchObject([{ from: -0.5, to: 0.5 }]);
    expect(wavicle('moves', path, '--patch', 'p', '--source', 'wheel').stderr).toMatch(/names no source/);
    expect(wavicle('moves', path, '--patch', 'p', '--target', 'layer.gone.level')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/no such thing in the patch/) as string,
    });
    // What it prints it takes: sources, formulas among them, and targets.
    for (const { source, target } of moves()) {
      expect(moves('--source', String(source)).some((route) => route.source === source)).toBe(true);
      expect(moves('--target', String(target)).some((route) => route.target === target)).toBe(true);
    }
  });
  test('resolve tells every moved value at the strike', () => {
    const values = (...args: string[]) =>
      (
        wavicle('resolve', path, '--patch', 'p', '--key', '60', '--velocity', '100', ...args).json as unknown as {
          sounding: { values: Record<string, number> }[];
        }[]
      )[0].sounding.map((each) => each.values);
    expect(values()).toEqual([
      { level: expect.closeTo(-18, 6), delay: 0 },
      { pan: 0, cutoff: expect.closeTo(20 * 2 ** 7.5, 0) },
    ]);
    const [left, right] = values('--set', 'macro.1=1', '--set', 'xy.1.x=1');
    expect(left.level).toBeCloseTo(-6, 6);
    expect(left.delay).toBeGreaterThan(0);
    expect(right.cutoff).toBeCloseTo(20 * 2 ** 5, 0);
  });
  test('render hears one layer alone, and a tempo', () => {
    const rendered = (...args: string[]) => {
      const out = join(folder, 'solo.wav');
      wavicle('render', path, '--patch', 'p', '--take', takePath, '--out', out, ...args);
      return createHash('sha256').update(readFileSync(out)).digest('hex');
    };
    const all = rendered();
    expect(
      new Set([all, rendered('--solo', 'Left'), rendered('--solo', 'Right'), rendered('--tempo', '60')]).size,
    ).toBe(4);
    expect(rendered('--solo', 'Left', '--solo', 'Right')).toBe(all);
    expect(
      wavicle('render', path, '--patch', 'p', '--take', takePath, '--out', join(folder, 'x.wav'), '--solo', 'Nobody')
        .stderr,
    ).toMatch(/--solo Nobody: P has Left, Right/);
  });
});

test('render plays a take into a WAV, the same bits for the same seed', () => {
  const out = join(folder, 'out.wav');
  const { json } = wavicle('render', rigPath, '--patch', 'Low Tide', '--take', takePath, '--out', out, '--tail', '0.5');
  expect(json).toMatchObject({ seconds: 1.5, voices: 1 });
  const first = readFileSync(out);
  const { audio } = readWav(first);
  expect(audio).toMatchObject({ rate: 48000, channels: 2 });
  expect(audio.data.length).toBe(2 * 72000);
  expect(audio.data.every((x) => Math.abs(x) <= 1)).toBe(true);
  expect(Math.max(...audio.data.slice(1000, 40000))).toBeGreaterThan(0.2);
  wavicle('render', rigPath, '--patch', 'Low Tide', '--take', takePath, '--out', out, '--tail', '0.5');
  expect(readFileSync(out).equals(first)).toBe(true);
});

describe('import and export', () => {
  const tone = (amplitude: number, i: number) =>
    writeWav({
      rate: 44100,
      channels: 1,
      data: Float32Array.from(
        { length: 4410 },
        (_, n) => amplitude * Math.sin(((2 * Math.PI * 220 * n) / 44100) * 2 ** (i / 12)),
      ),
    });
  const source = join(folder, 'Wire one');
  beforeAll(() => {
    ['soft', 'hard'].forEach((dynamic, d) => {
      mkdirSync(join(source, dynamic), { recursive: true });
      for (let i = 0; i < 4; i++) writeFileSync(join(source, dynamic, `wire C${i + 2}.wav`), tone(0.2 + 0.5 * d, i));
    });
    writeFileSync(join(source, 'soft', 'broken C9.wav'), 'RIFF');
  });
  const imported = join(folder, 'imported.wavicle');
  test('a folder of two dynamics becomes a sound and a patch; a broken file is told and the rest comes in', () => {
    const { json, status } = wavicle('import', source, '--out', imported, '--stretch');
    expect(status).toBe(0);
    expect(json).toMatchObject({ sounds: [{ name: 'Wire one', zones: 8 }] });
    expect((json as unknown as { warnings: string[] }).warnings[0]).toContain('soft/broken C9.wav: this is no');
    const { sounds, patches } = wavicle('show', imported).json as unknown as {
      patches: { name: string; layers: unknown[] }[];
      sounds: { zones: unknown[] }[];
    };
    expect(patches).toMatchObject([{ name: 'Wire one', layers: [{ sound: 'Wire one' }] }]);
    expect(sounds[0].zones[0]).toEqual({ sample: 'wire C2.wav', root: 36, key: [0, 42], velocity: [64, 127] });
  });
  test('middle C, runs and one key', () => {
    const roots = (...args: string[]) => {
      wavicle('import', join(source, 'hard'), '--out', imported, ...args);
      return (
        wavicle('show', imported).json as unknown as { sounds: { zones: { root: number; key: number[] }[] }[] }
      ).sounds[0].zones.map(({ root, key }) => [root, ...key]);
    };
    expect(roots('--middle-c', '3')[0]).toEqual([48, 48, 48]);
    expect(roots('--layout', 'run', '--from', 'F#3')).toEqual([
      [54, 54, 54],
      [55, 55, 55],
      [56, 56, 56],
      [57, 57, 57],
    ]);
    expect(roots('--layout', 'one-key', '--from', '38')[3]).toEqual([38, 38, 38]);
  });
  test('SFZ goes out and comes back the same; WAVs carry their roots', () => {
    wavicle('import', source, '--out', imported, '--stretch');
    const before = (wavicle('show', imported).json as unknown as { sounds: { zones: unknown[] }[] }).sounds[0].zones;
    const out = join(folder, 'out files');
    const { json } = wavicle('export', imported, '--sound', 'wire one', '--format', 'sfz', '--out', out);
    expect(json).toMatchObject({
      files: expect.arrayContaining(['Wire one.sfz', 'samples/wire C2.wav', 'samples/wire C2 (2).wav']),
      notCarried: [],
    });
    const again = join(folder, 'again.wavicle');
    expect(wavicle('import', out, '--out', again).json).toEqual({
      sounds: [{ name: 'Wire one', zones: 8 }],
      warnings: [],
    });
    const after = (wavicle('show', again).json as unknown as { sounds: { zones: { sample: string }[] }[] }).sounds[0]
      .zones;
    expect(after.map((zone) => ({ ...zone, sample: zone.sample.replace(' (2)', '') }))).toEqual(before);
    const wavs = wavicle('export', imported, '--sound', 'Wire one', '--format', 'wav', '--out', join(folder, 'wavs'))
      .json as unknown as { files: string[] };
    expect(readWav(readFileSync(join(folder, 'wavs', wavs.files[0])))).toMatchObject({
      root: 36,
      range: { keyLow: 0, keyHigh: 42, velocityLow: 64, velocityHigh: 127 },
    });
  });
  test('SFZ and SoundFont files become sounds, and what is not carried is told', async () => {
    const pipes = join(folder, 'pipes');
    mkdirSync(pipes);
    writeFileSync(join(pipes, 'a.wav'), tone(0.4, 0));
    writeFileSync(join(pipes, 'Pipe.sfz'), '<region> sample=A.WAV key=c4 lfo01_freq=3\n<region> sample=none.wav');
    const bank = new BasicSoundBank();
    const reed = new EmptySample();
    reed.name = 'reed';
    reed.setAudioData(
      Float32Array.from({ length: 800 }, (_, i) => Math.sin(i / 9) / 2),
      22050,
    );
    const instrument = new BasicInstrument();
    instrument.createZone(reed).keyRange = { min: 30, max: 90 };
    const preset = new BasicPreset(bank);
    preset.name = 'Reed';
    preset.createZone(instrument);
    bank.addSamples(reed);
    bank.addInstruments(instrument);
    bank.addPresets(preset);
    writeFileSync(join(pipes, 'bank.sf2'), new Uint8Array(await bank.writeSF2()));
    const out = join(folder, 'pipes.wavicle');
    const { json } = wavicle('import', pipes, '--out', out);
    expect(json).toEqual({
      sounds: [
        { name: 'Pipe', zones: 1 },
        { name: 'Reed', zones: 1 },
      ],
      warnings: [
        'Pipe.sfz: sample=none.wav is not in the folder, the region is left out',
        'Pipe.sfz: lfo01_freq is not carried over (1 time)',
      ],
    });
    const shown = wavicle('show', out).json as unknown as {
      sounds: { zones: unknown[] }[];
      patches: { name: string }[];
    };
    expect(shown.patches.map(({ name }) => name)).toEqual(['Pipe', 'Reed']);
    expect(shown.sounds.map(({ zones }) => zones)).toMatchObject([
      [{ sample: 'a.wav', root: 60, key: [60, 60] }],
      [{ sample: 'reed.wav', key: [30, 90] }],
    ]);
  });
  test('effects and pitches', () => {
    const roots = (...args: string[]) => {
      wavicle('import', join(source, 'hard'), '--out', imported, ...args);
      return (
        wavicle('show', imported).json as unknown as { sounds: { zones: { root: number }[] }[] }
      ).sounds[0].zones.map(({ root }) => root);
    };
    expect(roots('--layout', 'effects', '--from', '30')).toEqual([30, 31, 32, 33]);
    // 220 Hz is the A below middle C, each file a semitone above the last.
    expect(roots('--layout', 'pitch')).toEqual([57, 58, 59, 60]);
  });
  test('what cannot be brought in leaves nothing behind', () => {
    const empty = join(folder, 'empty');
    mkdirSync(empty);
    for (const [args, message] of [
      [[empty], /there is no audio in this folder/],
      [[join(folder, 'nope')], /there is no such file or folder/],
      [[takePath], /\.mid is not read here/],
    ] as const) {
      const { status, stderr } = wavicle('import', ...args, '--out', join(folder, 'never.wavicle'));
      expect(status).toBe(1);
      expect(stderr).toMatch(message);
    }
    expect(existsSync(join(folder, 'never.wavicle'))).toBe(false);
  });
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
