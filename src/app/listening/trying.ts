import type { Sample, Sound } from '../../core/rig/schema';

/**
 * A sound that may take the place of another: of this rig, of another one in the browser, or of a file that was opened.
 */
export interface Candidate {
  key: string;
  name: string;
  from: string;
  sound: Sound;
  samples: readonly Sample[];
}
/** Where one is tried: in a layer, or on the pad of a key. */
export type TryingAt = { to: 'layer'; layerId: string } | { to: 'pad'; key: number };
/**
 * The one that is heard there for now; nothing of it is in the rig until it is kept. `levelDb` makes it as loud as what
 * it stands in for.
 */
export interface Trying {
  patchId: string;
  at: TryingAt;
  candidate: Candidate;
  levelDb: number;
}
