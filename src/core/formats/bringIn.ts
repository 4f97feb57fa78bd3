import type { PlanFile } from '../mapping/planModel';
import { levelsOf, type Levels } from '../measure/level';
import { LONGEST_NAME, type Sample, type Zone } from '../rig/schema';
import type { AudioFile } from './audioFile';
import { cleanPath, plainPath, readSfzText } from './sfzText';
import { readSfz, type NotCarried, type SfzSample } from './sfzRead';

/** A file brought in: what a plan wants to know of it, the sample it would be in a rig, and its levels. */
export interface BroughtFile { plan: PlanFile; sample: Sample; levels: Levels; warnings: string[] }

/** Looks a file over. `path` inside what was brought in, `sampleId` the hash of the WAV that is kept. */
export function lookOver(file: AudioFile, path: string, sampleId: string): BroughtFile {
  const { audio, root, tuneCents, loop, range, warnings } = file;
  const frames = audio.data.length / audio.channels;
  const levels = levelsOf(audio);
  return {
    levels,
    warnings: baseName(path).length > LONGEST_NAME ? [...warnings, `its name is longer than ${LONGEST_NAME} characters and was cut`] : warnings,
    sample: { id: sampleId, name: shortened(baseName(path)), rate: audio.rate, channels: audio.channels, frames },
    plan: { path, sampleId, frames, levelDb: levels.lufs, root, tuneCents, loop, range },
  };
}

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

/** The paths of all samples that an SFZ file names, each once. Throws a FileError. */
export function samplePathsOf(text: string, name: string, include: (path: string) => string | undefined): string[] {
  const paths = new Set<string>();
  let folder = '';
  readSfzText(text, name, include, {
    control: (opcodes) => { folder = opcodes.take('default_path') ?? ''; },
    region: (opcodes) => {
      const path = opcodes.take('sample');
      const clean = path && !path.startsWith('*') ? plainPath(folder.replaceAll('\\', '/') + path) : undefined;
      if (clean !== undefined) paths.add(clean);
    },
  });
  return [...paths];
}

/** A sound made of files: its zones, the samples it needs, and what was left. */
export interface BroughtSound { name: string; zones: Zone[]; samples: Sample[]; notCarried: NotCarried[]; warnings: string[] }

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

/** An SFZ file as a sound, its samples having been looked over. Throws a FileError. */
export function bringSfz(text: string, name: string, include: (path: string) => string | undefined, fileOf: (path: string) => BroughtFile | undefined): BroughtSound {
  const used = new Map<string, Sample>();
  const sampleOf = (path: string): SfzSample | undefined => {
    const file = fileOf(path);
    if (!file) return undefined;
    used.set(file.sample.id, file.sample);
    const { sampleId, frames, root, tuneCents, loop } = file.plan;
    return { sampleId, frames, root, tuneCents, loop };
  };
  const { zones, notCarried, warnings } = readSfz(text, name, include, sampleOf);
  const needed = new Set(zones.map((zone) => zone.sampleId));
  return { name: shortened(stemOf(name)), zones, samples: [...used.values()].filter((sample) => needed.has(sample.id)), notCarried, warnings };
}
