import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, extname, join, resolve } from 'node:path';
import { AUDIO_ENDINGS, joinedChannels, readAudioFile, type AudioFile } from '../core/formats/audioFile';
import { bringSoundFont } from '../core/formats/bringSoundFont';
import { bringSfz, lookOver, samplePathsOf, type BroughtFile, type BroughtSound } from '../core/formats/bringIn';
import { FolderIndex, folderOf, shortened, stemOf } from '../core/formats/folder';
import { filesOfZip } from '../core/formats/zip';
import { writeArchive } from '../core/formats/rigArchive';
import { FOLDER_MEANINGS, type FolderMeaning } from '../core/mapping/folders';
import { stereoPairs, type Recording } from '../core/mapping/stereoPairs';
import { layoutWithoutKeys, makePlan } from '../core/mapping/plan';
import { PLAN_DEFAULTS, LAYOUTS, type Layout, type PlanOptions } from '../core/mapping/planModel';
import { naturalCompare } from '../core/mapping/naturalOrder';
import { pitchOf } from '../core/measure/pitch';
import { parseKey, type MiddleC } from '../core/music/noteNames';
import { newPatch, newRig } from '../core/rig/defaults';
import { addLayer, updateLayer } from '../core/rig/edits/layers';
import { withPatchInShow } from '../core/rig/edits/patches';
import { paramsOfRows, zoneOfRow } from '../core/rig/edits/plans';
import { addSamples, addSound } from '../core/rig/edits/zones';
import { readRig } from '../core/rig/read';
import type { Layer, Rig } from '../core/rig/schema';
import { numberOption, readPaths, required } from './arguments';
import { Failure } from './failure';
import { readFile, writeFile } from './files';
import { MOST_CHOICES } from '../core/rig/limits';

const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const shortName = (path: string): string => basename(resolve(path));

/** What the import has come to so far. */
interface Work {
  sounds: (BroughtSound & { params?: Layer['params'] })[];
  wavs: Map<string, Uint8Array>;
  warnings: string[];
  options: PlanOptions;
  layoutGiven: boolean;
}

/**
 * `import PATH… --out RIG …`: folders of audio, SFZ, SoundFont and WAV files become sounds, each with a patch of its
 * own.
 */
export async function importFiles(args: string[]): Promise<unknown> {
  const { values, files } = readPaths(
    args,
    {
      out: { type: 'string' },
      layout: { type: 'string' },
      from: { type: 'string' },
      'middle-c': { type: 'string' },
      stretch: { type: 'boolean' },
      folders: { type: 'string' },
    },
    'PATH',
  );
  const out = required(values, 'out');
  const middleC = numberOption(values, 'middle-c', 3, 5, 4) as MiddleC;
  const layout = (values.layout as string | undefined) ?? 'names';
  const list = layout === 'list';
  if (!list && !(LAYOUTS as readonly string[]).includes(layout))
    throw new Failure(`--layout ${layout}: expected one of ${[...LAYOUTS, 'list'].join(', ')}`, 2);
  const folders = (values.folders as string | undefined) ?? 'auto';
  if (folders !== 'auto' && !(FOLDER_MEANINGS as readonly string[]).includes(folders))
    throw new Failure(`--folders ${folders}: expected one of ${FOLDER_MEANINGS.join(', ')}`, 2);
  const fromText = values.from as string | undefined;
  const from =
    fromText === undefined ? (layout === 'effects' || layout === 'kit' ? 36 : 60) : parseKey(fromText, middleC);
  if (from === undefined)
    throw new Failure(`--from ${fromText}: expected a number from 0 to 127 or a name such as F#3`, 2);
  const options: PlanOptions = {
    ...PLAN_DEFAULTS,
    layout: list ? 'names' : (layout as Layout),
    list,
    middleC,
    from,
    stretch: values.stretch ? 'nearest' : 'none',
    folders: folders as FolderMeaning | 'auto',
  };
  const work: Work = { sounds: [], wavs: new Map(), warnings: [], options, layoutGiven: values.layout !== undefined };
  for (const path of files) await bring(path, work);
  if (!work.sounds.some((sound) => sound.zones.length > 0))
    throw new Failure(`nothing could be brought in: ${work.warnings[0] ?? 'there is no audio in what was named'}`);
  const rig = rigOf(stemOf(shortName(out)), work);
  writeFile(
    out,
    writeArchive(rig, (id) => work.wavs.get(id)!),
  );
  return { sounds: rig.sounds.map(({ name, zones }) => ({ name, zones: zones.length })), warnings: work.warnings };
}

async function bring(path: string, work: Work): Promise<void> {
  let folder: boolean;
  try {
    folder = statSync(path).isDirectory();
  } catch {
    throw new Failure(`${path}: there is no such file or folder`);
  }
  if (folder) return bringFolder(path, work);
  if (/\.sfz$/i.test(path)) return bringSfzFile(join(path, '..'), basename(path), work);
  if (/\.sf2$/i.test(path)) {
    const { sounds, wavs } = await naming(path, () => bringSoundFont(readFile(path), hash));
    for (const sound of sounds) take(sound, basename(path), wavs, work);
    return undefined;
  }
  if (/\.zip$/i.test(path)) return bringZip(path, work);
  if (!AUDIO_ENDINGS.test(path))
    throw new Failure(
      `${path}: ${extname(path) || 'a file without an ending'} is not read here; audio (WAV, AIFF, FLAC), SFZ and SoundFont 2 are`,
    );
  return layOut(stemOf(basename(path)), join(path, '..'), [basename(path)], work);
}

/** A zip of sounds, such as an export, as the folder it is. */
async function bringZip(path: string, work: Work): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'wavicle-'));
  try {
    for (const { path: inside, bytes } of await naming(path, async () => filesOfZip(readFile(path)))) {
      mkdirSync(dirname(join(folder, inside)), { recursive: true });
      writeFileSync(join(folder, inside), bytes);
    }
    await bringFolder(folder, work, stemOf(basename(path)));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Every file below a folder, by its path inside; links that lead elsewhere are not followed. */
function pathsBelow(folder: string, inside = ''): string[] {
  return readdirSync(join(folder, inside), { withFileTypes: true }).flatMap((entry) => {
    const path = inside ? `${inside}/${entry.name}` : entry.name;
    if (entry.name.startsWith('.')) return [];
    return entry.isDirectory() ? pathsBelow(folder, path) : entry.isFile() ? [path] : [];
  });
}

async function bringFolder(folder: string, work: Work, name = shortName(folder)): Promise<void> {
  // One that cannot be read is told, and the rest comes in.
  const orTell = async (path: string, task: () => Promise<void>) => {
    try {
      await task();
    } catch (error) {
      work.warnings.push(`${path}: ${(error as Error).message.replace(`${join(folder, path)}: `, '')}; left out`);
    }
  };
  const paths = pathsBelow(folder);
  const sfzs = paths.filter((path) => /\.sfz$/i.test(path)).sort(naturalCompare);
  const banks = paths.filter((path) => /\.sf2$/i.test(path)).sort(naturalCompare);
  for (const path of sfzs) await orTell(path, () => bringSfzFile(folder, path, work));
  for (const path of banks) await orTell(path, () => bring(join(folder, path), work));
  const audio = paths.filter((path) => AUDIO_ENDINGS.test(path)).sort(naturalCompare);
  for (const path of paths.filter((each) => /\.(ogg|mp3|m4a)$/i.test(each)))
    work.warnings.push(`${path}: ${extname(path).slice(1).toUpperCase()} files are read in the browser only; left out`);
  // The audio beside an SFZ file is what that is made of.
  if (sfzs.length === 0 && audio.length > 0) await layOut(name, folder, audio, work);
  if (sfzs.length + banks.length + audio.length === 0)
    work.warnings.push(`${folder}: there is no audio in this folder`);
}

async function look(folder: string, path: string, work: Work): Promise<BroughtFile> {
  return keep(await readAudioFile(readFile(join(folder, path))), path, work);
}

/** One recording as one file, or its two channels where they are a pair after all. */
async function lookAtRecording(folder: string, { path, left, right }: Recording, work: Work): Promise<BroughtFile[]> {
  if (right === null) return [await look(folder, left, work)];
  const [first, second] = [
    await readAudioFile(readFile(join(folder, left))),
    await readAudioFile(readFile(join(folder, right))),
  ];
  const both = joinedChannels(first, second);
  return both ? [keep(both, path, work)] : [keep(first, left, work), keep(second, right, work)];
}

function keep(file: AudioFile, path: string, work: Work): BroughtFile {
  const id = hash(file.wav);
  work.wavs.set(id, file.wav);
  const brought = lookOver(file, path, id);
  work.warnings.push(...brought.warnings.map((warning) => `${path}: ${warning}`));
  if (work.options.layout === 'pitch' || work.options.list) brought.plan.pitch = pitchOf(file.audio);
  return brought;
}

async function layOut(name: string, folder: string, paths: readonly string[], work: Work): Promise<void> {
  const files: BroughtFile[] = [];
  for (const recording of stereoPairs(paths)) {
    try {
      files.push(...(await lookAtRecording(folder, recording, work)));
    } catch (error) {
      work.warnings.push(`${recording.path}: ${(error as Error).message}; left out`);
    }
  }
  if (files.length === 0) return;
  const plans = files.map((file) => file.plan);
  let plan = makePlan(plans, work.options);
  if (work.options.layout === 'names' && !work.layoutGiven && plan.rows.every((row) => !row.placed)) {
    const instead = layoutWithoutKeys(plans);
    plan = makePlan(plans, {
      ...work.options,
      ...instead,
      from: instead.layout === 'run' ? work.options.from : instead.from,
    });
    work.warnings.push(
      `${name}: ${plan.explanation.find((line) => line.includes('say nothing about keys') || line.includes('tell drums'))!}`,
    );
  }
  for (const row of plan.rows) if (!row.placed) work.warnings.push(`${plans[row.file].path}: ${row.problem}`);
  work.warnings.push(...plan.warnings.map((warning) => `${name}: ${warning}`));
  if (plan.folders) work.warnings.push(`${name}: ${plan.folders.explanation}`);
  for (const line of plan.explanation)
    if (line.includes('level follows velocity') || line.includes('its own root'))
      work.warnings.push(`${name}: ${line}`);
  (plan.sounds.length > 0 ? plan.sounds : [name]).forEach((called, sound) => {
    const rows = plan.rows.filter((row) => row.placed && row.sound === sound);
    work.sounds.push({
      name: shortened(called),
      zones: rows.map((row) => zoneOfRow(row, plans[row.file])),
      samples: rows.map((row) => files[row.file].sample),
      notCarried: [],
      warnings: [],
      params: paramsOfRows(rows),
    });
  });
}

async function bringSfzFile(folder: string, path: string, work: Work): Promise<void> {
  await naming(join(folder, path), async () => {
    const base = folderOf(path);
    const index = new FolderIndex(
      pathsBelow(folder).map((each) => [each, each] as const),
      base,
    );
    const include = (wanted: string) => {
      const found = index.find(wanted);
      return found === undefined ? undefined : textOf(join(folder, found));
    };
    const text = textOf(join(folder, path));
    const files = new Map<string, BroughtFile>();
    for (const wanted of samplePathsOf(text, basename(path), include)) {
      const found = index.find(wanted);
      if (found === undefined) continue;
      try {
        files.set(wanted, await look(folder, found, work));
      } catch (error) {
        work.warnings.push(`${found}: ${(error as Error).message}; its regions are left out`);
      }
    }
    take(
      bringSfz(text, basename(path), include, (wanted) => files.get(wanted)),
      basename(path),
      new Map(),
      work,
    );
  });
}

const textOf = (path: string): string => new TextDecoder().decode(readFile(path));

function take(sound: BroughtSound, file: string, wavs: ReadonlyMap<string, Uint8Array>, work: Work): void {
  for (const [id, bytes] of wavs) work.wavs.set(id, bytes);
  work.warnings.push(...sound.warnings.map((warning) => `${file}: ${warning}`));
  for (const { what, count } of sound.notCarried)
    work.warnings.push(`${file}: ${what} is not carried over (${count} ${count === 1 ? 'time' : 'times'})`);
  if (sound.zones.length > 0) work.sounds.push(sound);
}

async function naming<T>(path: string, read: () => Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    throw error instanceof Failure ? error : new Failure(`${path}: ${(error as Error).message}`);
  }
}

/** One sound and one patch each, or one patch that chooses among all of them, with ids that are the same every time. */
function rigOf(name: string, { sounds, options: { list } }: Work): Rig {
  let rig = newRig('imported', shortened(name) || 'Imported');
  sounds.forEach((sound, i) => {
    const id = `sound-${i + 1}`;
    rig = addSound(addSamples(rig, sound.samples), id, shortened(sound.name), sound.zones);
    if (list) return;
    const patch = addLayer(newPatch(`patch-${i + 1}`, shortened(sound.name)), 'layer-1', shortened(sound.name), id);
    rig = withPatchInShow(
      rig,
      updateLayer(patch, 'layer-1', (layer) => ({ ...layer, params: { ...layer.params, ...sound.params } })),
    );
  });
  if (list && sounds.length > 0) {
    const patch = addLayer(
      newPatch('patch-1', shortened(name) || 'Imported'),
      'layer-1',
      shortened(name) || 'Imported',
      'sound-1',
    );
    rig = withPatchInShow(
      rig,
      updateLayer(patch, 'layer-1', (layer) => ({
        ...layer,
        list: sounds.slice(0, MOST_CHOICES).map((_, i) => `sound-${i + 1}`),
      })),
    );
  }
  return readRig(rig);
}
