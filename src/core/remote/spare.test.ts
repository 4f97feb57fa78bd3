import { markAt, newLayer, newPatch, newRig, newSound } from '../rig/defaults';
import { updateLayer } from '../rig/edits/layers';
import type { Rig } from '../rig/schema';
import { applyChanges, changesOf } from './changes';
import { inPieces, PIECE_SIGNS, Pieces, readSpare, type SpareMessage } from './spare';

const patch = { ...newPatch('p', 'P'), layers: ['a', 'b', 'c'].map((id, n) => newLayer(id, id, 's', markAt(n))) };
const rig: Rig = { ...newRig('r', 'R'), patches: [patch, newPatch('q', 'Q')], sounds: [newSound('s', 'S')] };
const overTheLine = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

test('what has changed brings the other to the same state; what has not stays the same object', () => {
  const there = applyChanges(null, overTheLine(changesOf(null, rig))) as Rig;
  expect(there).toEqual(rig);
  const edited = {
    ...rig,
    patches: [updateLayer(patch, 'b', (layer) => ({ ...layer, name: 'other' })), rig.patches[1]],
  };
  const changes = changesOf(rig, edited);
  expect(changes.map(([key]) => key)).toEqual(['patches']);
  expect(JSON.stringify(changes)).not.toContain('"Q"');
  const next = applyChanges(there, overTheLine(changes)) as Rig;
  expect(next).toEqual(edited);
  expect(next.patches[1]).toBe(there.patches[1]);
  expect(next.sounds).toBe(there.sounds);
  const layers = changesOf(patch, edited.patches[0]);
  expect(layers).toEqual([['layers', { ids: ['a', 'b', 'c'], items: [edited.patches[0].layers[1]] }]]);
});

test('members that go, come and change their order; lists that become empty; parts that go', () => {
  for (const after of [
    { ...patch, layers: [patch.layers[2], patch.layers[0]] },
    { ...patch, layers: [] },
    { ...patch, layers: [...patch.layers, newLayer('d', 'd', 's', markAt(3))] },
  ]) {
    expect(applyChanges(overTheLine(patch), overTheLine(changesOf(patch, after)))).toEqual(after);
  }
  expect(applyChanges({ a: 1, b: 2 }, changesOf<object>({ a: 1, b: 2 }, { a: 1 }))).toEqual({ a: 1 });
});

test('a member that was never told of is refused by name; no part reaches a prototype', () => {
  expect(() => applyChanges({ layers: [] }, [['layers', { ids: ['x'], items: [] }]])).toThrow(/“layers” names x/);
  const made = applyChanges({}, JSON.parse('[["__proto__", {"value": {"polluted": true}}]]') as never);
  expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
  expect(Object.getPrototypeOf(made)).toBe(Object.prototype);
});

const steps = (list: unknown[], sums: unknown[] = []) => ({ type: 'steps', epoch: 1, upTo: 9, steps: list, sums });
const on = { type: 'noteOn', channel: 1, key: 60, velocity: 90 };

test.each([
  [{ type: 'hello', name: 'second', leads: false }, true],
  [{ type: 'hello', name: 'x'.repeat(41), leads: false }, false],
  [{ type: 'hello', name: 'second', leads: false, more: 1 }, false],
  [steps([{ at: 3, event: on, ahead: 0 }], [{ second: 1, hash: -5, power: 0.1 }]), true],
  [steps([{ at: 3, event: { ...on, key: 200 }, ahead: 0 }]), false],
  [steps([{ at: -1, event: on, ahead: 0 }]), false],
  [steps([{ at: 3, event: on, ahead: 0.5 }]), false],
  [steps([{ at: 3, show: [['layers', { ids: ['a'], items: [{ id: 'a' }] }]] }]), true],
  [steps([{ at: 3, show: [['layers', { ids: [4], items: [] }]] }]), false],
  [steps([{ at: 3, outputs: [0, 1] }]), true],
  [steps([{ at: 3, outputs: [7] }]), false],
  [steps([{ at: 3 }]), false],
  [steps(Array.from({ length: 3000 }, () => ({ at: 3, event: on, ahead: 0 }))), false],
  [{ type: 'want', id: '../../etc', from: 0 }, false],
  [{ type: 'want', id: 'abc', from: 0 }, true],
  [{ type: 'sample', id: 'abc', from: 0, total: 3, data: 'x'.repeat(200_000) }, false],
  [{ type: 'toString' }, false],
  [null, false],
  ['steps', false],
])('%j is known: %s', (json, known) => {
  expect(readSpare(overTheLine(json)) !== undefined).toBe(known);
});

test('a long message goes in pieces, and comes out as it was; one that is missing drops it', () => {
  const long: SpareMessage = {
    type: 'rig',
    document: true,
    changes: [['notes', { value: 'é'.repeat(3 * PIECE_SIGNS) }]],
  };
  const sent = inPieces(long).map(overTheLine);
  expect(sent.length).toBeGreaterThan(3);
  for (const piece of sent) expect(readSpare(piece)).toBeDefined();
  const pieces = new Pieces();
  const heard = sent.map((piece) => pieces.hear(piece));
  expect(heard.slice(0, -1).every((each) => each === undefined)).toBe(true);
  expect(heard.at(-1)).toEqual(long);
  // Others between its pieces are heard at once.
  const between = new Pieces();
  expect(between.hear(sent[0])).toBeUndefined();
  expect(between.hear({ type: 'took' })).toEqual({ type: 'took' });
  expect(between.hear(sent[2])).toBeUndefined();
  for (const piece of sent.slice(3)) expect(between.hear(piece)).toBeUndefined();
});
