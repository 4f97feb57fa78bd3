import { performance } from 'node:perf_hooks';
import { samplesFor } from '../core/bounce/bounce';
import { compile, contextOf } from '../core/engine/program/compile';
import { wordsOfMessage } from '../core/music/outside';
import { instrumentsUsed } from '../core/rig/edits/outside';
import type { Patch, Rig } from '../core/rig/schema';
import { rehearse as rehearsePatch } from '../core/measure/rehearse';
import { patchAsPlayed, setlistOf, stepsOf } from '../core/rig/setlist';
import { readArguments } from './arguments';
import { Failure } from './failure';
import { naming, readArchiveFile } from './files';
import { preparing, takeFor } from './played';

/** What a patch tells instruments outside when it is entered, in words. */
function toldOutside(rig: Rig, patch: Patch): { outside?: Record<string, string[]> } {
  const used = instrumentsUsed(patch);
  const told = rig.instruments
    .filter(({ id }) => used.includes(id))
    .map(({ id, name }) => [name, (patch.told.find((each) => each.id === id)?.enter ?? []).map(wordsOfMessage)]);
  return told.length > 0 ? { outside: Object.fromEntries(told) as Record<string, string[]> } : {};
}

/**
 * `rehearse RIG [--setlist NAME] [--takes DIR]`: every step of a setlist on its take, and what there is to know of it.
 */
export function rehearse(args: string[]): unknown {
  const { values, file } = readArguments(args, { setlist: { type: 'string' }, takes: { type: 'string' } }, 'RIG');
  const { rig, wavs } = readArchiveFile(file);
  const wanted = values.setlist as string | undefined;
  const setlist =
    wanted === undefined ? setlistOf(rig) : rig.setlists.find(({ name, id }) => name === wanted || id === wanted);
  if (!setlist)
    throw new Failure(
      `--setlist ${wanted}: there ${rig.setlists.length === 1 ? 'is' : 'are'} ${rig.setlists.map(({ name }) => name).join(', ') || 'no setlist'}`,
      2,
    );
  const prepared = preparing(file, wavs);
  let before: Parameters<typeof rehearsePatch>[4] = null;
  const round = (x: number | null, places: number) => (x === null ? null : Math.round(x * 10 ** places) / 10 ** places);
  const steps = stepsOf(rig, setlist).map(({ entry, patch }, n) => {
    if (!patch) return { step: n + 1, pause: entry.name || 'Pause' };
    const played = patchAsPlayed(patch, entry);
    const program = naming(`${file}: ${patch.name}`, () => compile(played, contextOf(rig, 48000)));
    const take = takeFor(rig, played, values.takes as string | undefined);
    const samples = samplesFor(program, prepared);
    const found = rehearsePatch(program, samples, take, () => performance.now(), before);
    before = { program, samples };
    return {
      step: n + 1,
      patch: patch.name,
      song: entry.name || undefined,
      lufs: round(found.lufs, 2),
      peakDb: round(found.peakDb, 2),
      truePeakDb: round(found.truePeakDb, 2),
      limiterDb: round(found.limiterDb, 2),
      voices: found.voices,
      load: round(found.load, 3),
      worstLoad: round(found.worstLoad, 3),
      switchMs: round(found.switchMs, 2),
      missing: found.missing,
      ...toldOutside(rig, played),
    };
  });
  return { setlist: setlist.name, steps };
}
