import type { Take } from '../../core/music/take';
import { contentOfVersion } from '../../core/rig/edits/versions';
import type { Patch, PatchContent, Rig } from '../../core/rig/schema';
import { measure } from './measuring';
import { session } from '../sound/session';

/** LUFS; `measuring`, or null where it cannot be measured. */
export type Loudness = number | 'measuring' | null;

/** How loud versions of patches are on a take: measured in a worker, so that louder is not taken for better. */
class VersionLevels {
  private readonly known = new WeakMap<PatchContent, { take: Take; lufs: Loudness }>();
  private readonly listeners = new Set<() => void>();
  /** Without it, versions play as they are. */
  levelled = true;
  version = 0;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  setLevelled(levelled: boolean): void {
    this.levelled = levelled;
    this.tell();
  }

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }

  /**
   * Loudness of a version's content on the take that is loaded; null where there is no take, or what cannot be
   * rendered.
   */
  of(rig: Rig, content: PatchContent): Loudness {
    const { take } = session.takes;
    if (!take) return null;
    const found = this.known.get(content);
    if (found && found.take === take) return found.lufs;
    this.known.set(content, { take, lufs: 'measuring' });
    void this.measure(rig, content, take);
    return 'measuring';
  }

  private async measure(rig: Rig, content: PatchContent, take: Take): Promise<void> {
    try {
      const { lufs } = await measure(rig, content, take);
      this.known.set(content, { take, lufs });
      this.tell();
    } catch {
      // What cannot be compiled is not measured: it plays as it is.
      this.known.set(content, { take, lufs: null });
      this.tell();
    }
  }

  /**
   * dB by which the version that plays is turned down, so that none of the versions is louder than the softest of them.
   */
  trimOf(rig: Rig, patch: Patch, present: PatchContent): number {
    if (!this.levelled || patch.versions.length === 0) return 0;
    const all = patch.versions.map(({ id }) =>
      this.of(rig, id === patch.version ? present : contentOfVersion(patch, id)!),
    );
    const mine = this.of(rig, present);
    const known = all.filter((lufs): lufs is number => typeof lufs === 'number' && Number.isFinite(lufs));
    // While one is not known, all play as they are.
    return typeof mine !== 'number' || known.length < all.length ? 0 : Math.min(0, Math.min(...known) - mine);
  }
}

export const versionLevels = new VersionLevels();
