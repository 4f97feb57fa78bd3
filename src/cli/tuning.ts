import { readKbm, readScl } from '../core/formats/scala';
import { HIGHEST_A4_HZ, LOWEST_A4_HZ } from '../core/music/tunings';
import { ownScale, saysNoTuning, withMapping } from '../core/rig/edits/tuning';
import type { Rig } from '../core/rig/schema';
import { numberOption } from './arguments';
import { Failure } from './failure';
import { naming, readFile } from './files';

/** Options of commands that play or resolve: `--a4 HZ`, `--tuning FILE.scl`, `--mapping FILE.kbm`. */
export const TUNING_OPTIONS = {
  a4: { type: 'string' },
  tuning: { type: 'string' },
  mapping: { type: 'string' },
} as const;

/** A rig as it is tuned from the command line: instead of what the rig and its patches say. */
export function tunedRig(rig: Rig, values: Record<string, string | string[] | boolean | undefined>): Rig {
  const { tuning: scalePath, mapping: mappingPath } = values as { tuning?: string; mapping?: string };
  const a4 =
    values.a4 === undefined ? rig.pitch.a4 : numberOption(values, 'a4', LOWEST_A4_HZ, HIGHEST_A4_HZ, undefined, false);
  if (mappingPath !== undefined && scalePath === undefined)
    throw new Failure('--mapping says where the degrees of a scale lie: --tuning FILE.scl is missing', 2);
  // What is said here holds for all.
  if (scalePath === undefined) {
    const patches = values.a4 === undefined ? rig.patches : rig.patches.map((patch) => ({ ...patch, a4: null }));
    return { ...rig, patches, pitch: { ...rig.pitch, a4 } };
  }
  const text = (path: string) => new TextDecoder().decode(readFile(path));
  const scale = naming(scalePath, () => readScl(text(scalePath)));
  const mapping = mappingPath === undefined ? null : naming(mappingPath, () => readKbm(text(mappingPath)));
  return {
    ...rig,
    pitch: { a4, tuning: withMapping(ownScale(scale), mapping) },
    patches: rig.patches.map(saysNoTuning),
  };
}
