import { markAt, newLayer, newPatch, newRig, newSound, newZone } from '../rig/defaults';
import { faultOf } from '../rig/read';
import type { Rig } from '../rig/schema';
import { draw, drawablesIn } from './draw';
import { goTo, keepDraw, soundsOfDraws, withNeededSounds } from './history';

const sample = (id: string) => ({ id, name: id, rate: 48000, channels: 1, frames: 10 });
const rig: Rig = {
  ...newRig('r', 'R'),
  patches: [{ ...newPatch('p', 'P'), layers: [newLayer('a', 'A', 'own', markAt(0))] }],
  sounds: [newSound('own', 'Own', [newZone('w', 60)])],
  samples: [sample('w')],
};
const folder = ['x', 'y', 'z'].map((id) => ({
  sounds: [newSound(`file-${id}`, id, [newZone(id, 60)])],
  samples: [sample(id), sample('unused')],
}));

test('a draw among the sounds of a folder brings the one it took into the rig, with its recording, and nothing else', () => {
  const all = withNeededSounds(rig, new Set(folder.flatMap(({ sounds }) => sounds.map(({ id }) => id))), folder);
  expect(all.sounds).toHaveLength(4);
  const [patch] = rig.patches;
  const open = drawablesIn(patch, ['layer.a.sound'], all.sounds);
  const { patch: drawn, changes } = draw(patch, open, {
    amount: 1,
    seed: 5,
    sounds: all.sounds.slice(1).map(({ id }) => id),
  });
  const kept = keepDraw(drawn, changes, { id: 'd', seed: 5, amount: 1, scope: 'A' });
  const taken = kept.layers[0].soundId;
  expect(taken).toMatch(/^file-/);
  expect(soundsOfDraws(kept.draws)).toEqual(new Set(['own', taken]));
  const next = withNeededSounds({ ...rig, patches: [kept] }, soundsOfDraws(kept.draws), [all]);
  expect(faultOf(next)).toBeUndefined();
  expect(next.sounds.map(({ id }) => id)).toEqual(['own', taken]);
  expect(next.samples.map(({ id }) => id)).toEqual(['w', taken.slice(5)]);
  // There and back.
  expect(goTo(kept, null).layers[0].soundId).toBe('own');
  expect(withNeededSounds(next, soundsOfDraws(kept.draws), [all])).toBe(next);
});
