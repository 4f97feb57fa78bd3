import type { PlaceId } from '../../core/rig/mix';
import type { Patch } from '../../core/rig/schema';
import { selectedLayerOf, store } from '../document/store';
import { choosingSlice } from './choosingSlice';

/** What is chosen: one layer whose values are shown, and those that are edited with it (none, or at least two). */
export interface ChosenLayers {
  selected: string;
  together: readonly string[];
}

/** How a layer is pointed at: alone, as one more or one less (Control), or with all between (Shift). */
export type Pointing = 'alone' | 'more' | 'between';
export const pointingOf = (event: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }): Pointing =>
  event.ctrlKey || event.metaKey ? 'more' : event.shiftKey ? 'between' : 'alone';

/** What is chosen after a layer was pointed at; the same in every view. `order`: ids of the layers as they stand. */
export function chosenAfter(
  order: readonly string[],
  before: ChosenLayers,
  id: string,
  pointing: Pointing,
): ChosenLayers {
  if (pointing === 'alone') return { selected: id, together: [] };
  if (pointing === 'between') {
    const [from, to] = [order.indexOf(before.selected), order.indexOf(id)].sort((a, b) => a - b);
    const between = order.slice(Math.max(0, from), to + 1);
    return { selected: before.selected, together: between.length > 1 ? between : [] };
  }
  const had = before.together.length > 0 ? before.together : [before.selected];
  const next = had.includes(id) ? had.filter((each) => each !== id) : [...had, id];
  return { selected: next.includes(id) ? id : (next[0] ?? id), together: next.length > 1 ? next : [] };
}

/** Chooses a layer of a patch by hand. */
export function chooseLayer(patch: Patch, id: string, pointing: Pointing): void {
  const { selectedLayerId, chosenLayerIds } = store.getState().choosing;
  const before = {
    selected: selectedLayerOf(patch, selectedLayerId)?.id ?? id,
    together: chosenLayerIds.filter((each) => patch.layers.some((layer) => layer.id === each)),
  };
  const { selected, together } = chosenAfter(
    patch.layers.map((layer) => layer.id),
    before,
    id,
    pointing,
  );
  store.dispatch(choosingSlice.actions.layersChosen([...together]));
  store.dispatch(choosingSlice.actions.layerSelected(selected));
}

/** Chooses a place of the mix by hand: layers as everywhere, others alone. */
export function choosePlace(patch: Patch, place: PlaceId, pointing: Pointing): void {
  const [kind, id] = place.split('.');
  if (kind === 'layer') chooseLayer(patch, id, pointing);
  else store.dispatch(choosingSlice.actions.layersChosen([]));
  store.dispatch(choosingSlice.actions.mixChosenSet({ kind: 'place', id: place }));
}
