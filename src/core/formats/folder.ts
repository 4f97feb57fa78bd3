import { LONGEST_NAME, type Zone } from '../rig/schema';
import { cleanPath } from './paths';

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

  constructor(files: Iterable<readonly [path: string, file: T]>, private readonly base = '') {
    for (const [path, file] of files) this.byPath.set(alike(path), file);
  }

  find(path: string): T | undefined {
    const clean = cleanPath(this.base === '' ? path : `${this.base}/${path}`);
    return clean === undefined ? undefined : this.byPath.get(alike(clean));
  }
}

/** The key nearest to middle C on which a strike of that velocity is answered, and the zones that answer it; undefined where none is. */
export function answersNearMiddleC(zones: readonly Zone[], velocity: number): { key: number; zones: Zone[] } | undefined {
  for (let distance = 0; distance < 128; distance++) {
    for (const key of distance === 0 ? [60] : [60 - distance, 60 + distance]) {
      const answering = zones.filter((zone) => zone.trigger === 'attack' && key >= zone.key.low && key <= zone.key.high && velocity >= zone.velocity.low && velocity <= zone.velocity.high);
      if (answering.length > 0) return { key, zones: answering };
    }
  }
  return undefined;
}
