import { markAt, newLayer, newPatch, newRig, newRoute, newSound } from '../defaults';
import { differencesOf } from '../difference';
import { faultOf, readRig } from '../read';
import type { Patch, Rig } from '../schema';
import { groupLayers } from './groups';
import { addLayer, setParam, updateLayer } from './layers';
import { setOfSeveral } from './several';
import { contentOf, deleteVersion, keepVersion, renameVersion, switchVersion } from './versions';
import { deleteSound } from './zones';

const plain: Patch = {
  ...newPatch('p', 'P'),
  layers: ['a', 'b'].map((id, i) => newLayer(id, `Layer ${id}`, i === 0 ? 's' : 't', markAt(i))),
};
const rig = (patch: Patch): Rig => ({
  ...newRig('r', 'R'),
  patches: [patch],
  sounds: [newSound('s', 'S'), newSound('t', 'T')],
});
const level = ({ layers }: Patch) => layers[0].params.level ?? 0;

describe('versions of a patch', () => {
  const two = setParam(keepVersion(plain, ['v1', 'v2']), 'a', 'level', -10);
  test('the first is what was, the second goes on; switching brings each back as it was left', () => {
    expect(two.versions.map(({ name }) => name)).toEqual(['A', 'B']);
    expect([level(two), level(switchVersion(two, 'v1')), level(switchVersion(switchVersion(two, 'v1'), 'v2'))]).toEqual(
      [-10, 0, -10],
    );
    const edited = setParam(switchVersion(two, 'v1'), 'a', 'level', -3);
    expect([level(switchVersion(edited, 'v2')), level(switchVersion(switchVersion(edited, 'v2'), 'v1'))]).toEqual([
      -10, -3,
    ]);
    expect(switchVersion(two, 'v2')).toBe(two);
    expect(contentOf(switchVersion(switchVersion(two, 'v1'), 'v2'))).toEqual(contentOf(two));
  });
  test('four at the most; a name; the last one left is the patch alone', () => {
    const four = keepVersion(keepVersion(two, ['', 'v3']), ['', 'v4']);
    expect(four.versions).toHaveLength(4);
    expect(keepVersion(four, ['', 'v5'])).toBe(four);
    expect(renameVersion(two, 'v1', 'Dry').versions[0].name).toBe('Dry');
    const one = deleteVersion(two, 'v2');
    expect([one.versions, one.version, level(one)]).toEqual([[], null, 0]);
    expect(level(deleteVersion(two, 'v1'))).toBe(-10);
  });
  test('the file holds them, and a sound that leaves the rig leaves them too', () => {
    const whole = rig(two);
    expect(readRig(JSON.parse(JSON.stringify(whole)))).toEqual(whole);
    const without = deleteSound(whole, 's');
    expect(faultOf(without)).toBeUndefined();
    expect(without.patches[0].versions.map(({ patch }) => patch.layers.map(({ id }) => id))).toEqual([['b'], ['b']]);
  });
  test('what differs is listed, value by value', () => {
    const say = (_: unknown, value: number) => String(value);
    const other = updateLayer(addLayer(setParam(plain, 'a', 'cutoff', 2600), 'c', 'Third', 's'), 'b', (layer) => ({
      ...layer,
      transpose: 12,
      path: { ...layer.path, playing: 'legato' },
    }));
    expect(
      differencesOf(
        contentOf(plain),
        contentOf({ ...other, tempo: 90, routes: [newRoute('x', 'cc.1', 'main.level', 0.1)] }),
        say,
      ),
    ).toEqual([
      'the layer “Third” has come',
      'Layer a: high cut 20480 → 2600',
      'Layer b: transposition 0 → 12',
      'Layer b: poly → legato',
      'tempo 120 → 90',
      'other routes',
    ]);
    expect(differencesOf(contentOf(plain), contentOf(plain), say)).toEqual([]);
    expect(differencesOf(contentOf(plain), contentOf(groupLayers(plain, ['a'], 'g', 'G')), say)).toEqual([
      'Layer a: another group',
      'the group “G” has come',
    ]);
  });
});

test('several layers are set, shifted and stretched together, and stop at the ends', () => {
  const three = setParam(
    { ...plain, layers: ['a', 'b', 'c'].map((id, i) => newLayer(id, id, 's', markAt(i))) },
    'b',
    'pan',
    0.5,
  );
  const pans = (way: 'set' | 'shift' | 'scale', value: number) =>
    setOfSeveral(three, ['a', 'b', 'c'], 'a', 'pan', value, way).layers.map(
      ({ params }) => Math.round((params.pan ?? 0) * 1000) / 1000,
    );
  expect(pans('set', 0.2)).toEqual([0.2, 0.2, 0.2]);
  expect(pans('shift', 0.2)).toEqual([0.2, 0.7, 0.2]);
  expect(pans('shift', 0.8)).toEqual([0.8, 1, 0.8]);
  expect(pans('scale', -0.5)).toEqual([-0.5, -0.25, -0.5]);
});
