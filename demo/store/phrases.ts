import { chord, sweep, take, type Move, type Note } from '../takes';
import type { Take } from '../../src/core/music/take';
import type { PatchTake } from '../../src/core/rig/schema';
import { sorted } from '../../src/core/rig/takes';

/** How a patch of the store is shown: what the hands do in its take. */
export type Phrase =
  'ballad' | 'comping' | 'arpeggio' | 'hymn' | 'swells' | 'stabs' | 'mallets' | 'bass' | 'lead' | 'kit' | 'slow';

/** Four bars. */
const QUARTERS = 16;

const CHORDS = [
  [45, 60, 64, 67, 72],
  [41, 57, 60, 64, 69],
  [48, 55, 64, 67, 74],
  [43, 59, 62, 65, 71],
];

const ballad = (): Note[] =>
  CHORDS.flatMap((keys, bar) => [
    ...chord(bar * 4, keys.slice(0, 4), 78 + 8 * bar, 3.8),
    [bar * 4 + 1, keys[4], 84, 0.9] as const,
    [bar * 4 + 1.5, keys[4] + 2, 72, 0.5] as const,
    [bar * 4 + 2, keys[4] + 4, 100, 1.2] as const,
    [bar * 4 + 3, keys[4], 64 + 10 * bar, 0.9] as const,
  ]);

const comping = (): Note[] =>
  CHORDS.flatMap((keys, bar) => [
    [bar * 4, keys[0] - 12, 104, 1.4] as const,
    ...chord(bar * 4 + 0.5, keys.slice(1), 92, 0.4),
    ...chord(bar * 4 + 1.5, keys.slice(1), 78, 0.9),
    [bar * 4 + 2, keys[0] - 5, 98, 0.9] as const,
    ...chord(bar * 4 + 2.75, keys.slice(1), 112, 0.3),
    ...chord(bar * 4 + 3.5, keys.slice(1), 70, 0.4),
  ]);

const arpeggio = (): Note[] =>
  CHORDS.flatMap((keys, bar) =>
    Array.from({ length: 16 }, (_, i): Note => {
      const up = [0, 2, 1, 3, 4, 3, 2, 1][i % 8];
      return [
        bar * 4 + i / 4,
        keys[up] + (i >= 8 && up > 2 ? 12 : 0),
        74 + 22 * Number(i % 4 === 0) + 3 * (i % 3),
        0.6,
      ];
    }),
  );

const hymn = (): Note[] =>
  [
    [43, 59, 62, 67],
    [48, 55, 64, 67],
    [45, 57, 60, 69],
    [50, 54, 62, 69],
    [43, 59, 62, 71],
    [48, 60, 64, 72],
    [50, 57, 62, 66],
    [43, 55, 62, 67],
  ].flatMap((keys, n) => chord(n * 2, keys, 96, n === 7 ? 2 : 1.95));

const swells = (): Note[] => CHORDS.flatMap((keys, bar) => chord(bar * 4, keys, 84 + 8 * (bar % 2), 3.9));

const stabs = (): Note[] =>
  CHORDS.flatMap((keys, bar) =>
    [0, 0.75, 1.5, 3].flatMap((at, i) => chord(bar * 4 + at, keys.slice(1), i === 1 ? 84 : 112, i === 3 ? 0.9 : 0.35)),
  );

const mallets = (): Note[] =>
  CHORDS.flatMap((keys, bar) => [
    [bar * 4, keys[0], 96, 1.9] as const,
    [bar * 4 + 2, keys[1] - 12, 84, 1.9] as const,
    ...Array.from({ length: 8 }, (_, i): Note => [
      bar * 4 + i / 2,
      keys[[2, 4, 3, 4, 2, 3, 4, 1][i]] + 12 * Number(i % 4 === 3),
      70 + ((i * 17 + bar * 11) % 50),
      0.45,
    ]),
  ]);

const bass = (): Note[] =>
  [
    [33, 33, 45, 40, 33, 36, 38, 40],
    [29, 29, 41, 36, 29, 33, 36, 38],
    [36, 36, 48, 43, 36, 40, 43, 47],
    [31, 31, 43, 38, 31, 35, 38, 43],
  ].flatMap((keys, bar) =>
    keys.map((key, i): Note => [bar * 4 + i / 2, key, i % 4 === 0 ? 112 : 84 + 7 * (i % 3), i % 4 === 2 ? 0.55 : 0.42]),
  );

const lead = (): Note[] =>
  (
    [
      [0, 69, 1.6],
      [1.5, 72, 0.6],
      [2, 76, 1.1],
      [3, 74, 1.1],
      [4, 72, 1.6],
      [5.5, 69, 0.6],
      [6, 67, 2],
      [8, 64, 0.6],
      [8.5, 67, 0.6],
      [9, 69, 1.1],
      [10, 76, 2],
      [12, 79, 1.1],
      [13, 77, 0.6],
      [13.5, 76, 0.6],
      [14, 74, 2],
    ] as const
  ).map(([at, key, length], i): Note => [at, key, 88 + ((i * 13) % 34), length]);

const kit = (): Note[] =>
  Array.from({ length: 4 }, (_, bar): Note[] => [
    ...Array.from({ length: 8 }, (_, i): Note => [
      bar * 4 + i / 2,
      i === 7 ? 46 : 42,
      96 - 34 * (i % 2) + bar * 3,
      0.2,
    ]),
    [bar * 4, 36, 118, 0.3],
    [bar * 4 + 1.75, 36, 84, 0.3],
    [bar * 4 + 2.5, 36, 106, 0.3],
    [bar * 4 + 1, 38, 112, 0.3],
    [bar * 4 + 3, 38, 116, 0.3],
    [bar * 4 + 3.75, 38, 46, 0.2],
    ...(bar === 3
      ? ([
          [14, 48, 104, 0.3],
          [14.5, 45, 108, 0.3],
          [15.5, 41, 116, 0.4],
        ] as const)
      : []),
    [bar * 4 + 3, 39, 90, 0.3],
  ]).flat();

const slow = (): Note[] => [
  ...chord(0, [45, 57, 64], 90, 7.8),
  ...chord(4, [72, 76], 80, 3.8),
  ...chord(8, [41, 57, 60], 96, 7.8),
  ...chord(12, [69, 77], 84, 3.8),
];

const NOTES: Readonly<Record<Phrase, () => Note[]>> = {
  ballad,
  comping,
  arpeggio,
  hymn,
  swells,
  stabs,
  mallets,
  bass,
  lead,
  kit,
  slow,
};

/** Controllers of a phrase: in the last two of its four bars the wheel comes and goes; the pedal where it belongs. */
function movesOf(phrase: Phrase): Move[] {
  const moves: Move[] = [[0, 1, 0], ...sweep(1, 0, 100, 8, 11), ...sweep(1, 100, 0, 13, 15)];
  const pedal: Move[] =
    phrase === 'ballad' || phrase === 'arpeggio' || phrase === 'mallets'
      ? [0, 1, 2, 3].flatMap((bar): Move[] => [
          [bar * 4 + 0.1, 64, 127],
          [bar * 4 + 3.9, 64, 0],
        ])
      : [];
  return [...moves, ...pedal];
}

/** The take of a patch, as a file has it. */
export const phraseOf = (name: string, phrase: Phrase, tempo: number): { take: Take; tempo: number } =>
  take(name, tempo, QUARTERS, NOTES[phrase](), movesOf(phrase));

/** The same, as it goes with the patch wherever that is taken. */
export const takeWithin = (phrase: Phrase, tempo: number): PatchTake => ({
  id: 'shown',
  name: 'as it is shown',
  quarters: QUARTERS,
  tempo,
  parts: [
    {
      id: 'hands',
      name: 'hands',
      plays: 'patch',
      on: true,
      level: 0,
      notes: sorted(
        NOTES[phrase]().map(
          ([at, key, velocity, length]) => [at, Math.min(length, QUARTERS - at), key, velocity] as const,
        ),
      ),
      moves: movesOf(phrase)
        .map(([at, controller, value]): PatchTake['parts'][number]['moves'][number] => [at, `cc.${controller}`, value])
        .sort((a, b) => a[0] - b[0]),
    },
  ],
});
