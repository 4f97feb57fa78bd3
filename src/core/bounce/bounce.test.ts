import { readWav, writeWav } from '../formats/wav';
import { pitchOf } from '../measure/pitch';
import { EQUAL } from '../music/tunings';
import {
  fullWindow,
  markAt,
  newEffect,
  newGroup,
  newLayer,
  newPatch,
  newPool,
  newRig,
  newRoute,
  newSound,
  newZone,
} from '../rig/defaults';
import { faultOf, readRig } from '../rig/read';
import type { Layer, Patch, Rig, Sound } from '../rig/schema';
import { bounce as bounceAll, differenceDb, levelOf, played, RATE, settings } from './bouncing';
import { everyKeys, rangesOf, targetsOf, type BounceSettings } from './plan';

const tone = (hz: number, seconds = 3) =>
  writeWav(
    {
      rate: RATE,
      channels: 1,
      data: Float32Array.from({ length: seconds * RATE }, (_, n) => 0.25 * Math.sin((2 * Math.PI * hz * n) / RATE)),
    },
    { encoding: 'float32' },
  );

const wavs = new Map<string, Uint8Array>([['sine', tone(440)]]);
const sineSound = (): Sound =>
  newSound('s', 'Sine', [{ ...newZone('sine', 69), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } }]);
const rigOf = (layers: readonly Layer[], more: Partial<Patch> = {}): Rig => ({
  ...newRig('r', 'R'),
  samples: [{ id: 'sine', name: 'sine.wav', rate: RATE, channels: 1, frames: 3 * RATE }],
  sounds: [sineSound()],
  patches: [{ ...newPatch('p', 'P'), layers: [...layers], ...more }],
});
const bounce = async (rig: Rig, chosen: BounceSettings, files: ReadonlyMap<string, Uint8Array> = wavs) => {
  const made = await bounceAll(rig, chosen, files);
  expect(faultOf(made.rig)).toBeUndefined();
  expect(() => readRig(JSON.parse(JSON.stringify(made.rig)))).not.toThrow();
  return made;
};

test('keys are shared out around those that are struck, without a gap', () => {
  expect(everyKeys(48, 59, 3)).toEqual([49, 52, 55, 58]);
  expect(everyKeys(48, 52, 12)).toEqual([50]);
  expect(rangesOf([49, 52, 55], 48, 60)).toEqual([
    [48, 50],
    [51, 53],
    [54, 60],
  ]);
  expect(rangesOf([60], 0, 127)).toEqual([[0, 127]]);
});

test('a patch of sines bounces to sines at the right pitches and levels, placed on keys and velocities', async () => {
  const { rig, wavs: files } = await bounce(rigOf([newLayer('a', 'A', 's', markAt(0))]), settings());
  const sound = rig.sounds.find(({ id }) => id === 'bounced-0')!;
  expect(sound.zones.map(({ root, key, velocity }) => [root, key.low, key.high, velocity.low, velocity.high])).toEqual([
    [57, 48, 63, 1, 64],
    [57, 48, 63, 65, 127],
    [69, 64, 75, 1, 64],
    [69, 64, 75, 65, 127],
    [81, 76, 90, 1, 64],
    [81, 76, 90, 65, 127],
  ]);
  for (const [n, hz] of [
    [0, 220],
    [2, 440],
    [4, 880],
  ] as const) {
    const heard = pitchOf(readWav(files.get(sound.zones[n].sampleId)!).audio)!;
    // Equal temperament from A4 = 440 Hz (ISO 16).
    expect(Math.abs(1200 * Math.log2(heard.hz / hz))).toBeLessThan(1);
  }
  const patch = rig.patches.find(({ id }) => id === 'bounced')!;
  expect(patch.layers).toHaveLength(1);
  for (const [key, velocity] of [
    [57, 64],
    [69, 127],
    [81, 64],
  ]) {
    const live = played(rig, 'p', files, key, velocity);
    const again = played(rig, 'bounced', files, key, velocity);
    expect(Math.abs(levelOf(live) - levelOf(again))).toBeLessThan(0.02);
    expect(differenceDb(live, again, 0.55)).toBeLessThan(-60);
  }
});

test('to mono the level is kept, alternates are draws of their own, and what answers nothing leaves no zone', async () => {
  const layer = {
    ...newLayer('a', 'A', 's', markAt(0)),
    params: { drift: 30, driftTime: 0.2, unison: 3, detune: 20 },
    windows: [{ ...fullWindow('key'), high: 70 }, fullWindow('velocity')],
  };
  const { rig, wavs: files } = await bounce(
    rigOf([layer]),
    settings({ stereo: false, alternates: 3, velocities: [100] }),
  );
  const sound = rig.sounds.find(({ id }) => id === 'bounced-0')!;
  expect(sound.zones.map(({ root, alternate }) => [root, alternate])).toEqual(
    [57, 69].flatMap((key) => [0, 1, 2].map((n) => [key, n])),
  );
  expect(new Set(sound.zones.map(({ sampleId }) => sampleId)).size).toBe(6);
  expect(readWav(files.get(sound.zones[0].sampleId)!).audio.channels).toBe(1);
  expect(
    Math.abs(levelOf(played(rig, 'p', files, 57, 100)) - levelOf(played(rig, 'bounced', files, 57, 100))),
  ).toBeLessThan(1);
});

test('in a rig that is tuned, a bounce is tuned once: it sounds as the patch does', async () => {
  const tuned = {
    ...rigOf([newLayer('a', 'A', 's', markAt(0))], { tuning: { ...EQUAL, scale: 'just' } }),
    pitch: { a4: 430, tuning: { ...EQUAL, scale: 'pythagorean' } },
  };
  const { rig, wavs: files } = await bounce(tuned, settings({ keys: [66, 69], velocities: [127] }));
  const hz = (patchId: string, key: number) => {
    const [left] = played(rig, patchId, files, key, 127);
    return pitchOf({ rate: RATE, channels: 1, data: left.slice(4800) })!.hz;
  };
  for (const key of [64, 66, 69]) expect(Math.abs(1200 * Math.log2(hz('bounced', key) / hz('p', key)))).toBeLessThan(1);
});

test('the same settings give the same bits', async () => {
  const rig = rigOf([{ ...newLayer('a', 'A', 's', markAt(0)), params: { drift: 40, panChance: 60 } }]);
  const ids = async () =>
    (await bounce(rig, settings({ keys: [60], velocities: [90], alternates: 2 }))).rig.samples.map(({ id }) => id);
  expect(await ids()).toEqual(await ids());
});

test('a steady sound gets a loop that closes, one that dies away gets none', async () => {
  const steady = await bounce(
    rigOf([newLayer('a', 'A', 's', markAt(0))]),
    settings({ keys: [69], velocities: [127], loop: true, seconds: 1 }),
  );
  const zone = steady.rig.sounds.find(({ id }) => id === 'bounced-0')!.zones[0];
  expect(zone.loop).toMatchObject({ until: 'end' });
  // The loop holds whole periods of the note: 440 Hz at 48 kHz are 109.09 frames each (arithmetic).
  const periods = (zone.loop!.end - zone.loop!.start) / (RATE / 440);
  expect(Math.abs(periods - Math.round(periods))).toBeLessThan(0.03);
  const held = played(steady.rig, 'bounced', steady.wavs, 69, 127, 2.5, 0);
  const power = (from: number) => held[0].subarray(from * RATE, (from + 0.3) * RATE).reduce((sum, x) => sum + x * x, 0);
  expect(10 * Math.log10(power(2.1) / power(0.2))).toBeCloseTo(0, 0);
  const dying = await bounce(
    rigOf([{ ...newLayer('a', 'A', 's', markAt(0)), params: { decay: 0.4, sustain: -60 } }]),
    settings({ keys: [69], velocities: [127], loop: true, seconds: 1 }),
  );
  expect(dying.rig.sounds.find(({ id }) => id === 'bounced-0')!.zones[0].loop).toBeNull();
});

test('a group, and what a shared effect gives back, are bounced by themselves; what does not play is refused', async () => {
  const grouped = rigOf(
    [
      { ...newLayer('a', 'A', 's', markAt(0)), groupId: 'g' },
      { ...newLayer('b', 'B', 's', markAt(1)), transpose: 12 },
    ],
    { groups: [newGroup('g', 'G', markAt(2))] },
  );
  const of = async (rig: Rig, what: BounceSettings['what']) => {
    const made = await bounce(rig, settings({ what, keys: [69], velocities: [127] }));
    return pitchOf(
      readWav(made.wavs.get(made.rig.sounds.find(({ id }) => id === 'bounced-0')!.zones[0].sampleId)!).audio,
    )!.hz;
  };
  expect(await of(grouped, { kind: 'group', id: 'g' })).toBeCloseTo(440, 0);
  expect(await of(grouped, { kind: 'layer', id: 'b' })).toBeCloseTo(880, 0);
  const sent = rigOf([newLayer('a', 'A', 's', markAt(0))], {
    pools: [newPool('hall', 'Hall', [{ ...newEffect('e', 'echo'), params: { time: 0.25, mix: 100 } }])],
    connections: [{ id: 'send', kind: 'send', from: 'layer.a', to: 'pool.hall', level: 0, on: true, tap: 'after' }],
  });
  const back = await bounce(sent, settings({ what: { kind: 'pool', id: 'hall' }, keys: [69], velocities: [127] }));
  const wav = readWav(back.wavs.get(back.rig.sounds.find(({ id }) => id === 'bounced-0')!.zones[0].sampleId)!).audio;
  // Nothing of the dry sound: the echo has not come back yet.
  expect(wav.data.subarray(0, 2 * 4800).every((x) => Math.abs(x) < 1e-4)).toBe(true);
  expect(wav.data.some((x) => Math.abs(x) > 0.01)).toBe(true);
  expect(() => targetsOf(grouped.patches[0], settings({ what: { kind: 'layer', id: 'nobody' } }))).toThrow(
    'nothing of it plays',
  );
});

test('rebuilt, each layer keeps its windows, controllers and routes; what a route moves stays live, all else is in the recording', async () => {
  const window = {
    source: 'cc.1',
    low: 0,
    high: 127,
    fadeIn: 127,
    fadeOut: 0,
    shape: 'sine' as const,
    read: 'always' as const,
  };
  const a: Layer = {
    ...newLayer('a', 'A', 's', markAt(0)),
    params: { cutoff: 800, level: -6, unison: 2, detune: 10 },
    windows: [{ ...fullWindow('key'), high: 80 }, fullWindow('velocity'), window],
    effects: [newEffect('t', 'tilt')],
  };
  const rig = rigOf([a, { ...newLayer('b', 'B', 's', markAt(1)), params: { cutoff: 600 } }], {
    routes: [newRoute('r', 'macro.1', 'layer.a.cutoff', 0.4)],
    macros: [{ number: 1, name: 'Open', value: 0, style: 'strip' }],
  });
  const { rig: next, wavs: files } = await bounce(rig, settings({ rebuild: true, keys: [57, 69], velocities: [127] }));
  const made = next.patches.find(({ id }) => id === 'bounced')!;
  expect(made.layers[0]).toMatchObject({
    id: 'a',
    windows: a.windows,
    effects: a.effects,
    params: { cutoff: 800, level: -6, startLevel: 100 },
  });
  expect(made.layers[0].params.unison).toBeUndefined();
  expect(made.layers[1].params.cutoff).toBeUndefined();
  expect(made.routes).toEqual(rig.patches[0].routes);
  expect(next.patches.map(({ id }) => id)).toEqual(['p', 'bounced']);
  const open = (id: string) =>
    played(
      {
        ...next,
        patches: next.patches.map((patch) => ({ ...patch, layers: patch.layers.filter((layer) => layer.id === 'b') })),
      },
      id,
      files,
      69,
      127,
    );
  expect(differenceDb(open('p'), open('bounced'), 0.55)).toBeLessThan(-45);
  // At half the velocity the level follows as it did: live.
  const soft = (id: string) =>
    levelOf(
      played(
        {
          ...next,
          patches: next.patches.map((patch) => ({
            ...patch,
            layers: patch.layers.filter((layer) => layer.id === 'b'),
          })),
        },
        id,
        files,
        69,
        64,
      ),
    );
  expect(soft('bounced')).toBeCloseTo(soft('p'), 0);
});
