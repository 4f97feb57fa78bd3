import type { Prepared } from '../core/dsp/prepared';
import { listen, listenToTake } from '../core/check/listen';
import { loopName, type Heard, type LoopHeard, type TakeHeard } from '../core/check/heard';
import type { Recording } from '../core/measure/recording';
import type { Take } from '../core/music/take';
import type { Patch, Rig } from '../core/rig/schema';

/** A patch to be listened to, with everything that it plays; `takeOnly`: nothing but its take. */
export interface ListenJob {
  rig: Rig;
  patch: Patch;
  take: Pick<Take, 'seconds' | 'events'>;
  samples: { key: string; sample: Prepared }[];
  recordings: Record<string, Recording>;
  loops: Record<string, LoopHeard>;
  takeOnly: boolean;
}
export type ListenReply =
  | { id: number; share: number }
  | { id: number; heard: Heard }
  | { id: number; take: TakeHeard | null }
  | { id: number; problem: string };

/** Listens away from the page. */
self.onmessage = ({ data: { id, job } }: MessageEvent<{ id: number; job: ListenJob }>) => {
  const reply = (message: ListenReply) => self.postMessage(message);
  const samples = new Map(job.samples.map(({ key, sample }) => [key, sample]));
  const listening = {
    rig: job.rig,
    patch: job.patch,
    take: job.take,
    clock: () => performance.now(),
    prepared: ({ key }: { key: string }) => samples.get(key),
    recording: (sampleId: string) => job.recordings[sampleId],
    loop: (sampleId: string, loop: { start: number; end: number; crossfade: number }) =>
      job.loops[loopName(sampleId, loop)],
    told: (share: number) => {
      reply({ id, share });
      return true;
    },
  };
  try {
    reply(job.takeOnly ? { id, take: listenToTake(listening) } : { id, heard: listen(listening) });
  } catch (error) {
    reply({ id, problem: error instanceof Error ? error.message : String(error) });
  }
};
