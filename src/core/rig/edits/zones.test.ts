import { makePlan } from '../../mapping/plan';
import { PLAN_DEFAULTS, type PlanFile } from '../../mapping/planModel';
import { newPatch, newRig, newSound, newZone } from '../defaults';
import { readRig } from '../read';
import type { Rig, Zone } from '../schema';
import { applyPlan } from './plans';
import {
  addSamples,
  addSound,
  copyPad,
  deleteSound,
  deleteZones,
  deleteZonesOf,
  duplicateSound,
  exchangeSamples,
  matchLevels,
  moveEdge,
  moveZones,
  pointsInOrder,
  sameAudioTwice,
  setAlternates,
  shareOutVelocities,
  stretchZones,
  updateZones,
} from './zones';

const zone = (sampleId: string, root: number, more: Partial<Zone> = {}): Zone => ({
  ...newZone(sampleId, root),
  ...more,
});
const velocity = (low: number, high: number) => ({ low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' as const });
const all = (count: number) => new Set(Array.from({ length: count }, (_, i) => i));
const pad = newSound('s', 'S', [
  zone('a', 36, { velocity: velocity(1, 60), alternate: 0 }),
  zone('b', 36, { velocity: velocity(1, 60), alternate: 1 }),
  zone('c', 36, { velocity: velocity(61, 127), playback: 'full-length' }),
]);

test('edits touch only the zones they name', () => {
  const changed = updateZones(pad, new Set([1]), (old) => ({ ...old, gain: -3 }));
  expect(changed.zones[0]).toBe(pad.zones[0]);
  expect(changed.zones[1].gain).toBe(-3);
  expect(updateZones(pad, all(3), (old) => old)).toBe(pad);
  expect(deleteZones(pad, new Set([0, 2])).zones.map(({ sampleId }) => sampleId)).toEqual(['b']);
});

test('deleted zones take samples along that nothing else needs', () => {
  const two = addSamples(addSound(rig(), 't', 'T', [newZone('b', 50), newZone('a', 51)]), [
    { id: 'b', name: 'b.wav', rate: 44100, channels: 1, frames: 10 },
  ]);
  expect(deleteZonesOf(two, 't', new Set([0, 1])).samples.map(({ id }) => id)).toEqual(['a']);
});

test('zones move together and stop where the keys end', () => {
  expect(moveZones(pad, all(3), 5, 0, true).zones.map(({ root, key }) => [root, key.low])).toEqual([
    [41, 41],
    [41, 41],
    [41, 41],
  ]);
  expect(moveZones(pad, all(3), -99, 0, false).zones[0]).toMatchObject({ root: 36, key: { low: 0, high: 0 } });
  expect(moveZones(pad, new Set([2]), 0, -99, false).zones[2].velocity).toMatchObject({ low: 1, high: 67 });
  expect(moveEdge({ low: 10, high: 20, fadeIn: 8, fadeOut: 0, shape: 'sine' }, 18, 12, 0, 127)).toMatchObject({
    low: 12,
    high: 18,
    fadeIn: 6,
  });
});

describe('velocities shared out over zones', () => {
  test('sixteen on one key, in order', () => {
    const sound = newSound(
      's',
      'S',
      Array.from({ length: 16 }, (_, i) => zone(`${i}`, 38)),
    );
    const shared = shareOutVelocities(sound, all(16));
    expect(shared.zones.slice(0, 3).map(({ velocity: v }) => [v.low, v.high])).toEqual([
      [1, 7],
      [8, 15],
      [16, 23],
    ]);
    expect(shared.zones[15].velocity).toMatchObject({ low: 120, high: 127 });
  });
  test('alternates keep together', () => {
    expect(shareOutVelocities(pad, all(3)).zones.map(({ velocity: v }) => [v.low, v.high])).toEqual([
      [1, 63],
      [1, 63],
      [64, 127],
    ]);
    const soft = shareOutVelocities(pad, all(3), 6);
    expect(soft.zones[0].velocity.fadeOut).toBe(soft.zones[2].velocity.fadeIn);
  });
});

test('alternates are numbered within each place, and the count is that of the zones there', () => {
  const sound = newSound('s', 'S', [zone('a', 36), zone('b', 36), zone('c', 38), zone('d', 36)]);
  expect(setAlternates(sound, all(4), true).zones.map(({ alternate }) => alternate)).toEqual([0, 1, 0, 2]);
  expect(setAlternates(setAlternates(sound, all(4), true), all(4), false)).toEqual(sound);
});

test('each dynamic is stretched by itself', () => {
  const sound = newSound('s', 'S', [
    zone('a', 40, { velocity: velocity(1, 60) }),
    zone('b', 60, { velocity: velocity(1, 60) }),
    zone('c', 50, { velocity: velocity(61, 127) }),
  ]);
  expect(stretchZones(sound, all(3), 'nearest').zones.map(({ key }) => [key.low, key.high])).toEqual([
    [0, 50],
    [51, 127],
    [0, 127],
  ]);
});

test('a pad is copied with its structure, and its files exchanged in order', () => {
  const copied = copyPad(pad, all(3), 40, ['x', 'y', 'z']);
  expect(
    copied.zones
      .slice(3)
      .map(({ sampleId, root, alternate, velocity: v, playback }) => [sampleId, root, alternate, v.low, playback]),
  ).toEqual([
    ['x', 40, 0, 1, 'while-held'],
    ['y', 40, 1, 1, 'while-held'],
    ['z', 40, null, 61, 'full-length'],
  ]);
  expect(copyPad(pad, all(3), 41, ['x']).zones).toHaveLength(4);
  expect(copyPad(pad, all(3), 42, null).zones[5].sampleId).toBe('c');
  expect(exchangeSamples(pad, all(3), ['p', 'q']).zones.map(({ sampleId }) => sampleId)).toEqual(['p', 'q', 'c']);
});

test('the same audio twice in one place is found by content', () => {
  expect(
    sameAudioTwice([
      zone('a', 36),
      zone('a', 37),
      zone('a', 36),
      zone('a', 36, { velocity: velocity(1, 5), alternate: 1 }),
    ]),
  ).toEqual([[0, 2]]);
});

test('levels are matched, wholly or by a share, and dynamics can stay apart', () => {
  const sound = newSound('s', 'S', [
    zone('a', 36, { velocity: velocity(1, 60) }),
    zone('b', 40, { velocity: velocity(1, 60) }),
    zone('c', 36, { velocity: velocity(61, 127) }),
  ]);
  const levels = new Map([
    [0, -30],
    [1, -20],
    [2, -10],
  ]);
  const after = (share: number, keep: boolean) =>
    matchLevels(sound, all(3), levels, share, keep).zones.map((each, i) => levels.get(i)! + each.gain);
  expect(after(1, false)).toEqual([-20, -20, -20]);
  expect(after(0.5, false)).toEqual([-25, -20, -15]);
  expect(after(1, true)).toEqual([-25, -25, -10]);
});

const rig = (): Rig =>
  addSamples(addSound({ ...newRig('r', 'R'), patches: [newPatch('p', 'P')] }, 's', 'S', [newZone('a', 60)]), [
    { id: 'a', name: 'a.wav', rate: 44100, channels: 1, frames: 10 },
  ]);

test('a deleted sound takes its layers, their routes and unneeded samples with it', () => {
  const file: PlanFile = { path: 'b.wav', sampleId: 'b', frames: 10, levelDb: -20, root: 50, tuneCents: 0, loop: null };
  const samples = [{ id: 'b', name: 'b.wav', rate: 44100, channels: 1, frames: 10 }];
  let n = 0;
  const { rig: made, soundIds } = applyPlan(rig(), makePlan([file], PLAN_DEFAULTS), [file], samples, {
    soundId: null,
    name: 'New',
    newId: () => `n${n++}`,
    patchId: 'p',
    dynamicsApart: false,
  });
  expect(readRig(made)).toEqual(made);
  expect(made.patches[0].layers[0]).toMatchObject({ name: 'New', soundId: soundIds[0] });
  expect(deleteSound(made, soundIds[0])).toEqual(rig());
  expect(duplicateSound(rig(), 's', 't').sounds.map(({ name }) => name)).toEqual(['S', 'S copy']);
});

test('a folder can become one list for several layers, each with a choice of its own', () => {
  const files = ['Drop', 'Rill', 'Spray'].map((name): PlanFile => ({
    path: `${name}.wav`,
    sampleId: name,
    frames: 10,
    levelDb: -20,
    root: 60,
    tuneCents: 0,
    loop: null,
  }));
  const samples = files.map(({ sampleId, path }) => ({
    id: sampleId,
    name: path,
    rate: 44100,
    channels: 1,
    frames: 10,
  }));
  const made = (listLayers?: number) => {
    let n = 0;
    return applyPlan(rig(), makePlan(files, PLAN_DEFAULTS), files, samples, {
      soundId: null,
      name: 'Water',
      newId: () => `n${n++}`,
      patchId: 'p',
      dynamicsApart: false,
      oneList: true,
      listLayers,
    });
  };
  const { rig: four, soundIds } = made(4);
  expect(readRig(four)).toEqual(four);
  expect(four.patches[0].layers.map(({ name, list }) => [name, list])).toEqual(
    [1, 2, 3, 4].map((n) => [`Water ${n}`, soundIds]),
  );
  expect(made().rig.patches[0].layers.map(({ name }) => name)).toEqual(['Water']);
});

test('dynamics can go to layers of their own', () => {
  const files = ['soft', 'hard'].map((d): PlanFile => ({
    path: `${d}/C3.wav`,
    sampleId: d,
    frames: 10,
    levelDb: -20,
    root: null,
    tuneCents: 0,
    loop: null,
  }));
  const samples = files.map(({ sampleId, path }) => ({
    id: sampleId,
    name: path,
    rate: 44100,
    channels: 1,
    frames: 10,
  }));
  let n = 0;
  const { rig: made } = applyPlan(rig(), makePlan(files, { ...PLAN_DEFAULTS, softEdge: 10 }), files, samples, {
    soundId: null,
    name: 'Wire',
    newId: () => `n${n++}`,
    patchId: 'p',
    dynamicsApart: true,
  });
  expect(readRig(made)).toEqual(made);
  expect(made.patches[0].layers.map(({ name, windows }) => [name, windows[1].low, windows[1].high])).toEqual([
    ['Wire soft', 1, 69],
    ['Wire hard', 58, 127],
  ]);
  expect(made.sounds[1].zones[0].velocity).toMatchObject({ low: 1, high: 127, fadeOut: 0 });
});

test('start, loop and end keep their order: the point that is moved stops at its neighbours', () => {
  const looped = zone('a', 60, { start: 100, end: 900, loop: { start: 300, end: 700, crossfade: 50, until: 'end' } });
  expect(pointsInOrder({ ...looped, start: 500 }, 'start', 1000).start).toBe(300);
  expect(pointsInOrder({ ...looped, end: 600 }, 'end', 1000).end).toBe(700);
  const loopOf = (change: Partial<NonNullable<Zone['loop']>>, moved: 'loop.start' | 'loop.end' | 'loop.crossfade') =>
    pointsInOrder({ ...looped, loop: { ...looped.loop!, ...change } }, moved, 1000).loop!;
  expect(loopOf({ start: 20 }, 'loop.start')).toMatchObject({ start: 100, end: 700 });
  expect(loopOf({ end: 5000 }, 'loop.end')).toMatchObject({ start: 300, end: 900 });
  expect(loopOf({ crossfade: 800 }, 'loop.crossfade').crossfade).toBe(400);
  const plain = zone('a', 60, { start: 100, end: 200 });
  expect(pointsInOrder({ ...plain, start: 400 }, 'start', 1000).start).toBe(199);
  expect(pointsInOrder({ ...plain, end: 50 }, 'end', 1000).end).toBe(101);
});
