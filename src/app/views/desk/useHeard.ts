import { useEffect, useMemo, useRef } from 'react';
import type { Patch, Rig, Sound } from '../../../core/rig/schema';
import { useAppSelector } from '../../document/store';
import { checkState } from '../../jobs/checkState';
import { storeHeard } from '../../jobs/storeHeard';
import { heardPatch, NOTHING_ELSE, playedOver } from '../../listening/heard';
import { useStore } from '../../parts/useLive';
import { takeOf } from '../../sound/playing';
import { session } from '../../sound/session';
import { useTrim } from './Versions';

/**
 * Plays what is heard of a patch while it is built, and gives it for the keyboard and the readout: without what is tried
 * in it for now.
 */
export function useHeard(rig: Rig, patch: Patch, sound: Sound | null): Patch {
  const { alone, leftOut, drawTrial, mixTrial, trying, takes } = useAppSelector((state) => state.listening);
  const trimDb = useTrim(patch);
  const trial = useStore(checkState, (now) => now.trial);
  const offered = useStore(storeHeard, ({ now }) => now);
  // What a finding would mend, or a patch of the store, is heard in the place of the one in view.
  const mended = trial ?? offered;
  const takePlays = useStore(session.takes, (now) => now.playing);
  const take = (takePlays && takes[patch.id] !== '' && takeOf(patch)) || null;
  // What is tried changes nothing of the patch that is drawn, and must not make it anew.
  const drawn = useMemo(
    () => heardPatch(patch, { ...NOTHING_ELSE, alone, leftOut, drawTrial, mixTrial, sound, take, trimDb }),
    [patch, alone, leftOut, drawTrial, mixTrial, sound, take, trimDb],
  );
  const played = useMemo(
    () => playedOver(rig, patch.id, drawn, { mended, trying }),
    [rig, patch.id, drawn, mended, trying],
  );
  useEffect(() => {
    session.show(played.rig, played.patch);
  }, [played]);
  // What is tried, or given back, is heard under the notes that are held.
  const triedBefore = useRef(trying);
  useEffect(() => {
    const at = (trying ?? triedBefore.current)?.at;
    triedBefore.current = trying;
    if (at?.to === 'layer') session.waiting.restrike(at.layerId);
    else if (at && trying) session.waiting.tap(at.key);
  }, [trying]);
  return drawn;
}
