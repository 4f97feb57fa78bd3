import type { UnknownAction } from '@reduxjs/toolkit';
import { useCallback } from 'react';
import { useNavigate, useParams } from 'react-router';
import { soundsSlice } from '../sounds/soundsSlice';
import { selectedLayerOf, stepBack, store, useAppDispatch } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { openTray } from '../../jobs/openTray';
import { useView } from '../../parts/useView';
import { isThere, pathTo, type Place } from './undoPlace';

/** What is chosen there, so that it is in view. */
function choicesOf(place: Place): UnknownAction[] {
  if (!isThere(place, store.getState().rig.rig)) return [];
  switch (place.view) {
    case 'layers': {
      const { rig, choosing } = { rig: store.getState().rig.rig!, choosing: store.getState().choosing };
      const patch = rig.patches.find((candidate) => candidate.id === place.patchId)!;
      const selected = selectedLayerOf(patch, choosing.selectedLayerId);
      const isChosen = selected !== undefined && place.layerIds.includes(selected.id);
      return place.layerIds.length > 0 && !isChosen ? [choosingSlice.actions.layerSelected(place.layerIds[0])] : [];
    }
    case 'control':
      return place.source ? [choosingSlice.actions.chosenSet({ source: place.source })] : [];
    case 'mix':
      return place.chosen ? [choosingSlice.actions.mixChosenSet(place.chosen)] : [];
    case 'sounds':
      return [soundsSlice.actions.zonesChosen(place.zones)];
    default:
      return [];
  }
}

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
      void dispatch(stepBack(way)).then((seen) => {
        if (!seen) return;
        const { place } = seen;
        // What was mended from the list of findings is seen there.
        if (view === 'check' && (!('patchId' in place) || place.patchId === patchId)) return;
        const path = pathTo(place, store.getState().rig.rig, { view, patchId, madeIn: seen.madeIn });
        if (path) void navigate(path);
        for (const action of choicesOf(place)) dispatch(action);
      });
    },
    [dispatch, navigate, patchId, view],
  );
}
