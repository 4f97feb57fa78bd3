import { markAt, newLayer, newPatch, newRig, newRoute, newSound, newZone } from '../../core/rig/defaults';
import { faultOf } from '../../core/rig/read';
import type { Rig } from '../../core/rig/schema';

Object.defineProperty(globalThis, 'localStorage', {
  value: { getItem: () => null, setItem: () => undefined },
  configurable: true,
});
const offered: string[] = [];
const expected: string[][] = [];
const atServer: { rig: Rig | Error } = { rig: new Error('not set') };
jest.mock('../document/rigs', () => ({
  rigAtServer: () => (atServer.rig instanceof Error ? Promise.reject(atServer.rig) : Promise.resolve(atServer)),
}));
jest.mock('../document/storage/demoSamples', () => ({
  offerFromServer: (ids: string[]) => offered.push(...ids),
  expectOffered: (ids: string[]) => expected.push(ids),
}));
jest.mock('./candidates', () => ({
  candidatesOf: (rig: Rig) =>
    rig.sounds.map((sound) => ({
      name: sound.name,
      sound,
      samples: rig.samples.filter(({ id }) => sound.zones.some(({ sampleId }) => sampleId === id)),
    })),
}));
Object.assign(globalThis, {
  fetch: () => Promise.resolve({ ok: true, json: () => Promise.resolve([{ name: 'tines', patches: ['t', 'gone'] }]) }),
});

// eslint-disable-next-line @typescript-eslint/no-require-imports
const { store } = require('../document/store') as typeof import('../document/store');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { rigSlice } = require('../document/rigSlice') as typeof import('../document/rigSlice');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { harbour } = require('./harbour') as typeof import('./harbour');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { storeHeard } = require('./storeHeard') as typeof import('./storeHeard');

const sampleOf = (id: string) => ({ id, name: id, rate: 48000, channels: 1, frames: 100 });
const tines = { ...newSound('tines', 'Tines', [newZone('tines-w', 60)]), tags: ['bass'] };
const there: Rig = {
  ...newRig('harbour-store', 'Harbour Store'),
  sounds: [tines],
  samples: [sampleOf('tines-w')],
  patches: [
    {
      ...newPatch('t', 'Tide Tines'),
      layers: [newLayer('a', 'A', 'tines', markAt(0))],
      macros: [{ number: 1, name: 'Bite', value: 0, style: 'strip' }],
      routes: [newRoute('r', 'macro.1', 'layer.a.level', 0.2)],
    },
  ],
};
const own: Rig = {
  ...newRig('mine', 'Mine'),
  sounds: [newSound('keys', 'Keys', [newZone('keys-w', 60)])],
  samples: [sampleOf('keys-w')],
  patches: [
    { ...newPatch('p', 'Mine'), layers: [newLayer('k', 'Keys', 'keys', markAt(0))] },
    newPatch('empty', 'Verse'),
  ],
};
const now = () => store.getState().rig.rig!;
const open = async () => {
  atServer.rig = there;
  return harbour.load();
};
beforeEach(() => {
  store.dispatch(rigSlice.actions.opened(own));
  expected.length = 0;
});

test('what is not there is said, and asked for again the next time', async () => {
  atServer.rig = new Error('the store is not on the server yet');
  await expect(harbour.load()).rejects.toThrow('not on the server yet');
  const all = await open();
  expect(all.families).toEqual([{ name: 'tines', patches: [there.patches[0]] }]);
  expect(offered).toEqual(['tines-w']);
  // Once it was read it is there.
  expect(await harbour.load()).toBe(all);
});

test('a patch is heard in the place of the one in view, with one’s own controllers, and nothing of it is in the rig', async () => {
  const all = await open();
  expect(harbour.hearPatch(all, there.patches[0], 'p', 'basses').length).toBeGreaterThan(0);
  expect(storeHeard.now).toMatchObject({ patchId: 'p', key: 'patch t' });
  expect(storeHeard.now!.rig.patches.map(({ id, name }) => [id, name])).toEqual([['p', 'Tide Tines']]);
  expect(storeHeard.now!.rig.controllers).toBe(own.controllers);
  expect(now()).toBe(own);
  harbour.giveBack();
  expect(storeHeard.now).toBeNull();
});

test('taken, it is one more patch with what moves in it and what it plays, as one step; its samples are expected', async () => {
  const all = await open();
  harbour.hearPatch(all, there.patches[0], 'p', 'tines');
  const id = harbour.takePatch(all, there.patches[0], own.patches[0])!;
  expect(storeHeard.now).toBeNull();
  expect(faultOf(now())).toBeUndefined();
  const taken = now().patches.find((patch) => patch.id === id)!;
  expect(taken).toMatchObject({
    name: 'Tide Tines',
    macros: [{ name: 'Bite' }],
    routes: [{ target: 'layer.a.level' }],
  });
  expect(now().samples.map((sample) => sample.id)).toEqual(['keys-w', 'tines-w']);
  expect(expected.at(-1)).toContain('tines-w');
  store.dispatch(rigSlice.actions.undone());
  expect(now()).toBe(own);
});

test('where an empty patch is in view, that is filled: it keeps its name, its id and its place', async () => {
  const all = await open();
  const id = harbour.takePatch(all, there.patches[0], own.patches[1]);
  expect(id).toBe('empty');
  expect(faultOf(now())).toBeUndefined();
  expect(now().patches.map((patch) => [patch.id, patch.name, patch.layers.length])).toEqual([
    ['p', 'Mine', 1],
    ['empty', 'Verse', 1],
  ]);
});

test('a sound becomes a layer; taken twice, it is one sound that two layers play', async () => {
  const all = await open();
  const first = harbour.takeSound(all, tines, 'p');
  const second = harbour.takeSound(all, tines, 'p');
  const { layers } = now().patches[0];
  expect(layers.map(({ id, soundId }) => [id, soundId])).toEqual([
    ['k', 'keys'],
    [first, 'tines'],
    [second, 'tines'],
  ]);
  expect(now().sounds).toHaveLength(2);
  expect(faultOf(now())).toBeUndefined();
});
