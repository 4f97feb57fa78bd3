import { newEntry, newSetlist } from '../src/core/rig/defaults';
import { setlistOf, stepsOf } from '../src/core/rig/setlist';
import type { Entry, Rig, Setlist } from '../src/core/rig/schema';
import type { Take, TakeEvent } from '../src/core/music/take';

const entry = (patches: readonly string[], more: Partial<Entry>): Entry => ({
  ...newEntry(
    `e-${patches[0] ?? 'pause'}`,
    patches.length > 1 ? 'song' : patches.length === 1 ? 'patch' : 'pause',
    patches,
  ),
  ...more,
});

/** Words of our own, written in D. */
const IN_THE_KELP = `{title: In the Kelp}
{key: D}
{tempo: 78}

{start_of_verse: Verse 1}
[D]Under the swell where the [Bm7]long leaves lean,
[G]nothing is still and [A]nothing is seen;
[D]lamps of the harbour go [Bm7]out one by one,
[G]low water [A7]waits for the [D]tide to come.
{end_of_verse}

{start_of_chorus}
[Em7]Hold me [A7]down, [D]hold me [D/F#]slow,
[G]where the green [A]rooms of the [Bm7]water go;
[Em7]hold me [A7]down till the [D]turning is done.
{end_of_chorus}

{comment: breath, then Depth to the far end}

{start_of_verse: Verse 2}
[D]Count me the bells that the [Bm7]marsh has kept,
[G]each for a [A]night that the [D]sleepers slept;
[Bm7]one for the [G]ebb and for [Em7]me there is none,
[G]low water [A7]waits for the [D]tide to come.
{end_of_verse}

{chorus}
`;

/** The night concert in the dome, and a short evening with some of it. */
export const demoSetlists = (): Setlist[] => [
  {
    ...newSetlist('perigee-tide', 'Perigee Tide', [
      entry(['low-water'], {
        tempo: 84,
        minutes: 5,
        notes: 'Lights off. Begin alone, bass to the F.\nEnds on a held D: go on under it.',
      }),
      entry(['tern-colony'], {
        tempo: 72,
        minutes: 6,
        notes: 'A is at 415 here, with the old strings.\nWheel slowly to the top, then let the wire go.',
      }),
      entry(['perigee', 'slack-tide'], {
        name: 'Nearest Approach',
        tempo: 66,
        minutes: 9,
        notes: 'Soft until the dome opens.\nThen change under the last chord, dot to the bells.',
      }),
      entry(['kelp-choir'], {
        tempo: 78,
        minutes: 6,
        transpose: -2,
        notes: 'Sung in C tonight. Depth to the far end for the last verse.',
        page: IN_THE_KELP,
      }),
      entry([], { name: 'Pause', minutes: 20, notes: 'Doors to the marsh stay open.' }),
      entry(['marsh-bells'], { tempo: 76, minutes: 5, notes: 'Wait for the bell outside.' }),
      entry(['lantern-row'], { tempo: 104, minutes: 4, notes: 'Count four on the lid.' }),
      entry(['first-light'], { tempo: 96, minutes: 6, notes: 'Held chords only, the rest comes by itself.' }),
      entry(['undertow', 'neap-bass'], {
        name: 'Down to the Sluice',
        tempo: 92,
        minutes: 7,
        notes: 'Freeze before the bass takes over.',
      }),
      entry(['spindrift'], { tempo: 60, minutes: 7, notes: 'As slow as it will bear.' }),
      entry(['breakers'], { tempo: 84, minutes: 5, notes: 'Last one: until the lamp is lit.' }),
    ]),
    notes: 'Saltmarsh Observatory, the dome. 21.00; sound check at low water.',
  },
  {
    ...newSetlist('half-tide', 'Half Tide', [
      { ...newEntry('h-1', 'patch', ['low-water']), tempo: 80 },
      { ...newEntry('h-2', 'patch', ['marsh-bells']), transpose: 3 },
      { ...newEntry('h-3', 'song', ['perigee', 'slack-tide']), name: 'Nearest Approach' },
      newEntry('h-4', 'patch', ['low-water']),
    ]),
    notes: 'Forty minutes, no pause.',
  },
];

const SECTION = 15;
/** From here to the end of a section nothing new is struck; what is held then rings across the change. */
const QUIET = 13.6;
const ACROSS = 1.6;

/**
 * The whole show in three minutes: a program change for each step, under notes that are held across it, and the
 * beginning of each patch's take. `takes` by id of the patch.
 */
export function showTake(rig: Rig, takes: ReadonlyMap<string, Take>): Take {
  const events: TakeEvent[] = [];
  const steps = stepsOf(rig, setlistOf(rig))
    .map((step, place) => ({ step, place }))
    .filter(({ step }) => step.patch !== null);
  steps.forEach(({ step, place }, n) => {
    const begin = n * SECTION;
    const take = takes.get(step.patch!.id)!;
    events.push({ at: begin, event: { type: 'program', channel: 1, program: place } });
    const soon =
      takes
        .get(steps[n + 1]?.step.patch?.id ?? '')
        ?.events.flatMap(({ at, event }) => (event.type === 'noteOn' && at < ACROSS + 1 ? [event.key] : [])) ?? [];
    const open = new Map<number, number>();
    const endOf = (key: number) =>
      n === steps.length - 1 ? SECTION - 0.5 : soon.includes(key) ? SECTION - 0.1 : SECTION + ACROSS;
    for (let round = 0; round * take.seconds < QUIET; round++) {
      for (const { at, event } of take.events) {
        const when = round * take.seconds + at + 0.05;
        if (when > QUIET) break;
        if (event.type === 'noteOn') open.set(event.key, when);
        if (event.type === 'noteOff') open.delete(event.key);
        events.push({ at: begin + when, event });
      }
    }
    for (const key of open.keys())
      events.push({ at: begin + endOf(key), event: { type: 'noteOff', channel: 1, key, velocity: 64 } });
  });
  events.sort((a, b) => a.at - b.at);
  return { name: 'the whole show', seconds: steps.length * SECTION + 2, events };
}
