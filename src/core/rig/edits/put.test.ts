import { markAt, newLayer, newPatch, newRig, newSound, newZone } from '../defaults';
import { faultOf } from '../read';
import type { Rig, Sound } from '../schema';
import { soundsTwice } from '../twice';
import { padsOf } from './kit';
import { put, transposeTo, zoneOf, type PutPlace } from './put';

const sample = (id: string) => ({ id, name: id, rate: 48000, channels: 1, frames: 10 });
const ids = () => {
  let n = 0;
  return () => `n${n++}`;
};
const newId = ids();
const bells = newSound('bells', 'Bells', [newZone('low', 48), newZone('high', 72)]);
const strings: Sound = {
  ...newSound('strings', 'Strings', [
    { ...newZone('s', 60), key: { ...newZone('s', 60).key, low: 40, high: 80 } },
    { ...newZone('s2', 90), key: { ...newZone('s2', 90).key, low: 81, high: 100 } },
  ]),
  params: { attack: 0.2 },
};
const rig: Rig = {
  ...newRig('r', 'R'),
  patches: [{ ...newPatch('p', 'P'), layers: [newLayer('a', 'A', 'bells', markAt(0))] }],
  sounds: [bells, strings],
  samples: ['low', 'high', 's', 's2'].map(sample),
};
const file = {
  name: 'Clap',
  sound: newSound('file', 'Clap', [{ ...newZone('clap', 60), key: { ...newZone('clap', 60).key, low: 0, high: 127 } }]),
  samples: [sample('clap')],
};
const own = (sound: Sound) => ({ name: sound.name, sound, samples: [] });
const done = (thing: Parameters<typeof put>[1], place: PutPlace, on = rig) => {
  const next = put(on, thing, place, newId);
  expect(faultOf(next)).toBeUndefined();
  return next;
};

describe('one thing put in one place', () => {
  it('plays in a layer, with the values that come with a sound; a file comes in with it', () => {
    expect(done(own(strings), { to: 'layer', patchId: 'p', layerId: 'a' }).patches[0].layers[0]).toMatchObject({
      name: 'A',
      soundId: 'strings',
      params: { attack: 0.2 },
    });
    const next = done(file, { to: 'layer', patchId: 'p', layerId: 'a' });
    expect(next.patches[0].layers[0].soundId).toBe('file');
    expect(next.samples.map(({ id }) => id)).toContain('clap');
  });

  it('makes a pad of a free key, and comes on top of one that is there', () => {
    const one = done(file, { to: 'pad', patchId: 'p', key: 40 });
    expect(padsOf(one.patches[0]).map(({ key, members }) => [key, members.map(({ name }) => name)])).toEqual([
      [40, ['Clap']],
    ]);
    // A single recording plays at its own pitch, to its end.
    expect(one.sounds.find(({ name }) => name === 'Clap')!.zones[0]).toMatchObject({
      pitchPerKey: 0,
      playback: 'full-length',
    });
    const two = done(own(strings), { to: 'pad', patchId: 'p', key: 40 }, one);
    expect(padsOf(two.patches[0])[0].members.map(({ name }) => name)).toEqual(['Clap', 'Strings']);
    expect(two.sounds).toHaveLength(3);
  });

  it('becomes a layer of its own, and one sound that is there already is used by all', () => {
    const place: PutPlace = { to: 'new layer', patchId: 'p', layerId: 'x' };
    const one = done(file, place);
    expect(one.patches[0].layers.map(({ id, soundId }) => [id, soundId])).toEqual([
      ['a', 'bells'],
      ['x', 'file'],
    ]);
    const two = done({ ...file, sound: { ...file.sound } }, { ...place, layerId: 'y' }, one);
    expect(two.patches[0].layers.map(({ soundId }) => soundId)).toEqual(['bells', 'file', 'file']);
    expect(two.sounds).toHaveLength(3);
    // One of the same id that is another one does not take its place.
    const other = { ...file, sound: { ...file.sound, params: { attack: 0.5 } } };
    const three = done(other, { ...place, layerId: 'z' }, two);
    expect(three.sounds).toHaveLength(4);
    expect(three.patches[0].layers[3].soundId).not.toBe('file');
    expect(put(rig, file, { ...place, patchId: 'gone' }, ids())).toBe(rig);
  });

  it('is struck on a pad wherever its keys are', () => {
    expect([48, 60, 61, 20].map((key) => transposeTo(bells, key))).toEqual([0, -12, 11, 28]);
    expect(transposeTo(strings, 60)).toBe(0);
    expect(transposeTo(file.sound, 40)).toBe(20);
    expect(padsOf(done(own(bells), { to: 'pad', patchId: 'p', key: 30 }).patches[0])[0].members[0].transpose).toBe(18);
  });

  it('takes the place of the recording of a zone and leaves its keys, velocities and turn', () => {
    const next = done(own(strings), { to: 'zone', soundId: 'bells', zone: 1 });
    expect(next.sounds[0].zones[1]).toEqual({ ...bells.zones[1], sampleId: 's' });
    expect(zoneOf(strings)!.sampleId).toBe('s');
    expect(done(file, { to: 'zone', soundId: 'bells', zone: 0 }).samples.map(({ id }) => id)).toContain('clap');
  });

  it('leaves everything as it is where the place is gone', () => {
    const gone: PutPlace[] = [
      { to: 'layer', patchId: 'p', layerId: 'x' },
      { to: 'pad', patchId: 'x', key: 1 },
      { to: 'zone', soundId: 'bells', zone: 9 },
      { to: 'zone', soundId: 'x', zone: 0 },
    ];
    for (const place of gone) expect(put(rig, file, place, ids())).toBe(rig);
    const synth: Sound = { ...newSound('y', 'Y', []), kind: 'synth' };
    expect(put(rig, own(synth), { to: 'zone', soundId: 'bells', zone: 0 }, ids())).toBe(rig);
  });
});

describe('a recording that sounds twice at once', () => {
  const twice = (next: Rig) =>
    soundsTwice(
      next,
      next.patches[0],
      next.samples.map(({ id }) => id),
    );
  it('is found in two layers, on one pad and in one sound', () => {
    expect(twice(rig)).toBeUndefined();
    const layers: Rig = {
      ...rig,
      patches: [{ ...rig.patches[0], layers: [...rig.patches[0].layers, newLayer('b', 'B', 'bells', markAt(1))] }],
    };
    expect(twice(layers)).toMatchObject({ sampleId: 'low', first: { id: 'a' }, second: { id: 'b' }, key: 48 });
    const once = done(file, { to: 'pad', patchId: 'p', key: 40 });
    expect(twice(once)).toBeUndefined();
    expect(twice(done(file, { to: 'pad', patchId: 'p', key: 40 }, once))).toMatchObject({ sampleId: 'clap', key: 40 });
    expect(twice({ ...rig, sounds: [{ ...bells, zones: [...bells.zones, bells.zones[0]] }, strings] })).toMatchObject({
      first: { id: 'a' },
      second: { id: 'a' },
    });
  });

  it('is no fault where the two never meet: other pads, other keys, turns, layers that are off', () => {
    const apart = done(file, { to: 'pad', patchId: 'p', key: 41 }, done(file, { to: 'pad', patchId: 'p', key: 40 }));
    expect(twice(apart)).toBeUndefined();
    const [layer] = rig.patches[0].layers;
    const off: Rig = {
      ...rig,
      patches: [{ ...rig.patches[0], layers: [layer, { ...newLayer('b', 'B', 'bells', markAt(1)), on: false }] }],
    };
    expect(twice(off)).toBeUndefined();
    const moved: Rig = {
      ...rig,
      patches: [{ ...rig.patches[0], layers: [layer, { ...newLayer('b', 'B', 'bells', markAt(1)), transpose: 5 }] }],
    };
    expect(twice(moved)).toBeUndefined();
    const turns = {
      ...bells,
      zones: [
        { ...bells.zones[0], alternate: 0 },
        { ...bells.zones[0], alternate: 1 },
      ],
    };
    expect(twice({ ...rig, sounds: [turns, strings] })).toBeUndefined();
  });
});
