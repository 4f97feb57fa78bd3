import {
  BlobReader,
  configure,
  Uint8ArrayReader,
  Uint8ArrayWriter,
  ZipReader,
  ZipWriter,
  type FileEntry,
} from '@zip.js/zip.js';
import { FileError } from '../../../core/formats/fileError';
import { pathOfSample } from '../../../core/formats/rigArchive';
import { readRigText, RigError } from '../../../core/rig/read';
import type { Rig } from '../../../core/rig/schema';
import { contentHash } from '../../../host/contentHash';

configure({ useWebWorkers: false });

/** No description of a rig is larger. */
const LARGEST_RIG = 2 ** 26;

/** An archive that is read where it lies: its rig at once, each sample when it is asked for. */
export interface BigArchive {
  rig: Rig;
  sample(id: string): Promise<Uint8Array>;
}

/** Opens an archive without reading more of it than its list of files and the rig's text. Throws a FileError. */
export async function openBig(file: Blob): Promise<BigArchive> {
  let entries: FileEntry[];
  try {
    entries = (await new ZipReader(new BlobReader(file)).getEntries()).filter(
      (entry): entry is FileEntry => !entry.directory,
    );
  } catch {
    throw new FileError('', 'this is not a rig archive, or it is cut off or damaged');
  }
  const byName = new Map(entries.map((entry) => [entry.filename, entry]));
  const bytesOf = async (name: string): Promise<Uint8Array> => {
    try {
      return await byName.get(name)!.getData(new Uint8ArrayWriter());
    } catch {
      throw new FileError(name, 'is damaged');
    }
  };
  const text = byName.get('rig.json');
  if (!text) throw new FileError('rig.json', 'is missing: this zip is not a rig archive');
  if (text.uncompressedSize > LARGEST_RIG)
    throw new FileError('rig.json', `claims to be larger than ${LARGEST_RIG / 2 ** 20} MiB`);
  let rig: Rig;
  try {
    rig = readRigText(new TextDecoder().decode(await bytesOf('rig.json')));
  } catch (error) {
    if (error instanceof RigError) throw new FileError('rig.json', error.message);
    throw error;
  }
  const samples = new Map(rig.samples.map((sample) => [sample.id, sample]));
  for (const sample of rig.samples)
    if (!byName.has(pathOfSample(sample))) throw new FileError(pathOfSample(sample), `is missing ("${sample.name}")`);
  return {
    rig,
    async sample(id) {
      const sample = samples.get(id)!;
      const bytes = await bytesOf(pathOfSample(sample));
      if ((await contentHash(bytes)) !== id)
        throw new FileError(
          pathOfSample(sample),
          `is damaged ("${sample.name}": its content is not what the rig says)`,
        );
      return bytes;
    },
  };
}

/**
 * Writes the archive of a rig to a stream, one sample after another, so that no more than one is in memory. `sampleOf`
 * gives a sample's bytes. Throws a FileError when one is missing; then the stream is given up.
 */
export async function writeBig(
  rig: Rig,
  sampleOf: (id: string) => Promise<Uint8Array | undefined>,
  to: WritableStream<Uint8Array>,
): Promise<void> {
  const zip = new ZipWriter(to, { lastModDate: new Date('2026-01-01T00:00:00') });
  await zip.add('rig.json', new Uint8ArrayReader(new TextEncoder().encode(JSON.stringify(rig, null, 1))), { level: 6 });
  for (const sample of rig.samples) {
    const bytes = await sampleOf(sample.id);
    if (!bytes) throw new FileError(pathOfSample(sample), `is missing from this browser ("${sample.name}")`);
    await zip.add(pathOfSample(sample), new Uint8ArrayReader(bytes), { level: 0 });
  }
  await zip.close();
}
