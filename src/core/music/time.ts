/**
 * Lengths in quarters that notes are written with, from long to short; dotted ones last half as long again, three of a
 * triplet fill the time of two.
 */
export interface NoteValue {
  id: string;
  label: string;
  quarters: number;
}

const plain = [
  ['4/1', 16],
  ['2/1', 8],
  ['1/1', 4],
  ['1/2', 2],
  ['1/4', 1],
  ['1/8', 0.5],
  ['1/16', 0.25],
  ['1/32', 0.125],
] as const;

export const NOTE_VALUES: readonly NoteValue[] = plain
  .flatMap(([id, quarters]) => [
    { id, label: id, quarters },
    ...(quarters <= 2
      ? [
          { id: `${id} dotted`, label: `${id} dotted`, quarters: quarters * 1.5 },
          { id: `${id} triplet`, label: `${id} triplet`, quarters: (quarters * 2) / 3 },
        ]
      : []),
  ])
  .sort((a, b) => b.quarters - a.quarters);

/** Place of a note value in {@link NOTE_VALUES}, by id. Throws a RangeError for an id that names none. */
export function noteValue(id: string): number {
  const place = NOTE_VALUES.findIndex((value) => value.id === id);
  if (place < 0) throw new RangeError(`"${id}" is no note value`);
  return place;
}

/** Seconds of a length in quarters at a tempo in quarters a minute: a quarter lasts 60 / tempo. */
export const secondsOfQuarters = (quarters: number, tempo: number): number => (quarters * 60) / tempo;

/** By place: quarters, for loops that hold no objects. */
export const NOTE_QUARTERS = Float64Array.from(NOTE_VALUES, ({ quarters }) => quarters);

/**
 * Tempo from taps: the mean of the intervals of the last taps that follow one another closely; a pause of more than two
 * seconds begins anew. Undefined until the second tap.
 * `times` in seconds, rising.
 */
export function tempoOfTaps(times: readonly number[]): number | undefined {
  let first = times.length - 1;
  while (first > 0 && times.length - first < 8 && times[first] - times[first - 1] <= 2) first--;
  const count = times.length - 1 - first;
  if (count < 1) return undefined;
  const tempo = (60 * count) / (times[times.length - 1] - times[first]);
  return tempo >= 20 && tempo <= 400 ? Math.round(tempo * 10) / 10 : undefined;
}
