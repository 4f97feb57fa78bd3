import type { Patch, Rig } from '../rig/schema';
import { setlistOf, stepsOf } from '../rig/setlist';
import type { TakeHeard } from './heard';

/** Patches of the show in order, each once; all of the rig where nothing is in the setlist. */
export function patchesOfShow(rig: Rig): Patch[] {
  const steps = [...new Set(stepsOf(rig, setlistOf(rig)).flatMap(({ patch }) => (patch ? [patch] : [])))];
  return steps.length > 0 ? steps : [...rig.patches];
}

/**
 * The loudness in the middle of the show, in LUFS, by the takes that were heard; undefined where fewer than three were.
 */
export function middleLoudness(rig: Rig, show: ReadonlyMap<string, TakeHeard>): number | undefined {
  const heard = patchesOfShow(rig)
    .flatMap(({ id }) => {
      const lufs = show.get(id)?.lufs;
      return lufs === null || lufs === undefined ? [] : [lufs];
    })
    .sort((a, b) => a - b);
  return heard.length < 3 ? undefined : (heard[(heard.length - 1) >> 1] + heard[heard.length >> 1]) / 2;
}

const round = (x: number): number => Math.round(x * 10) / 10;

/**
 * Every patch of the show brought to the middle loudness by the level of its whole; those within `within` LU are left
 * alone.
 */
export function levelShow(rig: Rig, show: ReadonlyMap<string, TakeHeard>, within: number): Rig {
  const middle = middleLoudness(rig, show);
  if (middle === undefined) return rig;
  const patches = rig.patches.map((patch) => {
    const lufs = show.get(patch.id)?.lufs;
    if (lufs === null || lufs === undefined || !patchesOfShow(rig).includes(patch) || Math.abs(lufs - middle) <= within)
      return patch;
    return {
      ...patch,
      main: { ...patch.main, level: Math.max(-60, Math.min(6, round(patch.main.level + middle - lufs))) },
    };
  });
  return { ...rig, patches };
}
