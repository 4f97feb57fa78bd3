import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { readArchive, readArchiveRig, type Archive } from '../core/formats/rigArchive';
import type { Patch, Rig } from '../core/rig/schema';
import { Failure } from './failure';

export function readFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new Failure(`${path}: ${(error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message}`);
  }
}

/** Writes beside the file first, so that nothing half-written is ever seen under its name. */
export function writeFile(path: string, bytes: Uint8Array): void {
  const part = `${path}.${process.pid}.part`;
  try {
    writeFileSync(part, bytes);
    renameSync(part, path);
  } catch (error) {
    rmSync(part, { force: true });
    throw new Failure(`${path}: cannot be written (${(error as Error).message})`);
  }
}

/** The rig of an archive, without its samples. */
export const readRigFile = (path: string): Rig => naming(path, () => readArchiveRig(readFile(path)));
export const readArchiveFile = (path: string): Archive => naming(path, () => readArchive(readFile(path)));

/** Runs a reader and puts the file's name before what it complains about. */
export function naming<T>(path: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    throw error instanceof Failure ? error : new Failure(`${path}: ${(error as Error).message}`);
  }
}

/** A patch by name or id. */
export function findPatch(rig: Rig, name: string): Patch {
  const patch = rig.patches.find((candidate) => candidate.id === name) ?? rig.patches.find((candidate) => candidate.name.toLowerCase() === name.toLowerCase());
  if (!patch) throw new Failure(`--patch ${name}: the rig has no such patch; it has ${rig.patches.map((candidate) => candidate.name).join(', ') || 'none'}`);
  return patch;
}
