import { createHash } from 'node:crypto';
import { demoRig } from '../../demo/rig';
import { storeRig } from '../../demo/store/rig';
import { writeArchive } from '../core/formats/rigArchive';
import { readArguments, required } from './arguments';
import { writeFile } from './files';

/** `demo --out RIG`: writes the rig of the show; with `--store`, Harbour Store, patches to play from the first evening on. */
export function demo(args: string[]): unknown {
  const { values } = readArguments(args, { out: { type: 'string' }, store: { type: 'boolean' } }, null);
  const out = required(values, 'out');
  const { rig, wavs } = (values.store ? storeRig : demoRig)((bytes) =>
    createHash('sha256').update(bytes).digest('hex'),
  );
  writeFile(
    out,
    writeArchive(rig, (id) => wavs.get(id)!),
  );
  return { patches: rig.patches.length, sounds: rig.sounds.length, samples: rig.samples.length };
}
