/** Writes the demo rig and its takes into a folder that the server hands out. Usage: tsx demo/build.ts FOLDER */
import { createHash } from 'node:crypto';
import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeArchive } from '../src/core/formats/rigArchive';
import { demoRig } from './rig';
import { demoTakes } from './takes';

const folder = process.argv[2] ?? 'build/demo';
mkdirSync(join(folder, 'takes'), { recursive: true });
const { rig, wavs } = demoRig((bytes) => createHash('sha256').update(bytes).digest('hex'));
const takes = demoTakes();
for (const [name, bytes] of takes) writeFileSync(join(folder, 'takes', name), bytes);
writeFileSync(join(folder, 'takes.json'), JSON.stringify([...takes.keys()]));
const path = join(folder, 'perigee-tide.wavicle');
writeFileSync(`${path}.part`, writeArchive(rig, (id) => wavs.get(id)!));
renameSync(`${path}.part`, path);
