import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Prepared } from '../core/dsp/prepared';
import type { SampleRequest } from '../core/engine/program/program';
import { readTake } from '../core/formats/midiFile';
import { prepare } from '../core/formats/prepare';
import { needsNoFile } from '../core/sounds/synth/tableIds';
import { plainTake } from '../core/music/plainTake';
import type { Take } from '../core/music/take';
import { handsTake } from '../core/rig/takes';
import type { Patch, Rig } from '../core/rig/schema';
import { naming } from './files';

/** Makes the samples of an archive ready for playing, each once; undefined for those that it does not hold. */
export function preparing(
  file: string,
  wavs: ReadonlyMap<string, Uint8Array>,
): (request: SampleRequest) => Prepared | undefined {
  const made = new Map<string, Prepared>();
  return (request) => {
    const wav = needsNoFile(request) ? undefined : wavs.get(request.sampleId);
    if (!wav && !needsNoFile(request)) return undefined;
    if (!made.has(request.key))
      made.set(
        request.key,
        naming(`${file}: ${request.sampleId}`, () => prepare(request, wav)),
      );
    return made.get(request.key);
  };
}

/** What a patch is played on: its own take, a MIDI file named by its id in a folder, or a scale and chords. */
export function takeFor({ controllers }: Rig, patch: Patch, folder: string | undefined): Take {
  const path = folder === undefined ? undefined : join(folder, `${patch.id}.mid`);
  return (
    handsTake(patch) ??
    (path && existsSync(path)
      ? naming(path, () => readTake(readFileSync(path), patch.id))
      : plainTake(controllers.keyLow, controllers.keyHigh))
  );
}
