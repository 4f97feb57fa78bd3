import { expose } from 'comlink';
import type { Prepared } from '../core/dsp/prepared';
import { listen, listenToTake } from '../core/check/listen';
import { loopName, type Heard, type LoopHeard, type TakeHeard } from '../core/check/heard';
import type { Recording } from '../core/measure/recording';
import type { Take } from '../core/music/take';
import type { Patch, Rig } from '../core/rig/schema';

/** A patch to be listened to, with everything that it plays. */
export interface ListenJob {
  rig: Rig;
  patch: Patch;
  take: Pick<Take, 'seconds' | 'events'>;
  samples: { key: string; sample: Prepared }[];
  recordings: Record<string, Recording>;
  loops: Record<string, LoopHeard>;
}
const listeningOf = (job: ListenJob, told: (share: number) => void) => {
  const samples = new Map(job.samples.map(({ key, sample }) => [key, sample]));
  return {
    rig: job.rig,
    patch: job.patch,
    take: job.take,
    clock: () => performance.now(),
    prepared: ({ key }: { key: string }) => samples.get(key),
    recording: (sampleId: string) => job.recordings[sampleId],
    loop: (sampleId: string, loop: { start: number; end: number; crossfade: number }) =>
      job.loops[loopName(sampleId, loop)],
    told: (share: number) => {
      told(share);
      return true;
    },
  };
};

const api = {
  /** All that is measured of a patch; `told` hears how far it is, 0…1. */
  listen: (job: ListenJob, told: (share: number) => void): Heard => listen(listeningOf(job, told)),
  /** Its take alone. */
  listenToTake: (job: ListenJob): TakeHeard | null => listenToTake(listeningOf(job, () => undefined)),
};
export type ListenApi = typeof api;
expose(api);
