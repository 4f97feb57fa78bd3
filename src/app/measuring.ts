import { compile } from '../core/engine/compile';
import type { Take } from '../core/music/take';
import type { PatchContent, Rig } from '../core/rig/schema';
import type { Measured, MeasureJob } from '../workers/measureWorker';
import { session } from './session';

let worker: Worker | null = null;
let jobs = 0;
const waiting = new Map<number, (measured: Measured) => void>();

/** Renders a take through a patch in a worker and measures it. Throws where the patch cannot be compiled. */
export async function measure(rig: Rig, content: PatchContent, take: Take, more: Pick<MeasureJob, 'without' | 'bands'> = {}): Promise<Measured> {
  const { samples: requests, ...program } = compile({ ...content, versions: [], version: null }, { sounds: rig.sounds, samples: rig.samples, ...rig.controllers });
  const samples = await session.preparedFor(requests);
  if (!worker) {
    worker = new Worker(new URL('../workers/measureWorker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data: { id, ...measured } }: MessageEvent<{ id: number } & Measured>) => {
      waiting.get(id)?.(measured);
      waiting.delete(id);
    };
  }
  const id = ++jobs;
  // What plays along is not of the patch.
  const job: MeasureJob = { program, samples, take: { ...take, events: take.events.filter(({ to }) => !to) }, ...more };
  return new Promise((resolve) => { waiting.set(id, resolve); worker!.postMessage({ id, job }); });
}

const HELD_SECONDS = 3;
/** What is held now, as a take of its own; without any key down the take that is loaded; null: there is neither. */
export function whatPlays(): Take | null {
  const { held } = session.hands;
  if (held.size === 0) return session.takes.take;
  const moves = session.hands.moved().flatMap((event): Take['events'] => ('channel' in event || event.type === 'macro' ? [{ at: 0, event: event as Take['events'][number]['event'] }] : []));
  return { name: 'held', seconds: HELD_SECONDS, events: [...moves, ...[...held].map(([key, velocity]) => ({ at: 0.01, event: { type: 'noteOn' as const, channel: 1, key, velocity } }))] };
}
