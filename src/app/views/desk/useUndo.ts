import { useCallback } from 'react';
import { useNavigate, useParams } from 'react-router';
import { soundsSlice } from '../sounds/soundsSlice';
import { selectedLayerOf, stepBack, store, useAppDispatch } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { openTray } from '../../jobs/openTray';
import { useView } from '../../parts/useView';

/**
 * Undo and redo that say what they did and show the place where it happened. While the tray is open, they are the
 * tray's.
 */
export function useUndo(): (way: 'undone' | 'redone') => void {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const view = useView();
  const { patchId } = useParams();
  return useCallback(
    (way) => {
      if (openTray.tray.open && view === 'sounds') {
        openTray.tray.goBack(way);
        return;
      }
      const seen = dispatch(stepBack(way));
      if (!seen) return;
      const { place } = seen;
      const { rig } = store.getState().rig;
      // What was mended from the list of findings is seen there.
      if (view === 'check' && (!('patchId' in place) || place.patchId === patchId)) return;
      if (place.view === 'layers' && rig?.patches.some((patch) => patch.id === place.patchId)) {
        // Strips of layers are seen in Mix as well, and what was done in the view in sight is seen in it: it is told,
        // and one stays.
        if (place.patchId !== patchId || !['layers', 'mix', seen.madeIn].includes(view))
          void navigate(`/patch/${place.patchId}/layers`, { flushSync: true });
        const patch = rig.patches.find((candidate) => candidate.id === place.patchId)!;
        const selected = selectedLayerOf(patch, store.getState().choosing.selectedLayerId);
        if (place.layerIds.length > 0 && (!selected || !place.layerIds.includes(selected.id)))
          dispatch(choosingSlice.actions.layerSelected(place.layerIds[0]));
      } else if (place.view === 'control' && rig?.patches.some((patch) => patch.id === place.patchId)) {
        if (place.source) dispatch(choosingSlice.actions.chosenSet({ source: place.source }));
        // What moves what is seen in any view of the patch that has strips; only from elsewhere it is gone to.
        if (patchId !== place.patchId || view === 'sounds')
          void navigate(`/patch/${place.patchId}/control`, { flushSync: true });
      } else if (place.view === 'mix' && rig?.patches.some((patch) => patch.id === place.patchId)) {
        if (place.chosen) dispatch(choosingSlice.actions.mixChosenSet(place.chosen));
        // Strips of the front are seen in other views too.
        if (patchId !== place.patchId || view === 'sounds')
          void navigate(`/patch/${place.patchId}/mix`, { flushSync: true });
      } else if (place.view === 'sounds' && rig?.sounds.some((sound) => sound.id === place.soundId)) {
        void navigate(`/patch/${patchId}/sounds/${place.soundId}`, { flushSync: true });
        dispatch(soundsSlice.actions.zonesChosen(place.zones));
      }
    },
    [dispatch, navigate, patchId, view],
  );
}
