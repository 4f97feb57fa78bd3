import { zipSync, strFromU8, strToU8 } from 'fflate';
import { readRigText, RigError } from '../rig/read';
import type { Rig, Sample } from '../rig/schema';
import { FileError } from './fileError';
import { unzipLimited } from './zip';

/** Where a sample lies in the archive; its id is the hash of that file's bytes. */
export const pathOfSample = (sample: Sample): string => `samples/${sample.id}.wav`;

/**
 * The archive of a rig: `rig.json` and its samples, stored as they are (sampled audio hardly shrinks, and this way
 * nothing waits).
 */
export function writeArchive(rig: Rig, wavOf: (sampleId: string) => Uint8Array): Uint8Array {
  const files: Record<string, [Uint8Array, { level: 0 | 6; mtime: string }]> = {};
  const mtime = '2026-01-01T00:00:00';
  files['rig.json'] = [strToU8(JSON.stringify(rig, null, 1)), { level: 6, mtime }];
  for (const sample of rig.samples) files[pathOfSample(sample)] = [wavOf(sample.id), { level: 0, mtime }];
  return zipSync(files);
}

/** Whether a zip is a rig archive; other zips hold sounds. */
export function isRigArchive(bytes: Uint8Array): boolean {
  try {
    return unzip(bytes, (name) => name === 'rig.json')['rig.json'] !== undefined;
  } catch {
    return false;
  }
}

/** The rig in an archive, without its samples. Throws a {@link FileError} that says what is wrong and where. */
export function readArchiveRig(bytes: Uint8Array): Rig {
  const json = unzip(bytes, (name) => name === 'rig.json')['rig.json'];
  if (!json) throw new FileError('rig.json', 'is missing: this zip is not a rig archive');
  try {
    return readRigText(strFromU8(json));
  } catch (error) {
    if (error instanceof RigError) throw new FileError('rig.json', error.message);
    throw error;
  }
}

export interface Archive {
  rig: Rig;
  wavs: Map<string, Uint8Array>;
}

/**
 * A whole archive: the rig, and the WAV bytes of each sample by its id. Every sample must be there. Throws a {@link
 * FileError}.
 */
export function readArchive(bytes: Uint8Array): Archive {
  const rig = readArchiveRig(bytes);
  const wanted = new Map(rig.samples.map((sample) => [pathOfSample(sample), sample]));
  const found = unzip(bytes, (name) => wanted.has(name));
  const wavs = new Map<string, Uint8Array>();
  for (const [path, sample] of wanted) {
    if (!found[path]) throw new FileError(path, `is missing ("${sample.name}")`);
    wavs.set(sample.id, found[path]);
  }
  return { rig, wavs };
}

/** No single file of an honest archive is larger, and no description of a rig. */
const LARGEST_FILE = 2 ** 30;
const LARGEST_RIG = 2 ** 26;

const unzip = (bytes: Uint8Array, wanted: (name: string) => boolean): Record<string, Uint8Array> =>
  unzipLimited(bytes, wanted, (name) => (name === 'rig.json' ? LARGEST_RIG : LARGEST_FILE), 'a rig archive');
