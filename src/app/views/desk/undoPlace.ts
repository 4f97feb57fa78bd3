import type { Place } from '../../../core/rig/difference';
import type { Rig } from '../../../core/rig/schema';

export type { Place } from '../../../core/rig/difference';

/** Where one is: the view and the patch in it, and the view in which the edit was made that is gone back to. */
interface Now {
  view: string;
  patchId?: string;
  madeIn?: string;
}

/** Whether what was done at a place is still there to be seen. */
export function isThere(place: Place, rig: Rig | null): boolean {
  if (place.view === 'sounds') return rig?.sounds.some((sound) => sound.id === place.soundId) === true;
  return 'patchId' in place && rig?.patches.some((patch) => patch.id === place.patchId) === true;
}

/** Where one goes to see what was undone or done again; undefined: it is seen from where one is, or gone. */
export function pathTo(place: Place, rig: Rig | null, { view, patchId, madeIn }: Now): string | undefined {
  if (!isThere(place, rig)) return undefined;
  if (place.view === 'sounds') return `/patch/${patchId}/sounds/${place.soundId}`;
  if (!('patchId' in place)) return undefined;
  const elsewhere = place.patchId !== patchId;
  // Strips of layers are seen in Mix as well, and what was done in the view in sight is seen in it: it is told, and one
  // stays. What moves what, and the front of the mix, are seen in any view of the patch that has strips.
  const goes =
    place.view === 'layers' ? elsewhere || !['layers', 'mix', madeIn].includes(view) : elsewhere || view === 'sounds';
  return goes ? `/patch/${place.patchId}/${place.view}` : undefined;
}
