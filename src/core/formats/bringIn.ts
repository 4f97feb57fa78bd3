import type { PlanFile } from '../mapping/planModel';
import { levelsOf, type Levels } from '../measure/level';
import type { Sample, Zone } from '../rig/schema';
import type { AudioFile } from './audioFile';
import { baseName, shortened, stemOf } from './folder';
import { plainPath } from './paths';
import { readSfzText } from './sfzText';
import { readSfz, type NotCarried } from './sfzRead';
import type { SfzSample } from './sfzZone';
import { LONGEST_NAME } from '../rig/limits';

/** A file brought in: what a plan wants to know of it, the sample it would be in a rig, and its levels. */
export interface BroughtFile {
  plan: PlanFile;
  sample: Sample;
  levels: Levels;
  warnings: string[];
}

/** Looks a file over. `path` inside what was brought in, `sampleId` the hash of the WAV that is kept. */
export function lookOver(file: AudioFile, path: string, sampleId: string): BroughtFile {
  const { audio, root, tuneCents, loop, range, warnings } = file;
  const frames = audio.data.length / audio.channels;
  const levels = levelsOf(audio);
  return {
    levels,
    warnings:
      baseName(path).length > LONGEST_NAME
        ? [...warnings, `its name is longer than ${LONGEST_NAME} characters and was cut`]
        : warnings,
    sample: { id: sampleId, name: shortened(baseName(path)), rate: audio.rate, channels: audio.channels, frames },
    plan: { path, sampleId, frames, levelDb: levels.lufs, root, tuneCents, loop, range },
  };
}

/** The paths of all samples that an SFZ file names, each once. Throws a FileError. */
export function samplePathsOf(text: string, name: string, include: (path: string) => string | undefined): string[] {
  const paths = new Set<string>();
  let folder = '';
  readSfzText(text, name, include, {
    control: (opcodes) => {
      folder = opcodes.take('default_path') ?? '';
    },
    region: (opcodes) => {
      const path = opcodes.take('sample');
      const clean = path && !path.startsWith('*') ? plainPath(folder.replaceAll('\\', '/') + path) : undefined;
      if (clean !== undefined) paths.add(clean);
    },
  });
  return [...paths];
}

/** A sound made of files: its zones, the samples it needs, and what was left. */
export interface BroughtSound {
  name: string;
  zones: Zone[];
  samples: Sample[];
  notCarried: NotCarried[];
  warnings: string[];
}

/** An SFZ file as a sound, its samples having been looked over. Throws a FileError. */
export function bringSfz(
  text: string,
  name: string,
  include: (path: string) => string | undefined,
  fileOf: (path: string) => BroughtFile | undefined,
): BroughtSound {
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
  return {
    name: shortened(stemOf(name)),
    zones,
    samples: [...used.values()].filter((sample) => needed.has(sample.id)),
    notCarried,
    warnings,
  };
}
