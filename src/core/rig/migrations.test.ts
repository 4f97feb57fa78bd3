import { markAt, newEntry, newLayer, newPatch, newRig, newSetlist, newSound } from './defaults';
import { readRig } from './read';

/** What rigs of each version before lack, and get when they are opened; older ones are in the test of the whole rig. */

test('a rig of version 10 plays on: its entries get a page to be written', () => {
  const { page: _, ...old } = newEntry('e', 'pause');
  const setlists = [{ ...newSetlist('s', 'S'), entries: [old] }];
  const before = { ...newRig('r', 'R'), version: 10, setlists, setlist: 's' };
  expect(readRig(before).setlists[0].entries).toEqual([newEntry('e', 'pause')]);
});

test('a rig of version 11 plays on: each output and channel that layers played to is an instrument', () => {
  const old = (id: string, output: string, outputChannel: number) => {
    const layer = newLayer(id, id, 's', markAt(0));
    const { instrument: _, ...path } = layer.path;
    return { ...layer, path: { ...path, output, outputChannel } };
  };
  const { told: _, knobs: __, ...patch } = newPatch('p', 'P');
  const { instruments: ___, ...rig } = newRig('r', 'R');
  const layers = [old('a', 'Rack', 3), old('b', '', 1), old('c', 'Rack', 4), old('d', 'Rack', 3)];
  const read = readRig({ ...rig, version: 11, sounds: [newSound('s', 'S')], patches: [{ ...patch, layers }] });
  expect(read.instruments.map(({ name, output, channel }) => [name, output, channel])).toEqual([
    ['Rack', 'Rack', 3],
    ['Rack, channel 4', 'Rack', 4],
  ]);
  expect(read.patches[0].layers.map(({ path }) => path.instrument)).toEqual([
    'outside-1',
    null,
    'outside-2',
    'outside-1',
  ]);
});

test('a rig of version 12 plays on as it is; in it no control could make a machine lead', () => {
  const before = { ...newRig('r', 'R'), version: 12 };
  expect(readRig(before)).toEqual(newRig('r', 'R'));
  const binding = { control: 'cc.80', channel: 0, port: 'any', coding: 'absolute', target: 'show.lead' };
  const controllers = { ...before.controllers, bindings: [binding] };
  expect(readRig({ ...newRig('r', 'R'), controllers }).controllers.bindings).toEqual([binding]);
});
