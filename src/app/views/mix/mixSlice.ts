import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { mount } from '../../document/store';

/** How the Mix view is laid out. */
export interface MixState {
  /** As a river, as a table of strips, or as the take that plays it. */
  mixAs: 'river' | 'strips' | 'take';
}

const initialState: MixState = { mixAs: 'river' };

export const mixSlice = createSlice({
  name: 'mix',
  initialState,
  reducers: {
    mixAsSet: (state, { payload }: PayloadAction<MixState['mixAs']>) => {
      state.mixAs = payload;
    },
  },
});

declare module '../../document/store' {
  interface Slices {
    mix: MixState;
  }
}
mount(mixSlice);
