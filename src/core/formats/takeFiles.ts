import type { Stems } from '../bounce/stems';
import { interleaved } from '../measure/level';
import { safeName } from './safeName';
import { writeFlac } from './flac';
import { writeWav } from './wav';

export type TakeFormat = 'wav' | 'flac';

/**
 * A rendered take as files: the whole, and its stems where they are wished, in 24 bits; stems that are only differences
 * keep 32-bit float as WAV, so that they sum without loss.
 */
export async function takeFiles(
  name: string,
  { whole, stems }: Stems,
  format: TakeFormat,
  withStems: boolean,
  rate: number,
): Promise<{ path: string; bytes: Uint8Array }[]> {
  const file = async (title: string, sound: { left: Float32Array; right: Float32Array }, exact: boolean) => {
    const audio = interleaved(sound.left, sound.right, rate);
    return {
      path: `${safeName(title)}.${format}`,
      bytes:
        format === 'flac' ? await writeFlac(audio, 24) : writeWav(audio, { encoding: exact ? 'float32' : 'pcm24' }),
    };
  };
  const files = [await file(name, whole, false)];
  if (withStems)
    for (const [n, stem] of stems.entries())
      files.push(await file(`${name} ${String(n + 1).padStart(2, '0')} ${stem.name}`, stem, true));
  return files;
}
