import { fullWindow, markAt, newLayer, newMover, newPatch, newRig, newRoute, newSound, newZone } from '../defaults';
import { faultOf } from '../read';
import type { Patch, Rig } from '../schema';
import { paste, pasteOutside, pasteSound, putSection, sectionOf, writeSection } from './carry';
import { clipOf, clipOfSound, readSection } from './clip';
import { connectionsOf } from '../mix';
import { addEffect, addPool, addSend } from './mix';
import { groupLayers } from './groups';
import { spreadOverPad } from './pads';

const sample = { id: 'w', name: 'w', rate: 48000, channels: 1, frames: 10 };
const from: Patch = groupLayers(
  {
    ...newPatch('from', 'From'),
    layers: [
      {
        ...newLayer('a', 'A', 's', markAt(0)),
        windows: [fullWindow('key'), fullWindow('velocity'), fullWindow('macro.2')],
      },
      newLayer('b', 'B', 's', markAt(1)),
      newLayer('c', 'C', 't', markAt(2)),
    ],
    macros: [1, 2, 3].map((number) => ({ number, name: `m${number}`, value: 0, style: 'strip' as const })),
    movers: [
      newMover('lfo', 1, 'Swell'),
      newMover('lfo', 2, 'Idle'),
      { ...newMover('follower', 1, 'Ear'), follows: 'a' },
    ],
    routes: [
      newRoute('r1', 'lfo.1', 'layer.a.level', 0.2),
      newRoute('r2', 'macro.3', 'lfo.1.rate', 0.5),
      newRoute('r3', { formula: 'macro.1 * (key - 60) / 60' }, 'layer.a.pan', 0.1),
      newRoute('r4', 'cc.1', 'layer.c.pan', 0.1),
      { ...newRoute('r5', 'cc.1', 'group.g.tune', 0.1), scaledBy: 'follower.1' },
    ],
  },
  ['a', 'b'],
  'g',
  'Pair',
);
const to: Patch = {
  ...newPatch('to', 'To'),
  layers: [newLayer('a', 'Other', 't', markAt(0))],
  macros: [{ number: 1, name: 'mine', value: 0.4, style: 'strip' }],
  movers: [newMover('lfo', 1, 'Mine')],
  routes: [newRoute('r1', 'macro.1', 'layer.a.level', 0.1)],
};
const rig: Rig = {
  ...newRig('r', 'R'),
  patches: [from, to],
  sounds: [newSound('s', 'S', [newZone('w', 60)]), newSound('t', 'T')],
  samples: [sample],
};
const ids = () => {
  let n = 0;
  return () => `n${n++}`;
};

test('a group goes into another patch with what moves it and what moves that, under free numbers', () => {
  const { rig: made, brings, problem } = paste(rig, 'to', clipOf(rig, from, ['a', 'b'], 'Pair'), ids());
  expect(problem).toBeUndefined();
  expect(faultOf(made)).toBeUndefined();
  const patch = made.patches[1];
  expect(patch.layers.map(({ name, groupId }) => [name, groupId])).toEqual([
    ['Other', null],
    ['A', 'n2'],
    ['B', 'n2'],
  ]);
  expect(patch.macros.map(({ number, name }) => `${number} ${name}`)).toEqual(['1 mine', '2 m1', '3 m2', '4 m3']);
  expect(patch.movers.map(({ kind, number, name, follows }) => `${kind}.${number} ${name} ${follows}`)).toEqual([
    'lfo.1 Mine ',
    'lfo.2 Swell ',
    'follower.1 Ear n0',
  ]);
  expect(patch.layers[1].windows.map(({ source }) => source)).toEqual(['key', 'velocity', 'macro.3']);
  expect(patch.routes.map(({ source, target, scaledBy }) => [source, target, scaledBy])).toEqual([
    ['macro.1', 'layer.a.level', undefined],
    ['lfo.2', 'layer.n0.level', undefined],
    ['macro.4', 'lfo.2.rate', undefined],
    [{ formula: 'macro.2 * (key - 60) / 60' }, 'layer.n0.pan', undefined],
    ['cc.1', 'group.n2.tune', 'follower.1'],
  ]);
  expect(brings).toContain('mover “Swell” as lfo.2');
  expect(brings).toContain('4 routes');
  expect(made.sounds).toHaveLength(2);
});

test('into another rig it brings its sounds and samples; one of that id that is another comes under a new id', () => {
  const clip = clipOf(rig, from, ['a'], 'A');
  const other: Rig = { ...newRig('o', 'O'), patches: [newPatch('p', 'P')], sounds: [newSound('s', 'Another')] };
  const { rig: made, brings } = paste(other, 'p', clip, ids());
  expect(faultOf(made)).toBeUndefined();
  expect(made.sounds.map(({ name }) => name)).toEqual(['Another', 'S']);
  expect(made.samples).toEqual([sample]);
  expect(brings).toContain('sound “S”');
});

test('where there is no room nothing is done, and it is said why', () => {
  const full: Patch = {
    ...to,
    macros: Array.from({ length: 15 }, (_, i) => ({ number: i + 1, name: `${i}`, value: 0, style: 'strip' as const })),
  };
  const crowded = { ...rig, patches: [from, full] };
  const { rig: made, problem } = paste(crowded, 'to', clipOf(crowded, from, ['a'], 'A'), ids());
  expect(problem).toBe('there is no room for macro “m2”');
  expect(made).toBe(crowded);
});

test('a pad comes with its anchors on the layers that come along', () => {
  const padded = { ...rig, patches: [spreadOverPad(from, ['a', 'c'], 'Pad')!.patch, to] };
  const { rig: made } = paste(padded, 'to', clipOf(padded, padded.patches[0], ['a'], 'A'), ids());
  expect(faultOf(made)).toBeUndefined();
  expect(made.patches[1].xyPads[0].anchors.map(({ layerId }) => layerId)).toEqual(['n0', null]);
});

test('the outside alone, the sound alone, a section alone', () => {
  const a = { ...from.layers[0], params: { cutoff: 500, level: -3 }, transpose: 12 };
  const outside = pasteOutside(to, 'a', a).layers[0];
  expect([outside.soundId, outside.transpose, outside.params, outside.windows.map(({ source }) => source)]).toEqual([
    't',
    12,
    { cutoff: 500, level: -3 },
    ['key', 'velocity'],
  ]);
  expect(pasteSound(to, 'a', a).layers[0]).toEqual({ ...to.layers[0], soundId: 's' });
  const section = sectionOf(a, ['cutoff', 'resonance']);
  expect(section).toEqual({ cutoff: 500 });
  expect(
    putSection(
      { ...to, layers: [{ ...to.layers[0], params: { resonance: 4, pan: 0.2 } }] },
      'a',
      ['cutoff', 'resonance'],
      section,
    ).layers[0].params,
  ).toEqual({ pan: 0.2, cutoff: 500 });
});

test('values from elsewhere are held within their ranges, and what is not told goes back to its default', () => {
  const before = { ...to, layers: [{ ...to.layers[0], params: { cutoff: 700, resonance: 3, pan: 0.2 } }] };
  expect(putSection(before, 'a', ['cutoff', 'resonance'], { cutoff: -5 }).layers[0].params).toEqual({
    cutoff: 20,
    pan: 0.2,
  });
  expect(putSection(before, 'a', ['cutoff', 'resonance'], {}).layers[0].params).toEqual({ pan: 0.2 });
  expect(putSection(before, 'gone', ['cutoff'], { cutoff: 100 })).toBe(before);
});

test('values of a layer go out as a file and come back; what is no such file is told what is wrong with it', () => {
  const file = { name: 'Dark', part: 'filters', section: { cutoff: 500, resonance: 2 } };
  expect(readSection(writeSection(file))).toEqual(file);
  const without = JSON.parse(writeSection(file)) as Record<string, unknown>;
  const wrong = (change: Record<string, unknown>) => () => readSection(JSON.stringify({ ...without, ...change }));
  expect(() => readSection('{')).toThrow('these are no values of a layer');
  expect(() => readSection('null')).toThrow('these are no values of a layer');
  expect(wrong({ kind: 'other' })).toThrow('these are no values of a layer');
  expect(wrong({ values: { toString: 1 } })).toThrow('values.toString: there is no such parameter');
  expect(wrong({ values: { cutoff: '1' } })).toThrow('values.cutoff: "1" is not a number');
  expect(wrong({ name: ' '.repeat(9) })()).toMatchObject({ name: 'filters' });
  expect(wrong({ name: 'x'.repeat(900) })().name).toHaveLength(200);
});

test('a sound alone comes with its samples, and only once', () => {
  const clip = clipOfSound(rig, rig.sounds[0]);
  const other: Rig = { ...newRig('o', 'O'), patches: [newPatch('p', 'P')] };
  const once = paste(other, 'p', clip, ids()).rig;
  expect([once.sounds.map(({ name }) => name), once.samples, once.patches[0].layers]).toEqual([['S'], [sample], []]);
  expect(paste(once, 'p', clip, ids()).rig.sounds).toHaveLength(1);
});

test('a layer carries its effects, its sends and what it sends to; a whole patch its main chain too', () => {
  const shared = addSend(
    addPool(addEffect(from, 'layer.a', 'echo')!.patch, 'space', 'reverb')!.patch,
    'layer.a',
    'pool.space',
  );
  const mixed = addEffect(
    {
      ...shared,
      routes: [
        ...shared.routes,
        newRoute('m', 'cc.1', 'reverb.effect-2.decay', 0.2),
        newRoute('n', 'cc.1', 'connection.send-1.level', 0.2),
      ],
    },
    'main',
    'limiter',
  )!.patch;
  const whole: Rig = { ...rig, patches: [mixed, to] };
  const { rig: made, brings } = paste(whole, 'to', clipOf(whole, mixed, ['a'], 'A'), ids());
  expect(faultOf(made)).toBeUndefined();
  const patch = made.patches[1];
  expect(brings).toContain('shared effect “Reverb”');
  expect(patch.pools.map(({ name, effects }) => [name, effects.map(({ kind }) => kind)])).toEqual([
    ['Reverb', ['reverb']],
  ]);
  expect(
    connectionsOf(patch)
      .filter(({ kind }) => kind === 'send')
      .map(({ to: end }) => end),
  ).toEqual([`pool.${patch.pools[0].id}`]);
  expect(patch.main.effects).toEqual([]);
  expect(patch.routes.some(({ target }) => target.startsWith(`reverb.${patch.pools[0].effects[0].id}`))).toBe(true);
  // Once more into the same patch: the same space is sent to.
  const again = paste(whole, 'from', clipOf(whole, mixed, ['a'], 'A'), ids()).rig.patches[0];
  expect(again.pools).toHaveLength(1);
  expect(connectionsOf(again).filter(({ kind }) => kind === 'send')).toHaveLength(2);
  const empty: Rig = { ...whole, patches: [mixed, newPatch('to', 'To')] };
  expect(
    paste(empty, 'to', clipOf(empty, mixed, ['a', 'b', 'c'], 'all'), ids()).rig.patches[1].main.effects.map(
      ({ kind }) => kind,
    ),
  ).toEqual(['limiter']);
});
