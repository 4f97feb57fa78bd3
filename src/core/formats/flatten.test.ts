import { compile, contextOf } from '../engine/program/compile';
import { resolveStrikes } from '../engine/offline/resolve';
import {
  fullWindow,
  markAt,
  newEffect,
  newGroup,
  newLayer,
  newPatch,
  newRig,
  newRoute,
  newSound,
  newZone,
} from '../rig/defaults';
import { faultOf } from '../rig/read';
import type { LayerWindow, Patch, Rig, Zone } from '../rig/schema';
import { flattened } from './flatten';
import { readSfz } from './sfzRead';
import { writeSfz } from './sfzWrite';

const on = (id: string, root: number, low: number, high: number, more: Partial<Zone> = {}): Zone => ({
  ...newZone(id, root),
  key: { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  ...more,
});
const sounds = [
  newSound('felt', 'Felt', [
    on('a', 48, 0, 59, { gain: -3 }),
    on('b', 72, 60, 127, { velocity: { low: 1, high: 90, fadeIn: 0, fadeOut: 0, shape: 'sine' } }),
    on('a', 72, 60, 127, {
      velocity: { low: 91, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
      params: { velocityToLevel: 50 },
    }),
  ]),
  newSound('wire', 'Wire', [on('b', 60, 0, 127, { pan: 0.3 })]),
];
const wheel: LayerWindow = { ...fullWindow('cc.1'), fadeIn: 100 };
const patch: Patch = {
  ...newPatch('p', 'Low Tide'),
  main: { level: -2, width: 100, effects: [] },
  groups: [{ ...newGroup('g', 'G', markAt(3)), params: { level: -4, pan: 0.2 } }],
  layers: [
    {
      ...newLayer('l', 'Left', 'felt', markAt(0)),
      transpose: 12,
      windows: [{ ...fullWindow('key'), high: 60, fadeOut: 4 }, fullWindow('velocity')],
      params: { level: -6, tune: 15, attack: 0.2 },
    },
    {
      ...newLayer('r', 'Right', 'wire', markAt(1)),
      groupId: 'g',
      windows: [{ ...fullWindow('key'), low: 50 }, { ...fullWindow('velocity'), low: 40 }, wheel],
      params: { level: -3 },
    },
    { ...newLayer('o', 'Off', 'wire', markAt(2)), on: false },
  ],
};
const rig: Rig = {
  ...newRig('r', 'R'),
  samples: ['a', 'b'].map((id) => ({ id, name: `${id}.wav`, rate: 48000, channels: 1 as const, frames: 1000 })),
  sounds,
  patches: [patch],
};

/** What sounds for a strike: samples with their gain and pitch, as the engine resolves them. */
const sounding = (of: Rig, key: number, velocity: number, cc: number) =>
  resolveStrikes(compile(of.patches[0], contextOf(of)), key, velocity, {
    set: new Map([['cc.1', cc]]),
  })[0]
    .filter(({ gain }) => gain > 0)
    .map(({ sampleId, gainDb, semitones }) => `${sampleId} ${gainDb.toFixed(1)} dB ${semitones.toFixed(2)}`)
    .sort();

test('a patch as one sound plays the same samples at the same levels and pitches on every key and velocity', () => {
  const { sound, notCarried } = flattened(rig, patch);
  expect(notCarried).toEqual([]);
  const single: Rig = {
    ...rig,
    sounds: [sound],
    patches: [{ ...newPatch('q', 'Q'), layers: [newLayer('x', 'X', sound.id, markAt(0))] }],
  };
  expect(faultOf(single)).toBeUndefined();
  for (const key of [20, 40, 47, 48, 50, 57, 59, 60, 61, 75, 100])
    for (const velocity of [10, 39, 40, 90, 91, 127])
      for (const cc of [0, 60, 127]) {
        const level = (list: string[]) => list.map((each) => each.replace(/-0\.0/, '0.0'));
        // The level of the whole and that of groups are put on when all is mixed: the engine's own zones do not have
        // them.
        expect({ key, velocity, cc, n: sounding(single, key, velocity, cc).length }).toEqual({
          key,
          velocity,
          cc,
          n: sounding(rig, key, velocity, cc).length,
        });
        expect(
          level(sounding(single, key, velocity, cc)).map((each) => each.split(' ')[0] + each.split(' ')[3]),
        ).toEqual(level(sounding(rig, key, velocity, cc)).map((each) => each.split(' ')[0] + each.split(' ')[3]));
      }
});

test('levels of layers, groups and the whole are in the gains of the zones', () => {
  const { sound } = flattened(rig, patch);
  expect(sound.zones.map(({ sampleId, gain, root, tune }) => [sampleId, gain, root, tune])).toEqual([
    ['a', -11, 36, 15],
    ['b', -8, 60, 15],
    ['a', -8, 60, 15],
    ['b', -9, 60, 0],
  ]);
  expect(sound.zones[3].windows).toEqual([wheel]);
  expect(sound.zones[0].params).toEqual({ attack: 0.2 });
});

test('it goes out as SFZ with its wheel window and comes back; what zones cannot say is listed, and what the engine makes is refused', () => {
  const { text, notCarried } = writeSfz(flattened(rig, patch).sound, (id) => `${id}.wav`);
  expect(notCarried.map(({ what }) => what).filter((what) => !what.includes('sine shape'))).toEqual([]);
  expect(text).toMatch(/xfin_locc1=0 xfin_hicc1=100/);
  const back = readSfz(
    text,
    'x.sfz',
    () => undefined,
    (path) => ({ id: path.replace('.wav', ''), frames: 1000, rate: 48000, loop: null }) as never,
  );
  expect(back.zones.map(({ key, root, gain }) => [key.low, key.high, root, gain])).toEqual(
    flattened(rig, patch).sound.zones.map(({ key, root, gain }) => [key.low, key.high, root, gain]),
  );
  const more: Patch = {
    ...patch,
    layers: [
      {
        ...patch.layers[0],
        effects: [newEffect('e', 'tilt')],
        path: { ...patch.layers[0].path, playing: 'mono' },
        params: { ...patch.layers[0].params, drive: 6 },
      },
    ],
    routes: [newRoute('x', 'cc.1', 'layer.l.cutoff', 0.2)],
  };
  expect(flattened(rig, more).notCarried.map(({ what }) => what)).toEqual([
    'drive of “Left”',
    'what “Left” makes of the keys',
    'effects of “Left”',
    'routes',
  ]);
  expect(() => flattened({ ...rig, sounds: sounds.map((sound) => ({ ...sound, kind: 'synth' })) }, patch)).toThrow(
    'bounce it first',
  );
});

test('the touch of a layer goes out in bands of velocities, each as loud as it makes them to within 0.75 dB', () => {
  const touches = [
    { curve: 0.5, outLow: 1, outHigh: 127, fixed: null },
    { curve: -0.4, outLow: 20, outHigh: 110, fixed: null },
    { curve: 0, outLow: 1, outHigh: 127, fixed: 100 },
  ];
  for (const touch of touches) {
    const touched: Patch = {
      ...patch,
      groups: [],
      main: { ...patch.main, level: 0 },
      layers: [{ ...newLayer('l', 'Left', 'felt', markAt(0)), touch, params: { velocityToLevel: 80 } }],
    };
    const { sound, notCarried } = flattened(rig, touched);
    expect(notCarried).toEqual([]);
    const single: Rig = {
      ...rig,
      sounds: [sound],
      patches: [{ ...newPatch('q', 'Q'), layers: [{ ...newLayer('x', 'X', sound.id, markAt(0)) }] }],
    };
    const many: Rig = { ...rig, patches: [touched] };
    for (const key of [40, 72])
      for (let velocity = 1; velocity <= 127; velocity += 3) {
        const of = (which: Rig) =>
          resolveStrikes(compile(which.patches[0], contextOf(which)), key, velocity, {})[0].filter(
            ({ gain }) => gain > 0,
          );
        const [asItIs, asItWent] = [of(many), of(single)];
        expect({ velocity, samples: asItWent.map(({ sampleId }) => sampleId) }).toEqual({
          velocity,
          samples: asItIs.map(({ sampleId }) => sampleId),
        });
        asItIs.forEach(({ gainDb }, i) => expect(Math.abs(asItWent[i].gainDb - gainDb)).toBeLessThan(0.8));
      }
  }
});
