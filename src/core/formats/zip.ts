import { unzipSync } from 'fflate';
import { FileError } from './fileError';
import { cleanPath } from './paths';

/**
 * What no honest zip goes beyond: bytes in all, entries, length of a name; and bytes that come out for each that went
 * in, beyond what any zip may hold.
 */
export const ZIP_LIMITS = { bytes: 2 ** 32, entries: 20_000, name: 1000, ratio: 20, free: 2 ** 26 } as const;
const mib = (bytes: number): string =>
  bytes >= 2 ** 30 ? `${Math.round(bytes / 2 ** 30)} GiB` : `${Math.round(bytes / 2 ** 20)} MiB`;

/**
 * The files of a zip that are wanted, by name. What a zip claims is held against {@link ZIP_LIMITS} before anything is
 * unpacked. Throws a {@link FileError} that says which limit it was, and in which file; `what` is
 * what it should have been.
 */
export function unzipLimited(
  bytes: Uint8Array,
  wanted: (name: string) => boolean,
  largest: (name: string) => number,
  what: string,
): Record<string, Uint8Array> {
  let problem: string | undefined;
  let entries = 0,
    total = 0,
    packed = 0;
  const most = ZIP_LIMITS.free + ZIP_LIMITS.ratio * bytes.length;
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize, compression }) => {
        if (problem !== undefined) return false;
        if (++entries > ZIP_LIMITS.entries) problem = `holds more than ${ZIP_LIMITS.entries} files`;
        else if (name.length > ZIP_LIMITS.name)
          problem = `the name “${name.slice(0, 40)}…” is longer than ${ZIP_LIMITS.name} letters`;
        if (problem !== undefined || !wanted(name)) return false;
        total += originalSize;
        if (compression !== 0) packed += originalSize;
        if (originalSize > largest(name)) problem = `${name}: claims to be larger than ${mib(largest(name))}`;
        else if (total > ZIP_LIMITS.bytes)
          problem = `${name}: with this file the zip claims to hold more than ${mib(ZIP_LIMITS.bytes)}`;
        else if (packed > most)
          problem = `${name}: with this file the zip claims to hold ${mib(packed)}, and at most ${mib(most)} are unpacked from ${mib(bytes.length)}`;
        return problem === undefined;
      },
    });
    if (problem !== undefined) throw new FileError('', problem);
    return files;
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw new FileError('', `this is not ${what}, or it is cut off or damaged`);
  }
}

/** The files in a zip, with plain paths that lead nowhere out of it. Throws a {@link FileError}. */
export function filesOfZip(bytes: Uint8Array): { path: string; bytes: Uint8Array }[] {
  const files = unzipLimited(
    bytes,
    (name) => !name.endsWith('/'),
    () => ZIP_LIMITS.bytes,
    'a zip file',
  );
  return Object.entries(files).flatMap(([name, content]) => {
    const path = cleanPath(name);
    return path === undefined || path === '' ? [] : [{ path, bytes: content }];
  });
}
