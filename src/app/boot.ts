import { newRig } from '../core/rig/defaults';
import { session } from './session';
import { fetchDemo, holdRig, openRig } from './files';
import { keepForGood, loadCurrentRig, saveRig, sweepSamples } from './storage/database';
import { rigSlice } from './state/rigSlice';
import { newId, notice, store } from './state/store';
import { saveSettings } from './state/uiSlice';

/** Brings the rig that was open last, or the demo rig on a new machine, and from then on keeps every edit. */
export async function boot(): Promise<void> {
  session.onProblem = (id, text) => store.dispatch(notice('problem', text, id));
  startSound();
  keepSettings();
  keepEdits();
  await sweepSamples().catch(() => undefined);
  void keepForGood().catch(() => undefined);
  await openSomething();
  void session.midi.open();
}

async function openSomething(): Promise<void> {
  const problem = (text: string) => store.dispatch(notice('problem', text));
  let damaged = false;
  try {
    const rig = await loadCurrentRig();
    if (rig) {
      await holdRig(rig.id);
      store.dispatch(rigSlice.actions.opened(rig));
      return;
    }
  } catch (error) {
    damaged = true;
    problem(`The rig kept in this browser cannot be opened: ${(error as Error).message}. The demo rig is open instead; what was kept has not been touched.`);
  }
  try {
    const demo = await fetchDemo();
    // Under another id, so that it never takes the place of what could not be read.
    await openRig(damaged ? { ...demo, rig: { ...demo.rig, id: newId() } } : demo);
  } catch (error) {
    problem(`The demo rig cannot be opened: ${(error as Error).message}. Import a rig to go on.`);
    store.dispatch(rigSlice.actions.opened(newRig(newId(), 'New rig')));
  }
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
    document.documentElement.dataset.theme = ui.theme;
    if (ui.theme !== last.theme || ui.middleC !== last.middleC) saveSettings(ui);
    if (ui.soloed !== last.soloed) session.audio.send({ type: 'solo', layerIds: ui.soloed });
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
