import { closeSync, fstatSync, openSync, readFileSync, readSync, renameSync, rmSync, writeFileSync } from 'node:fs';
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

/** The rig of an archive: of its samples nothing is read, however many there are. */
export const readRigFile = (path: string): Rig =>
  naming(path, () => {
    const sparse = endsOf(path);
    try {
      if (sparse) return readArchiveRig(sparse);
    } catch {
      // Whatever is wrong with it, or lies elsewhere, the whole of it says.
    }
    return readArchiveRig(readFile(path));
  });

/**
 * A large file of which only both ends were read: an archive's list is at its end, and our own have the rig first. In
 * between are zeros, for which the machine gives no memory. Null: the file is small, or cannot be read.
 */
function endsOf(path: string): Uint8Array | null {
  let file: number;
  try {
    file = openSync(path, 'r');
  } catch {
    return null;
  }
  try {
    const { size } = fstatSync(file);
    if (size < 4 * END_BYTES) return null;
    const bytes = new Uint8Array(size);
    readSync(file, bytes, 0, END_BYTES, 0);
    readSync(file, bytes, size - END_BYTES, END_BYTES, size - END_BYTES);
    return bytes;
  } catch {
    return null;
  } finally {
    closeSync(file);
  }
}
const END_BYTES = 2 ** 19;

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
