import { EFFECTS } from '../effects';
import { newPatch, newRig, newRoute } from './defaults';
import { addPool } from './edits/mix';
import { addMacro, addMover } from './edits/moves';
import { addPatch, freePatchName } from './edits/patches';
import { hasSource, sourcesOf } from './moves';
import { freeName } from './names';
import { MOST_POOLS } from './limits';

test('a free name is the name itself, or the lowest number that nobody has', () => {
  const named = (...names: string[]) => names.map((name) => ({ name }));
  expect(freeName('Dome', [])).toBe('Dome');
  expect(freeName('Dome', named('Dome'))).toBe('Dome 2');
  expect(freeName('Dome', named('Dome', 'Dome 3'))).toBe('Dome 2');
  expect(freeName('Dome', named('Dome 2'))).toBe('Dome');
  expect(freeName('dome', named('Dome'))).toBe('dome');
});

test.each(EFFECTS.map(({ id }) => id))(
  'as many shared effects of %s as there may be all have names of their own',
  (kind) => {
    let patch = newPatch('one', 'One');
    for (let n = 0; n < MOST_POOLS; n++) patch = addPool(patch, `pool-${n}`, kind)!.patch;
    expect(new Set(patch.pools.map(({ name }) => name)).size).toBe(MOST_POOLS);
    expect(addPool(patch, 'more', kind)).toBeUndefined();
  },
);

test('a hundred new patches all have names of their own', () => {
  let rig = newRig('rig', 'Rig');
  for (let n = 0; n < 100; n++) rig = addPatch(rig, `patch-${n}`, freePatchName(rig));
  expect(new Set(rig.patches.map(({ name }) => name)).size).toBe(rig.patches.length);
});

test('a route reads what it names, in a formula and as what scales it; a patch has what somebody made', () => {
  const route = newRoute('route-1', { formula: 'macro.3 * velocity + keyLow' }, 'main.level', 0.5);
  expect(sourcesOf({ ...route, scaledBy: 'lfo.2' }).sort()).toEqual(['lfo.2', 'macro.3', 'velocity']);
  expect(sourcesOf({ ...route, source: 'xy.1.x' })).toEqual(['xy.1.x']);
  const empty = { ...newPatch('one', 'One'), macros: [], blends: [], xyPads: [], movers: [] };
  for (const id of ['macro.1', 'blend.1', 'xy.1.x', 'lfo.1']) expect(hasSource(empty, id)).toBe(false);
  for (const id of ['velocity', 'key', 'cc.1', 'bend']) expect(hasSource(empty, id)).toBe(true);
  const full = addMover(addMacro(empty, 'Swell')!.patch, 'lfo', 'Slow')!.patch;
  expect(['macro.1', 'macro.2', 'lfo.1', 'lfo.2', 'contour.1'].filter((id) => hasSource(full, id))).toEqual([
    'macro.1',
    'lfo.1',
  ]);
});
