import { newRig, newSound, newZone } from './defaults';
import { padsOf } from './edits/kit';
import { faultOf } from './read';
import { patchBy, TEMPLATES } from './templates';

test.each(TEMPLATES.map((template) => [template.name, template] as const))(
  '%s: a sound patch, with as many sounds as there are',
  (_, template) => {
    for (const count of [1, 2, 5]) {
      let n = 0;
      const sounds = Array.from({ length: count }, (__, i) => newSound(`s${i}`, `Sound ${i}`));
      const patch = patchBy(template, 'p', sounds, () => `id${n++}`)!;
      expect(patch.layers).toHaveLength(template.sounds);
      expect(patch.layers.every(({ soundId }) => sounds.some(({ id }) => id === soundId))).toBe(true);
      expect(faultOf({ ...newRig('r', 'R'), sounds, patches: [patch] })).toBeUndefined();
    }
    expect(patchBy(template, 'p', [], () => 'x')).toBeUndefined();
  },
);

test('a kit takes the sound that is one, a pad for each of its keys', () => {
  let n = 0;
  const tins = {
    ...newSound(
      'tins',
      'Tins',
      [36, 38, 42].map((key) => newZone('w', key)),
    ),
    tags: ['kit'],
  };
  const patch = patchBy(
    TEMPLATES.find(({ id }) => id === 'kit')!,
    'p',
    [newSound('s', 'Other'), tins],
    () => `id${n++}`,
  )!;
  expect(padsOf(patch).map(({ key }) => key)).toEqual([36, 38, 42]);
  expect(patch.layers.every(({ soundId }) => soundId === 'tins')).toBe(true);
});
