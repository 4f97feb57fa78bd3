import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { mount } from '../../document/store';

export type LaneSize = 'auto' | 'full' | 'compact' | 'folded';
/** Parts of a layer, one shown at a time. */
export const LAYER_PARTS = [
  'windows',
  'level',
  'filters',
  'pitch',
  'touch',
  'start',
  'notes',
  'arpeggio',
  'hears',
] as const;
export type LayerPart = (typeof LAYER_PARTS)[number];

/** How the Layers view is laid out. */
export interface LayersState {
  layerPart: LayerPart;
  /** How high lanes are. */
  lanes: LaneSize;
  /** The height of the field below the lanes, in pixels; null: what is left, 0: put away. */
  fieldHeight: number | null;
}

const initialState: LayersState = { layerPart: 'windows', lanes: 'auto', fieldHeight: null };

export const layersSlice = createSlice({
  name: 'layers',
  initialState,
  reducers: {
    layerPartShown: (state, { payload }: PayloadAction<LayerPart>) => {
      state.layerPart = payload;
    },
    lanesSet: (state, { payload }: PayloadAction<LaneSize>) => {
      state.lanes = payload;
    },
    fieldHeightSet: (state, { payload }: PayloadAction<number | null>) => {
      state.fieldHeight = payload;
    },
  },
});

declare module '../../document/store' {
  interface Slices {
    layers: LayersState;
  }
}
mount(layersSlice);
