import type { Rig } from '../../core/rig/schema';

/** Rigs that come along: what somebody begins belongs into a rig of their own. */
const COME_ALONG: ReadonlySet<string> = new Set(['perigee-tide', 'harbour-store']);
export const comesAlong = ({ id }: Rig): boolean => COME_ALONG.has(id);
