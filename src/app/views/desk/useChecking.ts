import { useEffect } from 'react';
import type { Patch, Rig } from '../../../core/rig/schema';

/** Has the patch in view checked while it is edited. The rules load when nothing else wants the line. */
export function useChecking(rig: Rig, patch: Patch, looking: boolean): void {
  useEffect(() => {
    let live = true;
    const begin = () =>
      void import('../../jobs/checking').then(({ checking }) => {
        if (live) checking.watch(rig, patch, looking);
      });
    const wait = looking ? 0 : window.setTimeout(begin, LATER_MS);
    if (looking) begin();
    return () => {
      live = false;
      clearTimeout(wait);
    };
  }, [rig, patch, looking]);
  // Nobody listens once the building views are left.
  useEffect(() => () => void import('../../jobs/checking').then(({ checking }) => checking.rest()), []);
}
const LATER_MS = 2500;
