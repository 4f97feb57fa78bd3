import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { mount } from '../document/store';

export type StagePanel = 'list' | 'rehearsal';

/** Where the show is, and what is shown of it. */
export interface ShowState {
  onStage: boolean;
  /** Nothing can be edited on Stage. */
  stageLocked: boolean;
  /** What stands beside the patch on Stage. */
  stagePanel: StagePanel | null;
  /** Where the show is, by the id of its step; null: nowhere yet. */
  stepId: string | null;
  /** A patch that plays on Stage although the setlist does not have it; null: that of the step. */
  asideId: string | null;
}

const initialState: ShowState = { onStage: false, stageLocked: true, stagePanel: null, stepId: null, asideId: null };

export const showSlice = createSlice({
  name: 'show',
  initialState,
  reducers: {
    stageEntered: (state, { payload }: PayloadAction<boolean>) => {
      state.onStage = payload;
      state.stageLocked = true;
      state.stagePanel = null;
      state.asideId = null;
    },
    stageLockSet: (state, { payload }: PayloadAction<boolean>) => {
      state.stageLocked = payload;
    },
    stagePanelOpened: (state, { payload }: PayloadAction<StagePanel | null>) => {
      state.stagePanel = payload;
    },
    stepSet: (state, { payload }: PayloadAction<string | null>) => {
      state.stepId = payload;
      state.asideId = null;
    },
    asideSet: (state, { payload }: PayloadAction<string>) => {
      state.asideId = payload;
    },
  },
});

declare module '../document/store' {
  interface Slices {
    show: ShowState;
  }
}
mount(showSlice);
