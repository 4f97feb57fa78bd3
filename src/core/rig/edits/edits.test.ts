/**
 * Whatever is done to a rig, with whatever numbers and names, it can be read again: nothing that edits make is refused
 * at the next start.
 */
import fc from 'fast-check';
import { fullWindow, newLayer, newPatch, newRig, newSound, newZone, markAt } from '../defaults';
import { type LayerParameterId } from '../parameters';
import { LAYER_PARAMETERS } from '../layerParameters';
import { faultOf, readRig } from '../read';
import type { Patch, Rig, Sound } from '../schema';
import { changeField, ZONE_FIELDS } from '../zoneFields';
import { setRest } from './moves';
import {
  addLayer,
  deleteLayer,
  duplicateLayer,
  moveLayer,
  renameLayer,
  setParam,
  setTranspose,
  updatePatch,
} from './layers';
import { addPatch, deletePatch, duplicatePatch, renamePatch } from './patches';
import { bringIn, crossfadeByVelocity, removeWindow, setWindow, splitLayersAt } from './windows';
import {
  addSound,
  copyPad,
  deleteSound,
  deleteZones,
  duplicateSound,
  exchangeSamples,
  matchLevels,
  moveZones,
  ownCopyFor,
  renameSound,
  setAlternates,
  shareOutVelocities,
  stretchZones,
  updateSound,
  updateZones,
} from './zones';

const wild = fc.oneof(
  fc.double(),
  fc.integer(),
  fc.integer({ min: -200, max: 200 }),
  fc.double({ min: -2, max: 200, noNaN: true }),
  fc.constantFrom(NaN, Infinity, -Infinity, -0, 2 ** 53, 0.5, 127, 128),
);
const name = fc.oneof(
  fc.string(),
  fc.string({ minLength: 190, maxLength: 260 }),
  fc.constantFrom('', '   ', '🌊'.repeat(150), 'a'.repeat(200)),
);
const source = fc.constantFrom('key', 'velocity', 'cc.1', 'cc.64', 'bend', 'macro.1', 'random.1', 'pressure');
const window = fc.record({
  source,
  low: wild,
  high: wild,
  fadeIn: wild,
  fadeOut: wild,
  shape: fc.constantFrom('sine' as const, 'linear' as const, 'root' as const),
  read: fc.constantFrom('always' as const, 'at-strike' as const),
});
const nth = fc.nat(20);
const places = fc.array(fc.nat(8), { maxLength: 5 }).map((all) => new Set(all));

let ids = 0;
const newId = () => `id-${++ids}`;
type Edit = (rig: Rig) => Rig;
const pick = <T>(items: readonly T[], n: number): T | undefined => items[items.length === 0 ? 0 : n % items.length];

const onPatch = (change: fc.Arbitrary<(patch: Patch) => Patch>) =>
  fc.tuple(nth, change).map(([n, work]): Edit => (rig) => {
    const patch = pick(rig.patches, n);
    return patch ? updatePatch(rig, patch.id, work) : rig;
  });
const onLayer = (change: fc.Arbitrary<(patch: Patch, id: string) => Patch>) =>
  onPatch(
    fc.tuple(nth, change).map(([n, work]) => (patch: Patch) => {
      const layer = pick(patch.layers, n);
      return layer ? work(patch, layer.id) : patch;
    }),
  );
const onSound = (change: fc.Arbitrary<(sound: Sound) => Sound>) =>
  fc.tuple(nth, change).map(([n, work]): Edit => (rig) => {
    const sound = pick(rig.sounds, n);
    return sound ? updateSound(rig, sound.id, work) : rig;
  });
const others = (patch: Patch, id: string) => patch.layers.find((layer) => layer.id !== id)?.id ?? id;

const edits = fc.oneof(
  name.map(
    (text): Edit =>
      (rig) =>
        addPatch(rig, newId(), text),
  ),
  fc.tuple(nth, name).map(
    ([n, text]): Edit =>
      (rig) =>
        renamePatch(rig, pick(rig.patches, n)?.id ?? '', text),
  ),
  nth.map(
    (n): Edit =>
      (rig) =>
        duplicatePatch(rig, pick(rig.patches, n)?.id ?? '', newId()),
  ),
  nth.map(
    (n): Edit =>
      (rig) =>
        rig.patches.length > 2 ? deletePatch(rig, pick(rig.patches, n)!.id) : rig,
  ),
  onPatch(name.map((text) => (patch: Patch) => addLayer(patch, newId(), text, 's'))),
  onLayer(fc.constant((patch: Patch, id: string) => duplicateLayer(patch, id, newId()))),
  onLayer(fc.constant((patch: Patch, id: string) => duplicateLayer(patch, id, newId()))),
  onLayer(name.map((text) => (patch: Patch, id: string) => renameLayer(patch, id, text))),
  onLayer(fc.constant((patch: Patch, id: string) => deleteLayer(patch, id))),
  onLayer(nth.map((to) => (patch: Patch, id: string) => moveLayer(patch, id, to))),
  onLayer(
    fc.tuple(fc.constantFrom(...(Object.keys(LAYER_PARAMETERS) as LayerParameterId[])), wild).map(
      ([id, value]) =>
        (patch: Patch, layerId: string) =>
          setParam(patch, layerId, id, value),
    ),
  ),
  onLayer(wild.map((semitones) => (patch: Patch, id: string) => setTranspose(patch, id, semitones))),
  onPatch(wild.map((value) => (patch: Patch) => setRest(patch, 'macro.1', value))),
  onLayer(window.map((value) => (patch: Patch, id: string) => setWindow(patch, id, value))),
  onLayer(source.map((value) => (patch: Patch, id: string) => removeWindow(patch, id, value))),
  onLayer(
    fc.tuple(wild, wild).map(
      ([key, fade]) =>
        (patch: Patch, id: string) =>
          splitLayersAt(patch, id, others(patch, id), key, fade),
    ),
  ),
  onLayer(
    fc.tuple(wild, wild).map(
      ([middle, fade]) =>
        (patch: Patch, id: string) =>
          crossfadeByVelocity(patch, id, others(patch, id), middle, fade),
    ),
  ),
  onLayer(
    fc.tuple(source, wild, wild).map(
      ([from, low, fade]) =>
        (patch: Patch, id: string) =>
          bringIn(patch, id, from, low, fade),
    ),
  ),
  name.map(
    (text): Edit =>
      (rig) =>
        addSound(rig, newId(), text),
  ),
  nth.map(
    (n): Edit =>
      (rig) =>
        duplicateSound(rig, pick(rig.sounds, n)!.id, newId()),
  ),
  fc.tuple(nth, nth).map(
    ([n, p]): Edit =>
      (rig) =>
        ownCopyFor(rig, pick(rig.sounds, n)!.id, pick(rig.patches, p)?.id ?? '', newId()),
  ),
  fc.tuple(nth, name).map(
    ([n, text]): Edit =>
      (rig) =>
        renameSound(rig, pick(rig.sounds, n)!.id, text),
  ),
  nth.map(
    (n): Edit =>
      (rig) =>
        rig.sounds.length > 2 && pick(rig.sounds, n)!.id !== 's' ? deleteSound(rig, pick(rig.sounds, n)!.id) : rig,
  ),
  onSound(
    fc
      .tuple(
        places,
        fc.constantFrom(...ZONE_FIELDS),
        fc.constantFrom('set' as const, 'shift' as const, 'scale' as const),
        fc.option(wild, { nil: undefined }),
      )
      .map(
        ([which, field, how, by]) =>
          (sound: Sound) =>
            updateZones(sound, which, (zone) => changeField(zone, field, how, by)),
      ),
  ),
  onSound(
    fc.tuple(places, wild, wild, fc.boolean()).map(
      ([which, keys, velocities, roots]) =>
        (sound: Sound) =>
          moveZones(sound, which, keys, velocities, roots),
    ),
  ),
  onSound(
    fc.tuple(places, fc.integer({ min: 0, max: 60 })).map(
      ([which, edge]) =>
        (sound: Sound) =>
          shareOutVelocities(sound, which, edge),
    ),
  ),
  onSound(
    fc.tuple(places, fc.constantFrom('none' as const, 'nearest' as const, 'up' as const, 'down' as const)).map(
      ([which, stretch]) =>
        (sound: Sound) =>
          stretchZones(sound, which, stretch),
    ),
  ),
  onSound(
    fc.tuple(places, fc.boolean()).map(
      ([which, on]) =>
        (sound: Sound) =>
          setAlternates(sound, which, on),
    ),
  ),
  onSound(
    fc.tuple(places, fc.integer({ min: 0, max: 127 })).map(
      ([which, key]) =>
        (sound: Sound) =>
          copyPad(sound, which, key, null),
    ),
  ),
  onSound(places.map((which) => (sound: Sound) => exchangeSamples(sound, which, ['w', 'v']))),
  onSound(places.map((which) => (sound: Sound) => deleteZones(sound, which))),
  onSound(
    fc.tuple(places, wild, fc.boolean()).map(
      ([which, level, keep]) =>
        (sound: Sound) =>
          matchLevels(sound, which, new Map([...which].map((place, i) => [place, level - i])), 1, keep),
    ),
  ),
);

const start = (): Rig => ({
  ...newRig('r', 'R'),
  samples: [
    { id: 'w', name: 'w.wav', rate: 44100, channels: 1, frames: 1000 },
    { id: 'v', name: 'v.wav', rate: 48000, channels: 2, frames: 99 },
  ],
  sounds: [
    newSound(
      's',
      'S',
      [0, 1, 2, 3].map((i) => ({
        ...newZone(i % 2 ? 'v' : 'w', 60 + i),
        loop: i === 2 ? { start: 10, end: 90, crossfade: 0, until: 'end' as const } : null,
      })),
    ),
    newSound('t', 'T'),
  ],
  patches: [
    {
      ...newPatch('p', 'P'),
      layers: ['a', 'b'].map((id, i) => newLayer(id, id, i === 0 ? 's' : 't', markAt(i))),
      macros: [{ number: 1, name: 'm', value: 0, style: 'strip' as const }],
      routes: [
        {
          id: 'x',
          source: 'cc.1',
          target: 'layer.a.level',
          depth: 0.5,
          curve: 'linear',
          polarity: 'as-is',
          bound: false,
          counts: 'last' as const,
          on: true,
        },
      ],
    },
    newPatch('q', 'Q'),
  ],
});

test('random edits on random rigs always leave a rig that can be read', () => {
  fc.assert(
    fc.property(fc.array(edits, { minLength: 1, maxLength: 25 }), (some) => {
      let rig = start();
      for (const each of some) {
        rig = each(rig);
        const fault = faultOf(rig);
        if (fault) throw fault;
      }
      expect(readRig(JSON.parse(JSON.stringify(rig)))).toBeTruthy();
    }),
    { numRuns: 200 },
  );
});

test('copies of copies keep their ids short and their names within the limit', () => {
  let patch = { ...start().patches[0] };
  let id = 'a';
  for (let n = 0; n < 40; n++) {
    const next = `copy-${n}`;
    patch = duplicateLayer(renameLayer(patch, id, 'x'.repeat(200)), id, next);
    id = next;
  }
  expect(Math.max(...patch.routes.map((route) => route.id.length))).toBeLessThan(20);
  expect(new Set(patch.routes.map((route) => route.id)).size).toBe(41);
  expect(patch.layers.find((layer) => layer.id === id)!.name).toHaveLength(200);
  expect(faultOf({ ...start(), patches: [patch] })).toBeUndefined();
});

test('the check names what an edit broke, and looks at nothing twice', () => {
  const rig = start();
  expect(faultOf(rig)).toBeUndefined();
  const broken = {
    ...rig,
    sounds: rig.sounds.map((sound) => ({
      ...sound,
      zones: sound.zones.map((zone, i) => (i === 1 ? { ...zone, root: 60.5 } : zone)),
    })),
  };
  expect(faultOf(broken)?.message).toBe('sounds[0].zones[1].root: 60.5 is not a whole number');
  expect(faultOf({ ...rig, setlist: 'gone' })?.message).toBe('setlist: no setlist has the id "gone"');
  expect(faultOf({ ...rig, name: 'x'.repeat(201) })?.message).toBe('name: is longer than 200 characters');
  const own = ownCopyFor(rig, 's', 'p', 'mine');
  expect(own.patches[0].layers[0].soundId).toBe('mine');
  expect(own.sounds.map((sound) => sound.name)).toEqual(['S', 'S copy', 'T']);
  expect(fullWindow('key').read).toBe('always');
});
