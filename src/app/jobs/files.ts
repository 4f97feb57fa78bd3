import { safeName } from '../../core/formats/safeName';
import type { SoundFormat } from '../../core/formats/exportSound';
import { samplesIn } from '../../core/rig/defaults';
import { writeSection } from '../../core/rig/edits/carry';
import { clipOf, clipOfSound, readSection, type SectionFile } from '../../core/rig/edits/clip';
import { writeChain } from '../../core/rig/edits/chains';
import { playable } from '../../core/rig/takes';
import type { EffectSpec, Patch, PatchTake, Rig, Sound } from '../../core/rig/schema';
import { session } from '../sound/session';
import { addBigRig, addRig, openDemo } from '../document/rigs';
import { keepSample, keepTake, rawRig, type KeptPart } from '../document/storage/database';
import { notice, store } from '../document/store';
import { midiFiles } from './takesThere';
import { download, working } from './working';

/** What reads and writes archives comes when the first is read or written. */
const archives = () => import('../document/storage/archive');

/** Archives from this size on are read where they lie, bit by bit. */
const BIG = 48 * 2 ** 20;

/**
 * Reads a dropped or chosen file: a rig archive opens, a MIDI file becomes the take. A damaged file changes nothing.
 */
export async function importFile(file: File): Promise<boolean> {
  if (/\.midi?$/i.test(file.name)) {
    return working(`Reading ${file.name}`, async () => {
      const bytes = new Uint8Array(await file.arrayBuffer());
      session.takes.load((await midiFiles()).readTake(bytes, file.name));
      const { rig } = store.getState().rig;
      const patchId = session.shownPatchId;
      if (rig && patchId) await keepTake(rig.id, patchId, file.name, bytes);
    });
  }
  if (/\.zip$/i.test(file.name) && !(await (await archives()).isRigArchive(file))) {
    const { bringInDropped } = await import('./bringIn');
    await bringInDropped([{ file, path: file.name }]);
    return true;
  }
  return working(`Import of ${file.name}`, async () => {
    if (file.size > BIG) {
      const { openBig } = await import('../document/storage/bigArchive');
      await addBigRig(await openBig(file));
      return;
    }
    const archive = await (await archives()).openArchive(file);
    const rig = await addRig(archive);
    store.dispatch(
      notice(
        'info',
        `“${rig.name}” is open beside your other rigs: ${rig.patches.length} patches, ${rig.samples.length} samples.`,
      ),
    );
  });
}

/** A rig that cannot be opened, as it is, with what samples of it are there: for whoever can mend it. */
export const exportRaw = (id: string): Promise<boolean> =>
  working('Export', async () =>
    download(await (await archives()).rawArchive(await rawRig(id)), 'damaged rig.wavicle', 'application/zip'),
  );

export async function exportRig(): Promise<void> {
  const { rig } = store.getState().rig;
  if (rig) await exportRigAs(rig);
}

/** Any rig as a file. */
export const exportRigAs = (rig: Rig): Promise<boolean> =>
  working('Export', async () =>
    download(await (await archives()).makeArchive(rig), `${rig.name}.wavicle`, 'application/zip'),
  );

/** A chain of effects as a file. */
export const exportChain = (name: string, effects: readonly EffectSpec[]): void =>
  download(new TextEncoder().encode(writeChain(name, effects)), `${safeName(name)}.json`, 'application/json');

/** Values of a layer as a file. */
export const exportSection = (section: SectionFile): void =>
  download(new TextEncoder().encode(writeSection(section)), `${section.name}.json`, 'application/json');

/**
 * What a file holds to be used again: the first patch of a rig, or a sound alone (their samples are kept), or values of
 * a layer. Undefined, and told, where it cannot be read.
 */
export async function readPartFile(file: File): Promise<Omit<KeptPart, 'id' | 'at'> | undefined> {
  let part: Omit<KeptPart, 'id' | 'at'> | undefined;
  await working(`Reading “${file.name}”`, async () => {
    if (/\.json$/i.test(file.name)) {
      part = { kind: 'section', ...readSection(await file.text()) };
      return;
    }
    const { rig, wavs } = await (await archives()).openArchive(file);
    const [patch] = rig.patches;
    const [sound] = rig.sounds;
    const layers = patch?.layers ?? [];
    if (layers.length === 0 && !sound) throw new Error('there is neither a layer nor a sound in it');
    for (const [id, bytes] of wavs) await keepSample(id, bytes);
    if (layers.length === 0) part = { kind: 'sound', name: sound.name, clip: clipOfSound(rig, sound) };
    else {
      const isGroup = patch.groups.length === 1 && layers.every(({ groupId }) => groupId !== null);
      part = {
        kind: isGroup ? 'group' : layers.length > 1 ? 'patch' : 'layer',
        name: patch.name,
        clip: clipOf(
          rig,
          patch,
          layers.map(({ id }) => id),
          patch.name,
        ),
      };
    }
  });
  return part;
}

export const addDemo = (): Promise<boolean> => working('Opening the demo rig', () => openDemo());
/** Harbour Store as a rig of its own. */
export const addStore = (): Promise<boolean> => working('Opening Harbour Store', () => openDemo('store'));

/** A sound in an open format, as one zip of all its files. What the format has no words for is told. */
export async function exportSoundFiles(
  sound: Sound,
  format: SoundFormat,
  before: readonly { what: string; count: number }[] = [],
): Promise<void> {
  const { rig } = store.getState().rig;
  if (!rig) return;
  await working(`Sending out “${sound.name}”`, async () => {
    const wavs = new Map<string, Uint8Array>();
    for (const id of samplesIn(sound)) {
      const bytes = await session.wavOf(id);
      if (!bytes)
        throw new Error(
          `the sample “${rig.samples.find((sample) => sample.id === id)?.name ?? id}” is missing from this browser`,
        );
      wavs.set(id, bytes);
    }
    const [{ exportSound }, { packed }] = await Promise.all([import('../../core/formats/exportSound'), archives()]);
    const { files, notCarried } = await exportSound(sound, rig.samples, (id) => wavs.get(id)!, format);
    if (files.length === 1) download(files[0].bytes, files[0].path, 'application/octet-stream');
    else download(packed(files), `${safeName(sound.name)} ${format}.zip`, 'application/zip');
    const lost = [...before, ...notCarried]
      .map(({ what, count }) => `${what}${count > 1 ? ` (${count})` : ''}`)
      .join(', ');
    store.dispatch(
      notice(
        'info',
        lost
          ? `“${sound.name}” is out, without what ${format.toUpperCase()} has no words for: ${lost}.`
          : `“${sound.name}” is out with ${files.length === 1 ? 'one file' : `${files.length} files`}, nothing left behind.`,
      ),
    );
  });
}

/** A patch as one sound, as far as zones can say what its layers do. */
export async function exportPatchFiles(rig: Rig, patch: Patch, format: SoundFormat): Promise<void> {
  await working(`Sending out “${patch.name}”`, async () => {
    const { flattened } = await import('../../core/formats/flatten');
    const { sound, notCarried } = flattened(rig, patch);
    if (sound.zones.length === 0) throw new Error('none of its layers has a zone that sounds');
    await exportSoundFiles(sound, format, notCarried);
  });
}

/** A take of a patch as a MIDI file of several tracks' notes in one: what the hands and the parts play. */
export async function exportTake(patch: Patch, take: PatchTake): Promise<void> {
  const played = playable({ ...take, parts: take.parts.map((part) => ({ ...part, on: true })) }, patch.tempo, () => 0);
  const { writeTake } = await midiFiles();
  download(writeTake(played, patch.tempo), `${safeName(take.name)}.mid`, 'audio/midi');
}
