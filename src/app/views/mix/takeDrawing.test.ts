import { keyScaleOf } from '../../parts/keyScale';
import type { Note } from '../../../core/rig/takes';
import { draggedNotes, notesInBox, noteUnder, timeOfY, yOfTime, type TakeSpace } from './takeDrawing';

const space: TakeSpace = { scale: keyScaleOf(880), width: 880, pixels: 800, perQuarter: 50 };
const notes: Note[] = [
  [0, 1, 60, 90],
  [1, 0.01, 64, 90],
  [2, 2, 67, 90],
  [2, 2, 67, 40],
];
const xOf = (key: number) => space.scale.middle(key);

test('later is higher, and back again', () => {
  expect(yOfTime(space, 0)).toBe(800);
  expect(yOfTime(space, 4)).toBe(600);
  for (const at of [0, 0.5, 7.25]) expect(timeOfY(space, yOfTime(space, at))).toBeCloseTo(at, 12);
});

test('the note under a point: the topmost of several, short ones with some room, none beside them', () => {
  expect(noteUnder(notes, space, { x: xOf(60), y: yOfTime(space, 0.5) })).toBe(0);
  expect(noteUnder(notes, space, { x: xOf(67), y: yOfTime(space, 3) })).toBe(3);
  // A fiftieth of a pixel high, and still to be taken hold of.
  expect(noteUnder(notes, space, { x: xOf(64), y: yOfTime(space, 1) - 3 })).toBe(1);
  expect(noteUnder(notes, space, { x: xOf(61), y: yOfTime(space, 0.5) })).toBe(-1);
  expect(noteUnder(notes, space, { x: xOf(60), y: yOfTime(space, 1.5) })).toBe(-1);
});

test('a box has the notes that it touches, whichever way it is drawn', () => {
  const box = { x: xOf(59), y: yOfTime(space, 0.5), to: { x: xOf(65), y: yOfTime(space, 1.5) } };
  expect(notesInBox(notes, space, box)).toEqual([0, 1]);
  expect(notesInBox(notes, space, { ...box.to, to: box })).toEqual([0, 1]);
  expect(notesInBox(notes, space, { x: 0, y: 0, to: { x: 880, y: 800 } })).toEqual([0, 1, 2, 3]);
});

test('dragged notes keep what they are, and are found again where they stand', () => {
  const { rest, moved, places } = draggedNotes(notes, new Set([0, 2]), false, 1, -2);
  expect(rest).toEqual([notes[1], notes[3]]);
  expect(moved).toEqual([
    [1, 1, 58, 90],
    [3, 2, 65, 90],
  ]);
  // In order of time and key: 58 at 1, 64 at 1, 67 at 2, 65 at 3.
  expect([...places]).toEqual([0, 3]);
});

test('an end is not drawn past the beginning, and a note that is gone is left out', () => {
  expect(draggedNotes(notes, new Set([0, 9]), true, -5, 0).moved).toEqual([[0, 1 / 32, 60, 90]]);
});
