import {
  fullWindow,
  newEntry,
  newLayer,
  newPatch,
  newRig,
  newRoute,
  newSound,
  newZone,
  markAt,
  paramOf,
  windowOn,
} from './defaults';
import { addLayer, deleteLayer, duplicateLayer, moveLayer, setParam, updatePatch } from './edits/layers';
import { addPatch, deletePatch, duplicatePatch, withPatchInShow } from './edits/patches';
import { newToShow } from './setlist';
import { bringIn, crossfadeByVelocity, removeWindow, setWindow, splitLayersAt } from './edits/windows';
import { fromNormal, parseTarget, toNormal } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import { migrate, readRig, readRigText, RigError } from './read';
import type { Patch, Rig } from './schema';
import { gainOfWindow } from '../space/window';
import { RIG_VERSION } from './limits';

const twoLayers = (): Patch => ({
  ...newPatch('p', 'P'),
  layers: [newLayer('a', 'A', 's', markAt(0)), newLayer('b', 'B', 's', markAt(1))],
});
const rig = (): Rig => ({
  ...newRig('r', 'R'),
  patches: [newPatch('q', 'Q'), twoLayers()],
  sounds: [{ ...newSound('s', 'S'), zones: [newZone('w', 60)] }],
  samples: [{ id: 'w', name: 'w.wav', rate: 44100, channels: 1, frames: 100 }],
});
/** The rig as plain JSON with one value put somewhere else. */
const broken = (path: (string | number)[], value: unknown): unknown => {
  const json = JSON.parse(JSON.stringify(rig())) as Record<string, unknown>;
  let at = json as Record<string | number, unknown>;
  for (const step of path.slice(0, -1)) at = at[step] as typeof at;
  at[path[path.length - 1]] = value;
  return json;
};

describe('reading', () => {
  test('a sound rig is read as it is, also through JSON text', () => {
    expect(readRig(rig())).toEqual(rig());
    expect(readRigText(JSON.stringify(rig()))).toEqual(rig());
  });
  const faults: [(string | number)[], unknown, string][] = [
    [['patches', 1, 'layers', 0, 'windows', 0, 'high'], 140, 'patches[1].layers[0].windows[0].high: 140 is above 127'],
    [['patches', 1, 'layers', 0, 'windows', 1, 'low'], 0, 'patches[1].layers[0].windows[1].low: 0 is below 1'],
    [['patches', 1, 'layers', 0, 'windows', 0, 'low'], 128, 'patches[1].layers[0].windows[0].low: 128 is above 127'],
    [
      ['patches', 1, 'layers', 0, 'windows', 0, 'source'],
      'cc.200',
      'patches[1].layers[0].windows[0].source: "cc.200" names no source',
    ],
    [
      ['patches', 1, 'layers', 0, 'windows', 0, 'shape'],
      'round',
      'patches[1].layers[0].windows[0].shape: "round" is none of linear, sine, root',
    ],
    [
      ['patches', 1, 'layers', 0, 'windows'],
      [fullWindow('key')],
      'patches[1].layers[0].windows: has no window on velocity',
    ],
    [['patches', 1, 'layers', 0, 'params'], { level: 90 }, 'patches[1].layers[0].params.level: 90 is above 6'],
    [
      ['patches', 1, 'layers', 0, 'params'],
      { loudness: 1 },
      'patches[1].layers[0].params.loudness: no parameter has this name',
    ],
    [['patches', 1, 'layers', 0, 'soundId'], 'gone', 'patches[1].layers[0].soundId: no sound has the id "gone"'],
    [['patches', 1, 'layers', 1, 'id'], 'a', 'patches[1].layers[1]: "a" is used twice'],
    [
      ['patches', 1, 'layers', 0, 'receive', 'channel'],
      17,
      'patches[1].layers[0].receive.channel: 17 is neither "any" nor a channel from 1 to 16',
    ],
    [
      ['patches', 1, 'routes'],
      [
        {
          id: 'x',
          source: 'cc.1',
          target: 'layer.z.level',
          depth: 1,
          curve: 'linear',
          polarity: 'as-is',
          bound: false,
          counts: 'last' as const,
          on: true,
        },
      ],
      'patches[1].routes[0].target: no layer has the id "z"',
    ],
    [
      ['patches', 1, 'routes'],
      [
        {
          id: 'x',
          source: { formula: '1 +' },
          target: 'main.level',
          depth: 1,
          curve: 'linear',
          polarity: 'as-is',
          bound: false,
          counts: 'last' as const,
          on: true,
        },
      ],
      'patches[1].routes[0].source: expected a number, a source or "(" at character 4',
    ],
    [['sounds', 0, 'zones', 0, 'sampleId'], 'gone', 'sounds[0].zones[0].sampleId: no sample has the id "gone"'],
    [['sounds', 0, 'zones', 0, 'root'], 60.5, 'sounds[0].zones[0].root: 60.5 is not a whole number'],
    [
      ['sounds', 0, 'zones', 0, 'loop'],
      { start: 9, end: 9, crossfade: 0, until: 'end' },
      'sounds[0].zones[0].loop.start: 9 is not before end (9)',
    ],
    [['sounds', 0, 'zones', 0, 'params'], { level: -3 }, 'sounds[0].zones[0].params.level: no parameter has this name'],
    [
      ['sounds', 0, 'zones', 0, 'windows'],
      [{ ...fullWindow('cc.1'), high: 200 }],
      'sounds[0].zones[0].windows[0].high: 200 is above 127',
    ],
    [
      ['sounds', 0, 'zones', 0, 'choke'],
      { group: 1, by: -1, fade: 'fast' },
      'sounds[0].zones[0].choke.by: -1 is below 0',
    ],
    [['samples', 0, 'rate'], 'fast', 'samples[0].rate: "fast" is not a number'],
    [['setlist'], 'zz', 'setlist: no setlist has the id "zz"'],
    [
      ['setlists', 0, 'entries'],
      [newEntry('e', 'patch', ['zz'])],
      'setlists[0].entries[0].patches[0]: no patch has the id "zz"',
    ],
    [['setlists', 0, 'entries'], [newEntry('e', 'pause', ['p'])], 'setlists[0].entries[0]: is a pause with a patch'],
    [
      ['controllers', 'bindings'],
      [{ control: 'cc.80', channel: 0, port: 'any', coding: 'absolute', target: 'show.later' }],
      'controllers.bindings[0].target: "show.later" is nothing that a control can be bound to',
    ],
    [['patches'], 'none', 'patches: is not a list'],
    [['name'], 5, 'name: 5 is not a text'],
    [['format'], 'other', 'format: this is not a Wavicle rig'],
    [
      ['version'],
      RIG_VERSION + 1,
      `version: ${RIG_VERSION + 1} is newer than this Wavicle reads (${RIG_VERSION}); update it first`,
    ],
  ];
  test.each(faults)('a fault at %j is told with its place', (path, value, message) =>
    expect(() => readRig(broken(path, value))).toThrow(new RigError('', message)),
  );
  test('a missing field is told', () =>
    expect(() => readRig(broken(['patches', 0, 'tempo'], undefined))).toThrow('patches[0].tempo: is missing'));
  test.each(['', '{', '[]', 'null', '"rig"', '{"format":"wavicle-rig"}'])('the text %j is refused', (text) =>
    expect(() => readRigText(text)).toThrow(RigError),
  );
  test('older versions are migrated step by step, unknown ones refused', () => {
    const steps = {
      1: (old: Record<string, unknown>) => ({ ...old, version: 2, b: true }),
      2: (old: Record<string, unknown>) => ({ ...old, version: 3, c: old.b }),
    };
    expect(migrate({ format: 'wavicle-rig', version: 1 }, 3, steps)).toEqual({
      format: 'wavicle-rig',
      version: 3,
      b: true,
      c: true,
    });
    expect(() => migrate({ format: 'wavicle-rig', version: 0 }, 3, steps)).toThrow('version: 0 is unknown');
  });
  test('a rig of version 1 plays on: its zones get what they lack', () => {
    const {
      windows: _w,
      trigger: _t,
      choke: _c,
      pitchPerKey: _p,
      params: _v,
      ...old
    } = { ...newZone('w', 60), loop: { start: 1, end: 9 } };
    const now = readRig({ ...(broken(['sounds', 0, 'zones', 0], old) as object), version: 1 });
    expect(now.version).toBe(RIG_VERSION);
    expect(now.sounds[0].zones[0]).toEqual({
      ...newZone('w', 60),
      loop: { start: 1, end: 9, crossfade: 0, until: 'end' },
    });
  });
});

describe('parameters', () => {
  test('every law goes there and back, and holds at its ends', () => {
    for (const parameter of Object.values(LAYER_PARAMETERS)) {
      for (const t of parameter.law === 'steps' ? [0, 1] : [0, 0.25, 0.5, 1])
        expect(toNormal(parameter, fromNormal(parameter, t))).toBeCloseTo(t, 10);
      expect(toNormal(parameter, parameter.high * 2 + 1000)).toBe(1);
      expect(toNormal(parameter, parameter.default)).toBeGreaterThanOrEqual(0);
    }
  });
  test('the cutoff spans ten octaves evenly', () =>
    expect(fromNormal(LAYER_PARAMETERS.cutoff, 0.5)).toBeCloseTo(20 * 2 ** 5, 6));
  test.each([
    'layer.a',
    'layer.a.nothing',
    'lfo.0.rate',
    'lfo.1.cutoff',
    'xy.1.z',
    'xy.1.anchor.2',
    'main.pan',
    'macro.x',
    'key',
    'layer.a.level.x',
    '',
  ])('%s is no target', (id) => expect(parseTarget(id)).toBeUndefined());
});

describe('splits and crossfades', () => {
  const gains = (patch: Patch, source: 'key' | 'velocity', x: number) =>
    patch.layers.map((layer) => gainOfWindow(windowOn(layer, source)!, x));
  test('a hard split leaves no gap and no overlap', () => {
    for (const key of [1, 54, 60, 127]) {
      const patch = splitLayersAt(twoLayers(), 'a', 'b', key, 0);
      for (let k = 0; k < 128; k++) expect(gains(patch, 'key', k)).toEqual(k < key ? [1, 0] : [0, 1]);
    }
  });
  test.each([1, 2, 5, 12, 23])(
    'a fade of %i keys sounds both on so many, at constant power, around the border',
    (fade) => {
      const patch = splitLayersAt(twoLayers(), 'a', 'b', 60, fade);
      const both = Array.from({ length: 128 }, (_, k) => k).filter((k) =>
        gains(patch, 'key', k).every((gain) => gain > 0),
      );
      expect(both).toHaveLength(fade);
      expect(both[0]).toBe(60 - Math.floor(fade / 2));
      for (let k = 0; k < 128; k++)
        expect(gains(patch, 'key', k).reduce((sum, gain) => sum + gain * gain, 0)).toBeCloseTo(1, 9);
    },
  );
  test('outer borders stay, unless the split passes them', () => {
    const narrow = setWindow(twoLayers(), 'a', { ...fullWindow('key'), low: 40, high: 70, fadeIn: 5 });
    expect(windowOn(splitLayersAt(narrow, 'a', 'b', 60, 0).layers[0], 'key')).toMatchObject({
      low: 40,
      high: 59,
      fadeIn: 5,
    });
    expect(windowOn(splitLayersAt(narrow, 'a', 'b', 30, 0).layers[0], 'key')).toMatchObject({
      low: 0,
      high: 29,
      fadeIn: 0,
    });
  });
  test('by velocity, likewise', () => {
    const patch = crossfadeByVelocity(twoLayers(), 'a', 'b', 84, 50);
    for (let v = 1; v < 128; v++)
      expect(gains(patch, 'velocity', v).reduce((sum, gain) => sum + gain * gain, 0)).toBeCloseTo(1, 9);
    expect(gains(patch, 'velocity', 20)).toEqual([1, 0]);
    expect(gains(patch, 'velocity', 120)).toEqual([0, 1]);
  });
  test('bringing in by the wheel', () => {
    const window = windowOn(bringIn(twoLayers(), 'b', 'cc.1', 0, 100).layers[1], 'cc.1')!;
    expect([0, 50, 100, 127].map((x) => gainOfWindow(window, x))).toEqual([0, expect.closeTo(Math.SQRT1_2, 9), 1, 1]);
  });
  test('values beyond a source are brought inside, and crossed borders put in order', () => {
    const patch = setWindow(twoLayers(), 'a', {
      source: 'velocity',
      low: 200,
      high: -4,
      fadeIn: 999,
      fadeOut: -1,
      shape: 'sine',
      read: 'always',
    });
    expect(windowOn(patch.layers[0], 'velocity')).toEqual({
      source: 'velocity',
      low: 1,
      high: 127,
      fadeIn: 126,
      fadeOut: 0,
      shape: 'sine',
      read: 'always',
    });
  });
  test('windows on key and velocity cannot go, others can', () => {
    const patch = setWindow(setWindow(twoLayers(), 'a', fullWindow('cc.1')), 'a', { ...fullWindow('key'), low: 50 });
    expect(removeWindow(patch, 'a', 'cc.1').layers[0].windows).toHaveLength(2);
    expect(windowOn(removeWindow(patch, 'a', 'key').layers[0], 'key')).toEqual(fullWindow('key'));
  });
});

describe('layers and patches', () => {
  const routed = {
    ...twoLayers(),
    routes: [
      {
        id: 'r',
        source: 'cc.1',
        target: 'layer.a.level',
        depth: 0.5,
        curve: 'linear' as const,
        polarity: 'as-is' as const,
        bound: false,
        counts: 'last' as const,
        on: true,
      },
    ],
  };
  test('a new layer has a mark nobody has', () =>
    expect(addLayer(twoLayers(), 'c', 'C', 's').layers[2].mark).toEqual(markAt(2)));
  test('a new layer is as quiet as the quietest there, and is heard', () => {
    const levelOfNew = (...levels: number[]) =>
      paramOf(
        addLayer(
          {
            ...twoLayers(),
            layers: levels.map((level, i) => ({ ...twoLayers().layers[0], id: String(i), params: { level } })),
          },
          'c',
          'C',
          's',
        ).layers[levels.length],
        'level',
      );
    expect([levelOfNew(), levelOfNew(0), levelOfNew(-11, -3), levelOfNew(2), levelOfNew(-60, 0)]).toEqual([
      0, 0, -11, 2, -24,
    ]);
  });
  test('a copy brings what moves it, a deleted layer takes it along', () => {
    const copied = duplicateLayer(routed, 'a', 'c');
    expect(copied.layers.map((layer) => layer.id)).toEqual(['a', 'c', 'b']);
    expect(copied.routes.map((route) => route.target)).toEqual(['layer.a.level', 'layer.c.level']);
    expect(deleteLayer(copied, 'a').routes.map((route) => route.target)).toEqual(['layer.c.level']);
  });
  test('moving', () => expect(moveLayer(twoLayers(), 'a', 1).layers.map((layer) => layer.id)).toEqual(['b', 'a']));
  test('a parameter at its default leaves no trace, and is held in its range', () => {
    const set = setParam(twoLayers(), 'a', 'level', -300);
    expect(set.layers[0].params).toEqual({ level: -60 });
    expect(setParam(set, 'a', 'level', 0).layers[0].params).toEqual({});
  });
  test('edits that change nothing give the same object back', () => {
    const whole = rig();
    expect(updatePatch(whole, 'p', (patch) => patch)).toBe(whole);
    const patch = twoLayers();
    expect(setParam(patch, 'a', 'level', 0)).toBe(patch);
    expect(splitLayersAt(patch, 'a', 'a', 60, 0)).toBe(patch);
  });
  test('patches join no show by themselves, and leave every show that has them', () => {
    const played = ({ setlists }: Rig) => setlists.flatMap(({ entries }) => entries.flatMap(({ patches }) => patches));
    const shown = withPatchInShow(rig(), newPatch('n', 'New'));
    expect(played(shown)).toEqual(['n']);
    const made = duplicatePatch(addPatch(duplicatePatch(shown, 'n', 'n2'), 'm', 'More'), 'q', 'q2');
    expect(played(made)).toEqual(['n']);
    expect(
      newToShow(made)
        .map(({ id }) => id)
        .sort(),
    ).toEqual(
      made.patches
        .map(({ id }) => id)
        .filter((id) => id !== 'n')
        .sort(),
    );
    expect(made.patches.map(({ id }) => id).indexOf('n2')).toBe(made.patches.map(({ id }) => id).indexOf('n') + 1);
    expect(played(deletePatch(made, 'n'))).toEqual([]);
    expect(readRig(made)).toEqual(made);
  });
});

test('a rig of version 2 opens, and its program is the one that it always was', () => {
  const layer = newLayer('a', 'A', 's', markAt(0));
  const now = {
    ...newRig('r', 'R'),
    patches: [
      {
        ...newPatch('p', 'P'),
        layers: [layer],
        routes: [newRoute('x', 'cc.1', 'layer.a.cutoff', 0.2)],
        macros: [{ number: 1, name: 'm', value: 0.5, style: 'strip' as const }],
      },
    ],
    sounds: [newSound('s', 'S')],
  };
  const old = JSON.parse(JSON.stringify(now)) as {
    version: number;
    controllers: unknown;
    patches: Record<string, unknown>[];
  };
  old.version = 2;
  old.controllers = { keyLow: 21, keyHigh: 108 };
  for (const patch of old.patches) {
    for (const key of ['macroPages', 'xyPads', 'movers']) delete patch[key];
    for (const each of patch.macros as Record<string, unknown>[]) delete each.style;
    for (const each of patch.routes as Record<string, unknown>[]) {
      delete each.bound;
      delete each.counts;
    }
    for (const each of patch.layers as Record<string, unknown>[]) {
      for (const key of ['list', 'morph', 'showsName']) delete each[key];
      delete (each.receive as Record<string, unknown>).port;
      for (const window of each.windows as Record<string, unknown>[]) delete window.read;
    }
  }
  expect(readRig(old)).toEqual(now);
});
