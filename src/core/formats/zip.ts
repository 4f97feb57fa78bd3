import { unzipSync } from 'fflate';
import { FileError } from './fileError';
import { cleanPath } from './sfzText';

/** No honest zip of sounds holds more. */
const LARGEST_ZIP = 2 ** 32;

/** The files in a zip, with plain paths that lead nowhere out of it. Throws a {@link FileError}. */
export function filesOfZip(bytes: Uint8Array): { path: string; bytes: Uint8Array }[] {
  let total = 0;
  let tooLarge = false;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        tooLarge ||= total > LARGEST_ZIP;
        return !tooLarge && !name.endsWith('/');
      },
    });
  } catch {
    throw new FileError('', 'this is not a zip file, or it is cut off or damaged');
  }
  if (tooLarge) throw new FileError('', 'claims to hold more than 4 GiB');
  return Object.entries(files).flatMap(([name, content]) => {
    const path = cleanPath(name);
    return path === undefined || path === '' ? [] : [{ path, bytes: content }];
  });
}
