import { cleanPath } from './paths';
import { LONGEST_NAME } from '../rig/limits';

/** A name as long as a rig takes. */
export const shortened = (name: string): string => name.slice(0, LONGEST_NAME);

export const baseName = (path: string): string => path.slice(path.lastIndexOf('/') + 1);
export const folderOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));
export const stemOf = (path: string): string => baseName(path).replace(/\.[A-Za-z0-9]{1,8}$/, '');

/** Spellings that name one file: of either case, and of either way of writing accents (Unicode composed or not). */
const alike = (path: string): string => path.normalize('NFC').toLowerCase();

/** Finds files of a folder by the paths an SFZ file gives, which care for neither case nor the kind of slash. */
export class FolderIndex<T> {
  private readonly byPath = new Map<string, T>();

  constructor(
    files: Iterable<readonly [path: string, file: T]>,
    private readonly base = '',
  ) {
    for (const [path, file] of files) this.byPath.set(alike(path), file);
  }

  find(path: string): T | undefined {
    const clean = cleanPath(this.base === '' ? path : `${this.base}/${path}`);
    return clean === undefined ? undefined : this.byPath.get(alike(clean));
  }
}
