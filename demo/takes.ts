import { writeTake } from '../src/core/formats/midiFile';
import { playable, sorted } from '../src/core/rig/takes';
import type { PatchTake, Rig } from '../src/core/rig/schema';
import { showTake } from './show';
import type { Take, TakeEvent } from '../src/core/music/take';

/** A note in quarters: when, key, velocity, how long. */
export type Note = readonly [at: number, key: number, velocity: number, length: number];
export type Move = readonly [at: number, controller: number, value: number];

/** A take from notes and controller moves in quarters. */
export function take(
  name: string,
  tempo: number,
  quarters: number,
  notes: readonly Note[],
  moves: readonly Move[] = [],
): { take: Take; tempo: number } {
  const second = 60 / tempo;
  const events: TakeEvent[] = [
    ...moves.map(([at, controller, value]): TakeEvent => ({
      at: at * second,
      event: { type: 'controller', channel: 1, controller, value },
    })),
    ...notes.flatMap(([at, key, velocity, length]): TakeEvent[] => [
      { at: at * second, event: { type: 'noteOn', channel: 1, key, velocity } },
      { at: Math.min(at + length, quarters) * second, event: { type: 'noteOff', channel: 1, key, velocity: 64 } },
    ]),
  ];
  events.sort((a, b) => a.at - b.at || Number(a.event.type === 'noteOn') - Number(b.event.type === 'noteOn'));
  return { take: { name, seconds: quarters * second, events }, tempo };
}

/** A controller moved in even steps from one value to another. */
export const sweep = (controller: number, from: number, to: number, start: number, end: number): Move[] =>
  Array.from(
    { length: 33 },
    (_, i) => [start + ((end - start) * i) / 32, controller, Math.round(from + ((to - from) * i) / 32)] as const,
  );

export const chord = (at: number, keys: readonly number[], velocity: number, length: number): Note[] =>
  keys.map((key, i) => [at + i * 0.02, key, velocity - i * 3, length]);

/** A walking bass to the F, chords and a tune from the F sharp: both sides of Low Water, right up to the border. */
function lowWater() {
  const bars: Note[] = [];
  const basses = [
    [38, 45, 41, 50],
    [34, 41, 46, 53],
    [36, 43, 48, 52],
    [33, 40, 45, 49],
  ];
  const chords = [
    [62, 65, 69],
    [58, 62, 65],
    [60, 64, 67],
    [57, 61, 64],
  ];
  const tune = [
    [74, 77],
    [74, 70],
    [72, 76],
    [73, 69],
  ];
  basses.forEach((keys, bar) => {
    keys.forEach((key, i) =>
      bars.push([bar * 4 + i, key, i === 0 ? 116 : 104 + 4 * (i % 2), i % 2 === 1 ? 1.05 : 0.9]),
    );
    bars.push(...chord(bar * 4 + 0.5, chords[bar], 96, 1.2), ...chord(bar * 4 + 2.5, chords[bar], 88, 1));
    bars.push([bar * 4 + 1.5, tune[bar][0], 114, 1.3], [bar * 4 + 3, tune[bar][1], 106, 0.9]);
  });
  return take('low water at the border', 84, 16, bars);
}

/** Slow arpeggios that climb through the crossfade and come back, the wheel opening the wire at the top. */
function ternColony() {
  const climb = [43, 50, 55, 59, 62, 67, 71, 74, 79, 83, 86, 83, 79, 74, 71, 67, 62, 59, 55, 50];
  const turn = [40, 47, 52, 56, 59, 64, 68, 71, 76, 80, 83, 80, 76, 71, 68, 64, 59, 56, 52, 47];
  const notes = [...climb, ...turn].map((key, i): Note => [i * 0.5, key, 94 + Math.round(16 * Math.sin(i / 3)), 1.9]);
  notes.push(...chord(20, [43, 55, 62, 67, 71, 74], 104, 3.6));
  return take('terns over the bar', 72, 24, notes, [[0, 1, 0], ...sweep(1, 0, 110, 3, 8), ...sweep(1, 110, 0, 14, 19)]);
}

/** The same phrase softly and then hard, then chords while the wheel brings the wire in and out. */
function perigee() {
  const phrase = [57, 64, 69, 72, 71, 69, 76, 74];
  const notes: Note[] = [];
  phrase.forEach((key, i) => notes.push([i, key, 42 + i * 2, 1.4]));
  phrase.forEach((key, i) => notes.push([8 + i, key, 97 + i * 4, 1.4]));
  [
    [45, 60, 64, 69],
    [41, 57, 65, 72],
    [43, 59, 62, 71],
    [45, 60, 64, 76],
  ].forEach((keys, i) => notes.push(...chord(16 + i * 2, keys, 80, 1.95)));
  return take('nearest approach', 66, 24, notes, [
    [0, 1, 0],
    ...sweep(1, 0, 127, 16, 20),
    ...sweep(1, 127, 0, 22, 23.8),
  ]);
}

/** Four bars of tinware with the shut tin choking the open one, and a reed tune over it. */
function lanternRow() {
  const notes: Note[] = [];
  for (let bar = 0; bar < 4; bar++) {
    for (let eighth = 0; eighth < 8; eighth++) {
      const at = bar * 4 + eighth / 2;
      const accent = eighth % 2 === 0 ? 92 : 58;
      notes.push([at, eighth === 7 ? 46 : 42, accent + ((bar * 3 + eighth * 5) % 11), 0.2]);
    }
    notes.push(
      [bar * 4, 36, 112, 0.3],
      [bar * 4 + 1.5, 36, 74, 0.3],
      [bar * 4 + 2.5, 36, 98, 0.3],
      [bar * 4 + 1, 38, 104, 0.3],
      [bar * 4 + 3, 38, 110, 0.3],
    );
    notes.push([bar * 4 + 1.75, 38, 34, 0.2], [bar * 4 + 3.75, 38, 46, 0.2]);
  }
  const tune = [
    [69, 72, 76, 74],
    [67, 71, 74, 72],
    [65, 69, 72, 71],
    [64, 68, 71, 76],
  ];
  const ground = [
    [57, 64],
    [55, 62],
    [53, 60],
    [52, 59],
  ];
  tune.forEach((keys, bar) => {
    notes.push(...chord(bar * 4, ground[bar], 66, 3.7));
    keys.forEach((key, i) => notes.push([bar * 4 + i + (i === 3 ? 0.5 : 0), key, 78 + 6 * i, i === 3 ? 0.4 : 0.8]));
  });
  return take('lanterns in a row', 104, 16, notes, [[0, 1, 0], ...sweep(1, 0, 90, 8, 11), ...sweep(1, 90, 0, 12, 15)]);
}

/** Long chords under which the dot wanders farther and farther, while the lists are gone through. */
function slackTide() {
  const notes = [
    [45, 57, 64, 69, 72],
    [41, 57, 60, 65, 72],
    [48, 55, 64, 67, 76],
    [43, 55, 62, 71, 74],
    [45, 57, 64, 69, 72],
  ].flatMap((keys, i) => chord(i * 4, keys, 114, 3.9));
  return take('slack water', 60, 20, notes, [[0, 1, 0], ...sweep(1, 0, 110, 2, 10), ...sweep(1, 110, 20, 15, 19)]);
}

/** A tune that rises from soft keys to hard bells and falls back, the wheel opening it on the way. */
function marshBells() {
  const tune = [48, 55, 60, 62, 64, 67, 69, 72, 74, 76, 79, 84, 83, 79, 76, 72, 69, 67, 64, 60, 57, 55, 52, 48];
  const notes = tune.map((key, i): Note => [i * 0.75, key, 58 + Math.round(56 * Math.sin((Math.PI * i) / 23)), 1.6]);
  [
    [48, 55, 60, 64],
    [45, 52, 60, 64],
    [41, 48, 57, 60],
    [43, 50, 59, 62],
    [48, 55, 60, 67],
    [50, 57, 65, 72],
  ].forEach((keys, i) => notes.push(...chord(i * 3, keys, 100, 2.9)));
  notes.push(...chord(18, [48, 55, 60, 64, 72], 110, 3), ...chord(21, [50, 57, 62, 65, 77], 116, 2.8));
  return take('bells over the marsh', 76, 24, notes, [
    [0, 1, 0],
    ...sweep(1, 0, 100, 4, 10),
    ...sweep(1, 100, 10, 18, 22),
  ]);
}

/** Held chords, and nothing else: the arpeggios do the rest, denser as the wheel comes. */
function firstLight() {
  const notes = [
    [50, 57, 62, 65, 69],
    [48, 55, 60, 64, 67],
    [46, 53, 60, 62, 69],
    [45, 52, 57, 60, 67],
    [50, 57, 62, 65, 72],
  ].flatMap((keys, i) => chord(i * 4, keys, 102, 3.85));
  return take('first light on the flats', 96, 20, notes, [
    [0, 1, 0],
    ...sweep(1, 0, 127, 6, 11),
    ...sweep(1, 127, 0, 15, 18),
  ]);
}

/** Held fifths over a pulse, while sweep and freeze are turned. */
function undertow() {
  const notes: Note[] = [];
  [
    [45, 57, 64],
    [41, 60, 65],
    [43, 59, 62],
    [40, 59, 64],
  ].forEach((keys, bar) => {
    notes.push(...chord(bar * 4, keys.slice(1), 96, 3.8));
    for (let i = 0; i < 8; i++)
      notes.push([bar * 4 + i / 2, keys[0] - (i % 4 === 3 ? 0 : 12), 92 + 12 * Number(i % 4 === 0), 0.45]);
  });
  return take('the undertow', 92, 16, notes, [
    [0, 1, 0],
    [0, 4, 0],
    ...sweep(1, 0, 127, 2, 8),
    ...sweep(1, 127, 30, 12, 15),
    ...sweep(4, 0, 100, 6, 12),
  ]);
}

/** A line that walks, with octaves and slides, the grit coming and going with the wheel. */
function neapBass() {
  const bars = [
    [31, 31, 43, 34, 36, 36, 48, 38],
    [29, 29, 41, 36, 33, 33, 45, 31],
    [34, 34, 46, 41, 38, 38, 50, 36],
    [31, 31, 43, 38, 29, 31, 34, 36],
  ];
  const notes = bars.flatMap((keys, bar) =>
    keys.map((key, i): Note => [bar * 4 + i / 2, key, i % 4 === 0 ? 112 : 88 + 5 * (i % 3), i % 4 === 2 ? 0.55 : 0.4]),
  );
  return take('neap at the sluice', 92, 16, notes, [[0, 1, 0], ...sweep(1, 0, 90, 4, 8), ...sweep(1, 90, 0, 11, 14)]);
}

/** Keys across the recording, few and long, the wheel gathering the grains. */
function spindrift() {
  const notes: Note[] = [
    [0, 45, 96, 3.5],
    [2, 60, 90, 3.4],
    [4, 52, 98, 3.5],
    [6, 70, 88, 3.2],
    [8, 57, 100, 3.6],
    [10, 76, 92, 3.2],
    [12, 48, 100, 3.8],
    [13, 64, 92, 2.9],
    [14, 81, 84, 1.9],
  ];
  return take('spindrift', 60, 16, notes, [[0, 1, 20], ...sweep(1, 20, 110, 3, 7), ...sweep(1, 110, 30, 10, 14)]);
}

/** Waves that break, no two alike. */
function breakers() {
  const notes: Note[] = [];
  for (let bar = 0; bar < 4; bar++)
    [0, 0.75, 1.5, 2, 2.75, 3.25].forEach((at, i) =>
      notes.push([bar * 4 + at, 48 + ((bar * 5 + i * 7) % 12), i === 0 ? 120 : 74 + ((bar * 11 + i * 13) % 34), 0.5]),
    );
  return take('breakers on the bar', 84, 16, notes);
}

/** Kelp Choir in its place: chords of the hands, the bass of Low Water, the tins of Lantern Row. */
export function kelpTake(): PatchTake {
  const notes: Note[] = [];
  [
    [50, 57, 62, 65],
    [46, 58, 62, 65],
    [53, 57, 60, 69],
    [48, 55, 64, 67],
    [50, 57, 62, 69],
    [46, 58, 65, 70],
    [43, 58, 62, 67],
    [45, 57, 61, 64],
  ].forEach((keys, bar) => notes.push(...chord(bar * 4, keys, 92, 3.9)));
  const bass: Note[] = [38, 34, 41, 36, 38, 34, 43, 33].flatMap((key, bar): Note[] => [
    [bar * 4, key, 108, 1.4],
    [bar * 4 + 1.5, key, 92, 0.9],
    [bar * 4 + 2.5, key + 7, 96, 0.5],
    [bar * 4 + 3, key, 104, 0.9],
  ]);
  const tins: Note[] = Array.from({ length: 8 }, (_, bar): Note[] => [
    [bar * 4, 36, 104, 0.3],
    [bar * 4 + 2.5, 36, 84, 0.3],
    [bar * 4 + 1, 38, 92, 0.3],
    [bar * 4 + 3, 38, 98, 0.3],
    ...Array.from({ length: 8 }, (_, i): Note => [
      bar * 4 + i / 2,
      i === 7 ? 46 : 42,
      58 + ((bar * 5 + i * 7) % 18),
      0.2,
    ]),
  ]).flat();
  const part = (
    id: string,
    name: string,
    plays: string,
    level: number,
    list: readonly Note[],
  ): PatchTake['parts'][number] => ({
    id,
    name,
    plays,
    on: true,
    level,
    notes: sorted(list.map(([at, key, velocity, length]) => [at, length, key, velocity] as const)),
    moves: [],
  });
  return {
    id: 'kelp',
    name: 'in the kelp',
    quarters: 32,
    tempo: 78,
    parts: [
      {
        ...part('hands', 'hands', 'patch', 0, notes),
        moves: [
          [0, 'cc.1', 0],
          [8, 'cc.1', 60],
          [16, 'cc.1', 20],
          [24, 'cc.1', 70],
        ],
      },
      part('bass', 'bass', 'patch.low-water', -8, bass),
      part('tins', 'tins', 'patch.lantern-row', -12, tins),
    ],
  };
}

/** File name of the take that walks through the setlist of the same name. */
const SHOW = 'show-perigee-tide';

/** The takes that ship with the application, by file name; a patch finds its own by its id. */
export function demoTakes(rig: Rig): Map<string, Uint8Array> {
  const takes = {
    'low-water': lowWater(),
    'tern-colony': ternColony(),
    perigee: perigee(),
    'lantern-row': lanternRow(),
    'slack-tide': slackTide(),
    'marsh-bells': marshBells(),
    'first-light': firstLight(),
    undertow: undertow(),
    'neap-bass': neapBass(),
    spindrift: spindrift(),
    breakers: breakers(),
    'kelp-choir': { take: playable(kelpTake(), 78, (part) => (part.plays === 'patch' ? 0 : 1)), tempo: 78 },
  };
  takes['kelp-choir'].take.events = takes['kelp-choir'].take.events.filter(({ to }) => !to);
  const played = new Map(Object.entries(takes).map(([id, made]) => [id, made.take]));
  return new Map([
    ...Object.entries(takes).map(([id, made]) => [`${id}.mid`, writeTake(made.take, made.tempo)] as const),
    [`${SHOW}.mid`, writeTake(showTake(rig, played), 120)],
  ]);
}
