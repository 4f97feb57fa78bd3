import { newRig } from '../../core/rig/defaults';
import { GESTURE_MS, keepEdits, type Keeping } from './keepEdits';
import { rigSlice } from './rigSlice';

jest.useFakeTimers();
const { opened, edited, gestureEnded, gesturePaused, savingChanged } = rigSlice.actions;
const named = (name: string) => newRig('r', name);

/** A document, a disk that can fail or take its time, and what was said. */
function begin(more: Partial<Keeping> = {}) {
  let state = rigSlice.reducer(rigSlice.getInitialState(), opened(named('a')));
  const listeners: (() => void)[] = [];
  const dispatch = (action: Parameters<typeof rigSlice.reducer>[1]) => {
    state = rigSlice.reducer(state, action);
    for (const listener of listeners) listener();
  };
  const written: string[] = [];
  const told: string[] = [];
  const disk = { broken: false, ms: 0 };
  const keeping: Keeping = {
    state: () => state,
    subscribe: (listener) => listeners.push(listener),
    pauseGesture: () => {
      if (state.gesture !== null) dispatch(gesturePaused());
    },
    say: (saving) => dispatch(savingChanged(saving)),
    failed: (problem) => told.push(problem),
    mended: () => told.push('mended'),
    faultOf: () => undefined,
    write: async (rig) => {
      await new Promise((resolve) => setTimeout(resolve, disk.ms));
      if (disk.broken) throw new Error('the disk is full');
      written.push(rig.name);
    },
    ...more,
  };
  const { hurry } = keepEdits(keeping);
  return { dispatch, written, told, disk, hurry, state: () => state };
}
const wait = (ms: number) => jest.advanceTimersByTimeAsync(ms);

test('each edit is written, and “saved” is what is seen', async () => {
  const { dispatch, written, state, disk } = begin();
  disk.ms = 50;
  dispatch(edited({ rig: named('b') }));
  expect(state().saving).toBe('saving');
  dispatch(edited({ rig: named('c') }));
  await wait(60);
  expect([written, state().saving]).toEqual([['b'], 'saving']);
  await wait(60);
  expect([written, state().saving]).toEqual([['b', 'c'], 'saved']);
});
test('a drag is one step and one write, and is not called saved before', async () => {
  const { dispatch, written, state } = begin();
  for (const name of ['b', 'c', 'd']) {
    dispatch(edited({ rig: named(name), gesture: 'g' }));
    await wait(100);
  }
  expect([written, state().saving]).toEqual([[], 'saving']);
  dispatch(gestureEnded());
  await wait(1);
  expect([written, state().saving, state().past.length]).toEqual([['d'], 'saved', 1]);
});
test('a drag that nobody ends is over after a second without a move; what it goes on to is the same step', async () => {
  const { dispatch, written, state } = begin();
  dispatch(edited({ rig: named('b'), gesture: 'g' }));
  await wait(GESTURE_MS + 10);
  expect([written, state().saving, state().gesture]).toEqual([['b'], 'saved', null]);
  dispatch(edited({ rig: named('c'), gesture: 'g' }));
  expect(state().past).toHaveLength(1);
  await wait(GESTURE_MS + 10);
  expect(written).toEqual(['b', 'c']);
});
test('within a long drag the rig is written every second', async () => {
  const { dispatch, written } = begin();
  for (let n = 0; n < 35; n++) {
    dispatch(edited({ rig: named(`${n}`), gesture: 'g' }));
    await wait(100);
  }
  expect(written.length).toBeGreaterThanOrEqual(3);
  expect(written.length).toBeLessThan(6);
});
test('a page that is hidden writes what is open at once', async () => {
  const { dispatch, written, hurry } = begin();
  dispatch(edited({ rig: named('b'), gesture: 'g' }));
  hurry();
  await wait(1);
  expect(written).toEqual(['b']);
});
test('what could not be written is told, tried again, and said to be well once it is', async () => {
  const { dispatch, written, told, disk, state } = begin();
  disk.broken = true;
  dispatch(edited({ rig: named('b') }));
  await wait(10);
  expect([state().saving, told]).toEqual(['failed', ['the disk is full']]);
  disk.broken = false;
  await wait(6000);
  expect([state().saving, written, told]).toEqual(['saved', ['b'], ['the disk is full', 'mended']]);
});
test('an edit that changes nothing is no step', () => {
  const { dispatch, state } = begin();
  dispatch(edited({ rig: named('a') }));
  expect(state().past).toHaveLength(0);
});
test('what cannot be looked at yet is written as such, and not said to be saved before it was; a fault is told', async () => {
  let answer: (fault: { message: string } | undefined) => void = () => undefined;
  const written: string[] = [];
  const { dispatch, told, state } = begin({
    faultOf: () => new Promise((resolve) => (answer = resolve)),
    write: (rig, isChecked) => Promise.resolve(void written.push(`${rig.name} ${isChecked}`)),
  });
  dispatch(edited({ rig: named('b') }));
  await wait(10);
  expect([written, state().saving]).toEqual([['b false'], 'saving']);
  answer(undefined);
  await wait(10);
  expect([written, state().saving]).toEqual([['b false', 'b true'], 'saved']);
  dispatch(edited({ rig: named('c') }));
  await wait(10);
  answer({ message: 'no rig' });
  await wait(10);
  expect([written.slice(2), told, state().saving]).toEqual([['c false'], ['no rig'], 'failed']);
});
test('where what looks at it cannot be fetched, that is told, and tried again', async () => {
  let tries = 0;
  const { dispatch, written, told } = begin({
    faultOf: () => (tries++ === 0 ? Promise.reject(new Error('the line is gone')) : undefined),
  });
  dispatch(edited({ rig: named('b') }));
  await wait(10);
  expect([written, told]).toEqual([['b'], ['the line is gone']]);
  await wait(6000);
  expect([written, told]).toEqual([
    ['b', 'b'],
    ['the line is gone', 'mended'],
  ]);
});
