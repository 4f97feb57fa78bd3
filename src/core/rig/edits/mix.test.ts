import fc from 'fast-check';
import { EFFECTS } from '../../effects';
import { markAt, newLayer, newPatch, newRig, newRoute, newSound } from '../defaults';
import { brokenLink } from '../links';
import { chainOf, circleIn, connectionsOf, effectsIn, placesIn } from '../mix';
import { faultOf, readRig } from '../read';
import type { Patch, Rig } from '../schema';
import { writeChain } from './chains';
import { readChain } from './readChain';
import { withCuts } from './cuts';
import { groupLayers, ungroup } from './groups';
import { deleteLayer, duplicateLayer } from './layers';
import {
  addEffect,
  addPool,
  addSend,
  applyPreset,
  deleteConnection,
  deleteEffect,
  deletePool,
  moveEffect,
  putChain,
  setEffectParam,
  setEffectSteps,
  setOnFront,
  takeConnection,
  updateConnection,
  updateEffect,
} from './mix';

const plain = (): Patch => ({
  ...newPatch('p', 'p'),
  layers: ['a', 'b', 'c'].map((id, i) => newLayer(id, id.toUpperCase(), 's', markAt(i))),
});
const rigWith = (patch: Patch): Rig => ({ ...newRig('r', 'r'), sounds: [newSound('s', 's')], patches: [patch] });
const fault = (patch: Patch) => faultOf(rigWith(patch))?.message;
const withEffect = (patch: Patch, place: string, kind: string) => addEffect(patch, place, kind)!.patch;

test('effects come, move with their ids, and go with what moved them', () => {
  let patch = withEffect(withEffect(plain(), 'layer.a', 'equaliser'), 'layer.a', 'reverb');
  expect(chainOf(patch, 'layer.a')!.map(({ kind }) => kind)).toEqual(['equaliser', 'reverb']);
  patch = { ...patch, routes: [newRoute('r', 'cc.1', 'reverb.effect-2.decay', 0.3)], front: ['reverb.effect-2.decay'] };
  patch = moveEffect(patch, 'effect-2', 'main', 0);
  expect(chainOf(patch, 'main')!.map(({ id }) => id)).toEqual(['effect-2']);
  expect(fault(patch)).toBeUndefined();
  patch = deleteEffect(patch, 'effect-2');
  expect([patch.routes, patch.front]).toEqual([[], []]);
  for (let n = 0; n < 20; n++) patch = addEffect(patch, 'main', 'gate')?.patch ?? patch;
  expect(chainOf(patch, 'main')).toHaveLength(12);
});

test('values are held within their ranges, presets and steps too', () => {
  const { patch, id } = addEffect(plain(), 'main', 'stepGate')!;
  expect(effectsIn(setEffectParam(patch, id, 'smooth', 99))[0].effect.params).toEqual({ smooth: 0.2 });
  expect(setEffectParam(patch, id, 'nonsense', 1)).toBe(patch);
  expect(effectsIn(setEffectSteps(patch, id, [2, -1, 0.5]))[0].effect.steps).toEqual([1, 0, 0.5]);
  expect(fault(applyPreset(patch, id, 'swell'))).toBeUndefined();
});

test('connections: outputs are written down when they differ, sends refuse circles', () => {
  let patch = addPool(addPool(plain(), 'x', 'reverb')!.patch, 'y', 'echo')!.patch;
  expect(connectionsOf(patch)).toHaveLength(5);
  patch = addSend(patch, 'pool.x', 'pool.y');
  expect(addSend(patch, 'pool.y', 'pool.x')).toBe(patch);
  expect(addSend(patch, 'pool.x', 'pool.y')).toBe(patch);
  expect(addSend(patch, 'main', 'pool.x')).toBe(patch);
  patch = updateConnection(patch, 'out-layer-a', { level: -6 });
  expect(patch.connections.find(({ id }) => id === 'out-layer-a')).toMatchObject({ to: 'home', level: -6 });
  // It follows its layer into a group, and out again.
  patch = groupLayers(patch, ['a', 'b'], 'g', 'G');
  expect(connectionsOf(patch).find(({ id }) => id === 'out-layer-a')!.to).toBe('group.g');
  patch = ungroup(patch, 'g');
  expect(connectionsOf(patch).find(({ id }) => id === 'out-layer-a')!.to).toBe('main');
  patch = updateConnection(patch, 'out-layer-a', { level: 0 });
  expect(patch.connections.some(({ id }) => id === 'out-layer-a')).toBe(false);
  expect(takeConnection(patch, 'out-pool-y', 'pool.x')).toBe(patch);
  patch = takeConnection(patch, 'out-layer-b', 'pool.x');
  expect(fault(patch)).toBeUndefined();
  patch = deletePool(patch, 'x');
  expect(connectionsOf(patch).find(({ from }) => from === 'layer.b')!.to).toBe('main');
  expect(fault(deleteConnection(patch, 'nothing'))).toBeUndefined();
});

test('a side chain flows too: one that would listen to itself round a corner is refused', () => {
  let patch = withEffect(plain(), 'layer.a', 'compressor');
  patch = withEffect(patch, 'layer.b', 'compressor');
  patch = updateEffect(patch, 'effect-1', { listens: 'b' });
  expect(updateEffect(patch, 'effect-2', { listens: 'a' })).toBe(patch);
  expect(effectsIn(deleteLayer(patch, 'b'))[0].effect.listens).toBeNull();
});

test('copies have effects and sends of their own, with what moves them', () => {
  let patch = addPool(withEffect(plain(), 'layer.a', 'echo'), 'x', 'reverb')!.patch;
  patch = addSend({ ...patch, routes: [newRoute('r', 'cc.1', 'echo.effect-1.feedback', 0.3)] }, 'layer.a', 'pool.x');
  patch = duplicateLayer(patch, 'a', 'copy');
  expect(chainOf(patch, 'layer.copy')![0].id).not.toBe('effect-1');
  expect(patch.routes).toHaveLength(2);
  expect(connectionsOf(patch).filter(({ kind, from }) => kind === 'send' && from === 'layer.copy')).toHaveLength(1);
  expect(fault(patch)).toBeUndefined();
});

test('chains go out and come in as text; what is wrong in one is told with its place', () => {
  const patch = applyPreset(withEffect(withEffect(plain(), 'main', 'equaliser'), 'main', 'tape'), 'effect-2', 'worn');
  const { effects, name } = readChain(writeChain('mine', patch.main.effects));
  expect(name).toBe('mine');
  expect(putChain(plain(), 'layer.b', effects).layers[1].effects.map(({ kind, params }) => [kind, params])).toEqual(
    patch.main.effects.map(({ kind, params }) => [kind, params]),
  );
  expect(() => readChain('{')).toThrow(/cut off/);
  expect(() => readChain('{"kind":"other"}')).toThrow(/no chain/);
  expect(() => readChain(writeChain('x', [{ ...patch.main.effects[1], params: { wow: 500 } }]))).toThrow(
    /effects\[0\]\.params\.wow: 500 is above 100/,
  );
});

test('cuts that make room stand first in their chains', () => {
  const patch = withCuts(withEffect(plain(), 'layer.a', 'chorus'), [
    { layerId: 'a', kind: 'low cut', hz: 200 },
    { layerId: 'b', kind: 'high cut', hz: 900 },
  ]);
  expect(chainOf(patch, 'layer.a')!.map(({ kind }) => kind)).toEqual(['equaliser', 'chorus']);
  expect(chainOf(patch, 'layer.b')![0].params).toMatchObject({ kind1: 2, frequency1: 900 });
});

test('a rig of version 5 learns a mix that does nothing; links that lead nowhere are refused with their place', () => {
  const { pools: _p, connections: _c, front: _f, takes: _t, backing: _b, ...rest } = plain();
  const old = {
    ...rigWith(plain()),
    version: 5,
    patches: [{ ...rest, layers: rest.layers.map(({ effects: _, ...layer }) => layer), main: { level: -3 } }],
  };
  const read = readRig(JSON.parse(JSON.stringify(old)));
  expect(read.patches[0]).toMatchObject({ pools: [], connections: [], main: { level: -3, width: 100, effects: [] } });
  const loose = {
    ...plain(),
    connections: [
      { id: 'x', kind: 'send' as const, from: 'layer.a', to: 'pool.gone', level: 0, on: true, tap: 'after' as const },
    ],
  };
  expect(brokenLink(rigWith(loose))).toEqual({
    place: 'patches[0].connections[0].to',
    problem: 'there is no pool.gone',
  });
  expect(() =>
    readRig(
      JSON.parse(
        JSON.stringify(
          rigWith({
            ...plain(),
            main: {
              level: 0,
              width: 100,
              effects: [{ id: 'e', kind: 'magic', on: true, params: {}, steps: [], listens: null, sampleId: null }],
            },
          }),
        ),
      ),
    ),
  ).toThrow(/main\.effects\[0\]\.kind/);
});

test('any row of edits leaves a rig that can be read again, and a mix without circles', () => {
  const edits = fc.array(
    fc.tuple(fc.integer({ min: 0, max: 13 }), fc.nat(40), fc.nat(40), fc.double({ min: -80, max: 80, noNaN: true })),
    { maxLength: 30 },
  );
  fc.assert(
    fc.property(edits, (list) => {
      let patch = plain();
      let n = 0;
      for (const [what, x, y, value] of list) {
        const places = placesIn(patch);
        const at = places[x % places.length],
          to = places[y % places.length];
        const all = effectsIn(patch);
        const effect = all[x % Math.max(1, all.length)]?.effect;
        const connections = connectionsOf(patch);
        const connection = connections[x % connections.length];
        const kind = EFFECTS[y % EFFECTS.length];
        switch (what) {
          case 0:
          case 1:
            patch = addEffect(patch, at, kind.id)?.patch ?? patch;
            break;
          case 2:
            if (effect) patch = deleteEffect(patch, effect.id);
            break;
          case 3:
            if (effect) patch = moveEffect(patch, effect.id, to, y % 4);
            break;
          case 4:
            if (effect)
              patch = setEffectParam(
                patch,
                effect.id,
                Object.keys(EFFECTS.find(({ id }) => id === effect.kind)!.parameters)[y % 5] ?? 'mix',
                value,
              );
            break;
          case 5:
            patch = addPool(patch, `pool-${++n}`, kind.id)?.patch ?? patch;
            break;
          case 6:
            patch = addSend(patch, at, to);
            break;
          case 7:
            if (connection) patch = takeConnection(patch, connection.id, to);
            break;
          case 8:
            if (connection) patch = updateConnection(patch, connection.id, { level: value, on: y % 2 === 0 });
            break;
          case 9:
            if (patch.pools.length > 0) patch = deletePool(patch, patch.pools[y % patch.pools.length].id);
            break;
          case 10:
            patch = groupLayers(patch, [patch.layers[x % patch.layers.length]?.id ?? ''], `group-${++n}`, 'g');
            break;
          case 11:
            if (patch.layers.length > 1) patch = deleteLayer(patch, patch.layers[y % patch.layers.length].id);
            break;
          case 12:
            if (effect) patch = updateEffect(patch, effect.id, { listens: patch.layers[y % patch.layers.length].id });
            break;
          default:
            if (effect) patch = setOnFront(patch, `${effect.kind}.${effect.id}.mix`, y % 2 === 0);
        }
        if (circleIn(patch)) return false;
      }
      return fault(patch) === undefined;
    }),
    { numRuns: 120 },
  );
});
