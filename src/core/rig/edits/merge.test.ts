import { newToShow } from '../setlist';
import { markAt, newLayer, newPatch, newRig, newSound, newZone } from '../defaults';
import { faultOf } from '../read';
import type { Rig } from '../schema';
import { mergePatches, onlyUsed } from './merge';

const ids = () => {
  let n = 0;
  return () => `new-${++n}`;
};
const sample = (id: string) => ({ id, name: `${id}.wav`, rate: 48000, channels: 1 as const, frames: 100 });
const rigOf = (id: string, patchName: string, soundId: string, sampleId: string, soundName = 'Felt'): Rig => ({
  ...newRig(id, id),
  samples: [sample(sampleId), sample('unused')],
  sounds: [newSound(soundId, soundName, [newZone(sampleId, 60)]), newSound('spare', 'Spare', [newZone('unused', 60)])],
  patches: [{ ...newPatch('p', patchName), layers: [newLayer('a', 'A', soundId, markAt(0))] }],
});

test('only what patches play goes along', () => {
  const used = onlyUsed(rigOf('r', 'P', 's', 'x'));
  expect([used.sounds.map(({ id }) => id), used.samples.map(({ id }) => id)]).toEqual([['s'], ['x']]);
  expect(faultOf(used)).toBeUndefined();
});

test('a patch comes with its sounds and samples; the same sound and sample come once, and names that meet are told apart', () => {
  const here = rigOf('r', 'Low Tide', 's', 'x');
  const same = mergePatches(here, rigOf('o', 'Low Tide', 'other', 'x'), ['p'], ids());
  expect(faultOf(same.rig)).toBeUndefined();
  expect(same).toMatchObject({
    sounds: 0,
    sameSounds: 1,
    samples: 0,
    sameSamples: 1,
    patches: [{ id: 'new-1', name: 'Low Tide copy' }],
  });
  expect(same.rig.patches[1].layers[0].soundId).toBe('s');
  const other = mergePatches(here, rigOf('o', 'High Tide', 's', 'y'), ['p'], ids());
  expect(faultOf(other.rig)).toBeUndefined();
  expect(other).toMatchObject({ sounds: 1, samples: 1 });
  expect(other.rig.sounds.map(({ id, name }) => [id, name])).toEqual([
    ['s', 'Felt'],
    ['spare', 'Spare'],
    [expect.stringMatching(/^new-/), 'Felt copy'],
  ]);
  expect(other.rig.patches[1].layers[0].soundId).toBe(other.rig.sounds[2].id);
  // It joins no show by itself.
  expect(newToShow(other.rig).map(({ id }) => id)).toContain(other.rig.patches[1].id);
  // Nothing is asked for, nothing comes.
  expect(mergePatches(here, rigOf('o', 'High Tide', 's', 'y'), [], ids()).rig).toEqual(here);
});
