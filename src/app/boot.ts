import { newRig } from '../core/rig/defaults';
import { session } from './session';
import { faultOf } from '../core/rig/read';
import { openDemo, takeUp } from './rigs';
import { currentRigId, keepForGood, loadRig, saveRig, sweepSamples, UnreadableRig } from './storage/database';
import { goOnFetching, isTakingIn, swept } from './storage/demoSamples';
import { tray } from './tray';
import { rigFile } from './rigFile';
import { troubles } from './troubles';
import { offline } from './offline';
import { rigSlice } from './state/rigSlice';
import { newId, notice, store } from './state/store';
import { saveSettings, uiSlice } from './state/uiSlice';

/** Brings the rig that was open last, or the demo rig on a new machine, and from then on keeps every edit. */
export async function boot(): Promise<void> {
  session.onProblem = (id, text) => store.dispatch(notice('problem', text, id));
  startSound();
  keepSettings();
  keepEdits();
  askBeforeLeaving();
  await openSomething();
  troubles.start();
  rigFile.start();
  offline.start();
  void session.midi.open();
  // What can wait until something plays.
  void sweepSamples().catch(() => undefined).finally(() => { swept.done(); void goOnFetching(); });
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
    if (error instanceof UnreadableRig) store.dispatch(uiSlice.actions.unreadableFound({ rigId: error.rigId, problem: error.message }));
    else problem(`What this browser keeps cannot be reached: ${(error as Error).message}.`);
  }
  try {
    await openDemo();
  } catch (error) {
    problem(`The demo rig cannot be opened: ${(error as Error).message}. Import a rig to go on.`);
    store.dispatch(rigSlice.actions.opened(newRig(newId(), 'New rig')));
  }
}

/** A reload would empty the tray: the browser asks first. */
function askBeforeLeaving(): void {
  window.addEventListener('beforeunload', (event) => { if (tray.isFull || isTakingIn()) event.preventDefault(); });
}

/** Browsers let sound begin after a gesture; any will do. */
function startSound(): void {
  const begin = () => void session.audio.start();
  window.addEventListener('pointerdown', begin);
  window.addEventListener('keydown', begin);
}

function keepSettings(): void {
  let last = store.getState().ui;
  const apply = () => {
    const { ui } = store.getState();
    document.documentElement.dataset.theme = ui.onStage ? ui.stageTheme : ui.theme;
    if (ui.theme !== last.theme || ui.stageTheme !== last.stageTheme || ui.middleC !== last.middleC) saveSettings(ui);
    if (ui.soloed !== last.soloed) session.setSoloed(ui.soloed);
    last = ui;
  };
  apply();
  store.subscribe(apply);
}

/** Saves after each edit, one save at a time; what changes meanwhile is saved next. While a drag goes on, nothing is written. */
function keepEdits(): void {
  let kept = store.getState().rig.rig;
  let busy = false;
  const save = async (): Promise<void> => {
    const { rig, readOnly, gesture } = store.getState().rig;
    if (busy || !rig || readOnly || rig === kept || gesture) return;
    const first = kept === null || kept.id !== rig.id;
    busy = true;
    try {
      if (!first) store.dispatch(rigSlice.actions.savingChanged('saving'));
      const fault = faultOf(rig);
      if (fault) throw new Error(fault.message);
      await saveRig(rig);
      kept = rig;
      if (!first) store.dispatch(rigSlice.actions.savingChanged('saved'));
    } catch (error) {
      kept = rig;
      store.dispatch(rigSlice.actions.savingChanged('failed'));
      store.dispatch(notice('problem', `This edit could not be kept in the browser (${(error as Error).message}). Export the rig to be safe.`, 'saving'));
    }
    busy = false;
    void save();
  };
  store.subscribe(() => void save());
}
