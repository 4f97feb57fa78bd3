import { newRig } from '../../../core/rig/defaults';
import type { Rig } from '../../../core/rig/schema';
import { session } from '../../sound/session';
import { faultOf, reading } from '../../document/reading';
import { openDemo, takeUp } from '../../document/rigs';
import {
  currentRigId,
  keepForGood,
  keepsNothing,
  loadRig,
  overtaken,
  reachDisk,
  saveRig,
  sweepSamples,
  UnreadableRig,
} from '../../document/storage/database';
import { goOnFetching, holding, isTakingIn, keepHeld, swept } from '../../document/storage/demoSamples';
import { openTray } from '../../jobs/openTray';
import { rigFile } from '../../jobs/rigFile';
import { keepEdits } from '../../document/keepEdits';
import { untilThere } from '../../document/late';
import { playing } from '../../sound/playing';
import { rigSlice } from '../../document/rigSlice';
import { newId, notice, store } from '../../document/store';
import { saveSettings } from '../../document/settingsSlice';
import { toldSlice } from '../../document/toldSlice';

/** Brings the rig that was open last, or the demo rig on a new machine, and from then on keeps every edit. */
export async function boot(): Promise<void> {
  session.onProblem = (id, text) => store.dispatch(notice('problem', text, id));
  startSound();
  holding.told = (count, why) =>
    store.dispatch(
      count === 0
        ? toldSlice.actions.noticeClosed('held')
        : notice(
            'loss',
            `${count} ${count === 1 ? 'sample has' : 'samples have'} no room in this browser (${why}). ${count === 1 ? 'It plays' : 'They play'} from memory and ${count === 1 ? 'goes' : 'go'} into an export, but would be gone with this page.`,
            'held',
            { label: 'Try again', run: () => void keepHeld() },
          ),
    );
  overtaken.told = () => {
    store.dispatch(rigSlice.actions.readOnlyChanged(true));
    store.dispatch(
      notice(
        'loss',
        'A newer version of Wavicle was opened in another tab and has taken over what this browser keeps. This tab plays and exports on, but no longer edits.',
        'overtaken',
        { label: 'Load this page again', run: () => location.reload() },
      ),
    );
  };
  keepSettings();
  const why = await reachDisk();
  if (why !== undefined) void import('../../document/nothingKept').then(({ tellNothingKept }) => tellNothingKept(why));
  keep();
  askBeforeLeaving();
  const opened = openSomething();
  void untilThere(reading);
  await opened;
  void untilThere(() => import('./watching')).then(({ watchShow }) => watchShow());
  void playing.offerUnfinished();
  rigFile.start();
  void session.midi.open();
  // What can wait until something plays.
  void sweepSamples()
    .catch(() => undefined)
    .finally(() => {
      swept.done();
      void goOnFetching();
    });
  void keepForGood().catch(() => undefined);
}

async function openSomething(): Promise<void> {
  const problem = (text: string) => store.dispatch(notice('problem', text));
  try {
    const id = await currentRigId();
    const rig = id === undefined ? undefined : await loadRig(id);
    if (rig) return await takeUp(rig);
  } catch (error) {
    // It stays as it is, whatever is done from here on; the sheet of rigs offers what can be done about it.
    if (error instanceof UnreadableRig)
      store.dispatch(toldSlice.actions.unreadableFound({ rigId: error.rigId, problem: error.message }));
    else problem(`What this browser keeps cannot be reached: ${(error as Error).message}.`);
  }
  try {
    await openDemo();
  } catch (error) {
    problem(`The demo rig cannot be opened: ${(error as Error).message}. Import a rig to go on.`);
    store.dispatch(rigSlice.actions.opened(newRig(newId(), 'New rig')));
  }
}

/** A reload would empty the tray, or end a recording: the browser asks first. */
function askBeforeLeaving(): void {
  window.addEventListener('beforeunload', (event) => {
    if (openTray.tray.isFull || isTakingIn() || session.input.recorder.on) event.preventDefault();
  });
}

/** Browsers let sound begin after a gesture; any will do. */
function startSound(): void {
  const begin = () => void session.audio.start();
  window.addEventListener('pointerdown', begin);
  window.addEventListener('keydown', begin);
}

function keepSettings(): void {
  let last = store.getState();
  const apply = () => {
    const now = store.getState();
    const { settings, listening, show } = now;
    document.documentElement.dataset.theme = show.onStage ? settings.stageTheme : settings.theme;
    if (settings !== last.settings) saveSettings(settings);
    if (listening.soloed !== last.listening.soloed) session.ears.setSoloed(listening.soloed);
    last = now;
  };
  apply();
  store.subscribe(apply);
}

const NOWHERE = 'only in memory';

/**
 * Writes every edit; see `keepEdits`. A drag whose element is gone, whose pointer is lost or whose page is hidden is
 * over.
 */
function keep(): void {
  const { dispatch } = store;
  let inMemory: Rig | null = null;
  const { hurry } = keepEdits({
    state: () => store.getState().rig,
    subscribe: (listener) => store.subscribe(listener),
    faultOf,
    write: async (rig, isChecked) => {
      // What is in memory already is not put there at every try.
      if (!keepsNothing() || rig !== inMemory) await saveRig(rig, isChecked);
      inMemory = rig;
      if (keepsNothing()) throw new Error(NOWHERE);
    },
    pauseGesture: () => {
      if (store.getState().rig.gesture !== null) dispatch(rigSlice.actions.gesturePaused());
    },
    say: (saving) => {
      if (store.getState().rig.saving !== saving) dispatch(rigSlice.actions.savingChanged(saving));
    },
    // That one is told already.
    failed: (problem) =>
      problem !== NOWHERE &&
      dispatch(
        notice(
          'loss',
          `Edits cannot be kept in this browser (${problem}). They are tried again; export the rig to be safe.`,
          'saving',
          { label: 'Export the rig', run: () => void import('../../jobs/files').then(({ exportRig }) => exportRig()) },
        ),
      ),
    mended: () => dispatch(toldSlice.actions.noticeClosed('saving')),
  });
  const end = () => {
    if (store.getState().rig.gesture !== null) dispatch(rigSlice.actions.gesturePaused());
  };
  // After whoever the pointer belongs to has had its turn.
  for (const type of ['pointerup', 'pointercancel', 'lostpointercapture'] as const)
    window.addEventListener(type, () => setTimeout(end, 0), true);
  window.addEventListener('blur', end);
  window.addEventListener('pagehide', hurry);
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'hidden') hurry();
  });
}
