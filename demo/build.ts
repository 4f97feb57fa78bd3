/**
 * Writes the demo rig and its takes into a folder that the server hands out. Usage: tsx demo/build.ts FOLDER [--small]
 * (a third of the samples, for tests)
 */
import { createHash } from 'node:crypto';
import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeArchive } from '../src/core/formats/rigArchive';
import { sealOf } from '../src/core/rig/seal';
import { writeWav } from '../src/core/formats/wav';
import { fogSignal } from './instruments/fogSignal';
import { demoRig } from './rig';
import { demoTakes } from './takes';

const folder = process.argv[2] ?? 'build/demo';
rmSync(join(folder, 'samples'), { recursive: true, force: true });
mkdirSync(join(folder, 'takes'), { recursive: true });
mkdirSync(join(folder, 'Fog Signal'), { recursive: true });
const { rig, wavs } = demoRig(
  (bytes) => createHash('sha256').update(bytes).digest('hex'),
  process.argv.includes('--small') ? 'small' : 'whole',
);
const takes = demoTakes(rig);
for (const [name, bytes] of takes) writeFileSync(join(folder, 'takes', name), bytes);
writeFileSync(join(folder, 'takes.json'), JSON.stringify([...takes.keys()]));
// A folder of recordings for trying out how sounds are brought in.
const recordings = fogSignal();
for (const { name, audio } of recordings) writeFileSync(join(folder, 'Fog Signal', name), writeWav(audio));
writeFileSync(
  join(folder, 'folder.json'),
  JSON.stringify({ name: 'Fog Signal', files: recordings.map(({ name }) => name) }),
);
// The rig's text and each sample by itself, so that a first visit plays before everything has come.
mkdirSync(join(folder, 'samples'), { recursive: true });
writeFileSync(join(folder, 'rig.json'), JSON.stringify({ seal: sealOf(rig), rig }));
for (const [id, bytes] of wavs) writeFileSync(join(folder, 'samples', `${id}.wav`), bytes);
const path = join(folder, 'perigee-tide.wavicle');
writeFileSync(
  `${path}.part`,
  writeArchive(rig, (id) => wavs.get(id)!),
);
renameSync(`${path}.part`, path);
