import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { readArchive, readArchiveRig, type Archive } from '../core/formats/rigArchive';
import type { Patch, Rig } from '../core/rig/schema';
import { Failure } from './failure';

export function readFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new Failure(
      `${path}: ${(error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message}`,
    );
  }
}

/** Writes beside the file first, so that nothing half-written is ever seen under its name. */
export const writeFile = (path: string, bytes: Uint8Array): void => writeFiles([[path, bytes]]);

/**
 * The same for several files: all of them are written beside first, so that either all come under their names or none.
 */
export function writeFiles(files: readonly (readonly [path: string, bytes: Uint8Array])[]): void {
  const partOf = (path: string) => `${path}.${process.pid}.part`;
  let at = '';
  try {
    for (const [path, bytes] of files) writeFileSync(partOf((at = path)), bytes);
    for (const [path] of files) renameSync(partOf((at = path)), path);
  } catch (error) {
    for (const [path] of files) rmSync(partOf(path), { force: true });
    throw new Failure(`${at}: cannot be written (${(error as Error).message})`);
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
export const findPatch = (rig: Rig, name: string): Patch => findNamed(rig.patches, '--patch', 'patch', name);

/** Something of the rig by name or id. */
export function findNamed<T extends { id: string; name: string }>(
  all: readonly T[],
  option: string,
  what: string,
  name: string,
): T {
  const found =
    all.find((candidate) => candidate.id === name) ??
    all.find((candidate) => candidate.name.toLowerCase() === name.toLowerCase());
  if (!found)
    throw new Failure(
      `${option} ${name}: the rig has no such ${what}; it has ${all.map((candidate) => candidate.name).join(', ') || 'none'}`,
    );
  return found;
}
