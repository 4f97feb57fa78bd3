import { newPatch, newRig } from './defaults';
import { sealOf, textOf } from './seal';

const rig = { ...newRig('rig', 'Rig'), patches: [newPatch('one', 'One'), newPatch('two', 'Two')] };

test('a seal is the same for what is the same text, and another for any change, however deep', () => {
  const copy = structuredClone(rig);
  expect(sealOf(copy)).toBe(sealOf(rig));
  expect(sealOf(JSON.parse(JSON.stringify({ ...rig, nothing: undefined })))).toBe(
    sealOf({ ...rig, nothing: undefined }),
  );
  expect(sealOf({ ...rig, name: 'Other' })).not.toBe(sealOf(rig));
  const [patch, other] = rig.patches;
  const edited = { ...rig, patches: [{ ...patch, main: { ...patch.main, level: patch.main.level - 1 } }, other] };
  expect(sealOf(edited)).not.toBe(sealOf(rig));
  expect(sealOf({ ...rig, patches: [...rig.patches, ...rig.patches] })).not.toBe(sealOf(rig));
  expect(sealOf({ ...rig, patches: [] })).not.toBe(sealOf({ ...rig, sounds: [] }));
});

test('items that were sealed before are not written out again, and an edit of one is seen', () => {
  let reads = 0;
  const counted = (name: string) => ({
    toJSON: () => {
      reads++;
      return { name };
    },
  });
  const items = Array.from({ length: 100 }, (_, i) => counted(`${i}`));
  const before = sealOf({ items });
  expect(reads).toBe(100);
  const other = [...items];
  other[40] = counted('another');
  expect(sealOf({ items: other })).not.toBe(before);
  expect(reads).toBe(101);
  expect(sealOf({ items })).toBe(before);
  expect(reads).toBe(101);
});

test('anything that can stand in a file has a seal', () => {
  for (const value of [undefined, null, 1, 'text', [], [1, 'a', null], {}, { list: [undefined, null, 3] }])
    expect(Number.isInteger(sealOf(value))).toBe(true);
});

test('the text of a rig is that of JSON, before and after an edit', () => {
  expect(textOf(rig)).toBe(JSON.stringify(rig));
  const edited = { ...rig, name: 'A “name”', patches: [rig.patches[1], { ...rig.patches[0], name: 'Other' }] };
  expect(textOf(edited)).toBe(JSON.stringify(edited));
  expect(JSON.parse(textOf({ ...rig, nothing: undefined }))).toEqual(rig);
});
