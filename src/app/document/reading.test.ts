import { newRig } from '../../core/rig/defaults';
import type { Rig } from '../../core/rig/schema';
import { faultOf, reading } from './reading';
import { rigSlice } from './rigSlice';
import { edit, store } from './store';

const named = (name: unknown) => (rig: Rig) => ({ ...rig, name }) as Rig;
const name = () => store.getState().rig.rig!.name;
const refused = () => store.getState().told.notices.filter(({ id }) => id === 'fault').length;

// In this order: what reads rigs comes once.
test('before what reads rigs is there, an edit is made at once, and taken back where it turns out to be none', async () => {
  store.dispatch(rigSlice.actions.opened(newRig('r', 'Before')));
  store.dispatch(edit(named(5)));
  expect([name(), refused()]).toEqual([5, 0]);
  await reading();
  await Promise.resolve();
  expect([name(), refused()]).toEqual(['Before', 1]);
});

test('once it is there, an edit that is none is never made', () => {
  expect(faultOf(newRig('r', 'Sound'))).toBeUndefined();
  store.dispatch(edit(named('After')));
  store.dispatch(edit(named(5)));
  expect(name()).toBe('After');
});
