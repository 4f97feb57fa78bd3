import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { flattened } from '../core/formats/flatten';
import { exportSound, SOUND_FORMATS, type SoundFormat } from '../core/formats/exportSound';
import { readArguments, required } from './arguments';
import { Failure } from './failure';
import { findNamed, findPatch, naming, readArchiveFile, writeFiles } from './files';

/**
 * `export RIG (--sound NAME | --patch NAME) --format sfz|sf2|wav|flac --out DIR`: a sound, or a patch as one sound, in
 * an open format with its samples.
 */
export async function exportFiles(args: string[]): Promise<unknown> {
  const { values, file } = readArguments(
    args,
    { sound: { type: 'string' }, patch: { type: 'string' }, format: { type: 'string' }, out: { type: 'string' } },
    'RIG',
  );
  const whole = values.patch as string | undefined;
  const name = whole === undefined ? required(values, 'sound') : '';
  const format = required(values, 'format');
  const out = required(values, 'out');
  if (!(SOUND_FORMATS as readonly string[]).includes(format))
    throw new Failure(`--format ${format}: expected ${SOUND_FORMATS.join(', ')}`, 2);
  const { rig, wavs } = readArchiveFile(file);
  const { sound, notCarried: before } =
    whole === undefined
      ? { sound: findNamed(rig.sounds, '--sound', 'sound', name), notCarried: [] }
      : naming(file, () => flattened(rig, findPatch(rig, whole)));
  const { files, notCarried } = await exportSound(
    sound,
    rig.samples,
    (id) => wavs.get(id)!,
    format as SoundFormat,
  ).catch((error: unknown) => {
    throw new Failure(`${file}: ${sound.name}: ${(error as Error).message}`);
  });
  try {
    for (const folder of new Set(files.map(({ path }) => dirname(join(out, path)))))
      mkdirSync(folder, { recursive: true });
  } catch (error) {
    throw new Failure(`${out}: the folder cannot be made (${(error as Error).message})`);
  }
  writeFiles(files.map(({ path, bytes }) => [join(out, path), bytes] as const));
  return { files: files.map(({ path }) => path), notCarried: [...before, ...notCarried] };
}
