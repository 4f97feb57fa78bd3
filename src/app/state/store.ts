import { combineReducers, configureStore, nanoid, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { updatePatch } from '../../core/rig/edits/layers';
import { updateSound } from '../../core/rig/edits/zones';
import type { Layer, Patch, Rig, Sound } from '../../core/rig/schema';
import { rigSlice } from './rigSlice';
import { soundsSlice } from './soundsSlice';
import { loadSettings, uiSlice, type Notice } from './uiSlice';

const reducer = combineReducers({ rig: rigSlice.reducer, ui: uiSlice.reducer, sounds: soundsSlice.reducer });
export type RootState = ReturnType<typeof reducer>;

export const store = configureStore({
  reducer,
  preloadedState: { ui: { ...uiSlice.getInitialState(), ...loadSettings() }, rig: rigSlice.getInitialState(), sounds: soundsSlice.getInitialState() },
  // The document is large and only ever replaced by pure functions, so the checks for changes in place have nothing to find.
  middleware: (defaults) => defaults({ immutableCheck: false, serializableCheck: false }),
});

export type AppDispatch = typeof store.dispatch;
type Thunk = ThunkAction<void, RootState, undefined, UnknownAction>;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();

/** Changes the rig by a pure function, as one step of undo; edits of one gesture (a drag) make one step together. */
export const edit = (change: (rig: Rig) => Rig, gesture?: string): Thunk => (dispatch, getState) => {
  const { rig } = getState().rig;
  if (rig) dispatch(rigSlice.actions.edited({ rig: change(rig), gesture }));
};

/** The same for one patch. */
export const editPatch = (patchId: string, change: (patch: Patch) => Patch, gesture?: string): Thunk =>
  edit((rig) => updatePatch(rig, patchId, change), gesture);

/** The same for one sound. */
export const editSound = (soundId: string, change: (sound: Sound) => Sound, gesture?: string): Thunk =>
  edit((rig) => updateSound(rig, soundId, change), gesture);

export const notice = (kind: Notice['kind'], text: string, id: string = nanoid()) => uiSlice.actions.noticed({ id, kind, text });

export const selectPatch = (state: RootState, patchId: string | undefined): Patch | undefined => state.rig.rig?.patches.find((patch) => patch.id === patchId);
export const selectedLayerOf = (patch: Patch, selectedId: string | null): Layer | undefined => patch.layers.find((layer) => layer.id === selectedId) ?? patch.layers[0];

/** Ids that never change and fit the file format. */
export const newId = (): string => nanoid(12);
