import { newRig } from '../../core/rig/defaults';
import { rigSlice } from './rigSlice';

describe('undo', () => {
  const { opened, edited, undone, redone, gestureEnded, readOnlyChanged } = rigSlice.actions;
  const named = (name: string) => newRig('r', name);
  const run = (...actions: Parameters<typeof rigSlice.reducer>[1][]) =>
    actions.reduce((state, action) => rigSlice.reducer(state, action), rigSlice.getInitialState());
  test('every edit is a step, a drag is one, and a new edit forgets what was undone', () => {
    const dragged = run(
      opened(named('a')),
      edited({ rig: named('b') }),
      edited({ rig: named('c'), gesture: 'g' }),
      edited({ rig: named('d'), gesture: 'g' }),
      gestureEnded(),
    );
    expect(dragged.past).toHaveLength(2);
    const back = rigSlice.reducer(dragged, undone());
    expect(back.rig!.name).toBe('b');
    expect(rigSlice.reducer(back, redone()).rig!.name).toBe('d');
    expect(rigSlice.reducer(back, edited({ rig: named('e') })).future).toHaveLength(0);
  });
  test('two drags at once are one step; one that begins after the other has ended is another', () => {
    const both = run(
      opened(named('a')),
      edited({ rig: named('b'), gesture: 'left' }),
      edited({ rig: named('c'), gesture: 'right', together: true }),
      edited({ rig: named('d'), gesture: 'left', together: true }),
    );
    expect(both.past.map((rig) => rig.name)).toEqual(['a']);
    const after = [gestureEnded(), edited({ rig: named('e'), gesture: 'right' })].reduce(rigSlice.reducer, both);
    expect(after.past.map((rig) => rig.name)).toEqual(['a', 'd']);
    // With one finger down, another name is another drag, though nobody said that the first had ended.
    expect(rigSlice.reducer(both, edited({ rig: named('g'), gesture: 'right' })).past).toHaveLength(2);
    // A click between them is a step of its own.
    expect(rigSlice.reducer(both, edited({ rig: named('f') })).past).toHaveLength(2);
  });
  test('read-only stays as it is', () => {
    const state = run(
      opened(named('a')),
      edited({ rig: named('b') }),
      readOnlyChanged(true),
      edited({ rig: named('c') }),
      undone(),
    );
    expect(state.rig!.name).toBe('b');
  });
  test('where another machine leads, its edits alone are steps here; they can be undone once this one leads', () => {
    const { led, ledByChanged, jumped } = rigSlice.actions;
    const here = run(opened(named('a')), edited({ rig: named('b') }), undone(), ledByChanged('other'));
    for (const action of [edited({ rig: named('c') }), undone(), redone(), jumped(1)])
      expect(rigSlice.reducer(here, action)).toBe(here);
    const now = run(opened(named('a')), ledByChanged('other'), led(named('theirs')), led(named('theirs')));
    expect([now.rig!.name, now.past.length]).toEqual(['theirs', 1]);
    expect(rigSlice.reducer(rigSlice.reducer(now, ledByChanged('')), undone()).rig!.name).toBe('a');
    // Another rig that is opened meanwhile is led as well.
    expect(rigSlice.reducer(now, opened(named('d'))).ledBy).toBe('other');
  });
});
