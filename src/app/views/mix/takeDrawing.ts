import { isBlackKey } from '../../../core/music/pitch';
import type { Part, PatchTake } from '../../../core/rig/schema';
import type { Note } from '../../../core/rig/takes';
import { themeColour } from '../../parts/canvas';
import { FIRST_KEY, LAST_KEY, type KeyScale } from '../../parts/keyScale';

/** Where notes lie: keys from left to right, time from the bottom up, in pixels. */
export interface TakeSpace {
  scale: KeyScale;
  width: number;
  pixels: number;
  perQuarter: number;
}
interface Point {
  x: number;
  y: number;
}
/** From one corner to the other. */
interface Box extends Point {
  to: Point;
}

export const yOfTime = ({ pixels, perQuarter }: TakeSpace, at: number): number => pixels - at * perQuarter;
export const timeOfY = ({ pixels, perQuarter }: TakeSpace, y: number): number => (pixels - y) / perQuarter;

/** Pixels by which a pointer may miss a note at its beginning, and that it has at least. */
const NEAR = 3,
  LEAST = 4;

/** The place of the note under a point, the one that is drawn last where several are; −1: there is none. */
export function noteUnder(notes: readonly Note[], space: TakeSpace, { x, y }: Point): number {
  const { scale, perQuarter } = space;
  const key = Math.floor(scale.keyAt(x));
  const at = timeOfY(space, y);
  for (let i = notes.length - 1; i >= 0; i--) {
    const [start, length, its] = notes[i];
    if (its === key && at >= start - NEAR / perQuarter && at <= start + Math.max(length, LEAST / perQuarter)) return i;
  }
  return -1;
}

/** Places of the notes that a box touches. */
export function notesInBox(notes: readonly Note[], space: TakeSpace, { x, y, to }: Box): number[] {
  const { scale } = space;
  const left = Math.min(x, to.x),
    right = Math.max(x, to.x),
    top = Math.min(y, to.y),
    bottom = Math.max(y, to.y);
  return notes.flatMap(([at, length, key], i) =>
    scale.left(key) + scale.keyWidth > left &&
    scale.left(key) < right &&
    yOfTime(space, at) > top &&
    yOfTime(space, at + length) < bottom
      ? [i]
      : [],
  );
}

/** Quarters that a note has at least. */
const SHORTEST = 1 / 32;

/**
 * Notes that are dragged, by their ends or whole, by so many quarters and keys; and where they stand among all notes
 * afterwards, for places follow the order of the notes.
 */
export function draggedNotes(
  from: readonly Note[],
  chosen: ReadonlySet<number>,
  byEnd: boolean,
  quarters: number,
  keys: number,
): { rest: Note[]; moved: Note[]; places: Set<number> } {
  const rest = from.filter((_, n) => !chosen.has(n));
  const moved = [...chosen].flatMap((n): Note[] => {
    const note = from[n];
    if (!note) return [];
    const [at, length, key, velocity] = note;
    return [
      byEnd
        ? [at, Math.max(SHORTEST, length + quarters), key, velocity]
        : [at + quarters, length, key + keys, velocity],
    ];
  });
  const all = [...rest, ...moved].sort((a, b) => a[0] - b[0] || a[2] - b[2]);
  return { rest, moved, places: new Set(moved.map((note) => all.indexOf(note))) };
}

/** Draws a take: keys and beats, the notes of all parts, those of one in front, and a box that is being drawn. */
export function paintTake(
  context: CanvasRenderingContext2D,
  space: TakeSpace,
  {
    take,
    part,
    chosen,
    grid,
    box,
  }: { take: PatchTake; part: Part | undefined; chosen: ReadonlySet<number>; grid: number; box: Box | null },
): void {
  const line = themeColour('--line'),
    ink = themeColour('--ink'),
    colour = themeColour('--clay'),
    other = themeColour('--slate'),
    faint = themeColour('--faint');
  for (let key = FIRST_KEY; key <= LAST_KEY; key++) {
    if (isBlackKey(key)) {
      context.fillStyle = line;
      context.globalAlpha = 0.28;
      context.fillRect(space.scale.left(key), 0, space.scale.keyWidth, space.pixels);
    }
    if (key % 12 === 0) {
      context.globalAlpha = 1;
      context.fillStyle = line;
      context.fillRect(space.scale.left(key), 0, 1, space.pixels);
    }
  }
  for (let at = 0; at <= take.quarters; at += grid * space.perQuarter < 5 ? 1 : grid) {
    context.globalAlpha = at % 4 === 0 ? 1 : at % 1 === 0 ? 0.6 : 0.25;
    context.fillStyle = at % 4 === 0 ? faint : line;
    context.fillRect(0, Math.round(yOfTime(space, at)), space.width, 1);
    if (at % 4 === 0 && at < take.quarters) {
      context.globalAlpha = 1;
      context.fillStyle = faint;
      context.font = '10.5px sans-serif';
      context.fillText(String(at / 4 + 1), 3, yOfTime(space, at) - 3);
    }
  }
  const paint = (each: Part, own: boolean) =>
    each.notes.forEach(([at, length, key, velocity], place) => {
      const isChosen = own && chosen.has(place);
      context.globalAlpha = own ? 0.35 + (0.6 * velocity) / 127 : 0.22;
      context.fillStyle = own ? colour : other;
      const y = yOfTime(space, at + length);
      context.fillRect(
        space.scale.left(key) + 0.5,
        y,
        Math.max(3, space.scale.keyWidth - 1),
        Math.max(3, length * space.perQuarter - 1),
      );
      if (isChosen) {
        context.globalAlpha = 1;
        context.strokeStyle = ink;
        context.lineWidth = 2;
        context.strokeRect(
          space.scale.left(key) + 0.5,
          y,
          Math.max(3, space.scale.keyWidth - 1),
          Math.max(3, length * space.perQuarter - 1),
        );
      }
    });
  for (const each of take.parts) if (each !== part && each.on) paint(each, false);
  if (part) paint(part, true);
  // Where something is moved: a line at the rim.
  context.globalAlpha = 0.8;
  context.fillStyle = themeColour('--indigo');
  for (const [at] of part?.moves ?? []) context.fillRect(space.width - 4, yOfTime(space, at) - 1, 4, 2);
  context.globalAlpha = 1;
  if (box) {
    context.strokeStyle = ink;
    context.setLineDash([4, 3]);
    context.strokeRect(
      Math.min(box.x, box.to.x),
      Math.min(box.y, box.to.y),
      Math.abs(box.to.x - box.x),
      Math.abs(box.to.y - box.y),
    );
    context.setLineDash([]);
  }
}
