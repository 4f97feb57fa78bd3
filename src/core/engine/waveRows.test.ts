import { compile } from './program/compile';
import { oscillatorPicture } from './pictures/synthPicture';
import { wavesKey } from './program/program';
import { SHAPES } from '../sounds/synth/tableIds';
import { makeWaves } from '../sounds/synth/tables';
import { markAt, newLayer, newPatch, newRig, newRoute } from '../rig/defaults';
import { addSynth, setWaves } from '../rig/edits/kinds';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { Layer, Patch, Sound } from '../rig/schema';
import { rowsPlayed } from '../rig/waveRows';

const [synth] = addSynth(newRig('r', 'R'), 's', 'S').sounds;
const sound: Sound = ['vowels', 'reeds', 'glass'].reduce(
  (left, table, n) => setWaves(left, n, { table, length: 0 }),
  synth,
);
const patchOf = (layer: Partial<Layer>, routes: Patch['routes'] = []): Patch => ({
  ...newPatch('p', 'P'),
  layers: [{ ...newLayer('a', 'A', 's', markAt(0)), ...layer }],
  routes,
});
const asked = (patch: Patch, of = sound) =>
  compile(patch, { sounds: [of], samples: [], keyLow: 21, keyHigh: 108 }).waveKeys;
const keys = (...tables: string[]) => [SHAPES, ...tables].map((table) => wavesKey({ table, length: 0 }));

test('only rows that an oscillator can read are asked for: by its shape in the layer, in the sound, or where a route takes it', () => {
  expect(rowsPlayed(patchOf({}), sound)).toEqual([false, false, false]);
  expect(asked(patchOf({}))).toEqual(keys());
  expect(asked(patchOf({ params: { osc2Shape: 0 } }))).toEqual(keys('reeds'));
  expect(asked(patchOf({}), { ...sound, params: { osc1Shape: 0 } })).toEqual(keys('vowels'));
  expect(asked(patchOf({ params: { osc1Shape: 1 } }), { ...sound, params: { osc1Shape: 0 } })).toEqual(keys());
  expect(asked(patchOf({}, [newRoute('x', 'cc.1', 'layer.a.osc3Shape', 0.5)]))).toEqual(keys('glass'));
});

test('pictures of oscillators are drawn from the rows that are there because somebody reads them', () => {
  const there = new Map(
    keys('reeds').map((key, n) => [key, makeWaves({ table: n === 0 ? SHAPES : 'reeds', length: 0 }, [], 1)]),
  );
  const value = (id: keyof typeof LAYER_PARAMETERS) =>
    id === 'osc2Shape' ? 0 : id.endsWith('Level') ? -6 : LAYER_PARAMETERS[id].default;
  const pictures = oscillatorPicture(
    value,
    sound.waves.map((waves) => wavesKey(waves)),
    (key) => there.get(key),
  );
  expect(pictures?.map((picture) => Math.max(...picture) > 0.1)).toEqual([true, true, true]);
});
