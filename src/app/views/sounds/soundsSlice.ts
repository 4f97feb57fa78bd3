import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { mount } from '../../document/store';

export type LowerPanel = 'zones' | 'waveform';
export type BatchMode = 'set' | 'shift' | 'scale';

/** What the Sounds view has in hand: nothing of it is kept in the rig. */
export interface SoundsState {
  /** Places of the chosen zones in the sound in view. */
  selected: number[];
  /** The zone that was chosen last: the waveform shows it. */
  leader: number | null;
  /** Whether the zone that just sounded becomes the chosen one. */
  followsPlaying: boolean;
  /** Whether the keys play this sound alone, or the patch. */
  alone: boolean;
  lower: LowerPanel;
  batch: BatchMode;
  /** The part of a synth, or of grains, whose strips are shown. */
  kindPart: string;
}

const initialState: SoundsState = {
  selected: [],
  leader: null,
  followsPlaying: false,
  alone: true,
  lower: 'zones',
  batch: 'set',
  kindPart: 'osc1',
};

export const soundsSlice = createSlice({
  name: 'sounds',
  initialState,
  reducers: {
    zonesChosen: (state, { payload }: PayloadAction<readonly number[]>) => {
      state.selected = [...payload];
      state.leader =
        payload.length === 0
          ? null
          : state.leader !== null && payload.includes(state.leader)
            ? state.leader
            : payload[0];
    },
    zoneToggled: (state, { payload }: PayloadAction<number>) => {
      const there = state.selected.includes(payload);
      state.selected = there ? state.selected.filter((place) => place !== payload) : [...state.selected, payload];
      state.leader = there ? (state.selected[state.selected.length - 1] ?? null) : payload;
    },
    followSet: (state, { payload }: PayloadAction<boolean>) => {
      state.followsPlaying = payload;
    },
    aloneSet: (state, { payload }: PayloadAction<boolean>) => {
      state.alone = payload;
    },
    lowerChosen: (state, { payload }: PayloadAction<LowerPanel>) => {
      state.lower = payload;
    },
    batchChosen: (state, { payload }: PayloadAction<BatchMode>) => {
      state.batch = payload;
    },
    kindPartShown: (state, { payload }: PayloadAction<string>) => {
      state.kindPart = payload;
    },
  },
});

declare module '../../document/store' {
  interface Slices {
    sounds: SoundsState;
  }
}
mount(soundsSlice);
