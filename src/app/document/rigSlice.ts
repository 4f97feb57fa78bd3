import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { holdsTheSame } from '../../core/rig/same';
import type { Rig } from '../../core/rig/schema';

const MOST_STEPS = 300;

export interface RigState {
  rig: Rig | null;
  /** Earlier and later states of the document; every edit is one step, and so is a whole drag. */
  past: Rig[];
  future: Rig[];
  /** The drag that is going on; null once it is over, or rests for a while. */
  gesture: string | null;
  /** The drag that made the last step: edits with its name go on with that step. */
  step: string | null;
  saving: 'saved' | 'saving' | 'failed';
  /** Another tab holds this rig. */
  readOnly: boolean;
  /** What the machine is called that leads in the place of this one: edits are made there. Empty: this one does. */
  ledBy: string;
}

/** Whether edits are made here. */
const isOurs = ({ readOnly, ledBy }: RigState): boolean => !readOnly && ledBy === '';

const initialState: RigState = {
  rig: null,
  past: [],
  future: [],
  gesture: null,
  step: null,
  saving: 'saved',
  readOnly: false,
  ledBy: '',
};

export const rigSlice = createSlice({
  name: 'rig',
  initialState,
  reducers: {
    opened: (state, { payload }: PayloadAction<Rig>) => ({
      ...initialState,
      readOnly: state.readOnly,
      ledBy: state.ledBy,
      rig: payload,
    }),
    /** `together`: several fingers are down. */
    edited: (
      state,
      { payload: { rig, gesture, together } }: PayloadAction<{ rig: Rig; gesture?: string; together?: boolean }>,
    ) => {
      if (!state.rig || !isOurs(state) || holdsTheSame(rig, state.rig)) return state;
      // Another finger that joins a drag which is going on takes part in its step: both are one thing that hands do.
      const joins = together === true && state.gesture !== null && state.step !== null;
      const goesOn = gesture !== undefined && (gesture === state.step || joins);
      return {
        ...state,
        rig,
        past: goesOn ? state.past : [...state.past, state.rig as Rig].slice(-MOST_STEPS),
        future: [],
        gesture: gesture ?? null,
        step: gesture ?? null,
      };
    },
    /** What was edited on the machine that leads is one step here. */
    led: (state, { payload }: PayloadAction<Rig>) =>
      !state.rig || state.readOnly || holdsTheSame(payload, state.rig)
        ? state
        : {
            ...state,
            rig: payload,
            past: [...state.past, state.rig as Rig].slice(-MOST_STEPS),
            future: [],
            gesture: null,
            step: null,
          },
    ledByChanged: (state, { payload }: PayloadAction<string>) => ({ ...state, ledBy: payload }),
    gestureEnded: (state) => ({ ...state, gesture: null, step: null }),
    /** It rests, or nobody can say whether it goes on: if it does, it is the same step. */
    gesturePaused: (state) => ({ ...state, gesture: null }),
    undone: (state) => {
      if (state.past.length === 0 || !isOurs(state)) return state;
      return {
        ...state,
        rig: state.past[state.past.length - 1],
        past: state.past.slice(0, -1),
        future: [state.rig!, ...state.future],
        gesture: null,
        step: null,
      };
    },
    redone: (state) => {
      if (state.future.length === 0 || !isOurs(state)) return state;
      return {
        ...state,
        rig: state.future[0],
        past: [...state.past, state.rig!],
        future: state.future.slice(1),
        gesture: null,
        step: null,
      };
    },
    /** Goes to any state that undo and redo can reach, counted from the earliest. */
    jumped: (state, { payload }: PayloadAction<number>) => {
      const all = [...state.past, state.rig!, ...state.future];
      if (!state.rig || !isOurs(state) || payload < 0 || payload >= all.length || payload === state.past.length)
        return state;
      return {
        ...state,
        past: all.slice(0, payload),
        rig: all[payload],
        future: all.slice(payload + 1),
        gesture: null,
        step: null,
      };
    },
    savingChanged: (state, { payload }: PayloadAction<RigState['saving']>) => ({ ...state, saving: payload }),
    readOnlyChanged: (state, { payload }: PayloadAction<boolean>) => ({ ...state, readOnly: payload }),
  },
});
