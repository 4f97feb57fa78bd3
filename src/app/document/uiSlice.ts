import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Trying } from '../listening/trying';
import type { Cut } from '../../core/rig/edits/cuts';
import type { MiddleC } from '../../core/music/noteNames';
import { small } from './storage/small';

export type Theme = 'chart' | 'night';
/** `action`: words of a button that does something about it; see `notice` in the store. */
export interface Notice {
  id: string;
  kind: 'info' | 'problem' | 'loss';
  text: string;
  action?: string;
}
/** What is told at once at the most. What loses work is never pushed away by what does not. */
const MOST_NOTICES = 4;
const WEIGHTS = { info: 0, problem: 1, loss: 2 } as const;
export function withNotice(notices: readonly Notice[], next: Notice): Notice[] {
  const all = [...notices.filter(({ id }) => id !== next.id), next];
  while (all.length > MOST_NOTICES)
    all.splice(all.indexOf(all.reduce((least, each) => (WEIGHTS[each.kind] < WEIGHTS[least.kind] ? each : least))), 1);
  return all.sort((a, b) => WEIGHTS[a.kind] - WEIGHTS[b.kind]);
}
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
  | 'draws'
  | 'bounce'
  | 'handOver'
  | 'handbook';
/** Whether edits of several layers give all the same value, move all by as much, or stretch all by as much. */
export type Together = 'set' | 'shift' | 'scale';
export type StagePanel = 'list' | 'rehearsal';
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
/** What is chosen in the Control view: a source, by its id (a pad as xy.N), or a route. */
export type Chosen = { source: string } | { route: string } | null;

/** What is chosen in the Mix view: an effect, a connection, or a place. */
export type MixChosen = { kind: 'effect' | 'connection' | 'place'; id: string } | null;

export interface UiState {
  mixChosen: MixChosen;
  /** The mix as a river, or as a table of strips. */
  mixAs: 'river' | 'strips' | 'take';
  /** By patch, the take of its own that is chosen; empty: none of them. */
  takes: Readonly<Record<string, string>>;
  /** Recording goes into the take that plays. */
  overdub: boolean;
  /** What the pointer is on is heard alone. */
  mixListens: boolean;
  /** Cuts that are heard before they are taken. */
  mixTrial: { patchId: string; cuts: readonly Cut[] } | null;
  theme: Theme;
  /** On Stage, where it is dark. */
  stageTheme: Theme;
  onStage: boolean;
  /** Nothing can be edited on Stage. */
  stageLocked: boolean;
  /** What stands beside the patch on Stage. */
  stagePanel: StagePanel | null;
  /** Where the show is, by the id of its step; null: nowhere yet. */
  stepId: string | null;
  /** A patch that plays on Stage although the setlist does not have it; null: that of the step. */
  asideId: string | null;
  middleC: MiddleC;
  /** The computer keyboard plays. */
  typingPlays: boolean;
  selectedLayerId: string | null;
  layerPart: LayerPart;
  /** A group that is chosen instead of a layer. */
  selectedGroupId: string | null;
  /** Layers chosen together: edits of one are edits of all, in one of these ways. */
  chosenLayerIds: string[];
  together: Together;
  /** How high lanes are; the height of the field below them in pixels (null: what is left, 0: put away). */
  lanes: LaneSize;
  fieldHeight: number | null;
  /** Ids of layers; solo is for listening and is not kept in the rig. */
  soloed: string[];
  notices: Notice[];
  sheet: Sheet | null;
  chosen: Chosen;
  /** The source whose connect sign was taken: strips set how far it moves them. */
  connecting: string | null;
  /** Only what this source moves is heard to move. */
  alone: string | null;
  /** The drawer of stand-ins is open. */
  standIns: boolean;
  /** The rig that was open last cannot be read; it is kept as it is until somebody deals with it. */
  unreadable: { rigId: string; problem: string } | null;
  busy: string | null;
  /** A sound that a layer plays for now. */
  trying: Trying | null;
  /** Parts of the patch that are left out for listening: see `patchWithout`. */
  leftOut: string[];
  /** Draws that are heard before they are gone to: one, or what lies between two. */
  drawTrial: { patchId: string; first: string | null; second: string | null; share: number } | null;
  /** The part of a synth, or of grains, whose strips are shown. */
  kindPart: string;
}

const SETTINGS = 'wavicle-settings';

export function loadSettings(): Partial<UiState> {
  try {
    const { theme, stageTheme, middleC } = JSON.parse(small.get(SETTINGS) ?? '{}') as Partial<UiState>;
    return {
      ...(stageTheme === 'chart' ? { stageTheme } : {}),
      ...(theme === 'night' ? { theme } : {}),
      ...(middleC === 3 || middleC === 5 ? { middleC } : {}),
    };
  } catch {
    return {};
  }
}

export const saveSettings = ({ theme, stageTheme, middleC }: UiState): void => {
  small.set(SETTINGS, JSON.stringify({ theme, stageTheme, middleC }));
};

const initialState: UiState = {
  mixChosen: null,
  mixAs: 'river',
  mixListens: false,
  takes: {},
  overdub: false,
  mixTrial: null,
  theme: 'chart',
  stageTheme: 'night',
  onStage: false,
  stageLocked: true,
  stagePanel: null,
  stepId: null,
  asideId: null,
  middleC: 4,
  typingPlays: false,
  selectedLayerId: null,
  layerPart: 'windows',
  selectedGroupId: null,
  chosenLayerIds: [],
  together: 'set',
  lanes: 'auto',
  fieldHeight: null,
  soloed: [],
  notices: [],
  sheet: null,
  chosen: null,
  connecting: null,
  alone: null,
  standIns: false,
  unreadable: null,
  busy: null,
  trying: null,
  leftOut: [],
  drawTrial: null,
  kindPart: 'osc1',
};

export const uiSlice = createSlice({
  name: 'ui',
  initialState,
  reducers: {
    themeChosen: (state, { payload }: PayloadAction<Theme>) => {
      state.theme = payload;
    },
    stageThemeChosen: (state, { payload }: PayloadAction<Theme>) => {
      state.stageTheme = payload;
    },
    stageEntered: (state, { payload }: PayloadAction<boolean>) => {
      state.onStage = payload;
      state.stageLocked = true;
      state.stagePanel = null;
      state.asideId = null;
      if (payload) {
        state.sheet = null;
        state.connecting = null;
      }
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
    middleCChosen: (state, { payload }: PayloadAction<MiddleC>) => {
      state.middleC = payload;
    },
    typingPlaysSet: (state, { payload }: PayloadAction<boolean>) => {
      state.typingPlays = payload;
    },
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
    lanesSet: (state, { payload }: PayloadAction<LaneSize>) => {
      state.lanes = payload;
    },
    fieldHeightSet: (state, { payload }: PayloadAction<number | null>) => {
      state.fieldHeight = payload;
    },
    soloSet: (state, { payload: { ids, on } }: PayloadAction<{ ids: readonly string[]; on: boolean }>) => {
      state.soloed = [...state.soloed.filter((id) => !ids.includes(id)), ...(on ? ids : [])];
    },
    layerPartShown: (state, { payload }: PayloadAction<LayerPart>) => {
      state.layerPart = payload;
    },
    soloToggled: (state, { payload }: PayloadAction<string>) => {
      state.soloed = state.soloed.includes(payload)
        ? state.soloed.filter((id) => id !== payload)
        : [...state.soloed, payload];
    },
    soloCleared: (state) => {
      state.soloed = [];
    },
    noticed: (state, { payload }: PayloadAction<Notice>) => {
      state.notices = withNotice(state.notices, payload);
    },
    noticeClosed: (state, { payload }: PayloadAction<string>) => {
      state.notices = state.notices.filter((notice) => notice.id !== payload);
    },
    chosenSet: (state, { payload }: PayloadAction<Chosen>) => {
      state.chosen = payload;
    },
    mixChosenSet: (state, { payload }: PayloadAction<MixChosen>) => {
      state.mixChosen = payload;
    },
    takeChosen: (state, { payload: { patchId, takeId } }: PayloadAction<{ patchId: string; takeId: string }>) => {
      state.takes = { ...state.takes, [patchId]: takeId };
    },
    overdubSet: (state, { payload }: PayloadAction<boolean>) => {
      state.overdub = payload;
    },
    mixAsSet: (state, { payload }: PayloadAction<UiState['mixAs']>) => {
      state.mixAs = payload;
    },
    mixTrialSet: (state, { payload }: PayloadAction<UiState['mixTrial']>) => ({ ...state, mixTrial: payload }),
    mixListensSet: (state, { payload }: PayloadAction<boolean>) => {
      state.mixListens = payload;
    },
    connectingSet: (state, { payload }: PayloadAction<string | null>) => {
      state.connecting = payload;
    },
    aloneSet: (state, { payload }: PayloadAction<string | null>) => {
      state.alone = payload;
    },
    standInsOpened: (state, { payload }: PayloadAction<boolean>) => {
      state.standIns = payload;
    },
    sheetOpened: (state, { payload }: PayloadAction<Sheet | null>) => {
      state.sheet = payload;
    },
    unreadableFound: (state, { payload }: PayloadAction<UiState['unreadable']>) => {
      state.unreadable = payload;
    },
    tryingSet: (state, { payload }: PayloadAction<Trying | null>) => ({ ...state, trying: payload }),
    leftOutSet: (state, { payload }: PayloadAction<readonly string[]>) => {
      state.leftOut = [...payload];
    },
    drawTrialSet: (state, { payload }: PayloadAction<UiState['drawTrial']>) => {
      state.drawTrial = payload;
    },
    kindPartShown: (state, { payload }: PayloadAction<string>) => {
      state.kindPart = payload;
    },
    busySet: (state, { payload }: PayloadAction<string | null>) => {
      state.busy = payload;
    },
  },
});
