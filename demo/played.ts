import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import type { Prepared } from '../src/core/dsp/prepared';
import { Engine } from '../src/core/engine/engine';
import { compile, contextOf } from '../src/core/engine/program/compile';
import { prepare } from '../src/core/formats/prepare';
import { needsNoFile } from '../src/core/sounds/synth/tableIds';
import { readArchive } from '../src/core/formats/rigArchive';
import type { Patch, Sound } from '../src/core/rig/schema';
import type { DemoRig } from './rig';

/** What tests of the rigs that come along share. */

export const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** A rig as it was built, which saves minutes; npm test builds it anew whenever the generator changes. */
export const built = (path: string, make: () => DemoRig): DemoRig =>
  existsSync(path) ? readArchive(readFileSync(path)) : make();

/** Makes engines that play its patches, each with its samples; those are made ready once. */
export function playerOf({ rig, wavs }: DemoRig, rate: number): (patch: Patch, sounds?: readonly Sound[]) => Engine {
  const prepared = new Map<string, Prepared>();
  return (patch, sounds = rig.sounds) => {
    const program = compile(patch, contextOf({ ...rig, sounds }));
    const engine = new Engine({ rate });
    for (const request of program.samples) {
      if (!prepared.has(request.key))
        prepared.set(request.key, prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!));
      engine.addSample(request.key, prepared.get(request.key)!);
    }
    engine.setProgram(program);
    return engine;
  };
}
