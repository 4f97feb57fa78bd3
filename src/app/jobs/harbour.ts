import { soundPatch } from '../../core/rig/defaults';
import { mergePatches } from '../../core/rig/edits/merge';
import { put } from '../../core/rig/edits/put';
import type { Patch, Rig, Sound } from '../../core/rig/schema';
import { rigAtServer } from '../document/rigs';
import { edit, newId, notice, store } from '../document/store';
import { expectOffered, offerFromServer } from '../document/storage/demoSamples';
import type { Candidate } from '../listening/trying';
import { candidatesOf } from './candidates';
import { storeHeard } from './storeHeard';

/** Patches of the store of one family, in its order. */
export interface Family {
  name: string;
  patches: readonly Patch[];
}
export interface Harbour {
  rig: Rig;
  families: readonly Family[];
}

/** Keys that show what a family is, one after the other. */
const SHOWN: Readonly<Record<string, readonly number[]>> = {
  basses: [33, 40, 45],
  leads: [69, 76, 72],
  kits: [36, 42, 38, 46],
};
const PLAIN = [48, 60, 64, 67];

/**
 * The store: a rig at the server, read when it is first asked for. What is heard of it is played in the place of the
 * patch in view, by what shows it and by one's own hands, until it is taken or given back; nothing of it is in the rig
 * before that.
 */
class HarbourStore {
  private coming: Promise<Harbour> | null = null;

  /** Throws what a player can read where it is not there. */
  load(): Promise<Harbour> {
    this.coming ??= this.read().catch((error: unknown) => {
      this.coming = null;
      throw error;
    });
    return this.coming;
  }

  private async read(): Promise<Harbour> {
    const { rig } = await rigAtServer('store');
    const answer = await fetch('/store/families.json');
    const named = answer.ok ? ((await answer.json()) as { name: string; patches: string[] }[]) : [];
    offerFromServer(
      rig.samples.map(({ id }) => id),
      'store',
    );
    // Whatever way it takes into a rig, its samples belong to that from then on.
    let seen: Rig['samples'] | undefined;
    store.subscribe(() => {
      const samples = store.getState().rig.rig?.samples;
      if (samples === seen) return;
      seen = samples;
      expectOffered((samples ?? []).map(({ id }) => id));
    });
    const families = named.map(({ name, patches }) => ({
      name,
      patches: patches.flatMap((id) => rig.patches.find((patch) => patch.id === id) ?? []),
    }));
    return { rig, families };
  }

  /** Its sounds, for whoever browses. None where there is no store. */
  candidates = (): Promise<Candidate[]> =>
    this.load().then(
      ({ rig }) => candidatesOf(rig, false),
      () => [],
    );

  /** Puts a patch in the place of the one in view; gives the keys that show it. */
  hearPatch({ rig }: Harbour, patch: Patch, inView: string, family: string): readonly number[] {
    this.hear(rig, patch, inView, `patch ${patch.id}`);
    return SHOWN[family] ?? PLAIN;
  }

  /** The same of one sound. */
  hearSound({ rig }: Harbour, sound: Sound, inView: string): readonly number[] {
    this.hear(rig, soundPatch(sound, rig.patches[0]), inView, `sound ${sound.id}`);
    return sound.tags.includes('bass') ? SHOWN.basses : sound.tags.includes('kit') ? [48, 60] : PLAIN;
  }

  private hear(rig: Rig, patch: Patch, patchId: string, key: string): void {
    const controllers = store.getState().rig.rig?.controllers ?? rig.controllers;
    storeHeard.set({ patchId, key, rig: { ...rig, controllers, patches: [{ ...patch, id: patchId }] } });
  }

  /** The patch in view is heard again. */
  giveBack(): void {
    storeHeard.set(null);
  }

  /**
   * A patch as one more of the rig in view, with what it plays; gives its id there. Where an empty patch is in view, that
   * is what it fills: it has its name.
   */
  takePatch({ rig: from }: Harbour, patch: Patch, inView: Patch): string | null {
    let id: string | null = null;
    this.giveBack();
    store.dispatch(
      edit((rig) => {
        const taken = mergePatches(rig, from, [patch.id], newId);
        id = taken.patches[0]?.id ?? null;
        return id !== null && inView.layers.length === 0 ? inPlaceOf(taken.rig, inView, id) : taken.rig;
      }),
    );
    if (id !== null && inView.layers.length === 0) return inView.id;
    if (id !== null)
      store.dispatch(notice('info', `“${patch.name}” is a patch of this rig now, with what it plays.`, 'from-store'));
    return id;
  }

  /** A sound as a new layer of a patch; gives the layer's id. */
  takeSound({ rig: from }: Harbour, sound: Sound, patchId: string): string {
    const layerId = newId();
    const thing = candidatesOf(from, false).find((each) => each.sound === sound)!;
    this.giveBack();
    store.dispatch(edit((rig) => put(rig, thing, { to: 'new layer', patchId, layerId }, newId)));
    return layerId;
  }
}

/** The rig with a patch in the place of an empty one, by its name and id, so that setlists know it. */
const inPlaceOf = (rig: Rig, empty: Patch, id: string): Rig => {
  const taken = rig.patches.find((patch) => patch.id === id)!;
  const versionsOf = (own: string) =>
    taken.versions.map((version) => ({ ...version, patch: { ...version.patch, id: own } }));
  return {
    ...rig,
    patches: rig.patches
      .filter((patch) => patch !== taken)
      .map((patch) =>
        patch.id === empty.id ? { ...taken, id: empty.id, name: empty.name, versions: versionsOf(empty.id) } : patch,
      ),
  };
};

export const harbour = new HarbourStore();
