import {
  markAt,
  newLayer,
  newMover,
  newPatch,
  newRig,
  newRoute,
  newSound,
  newZone,
  paramOf,
  samplesIn,
} from '../defaults';
import { readRig } from '../read';
import { restOfTarget, targetsIn } from '../moves';
import type { Patch, Sound } from '../schema';
import {
  addSynth,
  allBut,
  patchWithout,
  putOnSurface,
  setKind,
  setShape,
  setWaves,
  spreadOverSurface,
  SURFACE_PARTS,
  surfaceRoutes,
  takeOffSurface,
} from './kinds';
import { addLayerOf, keepInSound, takeUp } from './layers';
import { doubledAbove, sweepLoops } from './moves';
import { cutZone, FREEZE_FRAMES, frozenZone, stretches } from './zones';

const synth: Sound = { ...newSound('s', 'S'), kind: 'synth', params: { osc2Level: -12, cutoff: 900 } };
const grains: Sound = {
  ...newSound('g', 'G', [{ ...newZone('w', 48), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } }]),
  kind: 'grains',
  params: { grainLength: 0.2 },
};
const sample = { id: 'w', name: 'w.wav', rate: 44100, channels: 1, frames: 200_000 };
const patch: Patch = {
  ...newPatch('p', 'P'),
  layers: [newLayer('l', 'L', 's', markAt(0))],
  movers: [newMover('lfo', 1, 'x')],
  routes: [newRoute('r', 'lfo.1', 'layer.l.osc1Level', 0.2), newRoute('q', 'macro.1', 'layer.l.cutoff', 0.2)],
};
const rigOf = (one: Patch, sounds: readonly Sound[]) => ({
  ...newRig('r', 'R'),
  patches: [one],
  sounds: [...sounds],
  samples: [sample],
});

test('a layer that takes a sound up has the values that come with it; those of another kind go', () => {
  const taken = takeUp(
    { ...newLayer('l', 'L', 'x', markAt(0)), params: { level: -4, grainLength: 0.3, attack: 0.1 } },
    synth,
  );
  expect(taken).toMatchObject({ soundId: 's', params: { level: -4, attack: 0.1, osc2Level: -12, cutoff: 900 } });
  expect(taken.params.grainLength).toBeUndefined();
  expect(paramOf(addLayerOf(patch, 'n', synth).layers[1], 'osc2Level')).toBe(-12);
  // What places the layer in its patch stays with the layer.
  expect(keepInSound(synth, { ...taken, params: { ...taken.params, osc1Position: 40 } }).params).toEqual({
    attack: 0.1,
    osc2Level: -12,
    cutoff: 900,
    osc1Position: 40,
  });
});

test('what can be moved of a layer depends on the kind of its sound', () => {
  const of = (soundId: string) =>
    targetsIn({ ...patch, layers: [newLayer('l', 'L', soundId, markAt(0))] }, [synth, grains, newSound('m', 'M')]);
  expect(of('s')).toContain('layer.l.osc1Position');
  expect(of('s')).not.toContain('layer.l.grainLength');
  expect(of('g')).toContain('layer.l.grainLength');
  expect(of('m').some((target) => /osc|grain/.test(target))).toBe(false);
});

test('parts are left out for listening: oscillators with what moves their level, filters, movers, routes', () => {
  const without = patchWithout(patch, ['layer.l.osc1', 'lfo.1', 'route.q', 'layer.l.filter1']);
  expect(paramOf(without.layers[0], 'osc1Level')).toBe(-60);
  expect(without.routes.find(({ id }) => id === 'r')).toBeUndefined();
  expect(without.routes.find(({ id }) => id === 'q')!.on).toBe(false);
  expect(without.movers[0].on).toBe(false);
  expect(paramOf(without.layers[0], 'filterKind')).toBe(0);
  expect(allBut('l', 'osc2')).toEqual(['layer.l.osc1', 'layer.l.osc3', 'layer.l.sub', 'layer.l.noise']);
  expect(patchWithout(patch, ['layer.l.nothing', 'route.none', 'lfo.9'])).toEqual(patch);
});

test('kinds: a synth is added, waves and shapes are set and held, samples become grains and samples again', () => {
  const rig = addSynth(rigOf(patch, [synth, grains]), 'n', 'New');
  expect(rig.sounds[2]).toMatchObject({ kind: 'synth', zones: [] });
  expect(setWaves(synth, 1, { table: 'bells', length: 0 }).waves.map(({ table }) => table)).toEqual([
    'opening',
    'bells',
    'opening',
  ]);
  expect(setShape(grains, [0, 2, -1, 0.51239]).shape).toEqual([0, 1, 0, 0.512]);
  expect(setKind(grains, 'multisample')).toEqual({ ...grains, kind: 'multisample' });
  expect(setKind(synth, 'grains')).toBe(synth);
  expect(samplesIn(setWaves(synth, 0, { table: 'w', length: 0 }))).toEqual(['w']);
  expect(() =>
    readRig(JSON.parse(JSON.stringify(rigOf(patch, [setWaves(synth, 0, { table: 'w', length: 512 }), grains])))),
  ).not.toThrow();
  expect(() =>
    readRig(JSON.parse(JSON.stringify(rigOf(patch, [setWaves(synth, 0, { table: 'gone', length: 0 })])))),
  ).toThrow(/gone/);
});

test('a surface is spread over grains in one action, each part of it taken off and put back, its range typed', () => {
  const plain: Patch = { ...newPatch('p', 'P'), layers: [newLayer('l', 'L', 'g', markAt(0))] };
  const spread = spreadOverSurface(plain, 'l', { low: null, high: null, force: 'pressure' });
  for (const part of SURFACE_PARTS) expect(surfaceRoutes(spread, 'l', part).length).toBeGreaterThan(0);
  expect(restOfTarget(spread, 'layer.l.grainFreeze')).toBe(1);
  expect(spread.routes.find(({ target }) => target === 'layer.l.grainPosition')!.source).toEqual({
    formula: '(key - keyLow) / (keyHigh - keyLow)',
  });
  expect(spread.routes.filter(({ source }) => source === 'pressure').length).toBeGreaterThan(1);
  const off = takeOffSurface(spread, 'l', 'density');
  expect(surfaceRoutes(off, 'l', 'density')).toEqual([]);
  expect(surfaceRoutes(off, 'l', 'length')).toHaveLength(1);
  const typed = putOnSurface(off, 'l', 'keys', { low: 39, high: 84, force: 'velocity' });
  expect(typed.routes.filter(({ target }) => target === 'layer.l.grainPosition').map(({ source }) => source)).toEqual([
    { formula: '(key - 39) / (84 - 39)' },
  ]);
  // Again is the same as once.
  expect(
    spreadOverSurface(spread, 'l', { low: null, high: null, force: 'velocity' }).routes.filter(
      ({ source }) => source === 'pressure',
    ),
  ).toEqual([]);
  expect(() => readRig(JSON.parse(JSON.stringify(rigOf(spread, [grains]))))).not.toThrow();
});

test('a loop is frozen in about a thousand frames, swept by a macro to the end of its sample, and doubled an octave up', () => {
  const zone = newZone('w', 48);
  expect(frozenZone(zone, 50_000, 200_000).loop).toEqual({ start: 50_000, end: 51_000, crossfade: 333, until: 'end' });
  // Arithmetic: 1000 frames at 44.1 kHz are heard as 44.1 Hz.
  expect(44100 / FREEZE_FRAMES).toBeCloseTo(44.1, 6);
  expect(frozenZone(zone, 10, 200_000).loop!.crossfade).toBe(10);
  expect(frozenZone(zone, 199_990, 200_000).loop).toMatchObject({ start: 199_000, end: 200_000 });
  expect(frozenZone(zone, 0, 300).loop!.end).toBeLessThanOrEqual(300);
  const swept = sweepLoops(patch, 'l', 0.25)!;
  const route = swept.routes.find(({ target }) => target === 'layer.l.loopPosition')!;
  expect(route.source).toBe('macro.1');
  // Over the whole sample, resting where the loop was: half of the parameter's range is a whole sample.
  expect(swept.layers[0].params.loopPosition).toBe(-25);
  expect(route.depth * 2).toBeCloseTo(0.98, 6);
  expect(-0.25 + route.depth * 2 * swept.macros[0].value).toBeCloseTo(0, 6);
  expect(sweepLoops(swept, 'l', 0.25)).toBe(swept);
  const doubled = doubledAbove(swept, 'l', 'm');
  expect(doubled.layers[1]).toMatchObject({ id: 'm', transpose: 12, params: { level: -5 } });
  expect(doubled.routes.find(({ target }) => target === 'layer.m.loopPosition')!.depth).toBeCloseTo(
    route.depth * 0.88,
    6,
  );
});

test('a zone is cut into pieces: a key each, or alternates; what has no key is left out', () => {
  const sound = newSound('m', 'M', [
    newZone('v', 40),
    { ...newZone('w', 60), loop: { start: 10, end: 20, crossfade: 0, until: 'end' } },
  ]);
  const pieces = [
    { start: 0, end: 100 },
    { start: 100, end: 250 },
    { start: 250, end: 400 },
  ];
  const onKeys = cutZone(sound, 1, pieces, 'keys', 126);
  expect(onKeys.zones.map(({ root, start, end, loop }) => [root, start, end, loop])).toEqual([
    [40, 0, null, null],
    [126, 0, 100, null],
    [127, 100, 250, null],
  ]);
  const turns = cutZone(sound, 1, pieces, 'alternates', 60);
  expect(turns.zones.slice(1).map(({ key, alternate }) => [key.low, alternate])).toEqual([
    [60, 0],
    [60, 1],
    [60, 2],
  ]);
  expect(turns.zones[1].fadeOut).toBeGreaterThan(0);
  expect(cutZone(sound, 9, pieces, 'keys', 60)).toBe(sound);
});

test('keys are recorded, or stretched by so many semitones', () => {
  const wide = { ...newZone('w', 60), key: { low: 58, high: 65, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } };
  const by = stretches({ zones: [wide, newZone('v', 64), { ...wide, trigger: 'release', root: 63 }] });
  expect(by.slice(57, 67)).toEqual([null, 2, 1, 0, 1, 2, 3, 0, 5, null]);
  expect(stretches({ zones: [{ ...wide, pitchPerKey: 0 }] }).slice(58, 62)).toEqual([0, 0, 0, 0]);
});
