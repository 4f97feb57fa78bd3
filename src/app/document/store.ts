import {
  combineSlices,
  configureStore,
  nanoid,
  type Reducer,
  type Slice,
  type ThunkAction,
  type UnknownAction,
} from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { updatePatch } from '../../core/rig/edits/layers';
import { updateSound } from '../../core/rig/edits/zones';
import type { Layer, Patch, Rig, Sound } from '../../core/rig/schema';
import type { Difference } from '../../core/rig/difference';
import { severalFingers } from './fingers';
import { viewBefore } from './inSight';
import { faultOf } from './reading';
import { rigSlice, type RigState } from './rigSlice';
import { settingsSlice, type SettingsState } from './settingsSlice';
import { toldSlice, type Notice, type ToldState } from './toldSlice';

/**
 * The state, by slice. Each room of the application adds its own where it stands, so that the document knows none of
 * them: the slice says its type here, and is mounted.
 */
export interface Slices {
  rig: RigState;
  told: ToldState;
  settings: SettingsState;
}
export type RootState = Slices;

const reducer = combineSlices(rigSlice, toldSlice, settingsSlice);

export const store = configureStore({
  reducer: reducer as unknown as Reducer<RootState>,
  // The document is large and only ever replaced by pure functions, so the checks for changes in place have nothing to
  // find.
  middleware: (defaults) => defaults({ immutableCheck: false, serializableCheck: false }),
});

/** Adds a slice to the state, which has it from then on. */
export function mount(slice: Slice): void {
  reducer.inject(slice);
  store.dispatch({ type: `${slice.name}/mounted` });
}

export type AppDispatch = typeof store.dispatch;
type Thunk = ThunkAction<void, RootState, undefined, UnknownAction>;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();

/**
 * Changes the rig by a pure function, as one step of undo; edits of one gesture (a drag) make one step together. An
 * edit that would leave what a rig may hold is refused and
 * told; in the middle of a drag nothing is looked at but when it is saved.
 */
export const edit =
  (change: (rig: Rig) => Rig, gesture?: string): Thunk =>
  (dispatch, getState) => {
    const { rig, readOnly, ledBy } = getState().rig;
    if (!rig || readOnly) return;
    if (ledBy !== '') {
      dispatch(notice('info', `“${ledBy}” leads: edits are made there, and come here by themselves.`, 'leads'));
      return;
    }
    const next = change(rig);
    const make = () => {
      madeIn.set(next, viewBefore());
      dispatch(rigSlice.actions.edited({ rig: next, gesture, together: severalFingers() }));
    };
    const refused = (message: string) =>
      notice('problem', `This edit was not made, for the rig could not be read again: ${message}.`, 'fault');
    const fault = next === rig || gesture !== undefined ? undefined : faultOf(next);
    if (!(fault instanceof Promise)) {
      if (fault) dispatch(refused(fault.message));
      else make();
      return;
    }
    // In the first moment of the page it is made at once, and taken back where it turns out to be none. What cannot be
    // looked at now is looked at before it is saved.
    make();
    void fault.then(
      (found) => {
        if (!found || getState().rig.rig !== next) return;
        dispatch(rigSlice.actions.undone());
        dispatch(refused(found.message));
      },
      () => undefined,
    );
  };

/** The view in which each state of the rig was made: going back to before it is seen there. */
const madeIn = new WeakMap<Rig, string>();

/** The same for one patch. */
export const editPatch = (patchId: string, change: (patch: Patch) => Patch, gesture?: string): Thunk =>
  edit((rig) => updatePatch(rig, patchId, change), gesture);

/** The same for one sound. */
export const editSound = (soundId: string, change: (sound: Sound) => Sound, gesture?: string): Thunk =>
  edit((rig) => updateSound(rig, soundId, change), gesture);

/** What the buttons of notices do: functions have no place in the state. */
const actions = new Map<string, () => void>();
export const runNotice = (id: string): void => {
  actions.get(id)?.();
  store.dispatch(toldSlice.actions.noticeClosed(id));
};

/** Something to be told; with an action, a button that does something about it. */
export const notice = (
  kind: Notice['kind'],
  text: string,
  id: string = nanoid(),
  action?: { label: string; run: () => void },
) => {
  if (action) actions.set(id, action.run);
  else actions.delete(id);
  return toldSlice.actions.noticed({ id, kind, text, action: action?.label });
};

/** Says what an edit took away, and takes it back when asked to. */
export const told =
  (text: string): Thunk =>
  (dispatch) => {
    dispatch(
      notice('info', `${text} Control Z brings it back.`, 'gone', {
        label: 'Bring it back',
        run: () => void store.dispatch(stepBack('undone')),
      }),
    );
  };

/**
 * Undoes or does again one step, at once; gives, a moment later, what it was, where it is seen, and the view in which
 * it was made.
 */
export const stepBack =
  (
    way: 'undone' | 'redone',
  ): ThunkAction<Promise<(Difference & { madeIn?: string }) | undefined>, RootState, undefined, UnknownAction> =>
  async (dispatch, getState) => {
    const { rig: before, readOnly } = getState().rig;
    if (!before || readOnly) return undefined;
    dispatch(rigSlice.actions[way]());
    const { rig: after } = getState().rig;
    if (!after || after === before) return undefined;
    const { differenceOf } = await import('../../core/rig/difference');
    // Going back is told as what it was when it was done.
    const done = way === 'undone' ? differenceOf(after, before) : differenceOf(before, after);
    const seen = differenceOf(before, after);
    dispatch(
      notice('info', `${way === 'undone' ? 'Undone' : 'Done again'}: ${done?.what ?? 'the last step'}.`, 'undo'),
    );
    return seen && { ...seen, madeIn: madeIn.get(way === 'undone' ? before : after) };
  };

export const selectPatch = (state: RootState, patchId: string | undefined): Patch | undefined =>
  state.rig.rig?.patches.find((patch) => patch.id === patchId);
export const selectedLayerOf = (patch: Patch, selectedId: string | null): Layer | undefined =>
  patch.layers.find((layer) => layer.id === selectedId) ?? patch.layers[0];

/** Ids that never change and fit the file format. */
export const newId = (): string => nanoid(12);
