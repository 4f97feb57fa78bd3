import { hasGrown, soakShow } from '../soakShow';
import { inTime } from '../inTime';
import { soakInStep } from '../soakSpare';
import { Tally, type Outcome, type Part } from './part';

const DEMO = 'build/demo/perigee-tide.wavicle';

/** The show in time-lapse, an item a second of it: each chunk begins it anew with hands of its own. */
function tryShow(first: number, count: number): Outcome {
  const tally = new Tally();
  const soak = soakShow(DEMO, count, first + 1);
  tally.count('events', soak.events);
  tally.count('changes of patch', soak.changes);
  tally.count('seconds of sound', count);
  tally.measure(
    'MB that memory has grown by',
    Math.max(0, Math.round((soak.heapMb.at(-1) ?? 0) - (soak.heapMb[2] ?? 0))),
  );
  const seed = `show ${first + 1}`;
  if (soak.stuck > 0) tally.fail(`${seed}: ${soak.stuck} voices or patches are stuck`);
  if (soak.bad > 0) tally.fail(`${seed}: ${soak.bad} frames are no sound`);
  if (soak.peak === 0) tally.fail(`${seed}: nothing was heard`);
  if (hasGrown(soak)) tally.fail(`${seed}: memory grew, ${soak.heapMb.join(', ')} MB`);
  return tally.outcome;
}

export const SHOW: Part = {
  name: 'show',
  promise:
    'Eight hours of the show under hands that never rest: every frame is sound, nothing hangs when all was let go, memory stays where it was',
  against: 'itself; memory after the third minute and at the end of each hour',
  items: 'seconds of the show',
  count: 8 * 3600,
  chunk: 3600,
  try: tryShow,
};

async function tryInStep(first: number, count: number): Promise<Outcome> {
  const tally = new Tally();
  const { compared, differ, events } = await soakInStep(DEMO, count, first + 1, () => undefined);
  tally.count('seconds compared', compared);
  tally.count('events', events);
  if (differ > 0) tally.fail(`in step ${first + 1}: ${differ} of ${compared} seconds differ`);
  // Of the last second not all may be told.
  if (compared < count - 2) tally.fail(`in step ${first + 1}: only ${compared} of ${count} seconds were compared`);
  return tally.outcome;
}

export const IN_STEP: Part = {
  name: 'in-step',
  promise: 'A second machine that is told what the first does makes the same bits, for an hour of the show',
  against: 'a sum over all bits of each second of both engines',
  items: 'seconds of the show',
  count: 3600,
  chunk: 600,
  try: tryInStep,
};

async function tryInTime(first: number, count: number): Promise<Outcome> {
  const tally = new Tally();
  const { strikes, changes, asked, wrong } = await inTime(count, first + 1);
  tally.count('strikes', strikes);
  tally.count('changes of patch', changes);
  tally.count('times both were asked', asked);
  if (wrong.length > 0) tally.fail(`in time ${first + 1}: ${wrong.length} times, first ${wrong[0]}`);
  return tally.outcome;
}

export const IN_TIME: Part = {
  name: 'in-time',
  promise:
    'Two browsers with a server each play the show in time, hands by chance: both are in step from the first to the last second',
  against: 'what both machines tell, who compare a sum over all bits of each second',
  items: 'seconds of the show',
  count: 600,
  chunk: 600,
  alone: true,
  try: tryInTime,
};
