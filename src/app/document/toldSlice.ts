import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

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

/** The notices with one more, or with one of the same id told anew; the gravest stand last. */
export function withNotice(notices: readonly Notice[], next: Notice): Notice[] {
  const all = [...notices.filter(({ id }) => id !== next.id), next];
  while (all.length > MOST_NOTICES) {
    const lightest = all.reduce((least, each) => (WEIGHTS[each.kind] < WEIGHTS[least.kind] ? each : least));
    all.splice(all.indexOf(lightest), 1);
  }
  return all.sort((a, b) => WEIGHTS[a.kind] - WEIGHTS[b.kind]);
}

/** What is told of the work, over whatever is in view. */
export interface ToldState {
  notices: Notice[];
  /** The rig that was open last cannot be read; it is kept as it is until somebody deals with it. */
  unreadable: { rigId: string; problem: string } | null;
  /** What goes on for a while. */
  busy: string | null;
}

const initialState: ToldState = { notices: [], unreadable: null, busy: null };

export const toldSlice = createSlice({
  name: 'told',
  initialState,
  reducers: {
    noticed: (state, { payload }: PayloadAction<Notice>) => {
      state.notices = withNotice(state.notices, payload);
    },
    noticeClosed: (state, { payload }: PayloadAction<string>) => {
      state.notices = state.notices.filter((notice) => notice.id !== payload);
    },
    unreadableFound: (state, { payload }: PayloadAction<ToldState['unreadable']>) => {
      state.unreadable = payload;
    },
    busySet: (state, { payload }: PayloadAction<string | null>) => {
      state.busy = payload;
    },
  },
});
