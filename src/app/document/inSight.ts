import { small } from './storage/small';

let last = 'layers';

/** The building view in sight, or the one that was built in last: for edits made in it, and for who comes from Stage. */
export const rememberView = (view: string): void => {
  last = view;
};
export const viewBefore = (): string => last;

const PATCH = 'wavicle-patch-';
/** The patch of a rig that was in view last in this browser. */
export const patchBefore = (rigId: string): string | null => small.get(PATCH + rigId);
export const rememberPatch = (rigId: string, patchId: string): void => void small.set(PATCH + rigId, patchId);
