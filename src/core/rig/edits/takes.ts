import { heldName } from '../names';
import type { Backing, Part, Patch, PatchTake } from '../schema';
import { sorted, type Move, type Note } from '../takes';
import { MOST_NOTES, MOST_PARTS } from '../limits';

/** Edits of takes: pure functions. Notes are meant by their places in their part. */

const SHORTEST = 1 / 64;

export const updateTake = (patch: Patch, takeId: string, change: (take: PatchTake) => PatchTake): Patch => ({
  ...patch,
  takes: patch.takes.map((take) => (take.id === takeId ? change(take) : take)),
});
export const updatePart = (patch: Patch, takeId: string, partId: string, change: (part: Part) => Part): Patch =>
  updateTake(patch, takeId, (take) => ({
    ...take,
    parts: take.parts.map((part) => (part.id === partId ? change(part) : part)),
  }));

export const addTake = (patch: Patch, take: PatchTake): Patch =>
  patch.takes.length >= 32 ? patch : { ...patch, takes: [...patch.takes, take] };
export const deleteTake = (patch: Patch, takeId: string): Patch => ({
  ...patch,
  takes: patch.takes.filter(({ id }) => id !== takeId),
});
export const renameTake = (patch: Patch, takeId: string, name: string): Patch =>
  updateTake(patch, takeId, (take) => ({ ...take, name: heldName(name) || take.name }));
export const addPart = (patch: Patch, takeId: string, part: Part): Patch =>
  updateTake(patch, takeId, (take) =>
    take.parts.length >= MOST_PARTS ? take : { ...take, parts: [...take.parts, part] },
  );
export const deletePart = (patch: Patch, takeId: string, partId: string): Patch =>
  updateTake(patch, takeId, (take) => ({ ...take, parts: take.parts.filter(({ id }) => id !== partId) }));
export const newPart = (id: string, name: string, plays: string): Part => ({
  id,
  name: heldName(name),
  plays,
  on: true,
  level: 0,
  notes: [],
  moves: [],
});

const inside = ([at, length, key, velocity]: Note, quarters: number): Note => {
  const from = Math.min(Math.max(0, at), quarters - SHORTEST);
  return [
    from,
    Math.max(SHORTEST, Math.min(length, quarters - from)),
    Math.min(127, Math.max(0, Math.round(key))),
    Math.min(127, Math.max(1, Math.round(velocity))),
  ];
};

/** Notes changed one by one, held within the take; undefined takes a note away. */
export const changeNotes = (
  patch: Patch,
  takeId: string,
  partId: string,
  change: (note: Note, place: number) => Note | undefined,
): Patch =>
  updateTake(patch, takeId, (take) => ({
    ...take,
    parts: take.parts.map((part) =>
      part.id !== partId
        ? part
        : {
            ...part,
            notes: sorted(
              part.notes.flatMap((note, place) => {
                const next = change(note, place);
                return next ? [next === note ? note : inside(next, take.quarters)] : [];
              }),
            ),
          },
    ),
  }));

export const addNotes = (
  patch: Patch,
  takeId: string,
  partId: string,
  notes: readonly Note[],
  moves: readonly Move[] = [],
): Patch =>
  updateTake(patch, takeId, (take) => ({
    ...take,
    parts: take.parts.map((part) =>
      part.id !== partId
        ? part
        : {
            ...part,
            notes: sorted([...part.notes, ...notes.map((note) => inside(note, take.quarters))]).slice(0, MOST_NOTES),
            moves: withMoves(part.moves, moves),
          },
    ),
  }));

/** Moves with new ones: where something was moved anew, what it did in that time before is gone. */
export function withMoves(before: readonly Move[], fresh: readonly Move[]): Move[] {
  const spans = new Map<string, [number, number]>();
  for (const [at, what] of fresh) {
    const span = spans.get(what);
    spans.set(what, span ? [Math.min(span[0], at), Math.max(span[1], at)] : [at, at]);
  }
  return [
    ...before.filter(([at, what]) => {
      const span = spans.get(what);
      return !span || at < span[0] || at > span[1];
    }),
    ...fresh,
  ].sort((a, b) => a[0] - b[0]);
}

/** Beginnings nearer to a grid in quarters by a share, 0…1. */
export const quantise = (
  patch: Patch,
  takeId: string,
  partId: string,
  chosen: ReadonlySet<number>,
  grid: number,
  share: number,
): Patch =>
  changeNotes(patch, takeId, partId, (note, place) =>
    chosen.size > 0 && !chosen.has(place)
      ? note
      : [note[0] + (Math.round(note[0] / grid) * grid - note[0]) * share, note[1], note[2], note[3]],
  );

/** Copies of what lies between two points, again and again after it, to the end of the take. */
export function repeatStretch(patch: Patch, takeId: string, partId: string, from: number, to: number): Patch {
  const length = to - from;
  if (!(length >= SHORTEST)) return patch;
  return updateTake(patch, takeId, (take) => ({
    ...take,
    parts: take.parts.map((part) => {
      if (part.id !== partId) return part;
      const within = part.notes.filter(([at]) => at >= from && at < to);
      const moves = part.moves.filter(([at]) => at >= from && at < to);
      const rounds = Array.from(
        { length: Math.min(512, Math.ceil((take.quarters - to) / length)) },
        (_, n) => (n + 1) * length,
      );
      const fits = (at: number) => at < take.quarters;
      return {
        ...part,
        notes: sorted([
          ...part.notes.filter(([at]) => at < to),
          ...rounds.flatMap((by) =>
            within
              .filter(([at]) => fits(at + by))
              .map((note): Note => inside([note[0] + by, note[1], note[2], note[3]], take.quarters)),
          ),
        ]).slice(0, MOST_NOTES),
        moves: [
          ...part.moves.filter(([at]) => at < to),
          ...rounds.flatMap((by) =>
            moves.filter(([at]) => fits(at + by)).map((move): Move => [move[0] + by, move[1], move[2]]),
          ),
        ],
      };
    }),
  }));
}

/** Another length in quarters; what lies beyond is kept, and heard again when the take is as long. */
export const setLength = (patch: Patch, takeId: string, quarters: number): Patch =>
  updateTake(patch, takeId, (take) =>
    Number.isNaN(quarters) ? take : { ...take, quarters: Math.min(4096, Math.max(1, quarters)) },
  );

// Backing

export const addBacking = (patch: Patch, backing: Backing): Patch =>
  patch.backing.length >= 8 ? patch : { ...patch, backing: [...patch.backing, backing] };
export const updateBacking = (patch: Patch, id: string, change: Partial<Omit<Backing, 'id'>>): Patch => ({
  ...patch,
  backing: patch.backing.map((backing) => (backing.id === id ? { ...backing, ...change } : backing)),
});
export const deleteBacking = (patch: Patch, id: string): Patch => ({
  ...patch,
  backing: patch.backing.filter((backing) => backing.id !== id),
});
