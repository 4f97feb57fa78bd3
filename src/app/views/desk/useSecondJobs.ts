import { useEffect, useRef } from 'react';
import { takeOff, takeOffEverywhere } from '../../../core/rig/edits/moves';
import { labelIn, secondJobs, type SecondJob } from '../../../core/rig/moves';
import type { Patch } from '../../../core/rig/schema';
import { labelOfSource } from '../../../core/space/source';
import { editPatch, notice, store } from '../../document/store';

const keyOf = (job: SecondJob): string => `${job.layerId} ${job.source} ${job.does}`;

/**
 * Says at once that a control which was given other work still does what it always does, and offers to take that off:
 * for the layer, or wherever it happens in the patch.
 */
export function useSecondJobs(patch: Patch): void {
  const known = useRef<{ patchId: string; keys: Set<string> } | null>(null);
  useEffect(() => {
    const jobs = secondJobs(patch);
    const before = known.current?.patchId === patch.id ? known.current.keys : null;
    known.current = { patchId: patch.id, keys: new Set(jobs.map(keyOf)) };
    if (!before) return;
    const fresh = jobs.filter((job) => !before.has(keyOf(job)));
    if (fresh.length === 0) return;
    const [job] = fresh;
    const layer = patch.layers.find((candidate) => candidate.id === job.layerId)!;
    const name = labelIn(patch, job.source) || labelOfSource(job.source);
    const layers = fresh.filter((other) => other.source === job.source);
    const where = layers.length > 1 ? `${layers.length} layers` : layer.name;
    const { dispatch } = store;
    dispatch(
      notice(
        'info',
        `The ${name} has work of its own now (${job.other}), and still ${job.does} of ${where}.`,
        'second-job',
        layers.length > 1
          ? {
              label: 'Take that off in the patch',
              run: () => dispatch(editPatch(patch.id, (old) => takeOffEverywhere(old, job.source))),
            }
          : {
              label: `Take that off for ${layer.name}`,
              run: () => dispatch(editPatch(patch.id, (old) => takeOff(old, job))),
            },
      ),
    );
  }, [patch]);
}
