import type { LayerWindow } from '../../../core/rig/schema';
import type { Strike } from '../../../host/performance';

/** What somebody who meets Wavicle for the first time is shown: three things to try, on the patch it opens with. */
export interface Try {
  id: 'strike' | 'wheel' | 'edge';
  says: string;
  answers: string;
}
export const TRIES: readonly Try[] = [
  {
    id: 'strike',
    says: 'play a key soft, then hard (on screen: further down a key is harder)',
    answers: 'hard strikes bring the bells in, soft ones leave the keys alone',
  },
  { id: 'wheel', says: 'raise the wheel', answers: 'the wheel brings the wire in' },
  {
    id: 'edge',
    says: 'drag the edge between two layers',
    answers: 'the bells come in elsewhere now (Ctrl Z puts the edge back)',
  },
];

const SOFT = 64,
  HARD = 100,
  RAISED = 32;

/** Whether a soft strike was followed by a hard one on a patch, since a moment in ms of the page's clock. */
export function strokeSoftThenHard(strikes: readonly Strike[], patchId: string, since: number): boolean {
  const here = strikes.filter(({ at, on }) => at >= since && on === patchId);
  const soft = here.findIndex(({ velocity }) => velocity <= SOFT);
  return soft >= 0 && here.slice(soft).some(({ velocity }) => velocity >= HARD);
}

/** Whether the wheel stands well above the lowest place where it was seen. */
export const wheelWasRaised = (lowest: number, now: number): boolean => now >= lowest + RAISED;

/** Whether an edge of some window is elsewhere. */
export const edgeWasMoved = (before: readonly LayerWindow[], now: readonly LayerWindow[]): boolean =>
  before.some(({ source, low, high }, i) => {
    const other = now[i];
    return other?.source === source && (other.low !== low || other.high !== high);
  });
