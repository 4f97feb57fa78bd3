import { markAt, newLayer, newMover, newPatch, newRig, newRoute, newSound, newZone } from '../defaults';
import { faultOf } from '../read';
import type { Patch, Rig } from '../schema';
import { updateGroup } from './groups';
import { copyStructure, exchangeMember, fillPad, kitOf, padsOf } from './kit';
import { setParam } from './layers';
import { spreadOverPad } from './pads';
import { cc, on, RATE, render, start } from '../../../../tests/kit/engine';
import { newGroup, fullWindow } from '../defaults';

const sample = (id: string) => ({ id, name: id, rate: 48000, channels: 1, frames: 10 });
const ids = () => {
  let n = 0;
  return () => `n${n++}`;
};
const tins = newSound(
  'tins',
  'Tins',
  [36, 38, 42].map((key) => newZone('w', key)),
);
const patch: Patch = {
  ...newPatch('p', 'P'),
  layers: [{ ...newLayer('kit', 'Tins', 'tins', markAt(0)), params: { level: -3 } }],
  routes: [newRoute('x', 'cc.1', 'layer.kit.pan', 0.1)],
};
const rig: Rig = { ...newRig('r', 'R'), patches: [patch], sounds: [tins], samples: [sample('w')] };
const shown = (made: Patch) =>
  padsOf(made).map(({ key, group, members }) => `${key} ${group.name}: ${members.map(({ name }) => name).join(' + ')}`);

test('a sound on keys becomes pads, each with what moved the layer', () => {
  const made = kitOf(patch, 'kit', tins, (key) => `Pad ${key}`, ids());
  expect(shown(made)).toEqual(['36 Pad 36: Pad 36', '38 Pad 38: Pad 38', '42 Pad 42: Pad 42']);
  expect(made.routes).toHaveLength(3);
  expect(made.layers.every(({ params }) => params.level === -3)).toBe(true);
  expect(faultOf({ ...rig, patches: [made] })).toBeUndefined();
});

test('what else knew the layer is told that it is gone: anchors, followers; routes have ids of their own', () => {
  const known: Patch = {
    ...spreadOverPad(
      { ...patch, layers: [...patch.layers, newLayer('other', 'Other', 'tins', markAt(1))] },
      ['kit', 'other'],
      'Pad',
    )!.patch,
    movers: [{ ...newMover('follower', 1, 'Ear'), follows: 'kit' }],
  };
  const withTaken = { ...known, routes: [...known.routes, newRoute('x-1', 'cc.2', 'main.level', 0.1)] };
  const made = kitOf(withTaken, 'kit', tins, (key) => `Pad ${key}`, ids());
  expect(faultOf({ ...rig, patches: [made] })).toBeUndefined();
  expect(made.xyPads[0].anchors.map(({ layerId }) => layerId)).toEqual([null, 'other']);
  expect(made.movers[0].follows).toBe('main');
  expect(new Set(made.routes.map(({ id }) => id)).size).toBe(made.routes.length);
  expect(made.routes.filter(({ target }) => target.startsWith('layer.kit.'))).toEqual([]);
});

test('a file on a pad stacks, on free ground it makes a pad, on a member it takes its place', () => {
  const newId = ids();
  const one = fillPad(rig, 'p', 40, 'Lid', sample('l'), newId);
  const two = fillPad(one, 'p', 40, 'Rim', sample('m'), newId);
  expect(shown(two.patches[0])).toEqual(['40 Lid: Lid + Rim']);
  const three = exchangeMember(two, 'p', padsOf(two.patches[0])[0].members[0].id, 'Pot', sample('o'), newId);
  expect(shown(three.patches[0])).toEqual(['40 Lid: Pot + Rim']);
  expect(faultOf(three)).toBeUndefined();
  expect(three.sounds[1].zones[0]).toMatchObject({ pitchPerKey: 0, playback: 'full-length' });
});

test('the structure of one pad goes to others, keys, names and sounds stay', () => {
  const made = kitOf(patch, 'kit', tins, (key) => `Pad ${key}`, ids());
  const [first, second] = padsOf(made);
  const shaped = updateGroup(setParam(made, first.members[0].id, 'cutoff', 900), first.group.id, (group) => ({
    ...group,
    choke: 2,
    params: { level: -6 },
  }));
  const copied = padsOf(copyStructure(shaped, first.group.id, [second.group.id]))[1];
  expect([
    copied.key,
    copied.group.name,
    copied.group.choke,
    copied.group.params,
    copied.members[0].params,
    copied.members[0].soundId,
  ]).toEqual([38, 'Pad 38', 2, { level: -6 }, { level: -3, cutoff: 900 }, 'tins']);
});

test('pads with one number end one another, never themselves, and others not at all', () => {
  const pad = (id: string, key: number, choke: number) => ({
    ...newGroup(id, id, markAt(0)),
    choke,
    windows: [{ ...fullWindow('key'), low: key, high: key }],
  });
  const engine = start({
    layers: ['a', 'a', 'b', 'c'].map((groupId) => ({ groupId, params: { level: -20 } })),
    patch: { groups: [pad('a', 60, 1), pad('b', 62, 1), pad('c', 64, 0)] },
  });
  const voices = (key: number) => {
    engine.handle(on(key));
    render(engine, RATE / 10);
    return engine.voiceCount;
  };
  expect(voices(64)).toBe(1);
  expect(voices(60)).toBe(3);
  expect(voices(60)).toBe(5);
  expect(voices(62)).toBe(2);
  engine.handle(cc(120, 0));
});
