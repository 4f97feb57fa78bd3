import fc from 'fast-check';
import { MOVERS } from '../movers';
import { MOVER_KINDS } from '../space/source';
import { compile } from './program/compile';
import { markAt, newLayer, newMover, newPatch, newRig, newRoute, newSound, newZone } from '../rig/defaults';
import {
  addAnchor,
  alone,
  addMacro,
  addMover,
  connect,
  deleteBlend,
  deleteMacro,
  deleteMover,
  deletePad,
  deleteRoute,
  moveMacro,
  setList,
  setMoverParam,
  setPoints,
  setReach,
  setRest,
  setValues,
  takeOff,
  takeOffEverywhere,
  updateMacro,
  updateRoute,
} from '../rig/edits/moves';
import { addPad, blendLayers, deleteAnchor, setXyParam, spreadOverPad } from '../rig/edits/pads';
import { addLayer, deleteLayer, setParam } from '../rig/edits/layers';
import { bringIn } from '../rig/edits/windows';
import { labelOfTarget, reachOfRoute, restOfTarget, secondJobs } from '../rig/moves';
import { fromNormal, parseTarget, SECTIONS } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import { faultOf, readRig } from '../rig/read';
import type { Patch, Rig } from '../rig/schema';

const patchOf = (...layerIds: string[]): Patch => ({
  ...newPatch('p', 'P'),
  layers: layerIds.map((id, i) => newLayer(id, id.toUpperCase(), 's', markAt(i))),
});
const rigOf = (patch: Patch): Rig => ({
  ...newRig('r', 'R'),
  patches: [patch],
  sounds: [newSound('s', 'S', [newZone('w', 60)]), newSound('t', 'T')],
  samples: [{ id: 'w', name: 'w', rate: 48000, channels: 1, frames: 1000 }],
});

describe('reach and depth are two views of one thing', () => {
  const withRoute = (source = 'macro.1') => ({
    ...patchOf('a'),
    routes: [newRoute('r', source, 'layer.a.level', 0.1)],
  });
  test('limits in the target’s unit move its rest and the depth', () => {
    const set = setReach(withRoute(), 'r', -18, -6);
    expect(restOfTarget(set, 'layer.a.level')).toBeCloseTo(-18, 9);
    expect(reachOfRoute(set, set.routes[0])).toEqual({ from: expect.closeTo(-18, 9), to: expect.closeTo(-6, 9) });
    expect(set.routes[0].depth).toBeCloseTo(12 / 66, 9);
  });
  test('a two-sided source goes to both sides of the middle, an inverted one the other way', () => {
    const both = setReach({ ...withRoute('bend'), layers: patchOf('a').layers }, 'r', -20, -10);
    expect(restOfTarget(both, 'layer.a.level')).toBeCloseTo(-15, 9);
    const turned = setReach(updateRoute(withRoute(), 'r', { polarity: 'inverted' }), 'r', -6, -18);
    expect(reachOfRoute(turned, turned.routes[0])).toEqual({ from: expect.closeTo(-6, 9), to: expect.closeTo(-18, 9) });
  });
  test('in a logarithmic unit, and for a delay that never goes beyond a third of a second', () => {
    const cut = setReach({ ...withRoute(), routes: [newRoute('r', 'macro.1', 'layer.a.cutoff', 0.1)] }, 'r', 600, 9000);
    expect(reachOfRoute(cut, cut.routes[0])!.to).toBeCloseTo(9000, 6);
    const delay = setReach({ ...withRoute(), routes: [newRoute('r', 'random.1', 'layer.a.delay', 1)] }, 'r', 0, 1 / 3);
    expect(reachOfRoute(delay, delay.routes[0])).toEqual({ from: 0, to: expect.closeTo(1 / 3, 9) });
  });
});

describe('the registry', () => {
  test('every parameter of every section is a target, says how it is read, and keeps its default within what makes sense', () => {
    for (const [section, parameters] of Object.entries(SECTIONS)) {
      for (const parameter of Object.values(parameters)) {
        const id =
          section === 'layer'
            ? `layer.a.${parameter.id}`
            : section === 'main'
              ? `main.${parameter.id}`
              : `${section}.1.${parameter.id}`;
        expect(parseTarget(id)?.parameter).toBe(parameter);
        expect(parameter.default).toBeGreaterThanOrEqual(parameter.low);
        expect(parameter.default).toBeLessThanOrEqual(parameter.high);
        if (parameter.sense)
          expect([
            parameter.sense[0] >= parameter.low,
            parameter.sense[1] <= parameter.high,
            parameter.sense[0] < parameter.sense[1],
          ]).toEqual([true, true, true]);
        expect([1, 2]).toContain(parameter.sides);
        if (parameter.steps) expect(parameter.steps).toHaveLength(parameter.high - parameter.low + 1);
      }
    }
    expect(MOVERS.map(({ id }) => id)).toEqual([...MOVER_KINDS]);
  });
});

describe('one control with two jobs', () => {
  test('a new layer has vibrato on the wheel; a window or a route on the wheel makes two jobs, taken off in one step', () => {
    const one = addLayer(addLayer(newPatch('p', 'P'), 'a', 'A', 's'), 'b', 'B', 's');
    expect(one.routes.map(({ target }) => target)).toEqual(['layer.a.vibratoDepth', 'layer.b.vibratoDepth']);
    expect(fromNormal(LAYER_PARAMETERS.vibratoDepth, one.routes[0].depth)).toBeCloseTo(30, 9);
    expect(secondJobs(one)).toEqual([]);
    const windowed = bringIn(one, 'b', 'cc.1', 0, 100);
    expect(secondJobs(windowed)).toMatchObject([{ layerId: 'b', source: 'cc.1', does: 'moves the vibrato' }]);
    expect(secondJobs(takeOff(windowed, secondJobs(windowed)[0]))).toEqual([]);
    const shared = connect(one, 'cc.1', 'main.level', -0.2);
    expect(secondJobs(shared)).toHaveLength(2);
    expect(secondJobs(takeOffEverywhere(shared, 'cc.1'))).toEqual([]);
  });
  test('volume, expression and pedals likewise', () => {
    for (const source of ['cc.7', 'cc.11', 'cc.64', 'bend']) {
      const patch = connect(patchOf('a'), source, 'layer.a.cutoff', 0.2);
      const jobs = secondJobs(patch);
      expect(jobs).toHaveLength(1);
      expect(secondJobs(takeOff(patch, jobs[0]))).toEqual([]);
    }
  });
});

describe('what goes takes along what hung on it', () => {
  const whole = () => {
    let patch = patchOf('a', 'b', 'c', 'd');
    patch = addMacro(patch, 'M')!.patch;
    patch = addMover(patch, 'lfo', 'L')!.patch;
    patch = spreadOverPad(patch, ['a', 'b', 'c', 'd'], 'P')!.patch;
    patch = blendLayers(patch, ['a', 'b'], 'B')!.patch;
    for (const [source, target] of [
      ['macro.1', 'lfo.1.rate'],
      ['lfo.1', 'layer.a.level'],
      ['xy.1.x', 'layer.b.pan'],
      ['macro.1', 'blend.1'],
      ['lfo.1', 'xy.1.x'],
      ['cc.1', 'macro.1'],
    ])
      patch = connect(patch, source, target, 0.2);
    return patch;
  };
  test('the whole can be read and compiled', () => {
    expect(faultOf(rigOf(whole()))).toBeUndefined();
    expect(readRig(JSON.parse(JSON.stringify(rigOf(whole()))))).toEqual(rigOf(whole()));
    expect(() =>
      compile(whole(), { sounds: rigOf(whole()).sounds, samples: rigOf(whole()).samples, keyLow: 21, keyHigh: 108 }),
    ).not.toThrow();
  });
  test.each([
    ['a macro', (patch: Patch) => deleteMacro(patch, 1), 'macro.1'],
    ['a mover', (patch: Patch) => deleteMover(patch, 'lfo', 1), 'lfo.1'],
    ['a pad', (patch: Patch) => deletePad(patch, 1), 'xy.1'],
    ['a blend', (patch: Patch) => deleteBlend(patch, 1), 'blend.1'],
  ])('%s', (_, take, id) => {
    const left = take(whole());
    expect(faultOf(rigOf(left))).toBeUndefined();
    expect(JSON.stringify(left)).not.toContain(`"${id}`);
  });
  test('a layer takes its routes along, and its anchor stands for none', () => {
    const left = deleteLayer(whole(), 'a');
    expect(faultOf(rigOf(left))).toBeUndefined();
    expect(left.xyPads[0].anchors.map((anchor) => anchor.layerId)).toEqual([null, 'b', 'c', 'd']);
  });
  test('an anchor: those behind it move up, and their windows with them', () => {
    const left = deleteAnchor(whole(), 1, 1);
    expect(left.layers.map((layer) => layer.windows.find((window) => window.source.startsWith('xy'))?.source)).toEqual([
      'xy.1.anchor.1',
      undefined,
      'xy.1.anchor.2',
      'xy.1.anchor.3',
    ]);
    expect(faultOf(rigOf(left))).toBeUndefined();
  });
});

test('a macro that goes leaves formulas alone that read another whose number begins alike', () => {
  const patch = {
    ...patchOf('a'),
    macros: [1, 10].map((number) => ({ number, name: `m${number}`, value: 0, style: 'strip' as const })),
    routes: [
      newRoute('r', { formula: 'macro.10 * 2' }, 'layer.a.level', 0.1),
      newRoute('q', { formula: 'macro.1 + key' }, 'layer.a.pan', 0.1),
    ],
  };
  expect(deleteMacro(patch, 1).routes.map(({ id }) => id)).toEqual(['r']);
  expect(alone(patch, 'macro.1').routes.map(({ on }) => on)).toEqual([false, true]);
  expect(alone(patch, 'r').routes.map(({ on }) => on)).toEqual([true, false]);
});

test('there is room for so many and no more', () => {
  let patch = patchOf('a', 'b');
  for (let i = 0; i < 16; i++) patch = addMacro(patch, 'm')!.patch;
  expect(addMacro(patch, 'm')).toBeUndefined();
  for (let i = 0; i < 16; i++) patch = addMover(patch, MOVER_KINDS[i % 7], 'm')!.patch;
  expect(addMover(patch, 'lfo', 'm')).toBeUndefined();
  for (let i = 0; i < 4; i++) patch = addPad(patch, 'p')!.patch;
  expect(addPad(patch, 'p')).toBeUndefined();
  expect(spreadOverPad(patch, ['a'], 'p')).toBeUndefined();
  expect(faultOf(rigOf(patch))).toBeUndefined();
});

test('labels name both ends as people do', () => {
  const patch = {
    ...patchOf('a'),
    movers: [newMover('lfo', 1, 'Breath')],
    macros: [{ number: 2, name: 'Swell', value: 0, style: 'strip' as const }],
  };
  expect(['layer.a.cutoff', 'lfo.1.rate', 'macro.2', 'main.level'].map((id) => labelOfTarget(patch, id))).toEqual([
    'high cut of A',
    'rate of Breath',
    'Swell',
    'main level',
  ]);
});

const source = fc.constantFrom(
  'macro.1',
  'macro.2',
  'lfo.1',
  'wander.1',
  'cc.1',
  'velocity',
  'key',
  'xy.1.x',
  'blend.1',
  'random.1',
  'bend',
  'follower.1',
);
const target = fc.constantFrom(
  'layer.a.level',
  'layer.b.cutoff',
  'layer.a.start',
  'layer.a.choice',
  'layer.b.transpose',
  'macro.1',
  'macro.2',
  'blend.1',
  'xy.1.x',
  'xy.1.speed',
  'lfo.1.rate',
  'main.level',
);
const number = fc.oneof(fc.double({ min: -3, max: 3, noNaN: true }), fc.constant(NaN), fc.constant(1e9));
const n = fc.integer({ min: 0, max: 5 });
const edits: fc.Arbitrary<(patch: Patch) => Patch> = fc.oneof(
  fc.tuple(source, target, number).map(
    ([from, to, depth]) =>
      (patch: Patch) =>
        connect(patch, from, to, depth),
  ),
  fc.tuple(target, number).map(
    ([to, value]) =>
      (patch: Patch) =>
        setRest(patch, to, value),
  ),
  fc.tuple(n, number, number).map(
    ([i, from, to]) =>
      (patch: Patch) =>
        patch.routes[i] ? setReach(patch, patch.routes[i].id, from * 10, to * 10) : patch,
  ),
  n.map((i) => (patch: Patch) => (patch.routes[i] ? deleteRoute(patch, patch.routes[i].id) : patch)),
  fc.constant((patch: Patch) => addMacro(patch, 'x'.repeat(300))?.patch ?? patch),
  n.map((i) => (patch: Patch) => deleteMacro(patch, i)),
  fc.tuple(n, n).map(
    ([i, to]) =>
      (patch: Patch) =>
        moveMacro(patch, i, to),
  ),
  n.map((i) => (patch: Patch) => updateMacro(patch, i, { style: 'latched', name: '' })),
  fc.constantFrom(...MOVER_KINDS).map((kind) => (patch: Patch) => addMover(patch, kind, 'm')?.patch ?? patch),
  fc.tuple(fc.constantFrom(...MOVER_KINDS), n).map(
    ([kind, i]) =>
      (patch: Patch) =>
        deleteMover(patch, kind, i),
  ),
  fc.tuple(fc.constantFrom('rate', 'length', 'attack', 'amount'), number).map(
    ([id, value]) =>
      (patch: Patch) =>
        patch.movers.reduce((left, { kind, number: which }) => setMoverParam(left, kind, which, id, value), patch),
  ),
  fc
    .array(
      fc.tuple(
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
      ),
      { maxLength: 20 },
    )
    .map((points) => (patch: Patch) => setPoints(patch, 1, points)),
  fc
    .array(fc.double({ min: -2, max: 2, noNaN: true }), { maxLength: 40 })
    .map((values) => (patch: Patch) => setValues(patch, 1, values)),
  fc.constant(
    (patch: Patch) =>
      spreadOverPad(
        patch,
        patch.layers.map(({ id }) => id),
        'pad',
      )?.patch ?? patch,
  ),
  n.map((i) => (patch: Patch) => deletePad(patch, i)),
  fc.tuple(n, n).map(
    ([pad, i]) =>
      (patch: Patch) =>
        deleteAnchor(patch, pad, i),
  ),
  fc.tuple(n, number).map(
    ([pad, x]) =>
      (patch: Patch) =>
        addAnchor(patch, pad, { name: 'a', x: Number.isNaN(x) ? 0 : x, y: 0.5, layerId: patch.layers[0]?.id ?? null }),
  ),
  fc.tuple(n, fc.constantFrom('x' as const, 'speed' as const), number).map(
    ([pad, id, value]) =>
      (patch: Patch) =>
        setXyParam(patch, pad, id, value),
  ),
  fc.constant(
    (patch: Patch) =>
      blendLayers(
        patch,
        patch.layers.map(({ id }) => id),
        'b',
      )?.patch ?? patch,
  ),
  n.map((i) => (patch: Patch) => deleteBlend(patch, i)),
  fc
    .constantFrom([], ['s'], ['s', 't'], ['t', 's', 't'])
    .map((list) => (patch: Patch) => setList(patch, 'a', list, true)),
  fc.constant((patch: Patch) => deleteLayer(patch, 'b')),
  number.map((value) => (patch: Patch) => setParam(patch, 'a', 'reversed', value)),
);
test('random edits of what moves what leave a rig that can be read, and one that compiles or names a circle', () => {
  fc.assert(
    fc.property(fc.array(edits, { minLength: 1, maxLength: 20 }), (some) => {
      let patch = {
        ...patchOf('a', 'b'),
        movers: [newMover('lfo', 1, 'l'), newMover('wander', 1, 'w'), newMover('follower', 1, 'f')],
      };
      patch = addPad(patch, 'pad')!.patch as typeof patch;
      for (const each of some) {
        const next = each(patch) as typeof patch;
        // Routes to what is not there are refused by the check, as in the application.
        if (!faultOf(rigOf(next))) patch = next;
        else expect(next.routes.length).toBeGreaterThan(patch.routes.length);
      }
      try {
        compile(patch, { sounds: rigOf(patch).sounds, samples: rigOf(patch).samples, keyLow: 21, keyHigh: 108 });
      } catch (error) {
        expect((error as Error).message).toMatch(/circle/);
      }
    }),
    { numRuns: 150, seed: 11 },
  );
});
