import { performance } from 'node:perf_hooks';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { compile } from '../core/engine/compile';
import type { Program } from '../core/engine/program';
import { readTake } from '../core/formats/midiFile';
import { needsNoFile, prepare } from '../core/formats/prepare';
import type { Prepared } from '../core/dsp/prepared';
import { rehearse as rehearsePatch } from '../core/measure/rehearse';
import { plainTake } from '../core/music/plainTake';
import { patchAsPlayed, setlistOf, stepsOf } from '../core/rig/setlist';
import { handsTake } from '../core/rig/takes';
import { readArguments } from './arguments';
import { Failure } from './failure';
import { naming, readArchiveFile } from './files';

/** `rehearse RIG [--setlist NAME] [--takes DIR]`: every step of a setlist on its take, and what there is to know of it. */
export function rehearse(args: string[]): unknown {
  const { values, file } = readArguments(args, { setlist: { type: 'string' }, takes: { type: 'string' } }, 'RIG');
  const { rig, wavs } = readArchiveFile(file);
  const wanted = values.setlist as string | undefined;
  const setlist = wanted === undefined ? setlistOf(rig) : rig.setlists.find(({ name, id }) => name === wanted || id === wanted);
  if (!setlist) throw new Failure(`--setlist ${wanted}: there ${rig.setlists.length === 1 ? 'is' : 'are'} ${rig.setlists.map(({ name }) => name).join(', ') || 'no setlist'}`, 2);
  const prepared = new Map<string, Prepared>();
  const made = (program: Program) => program.samples.flatMap((request) => {
    const bytes = needsNoFile(request) ? undefined : wavs.get(request.sampleId);
    if (!bytes && !needsNoFile(request)) return [];
    if (!prepared.has(request.key)) prepared.set(request.key, naming(`${file}: ${request.sampleId}`, () => prepare(request, bytes)));
    return [{ key: request.key, sample: prepared.get(request.key)! }];
  });
  let before: Parameters<typeof rehearsePatch>[4] = null;
  const round = (x: number | null, places: number) => (x === null ? null : Math.round(x * 10 ** places) / 10 ** places);
  const steps = stepsOf(rig, setlist).map(({ entry, patch }, n) => {
    if (!patch) return { step: n + 1, pause: entry.name || 'Pause' };
    const played = patchAsPlayed(patch, entry);
    const program = naming(`${file}: ${patch.name}`, () => compile(played, { sounds: rig.sounds, samples: rig.samples, ...rig.controllers, rate: 48000 }));
    const path = values.takes === undefined ? undefined : join(values.takes as string, `${patch.id}.mid`);
    const take = handsTake(played) ?? (path && existsSync(path) ? naming(path, () => readTake(readFileSync(path), patch.id)) : plainTake(rig.controllers.keyLow, rig.controllers.keyHigh));
    const samples = made(program);
    const found = rehearsePatch(program, samples, take, () => performance.now(), before);
    before = { program, samples };
    return { step: n + 1, patch: patch.name, song: entry.name || undefined, lufs: round(found.lufs, 2), peakDb: round(found.peakDb, 2), truePeakDb: round(found.truePeakDb, 2), limiterDb: round(found.limiterDb, 2), voices: found.voices, load: round(found.load, 3), worstLoad: round(found.worstLoad, 3), switchMs: round(found.switchMs, 2), missing: found.missing };
  });
  return { setlist: setlist.name, steps };
}
