import { FileError } from '../../../core/formats/fileError';
import { pathOfSample, writeArchive, type Archive } from '../../../core/formats/rigArchive';
import type { Rig } from '../../../core/rig/schema';
import { strToU8, zipSync } from 'fflate';
import { sampleBytes } from './demoSamples';

/** Files in a zip, as they are. */
export const packed = (files: readonly { path: string; bytes: Uint8Array }[]): Uint8Array =>
  zipSync(
    Object.fromEntries(files.map(({ path, bytes }) => [path, [bytes, { level: 0 }] as [Uint8Array, { level: 0 }]])),
  );

/** The workers that read files are fetched when there is one to read. */
const lab = async () => (await import('../soundLab')).soundLab;

/**
 * Reads an archive away from the page, where it can be stopped, and holds every sample against its hash, so that
 * nothing damaged comes in. Rejects with what is wrong and where.
 */
export const openArchive = async (file: Blob): Promise<Archive> => (await lab()).ask({ type: 'archive', file });
/** Whether a zip is a rig archive; other zips hold sounds. */
export const isRigArchive = async (file: Blob): Promise<boolean> => (await lab()).ask({ type: 'isArchive', file });

/** The archive of a rig with every sample it holds. Throws a FileError when one cannot be found. */
export async function makeArchive(rig: Rig): Promise<Uint8Array> {
  const wavs = new Map<string, Uint8Array>();
  for (const sample of rig.samples) {
    const bytes = await sampleBytes(sample.id);
    if (!bytes) throw new FileError(pathOfSample(sample), `is missing from this browser ("${sample.name}")`);
    wavs.set(sample.id, bytes);
  }
  return writeArchive(rig, (id) => wavs.get(id)!);
}

/** Whatever is kept of a rig that cannot be read, as it is, with those of its samples that are there. */
export async function rawArchive(stored: unknown): Promise<Uint8Array> {
  const files: Record<string, [Uint8Array, { level: 0 | 6 }]> = {
    'rig.json': [strToU8(JSON.stringify(stored, null, 1)), { level: 6 }],
  };
  const { samples } = (stored ?? {}) as { samples?: unknown };
  for (const sample of Array.isArray(samples) ? (samples as unknown[]) : []) {
    const id = String((sample as { id?: unknown } | null)?.id);
    const bytes = await sampleBytes(id);
    if (bytes) files[`samples/${id}.wav`] = [bytes, { level: 0 }];
  }
  return zipSync(files);
}
