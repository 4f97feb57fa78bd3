import { markAt, newLayer, newMessage, newPatch, newRig, newRoute, newSound } from '../defaults';
import { differenceOf } from '../difference';
import { labelOfTarget, restOfTarget, targetsIn } from '../moves';
import { faultOf, readRig } from '../read';
import type { Patch, Rig } from '../schema';
import { paste } from './carry';
import { clipOf } from './clip';
import { mergePatches, onlyUsed } from './merge';
import { setRest } from './moves';
import {
  addInstrument,
  addKnob,
  deleteInstrument,
  deleteKnob,
  instrumentsUsed,
  setInstrument,
  setTold,
  updateInstrument,
  updateKnob,
} from './outside';
import { MOST_INSTRUMENTS, MOST_KNOBS } from '../limits';

/** A rig with an instrument outside that its one patch plays, tells and moves. */
function outsideRig(id = 'r', output = 'Rack out'): Rig {
  const rig: Rig = { ...newRig(id, id), sounds: [newSound('s', 'S')] };
  const made = addInstrument(rig, 'Rack', output)!;
  const instrument = made.rig.instruments[0];
  const layers = [newLayer('l', 'L', 's', markAt(0)), newLayer('m', 'M', 's', markAt(1))];
  const patch = [
    (old: Patch) => setInstrument(old, 'l', made.id),
    (old: Patch) => setTold(old, made.id, 'enter', [newMessage('program')]),
    (old: Patch) => addKnob(old, instrument, 74, 'Brightness')!.patch,
    (old: Patch) => ({
      ...old,
      routes: [newRoute('r1', 'cc.1', 'knob.knob-1.value', 0.5)],
      front: ['knob.knob-1.value'],
    }),
  ].reduce<Patch>((left, edit) => edit(left), { ...newPatch('p', 'P'), layers });
  return { ...made.rig, patches: [patch] };
}
const ids = () => {
  let n = 0;
  return () => `new-${++n}`;
};

test('a rig with an instrument that is played, told and moved can be written and read again', () => {
  const rig = outsideRig();
  expect(faultOf(rig)).toBeUndefined();
  expect(readRig(JSON.parse(JSON.stringify(rig)))).toEqual(rig);
});

test.each([
  [
    'a layer',
    (patch: Patch) => setInstrument(patch, 'm', 'nobody'),
    /layers\[1\]\.path\.instrument: no instrument has/,
  ],
  [
    'what is told',
    (patch: Patch) => setTold(patch, 'nobody', 'enter', [newMessage('nrpn')]),
    /told\[1\]\.id: no instr/,
  ],
  [
    'a route',
    (patch: Patch) => ({ ...patch, routes: [newRoute('r1', 'cc.1', 'knob.gone.value', 0.5)] }),
    /routes\[0\]\.target: no value outside has the id "gone"/,
  ],
  [
    'bytes',
    (patch: Patch) => setTold(patch, 'outside-1', 'enter', [{ ...newMessage('bytes'), bytes: 'F0 01' }]),
    /told\[0\]\.enter\[0\]\.bytes: a system exclusive message has no end/,
  ],
])('%s that points at nothing, or says nothing, is refused with its place', (_, edit, problem) => {
  const rig = outsideRig();
  const wrong = { ...rig, patches: [edit(rig.patches[0])] };
  expect(String(faultOf(wrong)?.message)).toMatch(problem);
});

test('an instrument that goes takes along all that was its own, in versions as well; layers play their sound', () => {
  const rig = outsideRig();
  const [patch] = rig.patches;
  const { versions: _, version: __, ...content } = patch;
  const withVersions: Rig = {
    ...rig,
    patches: [
      {
        ...patch,
        version: 'v',
        versions: [
          { id: 'v', name: 'A', patch: content },
          { id: 'w', name: 'B', patch: content },
        ],
      },
    ],
  };
  const left = deleteInstrument(withVersions, 'outside-1');
  expect(faultOf(left)).toBeUndefined();
  for (const each of [left.patches[0], ...left.patches[0].versions.map((version) => version.patch)]) {
    expect(instrumentsUsed(each)).toEqual([]);
    expect([each.routes, each.front, each.knobs, each.told]).toEqual([[], [], [], []]);
    expect(each.layers[0].path.instrument).toBeNull();
  }
  // One that nothing uses changes no patch.
  const other = addInstrument(rig, 'Other')!;
  expect(deleteInstrument(other.rig, other.id).patches[0]).toBe(rig.patches[0]);
});

test('a value outside is a target like any other: named, listed, set to whole numbers, gone with its routes', () => {
  const [patch] = outsideRig().patches;
  expect(targetsIn(patch, [])).toContain('knob.knob-1.value');
  expect(labelOfTarget(patch, 'knob.knob-1.value')).toBe('Brightness');
  expect(restOfTarget(setRest(patch, 'knob.knob-1.value', 90.4), 'knob.knob-1.value')).toBe(90);
  expect(restOfTarget(setRest(patch, 'knob.knob-1.value', 999), 'knob.knob-1.value')).toBe(127);
  const left = deleteKnob(patch, 'knob-1');
  expect([left.knobs, left.routes, left.front]).toEqual([[], [], []]);
});

test('names are held, and there is an end to each list', () => {
  let rig = newRig('r', 'R');
  for (let n = 0; n < MOST_INSTRUMENTS; n++) rig = addInstrument(rig, 'Rack')!.rig;
  expect(new Set(rig.instruments.map(({ name }) => name)).size).toBe(MOST_INSTRUMENTS);
  expect(addInstrument(rig, 'Rack')).toBeUndefined();
  expect(updateInstrument(rig, 'outside-1', { name: '   ' }).instruments[0].name).toBe('Rack');
  let patch = newPatch('p', 'P');
  for (let n = 0; n < MOST_KNOBS; n++) patch = addKnob(patch, rig.instruments[0], n)!.patch;
  expect(addKnob(patch, rig.instruments[0], 1)).toBeUndefined();
  expect(updateKnob(patch, 'knob-1', { name: '' }).knobs[0].name).toBe('CC 0 of Rack');
  const many = Array.from({ length: 40 }, () => newMessage('notesOff'));
  expect(setTold(patch, 'outside-1', 'leave', many).told[0].leave).toHaveLength(32);
  // What is told nothing any more is not named.
  expect(setTold(setTold(patch, 'outside-1', 'leave', many), 'outside-1', 'leave', []).told).toEqual([]);
});

describe('from rig to rig', () => {
  test('a patch brings its instruments; one on the same output and channel is that one', () => {
    const mine = outsideRig('mine');
    const merged = mergePatches(mine, outsideRig('theirs'), ['p'], ids()).rig;
    expect(merged.instruments).toHaveLength(1);
    expect(instrumentsUsed(merged.patches[1])).toEqual(['outside-1']);
    expect(faultOf(merged)).toBeUndefined();
    const other = mergePatches(mine, outsideRig('theirs', 'Far out'), ['p'], ids()).rig;
    expect(other.instruments.map(({ name, output }) => [name, output])).toEqual([
      ['Rack', 'Rack out'],
      ['Rack 2', 'Far out'],
    ]);
    expect(instrumentsUsed(other.patches[1])).toEqual([other.instruments[1].id]);
    expect(other.patches[1].routes).toHaveLength(1);
    expect(faultOf(other)).toBeUndefined();
  });
  test('where there is no room for it, layers play their sound and nothing points at it', () => {
    let full: Rig = { ...newRig('mine', 'M'), sounds: [newSound('s', 'S')] };
    for (let n = 0; n < MOST_INSTRUMENTS; n++) full = addInstrument(full, 'X', `out ${n}`)!.rig;
    const merged = mergePatches(full, outsideRig('theirs', 'Far out'), ['p'], ids()).rig;
    expect(faultOf(merged)).toBeUndefined();
    expect(instrumentsUsed(merged.patches[0])).toEqual([]);
  });
  test('a layer that is pasted brings the instrument that it plays', () => {
    const from = outsideRig('theirs', 'Far out');
    const clip = clipOf(from, from.patches[0], ['l'], 'L');
    const to: Rig = { ...newRig('mine', 'M'), patches: [newPatch('q', 'Q')] };
    const { rig, brings } = paste(to, 'q', clip, ids());
    expect(brings).toContain('instrument outside “Rack”');
    expect(rig.patches[0].layers[0].path.instrument).toBe(rig.instruments[0].id);
    expect(faultOf(rig)).toBeUndefined();
  });
  test('what no patch uses stays behind', () => {
    const rig = addInstrument(outsideRig(), 'Unused', 'elsewhere')!.rig;
    expect(onlyUsed(rig).instruments.map(({ name }) => name)).toEqual(['Rack']);
  });
});

test('what was done is named', () => {
  const before = outsideRig();
  const patched = (edit: (patch: Patch) => Patch): Rig => ({ ...before, patches: [edit(before.patches[0])] });
  const what = (after: Rig) => differenceOf(before, after)?.what;
  expect(what(addInstrument(before, 'Pipe')!.rig)).toBe('the new instrument outside “Pipe”');
  expect(what(updateInstrument(before, 'outside-1', { channel: 9 }))).toBe('the instrument outside “Rack”');
  expect(what(patched((patch) => setTold(patch, 'outside-1', 'leave', [newMessage('notesOff')])))).toBe(
    'what instruments outside are told',
  );
  expect(what(patched((patch) => updateKnob(patch, 'knob-1', { controller: 3 })))).toBe(
    'a value of an instrument outside',
  );
});
