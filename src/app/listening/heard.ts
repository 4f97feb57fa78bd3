import { between } from '../../core/draws/history';
import { soundPatch } from '../../core/rig/defaults';
import { withCuts } from '../../core/rig/edits/cuts';
import { alone as aloneOf } from '../../core/rig/edits/moves';
import { patchWithout } from '../../core/rig/edits/kinds';
import { stripsOf, withTakeStrips } from '../../core/rig/takes';
import type { Patch, PatchTake, Rig, Sound } from '../../core/rig/schema';
import { asTried, isThere } from './asTried';
import type { ListeningState } from './listeningSlice';

/** All that can stand between the document and the ears. What is for another patch than the one asked for is nothing. */
export interface Listening extends Pick<ListeningState, 'alone' | 'leftOut' | 'drawTrial' | 'mixTrial' | 'trying'> {
  /** A sound that is heard alone, over its whole range; null: the patch. */
  sound: Sound | null;
  /** A take of the patch's own that plays: it moves strips; null: none does. */
  take: PatchTake | null;
  /** What brings this version to the loudness of the others, in dB. */
  trimDb: number;
  /** A rig as a finding would mend it. */
  mended: { patchId: string; rig: Rig } | null;
}

export const NOTHING_ELSE: Listening = {
  alone: null,
  leftOut: [],
  drawTrial: null,
  mixTrial: null,
  trying: null,
  sound: null,
  take: null,
  trimDb: 0,
  mended: null,
};

const LOWEST_DB = -60;

/**
 * The patch as it is heard, before anything is tried in it. A draw comes first; of that, a sound alone goes before what
 * one source moves alone; parts are left out of either. Then one of three, the first that there is: strips of a take,
 * cuts, and the trim of a version. The last two are not for a sound alone, and neither are takes.
 */
export function heardPatch(patch: Patch, listening: Listening): Patch {
  const { drawTrial, sound, alone, leftOut, take, mixTrial, trimDb } = listening;
  const isDrawn = drawTrial?.patchId === patch.id;
  const drawn = isDrawn ? between(patch, drawTrial.first, drawTrial.second, drawTrial.share).patch : patch;
  const chosen = sound ? soundPatch(sound, drawn) : alone ? aloneOf(drawn, alone) : drawn;
  const rest = leftOut.length > 0 ? patchWithout(chosen, leftOut) : chosen;
  if (sound) return rest;
  if (take && stripsOf(take).length > 0) return withTakeStrips(rest, take);
  if (mixTrial?.patchId === patch.id) return withCuts(rest, mixTrial.cuts);
  if (trimDb === 0) return rest;
  return { ...rest, main: { ...rest.main, level: Math.max(LOWEST_DB, rest.main.level + trimDb) } };
}

/**
 * What is played instead of a patch that is heard in some way: what a finding would mend goes before what is tried on a
 * layer or a pad, and both before all else that is listened to.
 */
export function playedOver(
  rig: Rig,
  patchId: string,
  now: Patch,
  { mended, trying }: Pick<Listening, 'mended' | 'trying'>,
): { rig: Rig; patch: Patch } {
  if (mended?.patchId === patchId)
    return { rig: mended.rig, patch: mended.rig.patches.find(({ id }) => id === patchId) ?? now };
  if (trying?.patchId === patchId && isThere(now, trying)) return asTried(rig, now, trying);
  return { rig, patch: now };
}

/** What is played instead of a rig and one of its patches. */
export const heard = (rig: Rig, patch: Patch, listening: Listening): { rig: Rig; patch: Patch } =>
  playedOver(rig, patch.id, heardPatch(patch, listening), listening);
