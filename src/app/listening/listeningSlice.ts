import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Cut } from '../../core/rig/edits/cuts';
import { mount } from '../document/store';
import type { Trying } from './trying';

/** What is heard instead of the document: nothing of it is kept in the rig. */
export interface ListeningState {
  /** Ids of layers. */
  soloed: string[];
  /** Only what this source moves is heard to move. */
  alone: string | null;
  /** A sound that a layer plays for now. */
  trying: Trying | null;
  /** Parts of the patch that are left out: see `patchWithout`. */
  leftOut: string[];
  /** Draws that are heard before they are gone to: one, or what lies between two. */
  drawTrial: { patchId: string; first: string | null; second: string | null; share: number } | null;
  /** Cuts that are heard before they are taken. */
  mixTrial: { patchId: string; cuts: readonly Cut[] } | null;
  /** What the pointer is on in the mix is heard alone. */
  mixListens: boolean;
  /** By patch, the take of its own that is chosen; empty: none of them. */
  takes: Readonly<Record<string, string>>;
  /** Recording goes into the take that plays. */
  overdub: boolean;
}

const initialState: ListeningState = {
  soloed: [],
  alone: null,
  trying: null,
  leftOut: [],
  drawTrial: null,
  mixTrial: null,
  mixListens: false,
  takes: {},
  overdub: false,
};

export const listeningSlice = createSlice({
  name: 'listening',
  initialState,
  reducers: {
    soloSet: (state, { payload: { ids, on } }: PayloadAction<{ ids: readonly string[]; on: boolean }>) => {
      state.soloed = [...state.soloed.filter((id) => !ids.includes(id)), ...(on ? ids : [])];
    },
    soloToggled: (state, { payload }: PayloadAction<string>) => {
      state.soloed = state.soloed.includes(payload)
        ? state.soloed.filter((id) => id !== payload)
        : [...state.soloed, payload];
    },
    /** The patch is heard as it is again; which take plays stays. */
    listeningEnded: ({ takes, overdub, mixListens }) => ({ ...initialState, takes, overdub, mixListens }),
    soloCleared: (state) => {
      state.soloed = [];
    },
    aloneSet: (state, { payload }: PayloadAction<string | null>) => {
      state.alone = payload;
    },
    tryingSet: (state, { payload }: PayloadAction<Trying | null>) => ({ ...state, trying: payload }),
    leftOutSet: (state, { payload }: PayloadAction<readonly string[]>) => {
      state.leftOut = [...payload];
    },
    drawTrialSet: (state, { payload }: PayloadAction<ListeningState['drawTrial']>) => {
      state.drawTrial = payload;
    },
    mixTrialSet: (state, { payload }: PayloadAction<ListeningState['mixTrial']>) => ({ ...state, mixTrial: payload }),
    mixListensSet: (state, { payload }: PayloadAction<boolean>) => {
      state.mixListens = payload;
    },
    takeChosen: (state, { payload: { patchId, takeId } }: PayloadAction<{ patchId: string; takeId: string }>) => {
      state.takes = { ...state.takes, [patchId]: takeId };
    },
    overdubSet: (state, { payload }: PayloadAction<boolean>) => {
      state.overdub = payload;
    },
  },
});

declare module '../document/store' {
  interface Slices {
    listening: ListeningState;
  }
}
mount(listeningSlice);
