import type { Archive } from '../core/formats/rigArchive';
import { zipSync } from 'fflate';
import { exportSound, safeName } from '../core/formats/exportSound';
import type { Sound } from '../core/rig/schema';
import { readTake } from '../core/formats/midiFile';
import type { Take } from '../core/music/take';
import { session } from './session';
import { makeArchive, openArchive } from './storage/archive';
import { loadCurrentRig, saveArchive } from './storage/database';
import { rigSlice } from './state/rigSlice';
import { notice, store } from './state/store';
import { uiSlice } from './state/uiSlice';

/** Says what goes on while something long runs, and what went wrong. Gives whether it went well. */
async function working(what: string, task: () => Promise<void>): Promise<boolean> {
  store.dispatch(uiSlice.actions.busySet(what));
  try {
    await task();
    return true;
  } catch (error) {
    store.dispatch(notice('problem', `${what} failed: ${error instanceof Error ? error.message : String(error)}`));
    return false;
  } finally {
    store.dispatch(uiSlice.actions.busySet(null));
  }
}

export async function fetchDemo(): Promise<Archive> {
  const response = await fetch('/demo/perigee-tide.wavicle');
  if (!response.ok) throw new Error('the demo rig is not on the server; start it with “npm start”');
  return openArchive(new Uint8Array(await response.arrayBuffer()));
}

let release: (() => void) | undefined;
let heldId: string | undefined;

/**
 * Claims a rig for this tab. When another tab has it, this one opens it read-only, and takes over as soon as the other is closed.
 */
export async function holdRig(rigId: string): Promise<void> {
  if (heldId === rigId) return;
  release?.();
  heldId = rigId;
  const name = `wavicle-rig-${rigId}`;
  const held = () => new Promise<void>((resolve) => { release = resolve; });
  const claimed = await new Promise<boolean>((resolve) => {
    void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      return lock ? held() : undefined;
    });
  });
  store.dispatch(rigSlice.actions.readOnlyChanged(!claimed));
  if (claimed) return;
  void navigator.locks.request(name, async () => {
    if (heldId !== rigId) return;
    const rig = await loadCurrentRig();
    store.dispatch(rigSlice.actions.readOnlyChanged(false));
    if (rig?.id === rigId) store.dispatch(rigSlice.actions.opened(rig));
    store.dispatch(notice('info', 'The other tab was closed: this one can edit now.'));
    await held();
  });
}

/** Opens an archive in place of the present rig; it is stored first, all or nothing, unless another tab holds it. */
export async function openRig(archive: Archive): Promise<void> {
  const before = heldId;
  await holdRig(archive.rig.id);
  try {
    if (!store.getState().rig.readOnly) await saveArchive(archive);
  } catch (error) {
    if (before !== undefined) await holdRig(before);
    throw error;
  }
  store.dispatch(rigSlice.actions.opened(archive.rig));
}

/** Reads a dropped or chosen file: a rig archive opens, a MIDI file becomes the take. A damaged file changes nothing. */
export async function importFile(file: File): Promise<boolean> {
  if (/\.midi?$/i.test(file.name)) {
    return working(`Reading ${file.name}`, async () => session.takes.load(readTake(new Uint8Array(await file.arrayBuffer()), file.name)));
  }
  return working(`Import of ${file.name}`, async () => {
    const archive = await openArchive(new Uint8Array(await file.arrayBuffer()));
    await openRig(archive);
    store.dispatch(notice('info', `“${archive.rig.name}” is open: ${archive.rig.patches.length} patches, ${archive.rig.samples.length} samples.`));
  });
}

export async function exportRig(): Promise<void> {
  const { rig } = store.getState().rig;
  if (!rig) return;
  await working('Export', async () => download(await makeArchive(rig), `${rig.name}.wavicle`, 'application/zip'));
}

export const reopenDemo = (): Promise<boolean> => working('Opening the demo rig', async () => openRig(await fetchDemo()));

/** A sound in an open format, as one zip of all its files. What the format has no words for is told. */
export async function exportSoundFiles(sound: Sound, format: 'sfz' | 'wav'): Promise<void> {
  const { rig } = store.getState().rig;
  if (!rig) return;
  await working(`Sending out “${sound.name}”`, async () => {
    const wavs = new Map<string, Uint8Array>();
    for (const id of new Set(sound.zones.map((zone) => zone.sampleId))) {
      const bytes = await session.wavOf(id);
      if (!bytes) throw new Error(`the sample “${rig.samples.find((sample) => sample.id === id)?.name ?? id}” is missing from this browser`);
      wavs.set(id, bytes);
    }
    const { files, notCarried } = exportSound(sound, rig.samples, (id) => wavs.get(id)!, format);
    const zip = zipSync(Object.fromEntries(files.map(({ path, bytes }) => [path, [bytes, { level: 0 }] as [Uint8Array, { level: 0 }]])));
    download(zip, `${safeName(sound.name)} ${format}.zip`, 'application/zip');
    const lost = notCarried.map(({ what, count }) => `${what}${count > 1 ? ` (${count} zones)` : ''}`).join(', ');
    store.dispatch(notice('info', lost ? `“${sound.name}” is out, without what ${format.toUpperCase()} has no words for: ${lost}.` : `“${sound.name}” is out with ${files.length} files, nothing left behind.`));
  });
}

function download(bytes: Uint8Array, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes.slice()], { type }));
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** The takes that ship with the application, by the id of the patch they show. */
export async function fetchTakes(): Promise<Map<string, Take>> {
  const names = (await (await fetch('/demo/takes.json')).json()) as string[];
  const takes = await Promise.all(names.map(async (name) => {
    const bytes = new Uint8Array(await (await fetch(`/demo/takes/${name}`)).arrayBuffer());
    const id = name.replace('.mid', '');
    return [id, readTake(bytes, id.replaceAll('-', ' '))] as const;
  }));
  return new Map(takes);
}
