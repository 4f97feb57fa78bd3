import fc from 'fast-check';
import { markAt, newEntry, newGroup, newLayer, newPatch, newRig, newSetlist, newSound, windowOn } from '../defaults';
import { faultOf, readRig } from '../read';
import { nameOfEntry, notesOfStep, patchAsPlayed, placeOfProgram, setlistOf, stepsOf } from '../setlist';
import type { Rig } from '../schema';
import { deletePatch } from './patches';
import {
  addEntry,
  addSetlist,
  addToSong,
  chooseSetlist,
  deleteEntry,
  deleteSetlist,
  duplicateSetlist,
  moveEntry,
  moveInSong,
  noteSetlist,
  renameSetlist,
  takeFromSong,
  updateEntry,
} from './setlists';

const rig = (): Rig => ({
  ...newRig('r', 'R'),
  patches: ['a', 'b', 'c'].map((id) => ({ ...newPatch(id, id.toUpperCase()), notes: `notes of ${id}`, tempo: 90 })),
  setlists: [
    newSetlist('s', 'S', [
      newEntry('e1', 'patch', ['a']),
      { ...newEntry('e2', 'song', ['b', 'c', 'b']), name: 'Song', notes: 'mine' },
      newEntry('e3', 'pause'),
    ]),
  ],
  setlist: 's',
});
const idsIn = (of: Rig) => setlistOf(of).entries.map(({ id }) => id);

describe('the steps of a show', () => {
  test('are each patch of each song, and pauses', () => {
    const steps = stepsOf(rig(), setlistOf(rig()));
    expect(steps.map(({ id, patch }) => [id, patch?.id ?? null])).toEqual([
      ['e1.0', 'a'],
      ['e2.0', 'b'],
      ['e2.1', 'c'],
      ['e2.2', 'b'],
      ['e3.0', null],
    ]);
    expect(steps.map(notesOfStep)).toEqual(['notes of a', 'mine', 'mine', 'mine', '']);
    expect(setlistOf(rig()).entries.map((entry) => nameOfEntry(rig(), entry))).toEqual(['A', 'Song', 'Pause']);
  });
  test('a rig without a setlist has none', () =>
    expect(
      stepsOf({ ...rig(), setlists: [], setlist: null }, setlistOf({ ...rig(), setlists: [], setlist: null })),
    ).toEqual([]));
  // MIDI 1.0 Detailed Specification, Bank Select: 14 bits choose a bank of 128 programs.
  test('a program change counts on through the banks', () =>
    expect([placeOfProgram(0, 5), placeOfProgram(1, 0), placeOfProgram(2, 3)]).toEqual([5, 128, 259]));
});

describe('a patch as a step plays it', () => {
  const layers = [
    newLayer('x', 'X', 's', markAt(0)),
    { ...newLayer('y', 'Y', 's', markAt(1)), receive: { ...newLayer('', '', '', markAt(0)).receive, song: false } },
    { ...newLayer('z', 'Z', 's', markAt(2)), groupId: 'g' },
    { ...newLayer('h', 'H', 's', markAt(3)), transpose: 47 },
  ];
  const group = newGroup('g', 'G', markAt(0));
  const patch = {
    ...newPatch('p', 'P'),
    tempo: 90,
    layers,
    groups: [{ ...group, receive: { ...group.receive, song: false } }],
  };
  test('is at the tempo and transposed, but for what does not go along; borders stay under the hands', () => {
    const played = patchAsPlayed(patch, { tempo: 120, transpose: 3 });
    expect(played.tempo).toBe(120);
    expect(played.layers.map(({ transpose }) => transpose)).toEqual([3, 0, 0, 48]);
    expect(windowOn(played.layers[0], 'key')).toEqual(windowOn(layers[0], 'key'));
  });
  test('is the same object each time, and the patch itself where nothing differs', () => {
    expect(patchAsPlayed(patch, { tempo: 120, transpose: 3 })).toBe(patchAsPlayed(patch, { tempo: 120, transpose: 3 }));
    expect(patchAsPlayed(patch, { tempo: 90, transpose: 0 })).toBe(patch);
    expect(patchAsPlayed(patch, { tempo: null, transpose: 0 })).toBe(patch);
  });
});

describe('edits of a setlist', () => {
  test('entries come, go, change their place and hold what they are given', () => {
    let now = addEntry(rig(), 's', 'patch', ['c'], '', 1);
    expect(idsIn(now)).toEqual(['e1', 'entry-1', 'e2', 'e3']);
    now = moveEntry(now, 's', 0, 2);
    expect(idsIn(now)).toEqual(['entry-1', 'e2', 'e1', 'e3']);
    now = updateEntry(now, 's', 'e1', {
      tempo: 9999,
      transpose: -40.4,
      name: `  ${'x'.repeat(300)}`,
      notes: 'n'.repeat(3000),
      minutes: -1,
    });
    expect(setlistOf(now).entries[2]).toMatchObject({
      tempo: 400,
      transpose: -12,
      minutes: 0,
      name: 'x'.repeat(200),
      notes: 'n'.repeat(2000),
    });
    now = deleteEntry(now, 's', 'entry-1');
    expect(idsIn(now)).toEqual(['e2', 'e1', 'e3']);
    expect(readRig(now)).toEqual(now);
  });
  test('a patch becomes a song by one more, and a song that loses its last patch goes', () => {
    let now = addToSong(rig(), 's', 'e1', 'b');
    expect(setlistOf(now).entries[0]).toMatchObject({ kind: 'song', name: 'A', patches: ['a', 'b'] });
    now = moveInSong(now, 's', 'e1', 1, 0);
    expect(setlistOf(now).entries[0].patches).toEqual(['b', 'a']);
    now = takeFromSong(takeFromSong(now, 's', 'e1', 0), 's', 'e1', 0);
    expect(idsIn(now)).toEqual(['e2', 'e3']);
  });
  test('a patch that is deleted leaves every setlist and every control', () => {
    const bound = {
      ...rig(),
      controllers: {
        ...rig().controllers,
        bindings: [
          { control: 'cc.80', channel: 0, port: 'any', coding: 'absolute' as const, target: 'patch.b' },
          { control: 'cc.81', channel: 0, port: 'any', coding: 'absolute' as const, target: 'show.next' },
        ],
      },
    };
    const now = deletePatch(bound, 'b');
    expect(setlistOf(now).entries.map(({ patches }) => patches)).toEqual([['a'], ['c'], []]);
    expect(now.controllers.bindings.map(({ target }) => target)).toEqual(['show.next']);
    expect(faultOf(now)).toBeUndefined();
  });
  test('setlists come beside one another', () => {
    const two = addSetlist(rig(), 'Other', true);
    expect(setlistOf(two).entries.map(({ patches }) => patches[0])).toEqual(['a', 'b', 'c']);
    const three = renameSetlist(noteSetlist(duplicateSetlist(two, 's'), 's', 'when'), 's', 'First');
    expect(three.setlists.map(({ name }) => name)).toEqual(['First', 'S copy', 'Other']);
    expect(setlistOf(chooseSetlist(three, 's')).notes).toBe('when');
    expect(deleteSetlist(chooseSetlist(three, 's'), 's').setlist).toBe(three.setlists[1].id);
    expect(chooseSetlist(three, 'nowhere')).toBe(three);
    expect(readRig(three)).toEqual(three);
  });
  test('whatever is edited at random, the rig can be read', () => {
    const acts = fc.array(
      fc.tuple(fc.nat(9), fc.nat(6), fc.integer({ min: -2, max: 9 }), fc.constantFrom('a', 'b', 'c', 'nobody')),
      { maxLength: 25 },
    );
    fc.assert(
      fc.property(acts, (list) => {
        let now = rig();
        for (const [which, n, m, patch] of list) {
          const { id, entries } = setlistOf(now);
          const entry = entries[n % Math.max(1, entries.length)]?.id ?? 'none';
          now = [
            () => addEntry(now, id, 'patch', [patch]),
            () => addEntry(now, id, 'pause', [], 'p', m),
            () => addEntry(now, id, 'song', [patch, 'a'], 'song'),
            () => moveEntry(now, id, n, m),
            () => deleteEntry(now, id, entry),
            () => addToSong(now, id, entry, patch),
            () => takeFromSong(now, id, entry, m),
            () => moveInSong(now, id, entry, n, m),
            () => deletePatch(now, patch),
            () => updateEntry(now, id, entry, { tempo: m * 50, transpose: m * 3 }),
          ][which]();
          expect(faultOf(now)).toBeUndefined();
        }
        expect(() => readRig(JSON.parse(JSON.stringify(now)))).not.toThrow();
      }),
      { numRuns: 150 },
    );
  });
});

test('a rig of version 7 opens with its list as a setlist, and its pads stay when a song is transposed', () => {
  const pads = {
    ...newPatch('p', 'P'),
    groups: [
      {
        ...newGroup('g', 'G', markAt(0)),
        windows: [{ source: 'key', low: 36, high: 36, fadeIn: 0, fadeOut: 0, shape: 'sine', read: 'always' }],
      },
    ],
    layers: [{ ...newLayer('a', 'A', 's', markAt(0)), groupId: 'g' }],
  };
  const json = JSON.parse(
    JSON.stringify({
      ...newRig('r', 'R'),
      patches: [pads],
      sounds: [newSound('s', 'S')],
      version: 7,
      setlist: ['p', 'gone'],
      setlists: undefined,
    }),
  ) as {
    patches: { layers: { receive: object }[]; groups: { receive: object }[] }[];
    controllers: Record<string, unknown>;
  };
  for (const { receive } of [...json.patches[0].layers, ...json.patches[0].groups])
    delete (receive as { song?: boolean }).song;
  delete json.controllers.programs;
  delete json.controllers.programChannel;
  const now = readRig(json);
  expect(setlistOf(now).entries.map(({ patches }) => patches)).toEqual([['p']]);
  expect([now.patches[0].layers[0].receive.song, now.patches[0].groups[0].receive.song]).toEqual([true, false]);
});
