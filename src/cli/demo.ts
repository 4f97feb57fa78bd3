import { createHash } from 'node:crypto';
import { demoRig } from '../../demo/rig';
import { writeArchive } from '../core/formats/rigArchive';
import { readArguments, required } from './arguments';
import { writeFile } from './files';

/** `demo --out RIG`: writes the demo rig. */
export function demo(args: string[]): unknown {
  const { values } = readArguments(args, { out: { type: 'string' } }, null);
  const out = required(values, 'out');
  const { rig, wavs } = demoRig((bytes) => createHash('sha256').update(bytes).digest('hex'));
  writeFile(
    out,
    writeArchive(rig, (id) => wavs.get(id)!),
  );
  return { patches: rig.patches.length, sounds: rig.sounds.length, samples: rig.samples.length };
}
