import { nanoid } from '@reduxjs/toolkit';
import { loudnessGainDb } from '../../core/measure/level';
import { baseName } from '../../core/formats/folder';
import { answersNearMiddleC } from '../../core/rig/answering';
import { newSound, newZone, plainLoop, samplesIn } from '../../core/rig/defaults';
import type { Putting } from '../../core/rig/edits/put';
import type { BroughtFile } from '../../core/formats/bringIn';
import type { Rig, Sample, Sound, Zone } from '../../core/rig/schema';
import { droppedFiles } from '../document/droppedFiles';
import { soundLab } from '../document/soundLab';
import type { Candidate } from '../listening/trying';
import { listRigs, loadRig } from '../document/storage/database';
import { Tray } from './tray';

const samplesFor = (sound: Sound, rig: Rig): Sample[] => {
  const used = new Set(samplesIn(sound));
  return rig.samples.filter(({ id }) => used.has(id));
};
export const candidatesOf = (rig: Rig, own: boolean): Candidate[] =>
  rig.sounds.map((sound) => ({
    key: `${rig.id}/${sound.id}`,
    name: sound.name,
    from: own ? '' : rig.name,
    sound,
    samples: samplesFor(sound, rig),
  }));

/** The sounds of the other rigs in this browser; those that cannot be read are passed over. */
export async function othersCandidates(rigId: string): Promise<Candidate[]> {
  const entries = (await listRigs()).filter(({ id }) => id !== rigId);
  const rigs = await Promise.all(entries.map(({ id }) => loadRig(id).catch(() => undefined)));
  return rigs.flatMap((rig) => (rig ? candidatesOf(rig, false) : []));
}

/**
 * What a chosen folder has to try: instruments that come as such (SFZ, SoundFont), and otherwise each audio file as a
 * sound over all keys, at its own pitch where it tells its root. Zips are opened.
 * Gives also what could not be read. Of the rig nothing is touched.
 */
export async function folderCandidates(event: Event): Promise<{ found: Candidate[]; problems: string[] }> {
  const read = new Tray();
  const dropped = await droppedFiles(event);
  await read.add(dropped.slice(0, MOST_FILES));
  const candidate = (path: string, name: string, zones: Zone[], samples: Sample[]): Candidate => ({
    key: `file/${path}/${name}`,
    name,
    from: [read.name, path.split('/').slice(0, -1).join('/')].filter(Boolean).join('/') || 'file',
    sound: newSound(`file-${nanoid(12)}`, name, zones),
    samples,
  });
  const instruments = read.sounds
    .filter(({ zones }) => zones.length > 0)
    .map(({ file, name, zones, samples }) => candidate(file, name, zones, samples));
  const files = read.ready.map(({ path, brought }) =>
    candidate(path, nameOfFile(path), zonesOfFile(brought), [brought.sample]),
  );
  return {
    found: [...instruments, ...files],
    problems: [
      ...read.problems,
      ...read.files.flatMap(({ path, problem }) => (problem ? [`${path}: ${problem}`] : [])),
      ...(dropped.length > MOST_FILES
        ? [`only the first ${MOST_FILES} of ${dropped.length} files were looked at`]
        : []),
    ],
  };
}
const MOST_FILES = 2000;

const nameOfFile = (path: string): string => baseName(path).replace(/\.\w+$/, '');

/** One recording over all keys, at its own pitch where it tells its root. */
function zonesOfFile({ sample, plan }: BroughtFile): Zone[] {
  const zone = newZone(sample.id, plan.root ?? 60);
  return [{ ...zone, key: { ...zone.key, low: 0, high: 127 }, loop: plainLoop(plan.loop) }];
}

/**
 * A file that was read, as something that can be put in one place: alone, whatever other files its name belongs with.
 */
export const puttingOf = (path: string, brought: BroughtFile): Putting => ({
  name: nameOfFile(path),
  sound: newSound(`file-${nanoid(12)}`, nameOfFile(path), zonesOfFile(brought)),
  samples: [brought.sample],
});

/**
 * dB that a sound needs to be as loud as the common measure, by what answers a strike near middle C; null where nothing
 * does.
 */
async function gainFor({ zones }: Sound): Promise<number | null> {
  const answers = answersNearMiddleC(zones, 100);
  if (!answers) return null;
  return loudnessGainDb(await soundLab.levels(answers.zones[0].sampleId)) - answers.zones[0].gain;
}

/** How much louder or softer a candidate must be to stand in for a sound. */
export async function levelBetween(now: Sound | undefined, next: Sound): Promise<number> {
  if (!now) return 0;
  const [a, b] = await Promise.all([gainFor(now), gainFor(next)].map((each) => each.catch(() => null)));
  return a === null || b === null ? 0 : Math.max(-24, Math.min(24, b - a));
}
