import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { MiddleC } from '../../core/music/noteNames';
import { small } from './storage/small';

export type Theme = 'chart' | 'night';

/** What somebody has set for this browser, whichever rig is open; all of it is kept. */
export interface SettingsState {
  theme: Theme;
  /** On Stage, where it is dark. */
  stageTheme: Theme;
  middleC: MiddleC;
}

const SETTINGS = 'wavicle-settings';
const usual: SettingsState = { theme: 'chart', stageTheme: 'night', middleC: 4 };

/** What was kept, as far as it can be read and means something; the rest is as usual. */
export function loadSettings(): SettingsState {
  try {
    const { theme, stageTheme, middleC } = JSON.parse(small.get(SETTINGS) ?? '{}') as Partial<SettingsState>;
    return {
      theme: theme === 'night' ? theme : usual.theme,
      stageTheme: stageTheme === 'chart' ? stageTheme : usual.stageTheme,
      middleC: middleC === 3 || middleC === 5 ? middleC : usual.middleC,
    };
  } catch {
    return usual;
  }
}

export const saveSettings = (settings: SettingsState): void => {
  small.set(SETTINGS, JSON.stringify(settings));
};

export const settingsSlice = createSlice({
  name: 'settings',
  initialState: loadSettings,
  reducers: {
    themeChosen: (state, { payload }: PayloadAction<Theme>) => {
      state.theme = payload;
    },
    stageThemeChosen: (state, { payload }: PayloadAction<Theme>) => {
      state.stageTheme = payload;
    },
    middleCChosen: (state, { payload }: PayloadAction<MiddleC>) => {
      state.middleC = payload;
    },
  },
});
