import { loudnessGainDb } from '../core/measure/level';
import { answersNearMiddleC } from '../core/formats/bringIn';
import { newSound, newZone, plainLoop } from '../core/rig/defaults';
import { addSamples } from '../core/rig/edits/zones';
import { updateLayer, updatePatch } from '../core/rig/edits/layers';
import type { Patch, Rig, Sample, Sound } from '../core/rig/schema';
import { droppedFiles } from './bringIn';
import { soundLab } from './soundLab';
import type { Candidate, Trying } from './state/trying';
import { listRigs, loadRig } from './storage/database';


export type { Candidate, Trying } from './state/trying';

const samplesFor = (sound: Sound, rig: Rig): Sample[] => { const used = new Set(sound.zones.map(({ sampleId }) => sampleId)); return rig.samples.filter(({ id }) => used.has(id)); };
export const candidatesOf = (rig: Rig, own: boolean): Candidate[] => rig.sounds.map((sound) => ({ key: `${rig.id}/${sound.id}`, name: sound.name, from: own ? '' : rig.name, sound, samples: samplesFor(sound, rig) }));

/** The sounds of the other rigs in this browser; those that cannot be read are passed over. */
export async function othersCandidates(rigId: string): Promise<Candidate[]> {
  const entries = (await listRigs()).filter(({ id }) => id !== rigId);
  const rigs = await Promise.all(entries.map(({ id }) => loadRig(id).catch(() => undefined)));
  return rigs.flatMap((rig) => (rig ? candidatesOf(rig, false) : []));
}

/** Each audio file of a chosen folder as a sound over all keys, at its own pitch where it tells its root. Gives also what could not be read. */
export async function folderCandidates(event: Event): Promise<{ found: Candidate[]; problems: string[] }> {
  const problems: string[] = [];
  const found: Candidate[] = [];
  for (const { file, path } of (await droppedFiles(event)).filter(({ path }) => /\.(wav|wave|flac|aiff?|aifc)$/i.test(path)).slice(0, MOST_FILES)) {
    try {
      const brought = await soundLab.ask({ type: 'look', file, path });
      if (brought === 'browser') continue;
      const zone = newZone(brought.sample.id, brought.plan.root ?? 60);
      const name = path.split('/').pop()!.replace(/\.\w+$/, '');
      found.push({ key: `file/${path}`, name, from: path.split('/').slice(0, -1).join('/') || 'file', sound: newSound(`file-${brought.sample.id.slice(0, 24)}`, name, [{ ...zone, key: { ...zone.key, low: 0, high: 127 }, loop: plainLoop(brought.plan.loop) }]), samples: [brought.sample] });
    } catch (error) {
      problems.push(`${path}: ${(error as Error).message}`);
    }
  }
  return { found, problems };
}
const MOST_FILES = 400;

/** dB that a sound needs to be as loud as the common measure, by what answers a strike near middle C; null where nothing does. */
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

/** The rig and the patch as they are heard while something is tried. */
export function asTried(rig: Rig, patch: Patch, { layerId, candidate, levelDb }: Trying): { rig: Rig; patch: Patch } {
  const sounds = rig.sounds.includes(candidate.sound) ? rig.sounds : [...rig.sounds.filter(({ id }) => id !== candidate.sound.id), candidate.sound];
  return {
    rig: addSamples({ ...rig, sounds }, candidate.samples),
    patch: updateLayer(patch, layerId, (layer) => ({ ...layer, soundId: candidate.sound.id, list: [], params: { ...layer.params, level: Math.min(6, Math.max(-59, (layer.params.level ?? 0) + levelDb)) } })),
  };
}

/** The layer plays the candidate from now on: what the rig does not have comes in with it, under an id of its own. */
export function keepTried(rig: Rig, { patchId, layerId, candidate }: Trying, newId: string): Rig {
  const there = rig.sounds.find((sound) => sound === candidate.sound);
  const id = there ? there.id : rig.sounds.some((sound) => sound.id === candidate.sound.id) ? newId : candidate.sound.id;
  const withSound = there ? rig : addSamples({ ...rig, sounds: [...rig.sounds, { ...candidate.sound, id }] }, candidate.samples);
  return updatePatch(withSound, patchId, (patch) => updateLayer(patch, layerId, (layer) => ({ ...layer, soundId: id, list: [] })));
}
