import { newPatch, newRig, newSound } from '../../../core/rig/defaults';
import { isThere, pathTo, type Place } from './undoPlace';

const rig = {
  ...newRig('r', 'R'),
  patches: [newPatch('a', 'A'), newPatch('b', 'B')],
  sounds: [newSound('s', 'S', [])],
};
const layers: Place = { view: 'layers', patchId: 'a', layerIds: ['l'] };
const control = { view: 'control', patchId: 'a', source: 'macro.1' } as Place;
const mix = { view: 'mix', patchId: 'a', chosen: null } as unknown as Place;
const sounds: Place = { view: 'sounds', soundId: 's', zones: [2] };

test.each<[string, Place, { view: string; patchId?: string; madeIn?: string }, string | undefined]>([
  ['a strip in Layers is seen in Layers', layers, { view: 'layers', patchId: 'a' }, undefined],
  ['and in Mix', layers, { view: 'mix', patchId: 'a' }, undefined],
  ['and in the view where it was moved', layers, { view: 'sounds', patchId: 'a', madeIn: 'sounds' }, undefined],
  ['from another view it is gone to', layers, { view: 'sounds', patchId: 'a', madeIn: 'layers' }, '/patch/a/layers'],
  ['and from another patch', layers, { view: 'layers', patchId: 'b', madeIn: 'layers' }, '/patch/a/layers'],
  ['a route is seen in any view that has strips', control, { view: 'layers', patchId: 'a' }, undefined],
  ['but not in Sounds', control, { view: 'sounds', patchId: 'a' }, '/patch/a/control'],
  ['nor in another patch', control, { view: 'control', patchId: 'b' }, '/patch/a/control'],
  ['the front of the mix likewise', mix, { view: 'control', patchId: 'a' }, undefined],
  ['which Sounds does not show', mix, { view: 'sounds', patchId: 'a' }, '/patch/a/mix'],
  ['zones are gone to in the patch where one is', sounds, { view: 'layers', patchId: 'b' }, '/patch/b/sounds/s'],
  ['what is of the rig has no place', { view: 'rig' } as Place, { view: 'layers', patchId: 'a' }, undefined],
])('%s', (_, place, now, path) => {
  expect(pathTo(place, rig, now)).toBe(path);
});

test('what is gone, or has no rig, is not gone to', () => {
  for (const place of [layers, control, mix, sounds]) {
    expect(isThere(place, rig)).toBe(true);
    expect(isThere(place, null)).toBe(false);
    expect(isThere(place, { ...rig, patches: [], sounds: [] })).toBe(false);
    expect(pathTo(place, { ...rig, patches: [], sounds: [] }, { view: 'stage', patchId: 'b' })).toBeUndefined();
  }
});
