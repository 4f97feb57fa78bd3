import { newLayer, newPatch, newSound, newZone, markAt } from '../rig/defaults';
import type { Patch } from '../rig/schema';
import { drawablesIn, putDrawable, valueOfDrawable } from './draw';
import { fairDraw, mostChanged, withUndone, type Heard } from './fair';
import { goTo, keepDraw } from './history';

const patch = (): Patch => ({
  ...newPatch('p', 'P'),
  layers: [newLayer('a', 'A', 's', markAt(0)), newLayer('b', 'B', 's', markAt(1))],
});
const open = drawablesIn(patch(), [], [newSound('s', 'S', [newZone('x', 60)])]);
const options = { amount: 1, seed: 7 };
/** Answers for the patch before, then for each draw in turn; the last one for all that follow. */
const hears = (...answers: (Heard | null)[]) => {
  const heard: Patch[] = [];
  return {
    heard,
    hear: async (each: Patch) => {
      heard.push(each);
      return Promise.resolve(answers[Math.min(heard.length, answers.length) - 1]);
    },
  };
};
const at = (lufs: number | null, voices = 10): Heard => ({ lufs, voices });
const gainOf = (from: Patch, to: Patch, layer = 'a') =>
  (valueOfDrawable(to, 'main.level') as number) -
  (valueOfDrawable(from, 'main.level') as number) +
  (valueOfDrawable(to, `layer.${layer}.level`) as number) -
  (valueOfDrawable(from, `layer.${layer}.level`) as number);

test('a draw that came out as loud, with as many voices, is what was drawn', async () => {
  const { hear } = hears(at(-23), at(-23.2));
  expect(await fairDraw(patch(), open, options, hear)).toMatchObject({ evenedDb: 0, left: 0 });
});
test.each([
  [-23, -28.6, 5.6],
  [-23, -12.7, -10.3],
  [-23, -34, 11],
  [-23, -9, -12],
  [-23, -36, 12],
])('one of %d LUFS that came out at %d is turned by %d dB, and gone back from whole', async (before, after, db) => {
  const { hear } = hears(at(before), at(after));
  const fair = await fairDraw(patch(), open, options, hear);
  expect(fair.evenedDb).toBeCloseTo(db, 0);
  expect(gainOf(patch(), fair.patch)).toBeCloseTo(fair.evenedDb, 1);
  expect(gainOf(patch(), fair.patch, 'b')).toBeCloseTo(fair.evenedDb, 1);
  const kept = keepDraw(fair.patch, fair.changes, { id: 'd', ...options, scope: 'all' });
  expect({ ...goTo(kept, null), draws: [], drawn: null }).toEqual(patch());
  expect(goTo(goTo(kept, null), 'd')).toEqual(kept);
});
test.each([
  ['silent', at(null)],
  ['as good as silent', at(-64.7)],
  ['too dear', at(-23, 54)],
])('one that is %s is drawn again, from the seed’s next numbers, always the same ones', async (_what, bad) => {
  const run = () => {
    const { heard, hear } = hears(at(-23, 14), bad, bad, at(-24, 15));
    return fairDraw(patch(), open, options, hear).then((fair) => ({ fair, heard }));
  };
  const { fair, heard } = await run();
  expect(fair.left).toBe(2);
  expect(heard).toHaveLength(4);
  expect(heard[1]).not.toEqual(heard[2]);
  expect(fair).toEqual((await run()).fair);
});
test('where every number is as bad, the least bad is kept; a few are tried', async () => {
  const { heard, hear } = hears(at(-23, 14), at(null, 99), at(null, 2), at(-30, 80), at(null));
  const fair = await fairDraw(patch(), open, options, hear);
  expect(heard.length).toBeLessThan(10);
  // Dear, but heard.
  expect(fair.left).toBe(2);
});
test('what cannot be heard, or was silent before, is drawn as it comes', async () => {
  for (const first of [null, at(null), at(-70)]) {
    const { heard, hear } = hears(first);
    expect((await fairDraw(patch(), open, options, hear)).changes.length).toBeGreaterThan(3);
    expect(heard).toHaveLength(1);
  }
});
test('levels that are locked, or silent, are left', async () => {
  const silent = putDrawable({ ...patch(), locks: ['main', 'layer.a'] }, 'layer.b.level', -60);
  const { hear } = hears(at(-23), at(-33));
  const fair = await fairDraw(silent, open, options, hear);
  expect(['layer.a.level', 'layer.b.level', 'main.level'].map((what) => valueOfDrawable(fair.patch, what))).toEqual([
    0, -60, 0,
  ]);
  expect(fair.evenedDb).toBe(0);
});
test('a draw that was undone is in the list again when another one is made', () => {
  const draw = (from: Patch, id: string) =>
    keepDraw(from, [['layer.a.pan', 0, 0.5]], { id, seed: 1, amount: 1, scope: 'all' });
  const one = draw(patch(), 'one');
  const two = draw(one, 'two');
  // Undone: as it was after the first.
  const three = keepDraw(withUndone(one, two.draws), [], { id: 'three', seed: 2, amount: 1, scope: 'all' });
  expect(three.draws.map(({ id, from }) => [id, from])).toEqual([
    ['one', null],
    ['two', 'one'],
    ['three', 'one'],
  ]);
  // One that was made from what is not there any more has nothing to go back to.
  expect(withUndone(patch(), two.draws.slice(1)).draws).toEqual([]);
  expect(withUndone(one, one.draws)).toBe(one);
});
test('what changed most comes first', () => {
  expect(
    mostChanged(
      {
        changes: [
          ['layer.a.pan', 0, 0.1],
          ['layer.a.sound', 's', 't'],
          ['layer.a.pan', -1, 1],
          ['layer.a.level', 0, -1],
        ],
      },
      3,
    ).map(([what]) => what),
  ).toEqual(['layer.a.sound', 'layer.a.pan', 'layer.a.pan']);
});
