import { newRig, newSound } from './defaults';
import { faultOf } from './read';
import { patchBy, TEMPLATES } from './templates';

test.each(TEMPLATES.map((template) => [template.name, template] as const))('%s: a sound patch, with as many sounds as there are', (_, template) => {
  for (const count of [1, 2, 5]) {
    let n = 0;
    const sounds = Array.from({ length: count }, (__, i) => newSound(`s${i}`, `Sound ${i}`));
    const patch = patchBy(template, 'p', sounds, () => `id${n++}`)!;
    expect(patch.layers).toHaveLength(template.sounds);
    expect(faultOf({ ...newRig('r', 'R'), sounds, patches: [patch] })).toBeUndefined();
  }
  expect(patchBy(template, 'p', [], () => 'x')).toBeUndefined();
});
