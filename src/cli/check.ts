import { performance } from 'node:perf_hooks';
import { checkPatch, reasonOf } from '../core/check';
import type { Heard, TakeHeard } from '../core/check/heard';
import type { Listening } from '../core/check/ear';
import { listen, listenToTake, measuredFrom } from '../core/check/listen';
import { patchesOfShow } from '../core/check/loudness';
import { readWav } from '../core/formats/wav';
import type { Patch } from '../core/rig/schema';
import { readArguments } from './arguments';
import { Failure } from './failure';
import { findPatch, naming, readArchiveFile } from './files';
import { preparing, takeFor } from './played';

/**
 * `check RIG [--patch NAME] [--takes DIR] [--quick] [--strict]`: what the rules find, in the rig's numbers and by
 * listening to it.
 */
export function check(args: string[]): unknown {
  const { values, file } = readArguments(
    args,
    { patch: { type: 'string' }, strict: { type: 'boolean' }, quick: { type: 'boolean' }, takes: { type: 'string' } },
    'RIG',
  );
  const { rig, wavs } = readArchiveFile(file);
  const patches = values.patch === undefined ? rig.patches : [findPatch(rig, values.patch as string)];
  const prepared = preparing(file, wavs);
  const missing = new Set(rig.samples.flatMap(({ id }) => (wavs.has(id) ? [] : [id])));
  const listening = (patch: Patch): Listening => ({
    rig,
    patch,
    prepared,
    clock: () => performance.now(),
    take: takeFor(rig, patch, values.takes as string | undefined),
    ...measuredFrom((id) => {
      const wav = wavs.get(id);
      return wav && readWav(wav).audio;
    }),
  });
  const heard = new Map<string, Heard>();
  const show = new Map<string, TakeHeard>();
  if (!values.quick) {
    for (const patch of patches) {
      const found = naming(`${file}: ${patch.name}`, () => listen(listening(patch)));
      heard.set(patch.id, found);
      if (found.take) show.set(patch.id, found.take);
    }
    // What is louder than the show is only known by the others.
    for (const patch of patchesOfShow(rig)) {
      const take = show.has(patch.id) ? null : naming(`${file}: ${patch.name}`, () => listenToTake(listening(patch)));
      if (take) show.set(patch.id, take);
    }
  }
  const findings = patches.flatMap((patch) =>
    checkPatch(rig, patch, { heard: heard.get(patch.id), show, missing }).flatMap((finding) => {
      const { rule, grade, where, message, fixes } = finding;
      const reason = reasonOf(rig, finding);
      return [
        {
          rule,
          severity: grade,
          message,
          edits: fixes.map(({ label }) => label),
          ...(reason === undefined ? {} : { aside: reason }),
          where: {
            patch: patch.name,
            layers: where.layerIds.map((id) => patch.layers.find((layer) => layer.id === id)?.name ?? id),
            sound: where.soundId && rig.sounds.find(({ id }) => id === where.soundId)?.name,
            zones: where.zones,
            keys: where.keys,
            velocities: where.velocities,
            macro: where.macro,
          },
        },
      ];
    }),
  );
  const counting = findings.filter(({ severity, aside }) => severity !== 'taste' && aside === undefined);
  if (values.strict && counting.length > 0) {
    process.stdout.write(`${JSON.stringify({ findings }, null, 2)}\n`);
    throw new Failure(
      counting.length === 1
        ? '1 finding that is no matter of taste'
        : `${counting.length} findings that are no matter of taste`,
      1,
    );
  }
  return { findings };
}
