import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { exportSound } from '../core/formats/exportSound';
import { readArguments, required } from './arguments';
import { Failure } from './failure';
import { findNamed, naming, readArchiveFile, writeFiles } from './files';

/** `export RIG --sound NAME --format sfz|wav --out DIR`: a sound in an open format with its samples. */
export function exportFiles(args: string[]): unknown {
  const { values, file } = readArguments(args, { sound: { type: 'string' }, format: { type: 'string' }, out: { type: 'string' } }, 'RIG');
  const name = required(values, 'sound');
  const format = required(values, 'format');
  const out = required(values, 'out');
  if (format !== 'sfz' && format !== 'wav') throw new Failure(`--format ${format}: expected sfz or wav`, 2);
  const { rig, wavs } = readArchiveFile(file);
  const sound = findNamed(rig.sounds, '--sound', 'sound', name);
  const { files, notCarried } = naming(`${file}: ${sound.name}`, () => exportSound(sound, rig.samples, (id) => wavs.get(id)!, format));
  try {
    for (const folder of new Set(files.map(({ path }) => dirname(join(out, path))))) mkdirSync(folder, { recursive: true });
  } catch (error) {
    throw new Failure(`${out}: the folder cannot be made (${(error as Error).message})`);
  }
  writeFiles(files.map(({ path, bytes }) => [join(out, path), bytes] as const));
  return { files: files.map(({ path }) => path), notCarried };
}
