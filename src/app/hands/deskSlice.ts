import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { mount } from '../document/store';
import { showSlice } from '../show/showSlice';

/** Sheets beside the view. */
export type Sheet =
  | 'help'
  | 'settings'
  | 'rigs'
  | 'monitor'
  | 'controllers'
  | 'receives'
  | 'search'
  | 'edits'
  | 'paste'
  | 'templates'
  | 'store'
  | 'start'
  | 'tuning'
  | 'outside'
  | 'outputs'
  | 'draws'
  | 'bounce'
  | 'handOver'
  | 'handbook';

/** What lies open beside the views. */
export interface DeskState {
  sheet: Sheet | null;
  /** The heading at which the handbook opens; null: where one is. */
  page: string | null;
  /** The drawer of stand-ins is open. */
  standIns: boolean;
  /** The computer keyboard plays. */
  typingPlays: boolean;
}

const initialState: DeskState = { sheet: null, page: null, standIns: false, typingPlays: false };

export const deskSlice = createSlice({
  name: 'desk',
  initialState,
  reducers: {
    sheetOpened: (state, { payload }: PayloadAction<Sheet | null>) => {
      state.sheet = payload;
      state.page = null;
    },
    handbookOpened: (state, { payload: page }: PayloadAction<string>) => {
      state.sheet = 'handbook';
      state.page = page;
    },
    standInsOpened: (state, { payload }: PayloadAction<boolean>) => {
      state.standIns = payload;
    },
    typingPlaysSet: (state, { payload }: PayloadAction<boolean>) => {
      state.typingPlays = payload;
    },
  },
  extraReducers: (builder) =>
    builder.addCase(showSlice.actions.stageEntered, (state, { payload: enters }) => {
      if (enters) state.sheet = null;
    }),
});

declare module '../document/store' {
  interface Slices {
    desk: DeskState;
  }
}
mount(deskSlice);
