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
  /** The sound device of this machine by its id and name; null: that of the system. */
  device: { id: string; name: string } | null;
  latency: 'lowest' | 'safe';
  /** The audio input of this machine; null: the one that the system has chosen. */
  input: { id: string; name: string } | null;
  /** Which channels a pair of outputs goes to here, by its name: 0 for the first two. */
  channels: Readonly<Record<string, number>>;
}

const SETTINGS = 'wavicle-settings';
const usual: SettingsState = {
  theme: 'chart',
  stageTheme: 'night',
  middleC: 4,
  device: null,
  latency: 'lowest',
  input: null,
  channels: {},
};

/** What was kept, as far as it can be read and means something; the rest is as usual. */
export function loadSettings(): SettingsState {
  try {
    const { theme, stageTheme, middleC, device, latency, input, channels } = JSON.parse(
      small.get(SETTINGS) ?? '{}',
    ) as Partial<SettingsState>;
    return {
      theme: theme === 'night' ? theme : usual.theme,
      stageTheme: stageTheme === 'chart' ? stageTheme : usual.stageTheme,
      middleC: middleC === 3 || middleC === 5 ? middleC : usual.middleC,
      device: typeof device?.id === 'string' && typeof device.name === 'string' ? device : usual.device,
      input: typeof input?.id === 'string' && typeof input.name === 'string' ? input : usual.input,
      latency: latency === 'safe' ? latency : usual.latency,
      channels: readChannels(channels),
    };
  } catch {
    return usual;
  }
}

const readChannels = (given: unknown): Record<string, number> =>
  Object.fromEntries(
    Object.entries(typeof given === 'object' && given !== null ? given : {}).filter(
      (entry): entry is [string, number] => [0, 1, 2, 3].includes(entry[1] as number),
    ),
  );

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
    deviceChosen: (state, { payload }: PayloadAction<SettingsState['device']>) => {
      state.device = payload;
    },
    inputChosen: (state, { payload }: PayloadAction<SettingsState['input']>) => {
      state.input = payload;
    },
    latencyChosen: (state, { payload }: PayloadAction<SettingsState['latency']>) => {
      state.latency = payload;
    },
    channelsChosen: (state, { payload: { name, pair } }: PayloadAction<{ name: string; pair: number }>) => {
      state.channels = { ...state.channels, [name]: pair };
    },
    middleCChosen: (state, { payload }: PayloadAction<MiddleC>) => {
      state.middleC = payload;
    },
  },
});
