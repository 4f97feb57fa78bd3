import { Hired } from '../document/hired';
import { patchesOfShow } from '../../core/check/loudness';
import { compile, contextOf } from '../../core/engine/program/compile';
import type { TakeFormat } from '../../core/formats/takeFiles';
import { safeName } from '../../core/formats/safeName';
import type { Take } from '../../core/music/take';
import { mergePatches, onlyUsed, type Merged } from '../../core/rig/edits/merge';
import { handsTake, playable } from '../../core/rig/takes';
import type { Patch, Rig } from '../../core/rig/schema';
import type { TakeApi, TakeJob } from '../../workers/takeWorker';
import { exportRigAs } from './files';
import { download } from './working';
import { fetchTakes } from './takesThere';
import { session } from '../sound/session';
import { edit, newId, store } from '../document/store';
import { keepSample } from '../document/storage/database';

/** What the hands play in a take of a patch; the one before the players where it has none of its own. */
export function takeToWrite(patch: Patch, takeId: string | null): Take | null {
  const own = patch.takes.find(({ id }) => id === takeId);
  if (!own) return session.takes.take;
  const played = playable(own, patch.tempo, (part) => (part.plays === 'patch' ? 0 : 1));
  return { ...played, name: own.name, events: played.events.filter(({ to }) => !to) };
}

/** Renders takes into files, one patch after another. */
class TakeWriting {
  share: number | null = null;
  what = '';
  private worker: Hired<TakeApi> | null = null;
  private run = 0;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private go(share: number | null, what = this.what): void {
    this.share = share;
    this.what = what;
    for (const listener of this.listeners) listener();
  }

  cancel(): void {
    this.run++;
    this.worker?.end();
    this.worker = null;
    this.go(null);
  }

  /** Gives the number of files that went out; throws what is wrong. */
  async write(
    rig: Rig,
    takes: readonly { patch: Patch; name: string; take: Pick<Take, 'seconds' | 'events'> }[],
    format: TakeFormat,
    stems: boolean,
    name: string,
  ): Promise<number> {
    this.cancel();
    const run = this.run;
    const files: { path: string; bytes: Uint8Array }[] = [];
    try {
      for (const [n, each] of takes.entries()) {
        this.go(n / takes.length, each.name);
        const program = compile(each.patch, contextOf(rig));
        const samples = await session.samples.preparedFor(program.samples);
        if (run !== this.run) return 0;
        const made = await this.render(
          {
            rig: { ...rig, patches: [each.patch], setlists: [], setlist: null },
            patch: each.patch,
            name: each.name,
            take: each.take,
            samples,
            format,
            stems,
          },
          (share) => this.go((n + share) / takes.length),
        );
        if (run !== this.run) return 0;
        files.push(
          ...(takes.length > 1 && stems
            ? made.map((file) => ({ ...file, path: `${safeName(each.name)}/${file.path}` }))
            : made),
        );
      }
      if (files.length === 1) download(files[0].bytes, files[0].path, format === 'flac' ? 'audio/flac' : 'audio/wav');
      else {
        const { packed } = await import('../document/storage/archive');
        download(packed(files), `${safeName(name)}.zip`, 'application/zip');
      }
      return files.length;
    } catch (error) {
      // What was given up is no fault.
      if (run !== this.run) return 0;
      throw error;
    } finally {
      if (run === this.run) this.go(null);
    }
  }

  private async render(job: TakeJob, told: (share: number) => void): Promise<{ path: string; bytes: Uint8Array }[]> {
    const worker = new Hired<TakeApi>(
      new Worker(new URL('../../workers/takeWorker.ts', import.meta.url), { type: 'module' }),
    );
    this.worker = worker;
    try {
      return await worker.askTelling((api, heard) => api.write(job, heard), told);
    } finally {
      worker.end();
    }
  }
}

export const takeWriting = new TakeWriting();

/**
 * The takes of the setlist: of each patch its first, or the one that ships with it; patches without any are left out.
 */
export async function takesOfSetlist(rig: Rig): Promise<{ patch: Patch; name: string; take: Take }[]> {
  const shipped = await fetchTakes().catch(() => new Map<string, Take>());
  return patchesOfShow(rig).flatMap((patch, n) => {
    const take = handsTake(patch) ?? shipped.get(patch.id);
    return take ? [{ patch, take, name: `${String(n + 1).padStart(2, '0')} ${patch.name}` }] : [];
  });
}

/** The archive of a rig with nothing that no patch plays. */
export const exportUsed = (rig: Rig): Promise<boolean> => exportRigAs(onlyUsed(rig));

export interface OtherRig {
  rig: Rig;
  wavs: ReadonlyMap<string, Uint8Array>;
}

/** Reads an archive of which patches may be taken. Throws what is wrong with it. */
export async function readOther(file: File): Promise<OtherRig> {
  const { openArchive } = await import('../document/storage/archive');
  return openArchive(file);
}

/** Takes patches of another rig in, with their samples. Gives what came. */
export async function takeIn({ rig: other, wavs }: OtherRig, patchIds: readonly string[]): Promise<Merged> {
  const { rig } = store.getState().rig;
  const plan = mergePatches(rig!, other, patchIds, newId);
  const here = new Set(rig!.samples.map(({ id }) => id));
  for (const { id } of plan.rig.samples) if (!here.has(id)) await keepSample(id, wavs.get(id)!);
  // The rig may have gone on meanwhile: what is merged is what there is now.
  let merged = plan;
  store.dispatch(
    edit((old) => {
      merged = mergePatches(old, other, patchIds, newId);
      return merged.rig;
    }),
  );
  return merged;
}
