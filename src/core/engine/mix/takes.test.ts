import { markAt, newLayer, newPatch } from '../../rig/defaults';
import {
  addNotes,
  addTake,
  changeNotes,
  newPart,
  quantise,
  repeatStretch,
  setLength,
  updatePart,
} from '../../rig/edits/takes';
import { effectParam, newEffect } from '../../rig/defaults';
import { partOf, playable, stripsOf, withTakeStrips } from '../../rig/takes';
import { readTake, writeTake } from '../../formats/midiFile';
import { Engine } from '../engine';
import { make, RATE, STEADY } from '../../../../tests/kit/engine';
import { prepareSample } from '../../dsp/sample';
import { playTake } from '../offline/playTake';
import type { Patch, PatchTake } from '../../rig/schema';

const take = (parts: PatchTake['parts']): PatchTake => ({ id: 't', name: 'T', quarters: 8, tempo: 120, parts });
const withTake = (parts: PatchTake['parts']): Patch =>
  addTake({ ...newPatch('p', 'p'), layers: [newLayer('l', 'l', 's', markAt(0))] }, take(parts));
const hands = {
  ...newPart('h', 'hands', 'patch'),
  notes: [
    [0, 1, 60, 90],
    [1.04, 0.5, 64, 80],
    [2, 1, 67, 70],
  ] as [number, number, number, number][],
};
const notesOf = (patch: Patch) => patch.takes[0].parts[0].notes;

// A quarter lasts 60000 / tempo ms.
test('a take of quarters is played at any tempo, let go before it is struck again, its parts by whom they are for', () => {
  const played = playable(
    take([
      {
        ...hands,
        moves: [
          [1, 'cc.1', 64],
          [2, 'nonsense', 1],
        ],
      },
      { ...newPart('b', 'bass', 'patch.low'), notes: [[0, 2, 40, 100]] },
    ]),
    150,
    ({ plays }) => (plays === 'patch' ? 0 : 1),
  );
  expect(played.seconds).toBeCloseTo(3.2, 9);
  expect(played.events.filter(({ event }) => event.type === 'noteOn').map(({ at, to }) => [at, to ?? 0])).toEqual([
    [0, 0],
    [0, 1],
    [1.04 * 0.4, 0],
    [0.8, 0],
  ]);
  expect(played.events.some(({ event }) => event.type === 'controller' && event.value === 64)).toBe(true);
  const twice = playable(
    take([
      {
        ...hands,
        notes: [
          [0, 1, 60, 90],
          [1, 1, 60, 90],
        ],
      },
    ]),
    60,
    () => 0,
  ).events.filter(({ at }) => at === 1);
  expect(twice.map(({ event }) => event.type)).toEqual(['noteOff', 'noteOn']);
});

test('notes are changed, drawn within the take, quantised by a share, repeated to its end; a shorter take forgets nothing', () => {
  const patch = withTake([hands]);
  expect(
    notesOf(changeNotes(patch, 't', 'h', (note, n) => (n === 1 ? undefined : [note[0], note[1], note[2] + 12, 200]))),
  ).toEqual([
    [0, 1, 72, 127],
    [2, 1, 79, 127],
  ]);
  expect(notesOf(addNotes(patch, 't', 'h', [[-3, 20, 200, 0]]))[0]).toEqual([0, 1, 60, 90]);
  expect(notesOf(addNotes(patch, 't', 'h', [[7.5, 20, 60, 90]])).at(-1)).toEqual([7.5, 0.5, 60, 90]);
  expect(notesOf(quantise(patch, 't', 'h', new Set(), 0.25, 0.5))[1][0]).toBeCloseTo(1.02, 9);
  const repeated = notesOf(repeatStretch(patch, 't', 'h', 0, 2));
  expect(repeated.map(([at]) => at)).toEqual([0, 1.04, 2, 3.04, 4, 5.04, 6, 7.04]);
  expect(notesOf(setLength(patch, 't', 2))).toHaveLength(3);
  expect(
    playable(setLength(patch, 't', 2).takes[0], 120, () => 0).events.filter(({ event }) => event.type === 'noteOn'),
  ).toHaveLength(2);
});

test('moves of the same thing take the place of those in their time', () => {
  const patch = addNotes(
    withTake([
      {
        ...hands,
        moves: [
          [0, 'cc.1', 0],
          [1, 'cc.1', 50],
          [3, 'cc.1', 99],
        ],
      },
    ]),
    't',
    'h',
    [],
    [
      [0.5, 'cc.1', 10],
      [2, 'cc.1', 20],
    ],
  );
  expect(patch.takes[0].parts[0].moves).toEqual([
    [0, 'cc.1', 0],
    [0.5, 'cc.1', 10],
    [2, 'cc.1', 20],
    [3, 'cc.1', 99],
  ]);
});

test('a MIDI file and a take become each other', () => {
  const file = writeTake(
    playable(take([hands]), 120, () => 0),
    120,
  );
  const back = partOf(readTake(file, 'x'), 120, 'h');
  expect(
    back.notes.map(([at, length, key, velocity]) => [
      Math.round(at * 100) / 100,
      Math.round(length * 100) / 100,
      key,
      velocity,
    ]),
  ).toEqual([
    [0, 1, 60, 90],
    [1.04, 0.5, 64, 80],
    [2, 1, 67, 70],
  ]);
});

test('a strip that a take moves goes where it was moved, and glides', () => {
  const low = { ...newEffect('e', 'equaliser'), params: { kind1: 3, frequency1: 8000 } };
  const { program: _, audio } = make({});
  const base: Patch = { ...newPatch('p', 'p'), layers: [{ ...newLayer('l0', 'l0', 's', markAt(0)), effects: [low] }] };
  const moving = updatePart(
    addTake(base, take([{ ...newPart('h', 'hands', 'patch'), notes: [[0, 8, 60, 127]] }])),
    't',
    'h',
    (part) => ({
      ...part,
      moves: [
        [2, 'equaliser.e.gain1', -12],
        [5, 'equaliser.e.gain1', 0],
      ],
    }),
  );
  expect(stripsOf(moving.takes[0])).toEqual(['equaliser.e.gain1']);
  const playing = withTakeStrips(moving, moving.takes[0]);
  const { program } = make({ layers: [...playing.layers], patch: { routes: playing.routes } });
  const engine = new Engine({ rate: RATE });
  for (const { key, loop, levels, reverse } of program.samples)
    engine.addSample(key, prepareSample(audio ?? STEADY, loop, levels, reverse));
  engine.setProgram(program);
  const { left } = playTake(
    engine,
    playable(moving.takes[0], 120, () => 0),
    0,
  );
  const db = (seconds: number) => 20 * Math.log10(left[Math.round(seconds * RATE)] * Math.SQRT2);
  // Before its first move it stands where that takes it.
  expect(db(0.5)).toBeCloseTo(-12, 1);
  expect(db(2)).toBeCloseTo(-12, 1);
  expect(db(3)).toBeCloseTo(0, 1);
  expect(effectParam(low, 'gain1')).toBe(0);
});

test('what a recording plays along with begins where it should, again and again', () => {
  const backing = {
    id: 'b',
    name: 'b',
    sampleId: 's',
    on: true,
    level: 0,
    tempo: 120,
    start: 1,
    loop: true,
    pair: null,
  };
  const strikes = (loop: boolean) =>
    playable(take([]), 120, () => 0, [{ backing: { ...backing, loop }, quarters: 3, key: 36, player: 4 }])
      .events.filter(({ event }) => event.type === 'noteOn')
      .map(({ at }) => at);
  expect(strikes(true)).toEqual([0.5, 2, 3.5]);
  expect(strikes(false)).toEqual([0.5]);
});
