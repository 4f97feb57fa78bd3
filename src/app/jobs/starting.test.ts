import { markAt, newEntry, newLayer, newPatch, newRig, newSetlist, newSound, newZone } from '../../core/rig/defaults';
import { faultOf } from '../../core/rig/read';
import { TEMPLATES } from '../../core/rig/templates';
import type { Rig } from '../../core/rig/schema';

Object.defineProperty(globalThis, 'localStorage', {
  value: { getItem: () => null, setItem: () => undefined },
  configurable: true,
});
const added: Rig[] = [];
jest.mock('../document/rigs', () => ({
  addNewRig: (rig: Rig) => {
    added.push(rig);
    return Promise.resolve();
  },
}));

// eslint-disable-next-line @typescript-eslint/no-require-imports
const { store } = require('../document/store') as typeof import('../document/store');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { rigSlice } = require('../document/rigSlice') as typeof import('../document/rigSlice');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { startPatch } = require('./starting') as typeof import('./starting');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { comesAlong } = require('./comesAlong') as typeof import('./comesAlong');

const sounds = ['keys', 'bells', 'wire'].map((id) => newSound(id, id, [newZone(`${id}-w`, 60)]));
const inView = { ...newPatch('p', 'Perigee'), layers: [newLayer('a', 'A', 'keys', markAt(0))] };
const rig: Rig = {
  ...newRig('perigee-tide', 'Perigee Tide'),
  sounds,
  samples: sounds.map(({ zones }) => ({
    id: zones[0].sampleId,
    name: zones[0].sampleId,
    rate: 48000,
    channels: 1,
    frames: 100,
  })),
  patches: [inView],
  setlists: [newSetlist('s', 'S', [newEntry('e', 'patch', ['p'])])],
  setlist: 's',
};
const now = () => store.getState().rig.rig!;
beforeEach(() => {
  store.dispatch(rigSlice.actions.opened(rig));
  added.length = 0;
});

test('in the rig in view it is one more patch by the name given, as one step of undo, and joins no show', async () => {
  const id = await startPatch('  My Evening ', false, { inView });
  const made = now().patches.find((patch) => patch.id === id)!;
  expect(made).toMatchObject({ name: 'My Evening', layers: [], takes: [] });
  expect(now().setlists[0].entries).toHaveLength(1);
  expect(store.getState().rig.past).toHaveLength(1);
  expect(added).toEqual([]);
});

test('without a name it has one that is free', async () => {
  const first = await startPatch('', false, { inView });
  const second = await startPatch(' ', false, { inView });
  const names = [first, second].map((id) => now().patches.find((patch) => patch.id === id)!.name);
  expect(new Set(names).size).toBe(2);
  expect(names.every((name) => name !== '')).toBe(true);
});

test.each(TEMPLATES.map((template) => [template.name, template] as const))(
  'in a rig of one’s own, by the template %s: what it plays comes along, and nothing else',
  async (_, template) => {
    const id = await startPatch('Mine', true, { template, inView });
    expect(now()).toBe(rig);
    const [own] = added;
    expect(faultOf(own)).toBeUndefined();
    expect(own.patches.map((patch) => [patch.id, patch.name])).toEqual([[id, 'Mine']]);
    const played = new Set(own.patches[0].layers.flatMap(({ soundId, list }) => [soundId, ...list]));
    expect(new Set(own.sounds.map((sound) => sound.id))).toEqual(played);
    expect(own.samples.map((sample) => sample.id).sort()).toEqual(
      own.sounds.flatMap(({ zones }) => zones.map(({ sampleId }) => sampleId)).sort(),
    );
    // One goes on from where one is: what the patch in view does not play comes first.
    if (template.sounds === 1) expect(own.patches[0].layers[0].soundId).not.toBe('keys');
  },
);

test('an empty one in a rig of one’s own brings no sounds; the rigs that come along are known', async () => {
  await startPatch('Bare', true, { inView });
  expect(added[0]).toMatchObject({ sounds: [], samples: [] });
  expect([rig, newRig('harbour-store', 'H'), newRig('x', 'Perigee Tide')].map(comesAlong)).toEqual([true, true, false]);
});
