import { spawnSync } from 'node:child_process';
import { zipSync } from 'fflate';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { BasicInstrument, BasicPreset, BasicSoundBank, EmptySample } from 'spessasynth_core';
import { writeTake } from '../core/formats/midiFile';
import { writeArchive } from '../core/formats/rigArchive';
import { readWav, writeWav } from '../core/formats/wav';
import { markAt, newLayer, newMover, newPatch, newRig, newRoute, newSound, newZone } from '../core/rig/defaults';
import { folder, rigPath, takePath, wav, id, bundle, wavicle } from '../../tests/kit/commandLine';

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
