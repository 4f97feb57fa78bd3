import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { mount } from '../document/store';
import { showSlice } from '../show/showSlice';

/** Whether edits of several layers give all the same value, move all by as much, or stretch all by as much. */
export type Together = 'set' | 'shift' | 'scale';
/** What is chosen in the Control view: a source, by its id (a pad as xy.N), or a route. */
export type Chosen = { source: string } | { route: string } | null;
/** What is chosen in the Mix view: an effect, a connection, or a place. */
export type MixChosen = { kind: 'effect' | 'connection' | 'place'; id: string } | null;

/** What is chosen: it is the same in every view. */
export interface ChoosingState {
  selectedLayerId: string | null;
  /** A group that is chosen instead of a layer. */
  selectedGroupId: string | null;
  /** Layers chosen together: edits of one are edits of all, in one of these ways. */
  chosenLayerIds: string[];
  together: Together;
  chosen: Chosen;
  mixChosen: MixChosen;
  /** The source whose connect sign was taken: strips set how far it moves them. */
  connecting: string | null;
}

const initialState: ChoosingState = {
  selectedLayerId: null,
  selectedGroupId: null,
  chosenLayerIds: [],
  together: 'set',
  chosen: null,
  mixChosen: null,
  connecting: null,
};

export const choosingSlice = createSlice({
  name: 'choosing',
  initialState,
  reducers: {
    layerSelected: (state, { payload }: PayloadAction<string | null>) => {
      if (payload === null || !state.chosenLayerIds.includes(payload)) state.chosenLayerIds = [];
      state.selectedLayerId = payload;
      state.selectedGroupId = null;
    },
    groupSelected: (state, { payload }: PayloadAction<string>) => {
      state.selectedGroupId = payload;
      state.chosenLayerIds = [];
    },
    layersChosen: (state, { payload }: PayloadAction<string[]>) => {
      state.chosenLayerIds = payload;
      state.selectedGroupId = null;
    },
    togetherSet: (state, { payload }: PayloadAction<Together>) => {
      state.together = payload;
    },
    chosenSet: (state, { payload }: PayloadAction<Chosen>) => {
      state.chosen = payload;
    },
    mixChosenSet: (state, { payload }: PayloadAction<MixChosen>) => {
      state.mixChosen = payload;
    },
    connectingSet: (state, { payload }: PayloadAction<string | null>) => {
      state.connecting = payload;
    },
  },
  extraReducers: (builder) =>
    builder.addCase(showSlice.actions.stageEntered, (state, { payload: enters }) => {
      if (enters) state.connecting = null;
    }),
});

declare module '../document/store' {
  interface Slices {
    choosing: ChoosingState;
  }
}
mount(choosingSlice);
