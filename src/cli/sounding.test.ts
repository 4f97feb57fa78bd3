import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeTake } from '../core/formats/midiFile';
import { readArchive, writeArchive } from '../core/formats/rigArchive';
import { newSound } from '../core/rig/defaults';
import { addEffect, addPool, addSend, setEffectParam, takeConnection } from '../core/rig/edits/mix';
import { addPair } from '../core/rig/edits/pairs';
import { readWav, writeWav } from '../core/formats/wav';
import { newEntry, newSetlist } from '../core/rig/defaults';
import { folder, rigPath, takePath, wav, wavicle } from '../../tests/kit/commandLine';

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

test('render writes a file for each pair of outputs; without that, all is in the one', () => {
  const rig = addPair(addPair(readArchive(readFileSync(rigPath)).rig, 'phones'), 'drummer');
  const patch = takeConnection(addSend(rig.patches[0], 'main', 'pair.drummer'), 'out-layer-b', 'pair.phones');
  const path = join(folder, 'pairs.wavicle');
  writeFileSync(
    path,
    writeArchive({ ...rig, patches: [patch] }, () => wav),
  );
  const out = join(folder, 'pairs.wav');
  const rendered = (...args: string[]) =>
    wavicle('render', path, '--patch', 'p', '--take', takePath, '--out', out, ...args).json as unknown as {
      outputs?: string[];
    };
  const dataOf = (file: string) => readWav(readFileSync(file)).audio.data;
  expect(rendered().outputs).toBeUndefined();
  const whole = dataOf(out);
  const { outputs } = rendered('--outputs');
  expect(outputs?.map((file) => file.slice(folder.length + 1))).toEqual([
    'pairs.wav',
    'pairs - phones.wav',
    'pairs - drummer.wav',
  ]);
  const [hall, phones, drummer] = outputs!.map(dataOf);
  expect(phones.some((x) => Math.abs(x) > 0.001)).toBe(true);
  for (let i = 0; i < whole.length; i += 97) expect(hall[i] + phones[i] + drummer[i]).toBeCloseTo(whole[i], 5);
});

test('render takes a recording in the place of an input: the same bits each time', () => {
  const rig = readArchive(readFileSync(rigPath)).rig;
  const [old] = rig.patches;
  const path = join(folder, 'input.wavicle');
  const layers = old.layers.map((layer, n) => ({ ...layer, soundId: n === 0 ? 'mic' : layer.soundId, on: n === 0 }));
  const sounds = [...rig.sounds, { ...newSound('mic', 'Mic'), kind: 'input' as const }];
  writeFileSync(
    path,
    writeArchive({ ...rig, sounds, patches: [{ ...old, layers }] }, () => wav),
  );
  const data = Float32Array.from({ length: 96000 }, (_, i) => 0.2 * Math.sin((2 * Math.PI * 330 * i) / 48000));
  const voice = join(folder, 'voice.wav');
  writeFileSync(voice, writeWav({ rate: 48000, channels: 1, data }));
  const out = join(folder, 'spoken.wav');
  const rendered = (...args: string[]) =>
    wavicle('render', path, '--patch', 'p', '--take', takePath, '--out', out, '--rate', '48000', ...args);
  expect((rendered().json as unknown as { peakDb: number | null }).peakDb ?? -200).toBeLessThan(-90);
  expect((rendered('--input', voice).json as unknown as { peakDb: number }).peakDb).toBeGreaterThan(-40);
  const first = readFileSync(out);
  rendered('--input', voice);
  expect(readFileSync(out).equals(first)).toBe(true);
  const other = join(folder, 'slow.wav');
  writeFileSync(other, writeWav({ rate: 44100, channels: 1, data }));
  expect(rendered('--input', other).stderr).toMatch(
    /slow\.wav: it has 44100 frames in a second, and 48000 are rendered/,
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
