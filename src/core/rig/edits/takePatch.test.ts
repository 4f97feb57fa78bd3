import { markAt, newLayer, newPatch, newRig, newSound, newZone } from '../defaults';
import { readRig } from '../read';
import type { Rig } from '../schema';
import { takePatch, takeSound } from './takePatch';

const sample = (id: string) => ({ id, name: `${id}.wav`, rate: 48000, channels: 1, frames: 100 });
const from: Rig = {
  ...newRig('from', 'From'),
  sounds: [newSound('keys', 'Keys', [newZone('a', 60)]), newSound('wire', 'Wire', [newZone('b', 60)])],
  samples: [sample('a'), sample('b')],
  patches: [
    {
      ...newPatch('p', 'Low'),
      layers: [
        newLayer('one', 'One', 'keys', markAt(0)),
        { ...newLayer('two', 'Two', 'wire', markAt(1)), list: ['wire', 'keys'] },
      ],
    },
  ],
};
const ids = () => {
  let n = 0;
  return () => `new-${++n}`;
};

test('a patch comes with what it plays, and the rig is one that can be read', () => {
  const { rig, patchId } = takePatch(newRig('mine', 'Mine'), from, 'p', ids());
  expect(rig.patches.map(({ id, name }) => [id, name])).toEqual([[patchId, 'Low']]);
  expect(rig.sounds.map(({ id }) => id)).toEqual(['keys', 'wire']);
  expect(rig.samples.map(({ id }) => id)).toEqual(['a', 'b']);
  expect(readRig(JSON.parse(JSON.stringify(rig)))).toEqual(rig);
});

test('taken twice, it is there twice under two names, and its sounds once', () => {
  const newId = ids();
  const once = takePatch(newRig('mine', 'Mine'), from, 'p', newId).rig;
  const twice = takePatch(once, from, 'p', newId).rig;
  expect(new Set(twice.patches.map(({ name }) => name)).size).toBe(2);
  expect(twice.sounds).toHaveLength(2);
  expect(twice.samples).toHaveLength(2);
});

test('another sound of the same id keeps its place: what comes gets an id of its own, in lists as well', () => {
  const mine: Rig = { ...newRig('mine', 'Mine'), sounds: [newSound('keys', 'My keys')] };
  const { rig } = takePatch(mine, from, 'p', ids());
  const [one, two] = rig.patches[0].layers;
  expect(rig.sounds.find(({ id }) => id === 'keys')!.name).toBe('My keys');
  expect(rig.sounds.find(({ id }) => id === one.soundId)!.name).toBe('Keys');
  expect(two.list).toEqual(['wire', one.soundId]);
});

test('a sound alone comes with its samples; what is not there changes nothing', () => {
  const mine = newRig('mine', 'Mine');
  const { rig, soundId } = takeSound(mine, from, 'wire', ids());
  expect([soundId, rig.samples.map(({ id }) => id)]).toEqual(['wire', ['b']]);
  expect(takeSound(mine, from, 'nothing', ids()).rig).toBe(mine);
  expect(takePatch(mine, from, 'nothing', ids())).toEqual({ rig: mine, patchId: null });
});
