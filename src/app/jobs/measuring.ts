import { compile, contextOf } from '../../core/engine/program/compile';
import type { Heard } from '../../core/draws/fair';
import { plainTake } from '../../core/music/plainTake';
import type { Take } from '../../core/music/take';
import type { Costs } from '../../core/measure/cost';
import type { Rehearsed } from '../../core/measure/rehearse';
import type { Patch, PatchContent, Rig } from '../../core/rig/schema';
import type { Measured, MeasureApi, MeasureJob } from '../../workers/measureWorker';
import { Hired } from '../document/hired';
import { session } from '../sound/session';

let worker: Hired<MeasureApi> | null = null;

/** Renders a take through a patch in a worker and measures it. Throws where the patch cannot be compiled. */
export async function measure(
  rig: Rig,
  content: PatchContent,
  take: Take,
  more: Pick<MeasureJob, 'without' | 'from' | 'bands' | 'costs' | 'rehearsed'> = {},
): Promise<Measured> {
  const program = compile({ ...content, versions: [], version: null }, contextOf(rig));
  const samples = await session.samples.preparedFor(program.samples);
  if (!worker || worker.isGone)
    worker = new Hired(new Worker(new URL('../../workers/measureWorker.ts', import.meta.url), { type: 'module' }));
  // What plays along is not of the patch.
  const job: MeasureJob = { program, samples, take: { ...take, events: take.events.filter(({ to }) => !to) }, ...more };
  return worker.ask((api) => api.measure(job));
}

const DRAW_SECONDS = 6;
const heardOf = new WeakMap<Patch, { take: Take; heard: Promise<Heard | null> }>();
/**
 * What a patch does on the beginning of the take before the players, or on what every patch can be asked for; null: it
 * cannot be rendered.
 */
export function hearBriefly(rig: Rig, patch: Patch): Promise<Heard | null> {
  const take = session.takes.take ?? plainTake(rig.controllers.keyLow, rig.controllers.keyHigh);
  const known = heardOf.get(patch);
  if (known?.take === take) return known.heard;
  const first = Math.min(
    ...take.events.flatMap(({ at, event }) => (event.type === 'noteOn' ? [at] : [])),
    take.seconds,
  );
  const brief = {
    ...take,
    seconds: Math.min(take.seconds, first + DRAW_SECONDS),
    events: take.events.filter(({ at }) => at < first + DRAW_SECONDS),
  };
  const heard = measure(rig, patch, brief).then(
    ({ lufs, voices }) => ({ lufs: lufs !== null && Number.isFinite(lufs) ? lufs : null, voices }),
    () => null,
  );
  heardOf.set(patch, { take, heard });
  return heard;
}

/** What a patch does on a take, and how long the change to it takes from the one before. */
export async function rehearseStep(rig: Rig, patch: Patch, take: Take, before: Patch | null): Promise<Rehearsed> {
  const earlier = before && compile(before, contextOf(rig));
  const { rehearsed } = await measure(rig, patch, take, {
    rehearsed: { before: earlier && { program: earlier, samples: await session.samples.preparedFor(earlier.samples) } },
  });
  if (!rehearsed) throw new Error('it could not be played');
  return rehearsed;
}

/** What everything in a patch costs on this machine. */
export async function measureCosts(rig: Rig, patch: Patch): Promise<Costs> {
  const { costs } = await measure(rig, patch, { name: '', seconds: 0, events: [] }, { costs: true });
  if (!costs) throw new Error('it could not be measured');
  return costs;
}

const HELD_SECONDS = 6;
/** How long ago a key counts as struck, at the most: what goes on longer has settled. */
const LONGEST_AGO = 10;

/**
 * What is held now, as a take of its own that began when the keys were struck and is measured from now on; without any
 * key down the take that is loaded; null: there is neither.
 */
export function whatPlays(): { take: Take; from: number } | null {
  const { held, strikes } = session.hands;
  if (held.size === 0) return session.takes.take && { take: session.takes.take, from: 0 };
  const moves = session.hands
    .moved()
    .flatMap((event): Take['events'] =>
      'channel' in event || event.type === 'macro' ? [{ at: 0, event: event as Take['events'][number]['event'] }] : [],
    );
  const ago = (key: number) =>
    Math.min(
      LONGEST_AGO,
      (performance.now() - (strikes.filter((strike) => strike.key === key).at(-1)?.at ?? -Infinity)) / 1000,
    );
  const from = Math.max(...[...held.keys()].map(ago));
  const notes = [...held]
    .map(([key, velocity]) => ({
      at: 0.01 + from - ago(key),
      event: { type: 'noteOn' as const, channel: 1, key, velocity },
    }))
    .sort((a, b) => a.at - b.at);
  return { take: { name: 'held', seconds: from + HELD_SECONDS, events: [...moves, ...notes] }, from };
}
