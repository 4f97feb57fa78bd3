/**
 * Writes a rig that comes along, and its takes, into a folder that the server hands out. Usage: tsx demo/build.ts FOLDER
 * [--store] (Harbour Store instead of the show) [--small] (a third of the samples, for tests)
 */
import { createHash } from 'node:crypto';
import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeArchive } from '../src/core/formats/rigArchive';
import { sealOf } from '../src/core/rig/seal';
import { writeWav } from '../src/core/formats/wav';
import { fogSignal } from './instruments/fogSignal';
import { demoRig } from './rig';
import { families, storeRig, storeTakes } from './store/rig';
import { OPENS_ON } from './rig';
import { demoTakes } from './takes';

const folder = process.argv[2] ?? 'build/demo';
rmSync(join(folder, 'rig.json'), { force: true });
rmSync(join(folder, 'samples'), { recursive: true, force: true });
mkdirSync(join(folder, 'takes'), { recursive: true });
const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const size = process.argv.includes('--small') ? 'small' : 'whole';
const isStore = process.argv.includes('--store');
const { rig, wavs } = isStore ? storeRig(hash, size) : demoRig(hash, size);
const takes = isStore ? storeTakes() : demoTakes(rig);
for (const [name, bytes] of takes) writeFileSync(join(folder, 'takes', name), bytes);
writeFileSync(join(folder, 'takes.json'), JSON.stringify([...takes.keys()]));
if (!isStore) writeFolderToTry();
// The rig's text and each sample by itself, so that a first visit plays before everything has come.
mkdirSync(join(folder, 'samples'), { recursive: true });
for (const [id, bytes] of wavs) writeFileSync(join(folder, 'samples', `${id}.wav`), bytes);
if (isStore) writeFileSync(join(folder, 'families.json'), JSON.stringify(families()));
// Last, so that whoever finds it finds all that it names.
writeFileSync(
  join(folder, 'rig.json'),
  JSON.stringify({ seal: sealOf(rig), opensOn: isStore ? rig.patches[0].id : OPENS_ON, rig }),
);
const path = join(folder, `${rig.id}.wavicle`);
writeFileSync(
  `${path}.part`,
  writeArchive(rig, (id) => wavs.get(id)!),
);
renameSync(`${path}.part`, path);

/** A folder of recordings for trying out how sounds are brought in. */
function writeFolderToTry(): void {
  const recordings = fogSignal();
  mkdirSync(join(folder, 'Fog Signal'), { recursive: true });
  for (const { name, audio } of recordings) writeFileSync(join(folder, 'Fog Signal', name), writeWav(audio));
  writeFileSync(
    join(folder, 'folder.json'),
    JSON.stringify({ name: 'Fog Signal', files: recordings.map(({ name }) => name) }),
  );
}
