import { sealOf } from '../../core/rig/seal';
import type { Rig } from '../../core/rig/schema';
import { working } from './working';
import { sampleBytes } from '../document/storage/demoSamples';
import { keepFile, loadFile, type KeptFile } from '../document/storage/database';
import { notice, store } from '../document/store';

interface Picker {
  showSaveFilePicker?: (options: object) => Promise<FileSystemFileHandle>;
}
type Permitted = FileSystemFileHandle & {
  queryPermission?: (options: object) => Promise<PermissionState>;
  requestPermission?: (options: object) => Promise<PermissionState>;
};

/**
 * The file that a rig is written to, chosen once and written again on *save* where the browser can; else each save is a
 * download.
 */
class RigFile {
  /** What is known of the file of the rig in view; null: there is none. */
  kept: KeptFile | null = null;
  /** Whether the rig has been edited since it was written to its file, or has never been. */
  isBehind = false;
  private rigId = '';
  private asked: Rig | null = null;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  start(): void {
    const follow = () => {
      const { rig } = store.getState().rig;
      if (!rig || rig === this.asked) return;
      this.asked = rig;
      void this.compare(rig);
    };
    follow();
    store.subscribe(follow);
  }

  private async compare(rig: Rig): Promise<void> {
    if (rig.id !== this.rigId) {
      this.rigId = rig.id;
      this.kept = null;
      this.kept = (await loadFile(rig.id).catch(() => undefined)) ?? null;
      this.tell();
    }
    clearTimeout(this.later);
    // Once hands rest: it costs a walk through the whole rig.
    this.later = setTimeout(() => {
      if (this.asked !== rig) return;
      const behind = this.kept ? sealOf(rig) !== this.kept.seal : store.getState().rig.past.length > 0;
      if (behind === this.isBehind) return;
      this.isBehind = behind;
      this.tell();
    }, COMPARE_MS);
  }
  private later: ReturnType<typeof setTimeout> | undefined;

  /** Writes the rig to its file; asks for one when there is none yet, or when another is wanted. */
  async save(another = false): Promise<void> {
    const { rig } = store.getState().rig;
    if (!rig) return;
    const picker = (window as Picker).showSaveFilePicker;
    if (!picker) {
      if (await (await import('./files')).exportRigAs(rig))
        await this.written(rig, { name: `${rig.name}.wavicle`, handle: null });
      return;
    }
    let handle = another ? null : (this.kept?.handle ?? null);
    if (!handle) {
      try {
        handle = await picker.call(window, {
          suggestedName: `${rig.name}.wavicle`,
          types: [{ description: 'Rig', accept: { 'application/zip': ['.wavicle'] } }],
        });
      } catch {
        // Nothing was chosen: nothing is written.
        return;
      }
    }
    const file = handle;
    const good = await working(`Writing ${file.name}`, async () => {
      if (!(await permitted(file))) throw new Error('the browser was not allowed to write to it');
      const { writeBig } = await import('../document/storage/bigArchive');
      const stream = await file.createWritable();
      try {
        await writeBig(rig, sampleBytes, stream as WritableStream<Uint8Array>);
      } catch (error) {
        // What was there before stays.
        await stream.abort().catch(() => undefined);
        throw error;
      }
    });
    if (good) {
      await this.written(rig, { name: file.name, handle: file });
      store.dispatch(notice('info', `“${rig.name}” is written to ${file.name}.`, 'file'));
    }
  }

  private async written(rig: Rig, { name, handle }: Pick<KeptFile, 'name' | 'handle'>): Promise<void> {
    const kept: KeptFile = { name, handle, at: Date.now(), seal: sealOf(rig) };
    // A handle that cannot be kept is asked for again next time.
    await keepFile(rig.id, kept)
      .catch(() => keepFile(rig.id, { ...kept, handle: null }))
      .catch(() => undefined);
    if (store.getState().rig.rig?.id !== rig.id) return;
    this.kept = kept;
    this.isBehind = store.getState().rig.rig !== rig;
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

const COMPARE_MS = 1200;

async function permitted(handle: Permitted): Promise<boolean> {
  if (!handle.queryPermission || (await handle.queryPermission({ mode: 'readwrite' })) === 'granted') return true;
  return (await handle.requestPermission?.({ mode: 'readwrite' })) === 'granted';
}

export const rigFile = new RigFile();
