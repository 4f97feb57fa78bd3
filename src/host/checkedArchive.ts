import { FileError } from '../core/formats/fileError';
import { pathOfSample, readArchive, type Archive } from '../core/formats/rigArchive';
import { readWavHeader } from '../core/formats/wav';
import { contentHash } from './contentHash';

/** Reads an archive and holds every sample against its hash, so that nothing damaged comes in. Throws a FileError. */
export async function checkedArchive(bytes: Uint8Array): Promise<Archive> {
  const archive = readArchive(bytes);
  for (const sample of archive.rig.samples) {
    const wav = archive.wavs.get(sample.id)!;
    if ((await contentHash(wav)) !== sample.id)
      throw new FileError(pathOfSample(sample), `is damaged ("${sample.name}": its content is not what the rig says)`);
    try {
      readWavHeader(wav);
    } catch (error) {
      throw new FileError(pathOfSample(sample), (error as Error).message);
    }
  }
  return archive;
}
