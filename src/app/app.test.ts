import { LAYER_PARAMETERS } from '../core/rig/parameters';
import { newRig } from '../core/rig/defaults';
import { FIRST_KEY, keyScaleOf, LAST_KEY, draggedKey } from './parts/keyScale';
import { formatValue, parseValue } from './parts/format';
import { rigSlice } from './state/rigSlice';

describe('values in words', () => {
  const { level, cutoff, attack, pan } = LAYER_PARAMETERS;
  test.each([[level, -6.5, '−6.5 dB'], [level, -60, 'silent'], [cutoff, 2400, '2.4 kHz'], [cutoff, 180, '180 Hz'], [attack, 0.18, '180 ms'], [attack, 1.9, '1.9 s'], [pan, 0, 'centre'], [pan, -0.12, '12 left']] as const)('%# %f', (parameter, value, text) => {
    expect(formatValue(parameter, value)).toBe(text);
    expect(parseValue(parameter, text)).toBeCloseTo(value, 6);
  });
  test('typed in other ways', () => {
    expect([parseValue(cutoff, '2.4k'), parseValue(cutoff, '99999999'), parseValue(attack, '20ms'), parseValue(level, '-3,5'), parseValue(pan, '30 right'), parseValue(level, 'loud')]).toEqual([2400, 20480, 0.02, -3.5, 0.3, undefined]);
  });
});

describe('the key scale', () => {
  const scale = keyScaleOf(880);
  test('keys are equally wide at the back, and seven whites share an octave in front', () => {
    expect(scale.keyWidth).toBeCloseTo(10, 9);
    expect(scale.left(FIRST_KEY)).toBe(0);
    expect(scale.left(LAST_KEY + 1)).toBeCloseTo(880, 9);
    for (const [white, next] of [[60, 62], [64, 65], [71, 72]]) expect(scale.frontLeft(next) - scale.frontLeft(white)).toBeCloseTo(120 / 7, 9);
    for (let key = 24; key <= 108; key += 12) expect(scale.frontLeft(key)).toBeCloseTo(scale.left(key), 9);
  });
  test('a drag past an end means the end of all keys', () => expect([draggedKey(scale, -5), draggedKey(scale, 5), draggedKey(scale, 905)]).toEqual([0, 21, 127]));
});

describe('undo', () => {
  const { opened, edited, undone, redone, gestureEnded, readOnlyChanged } = rigSlice.actions;
  const named = (name: string) => newRig('r', name);
  const run = (...actions: Parameters<typeof rigSlice.reducer>[1][]) => actions.reduce((state, action) => rigSlice.reducer(state, action), rigSlice.getInitialState());
  test('every edit is a step, a drag is one, and a new edit forgets what was undone', () => {
    const dragged = run(opened(named('a')), edited({ rig: named('b') }), edited({ rig: named('c'), gesture: 'g' }), edited({ rig: named('d'), gesture: 'g' }), gestureEnded());
    expect(dragged.past).toHaveLength(2);
    const back = rigSlice.reducer(dragged, undone());
    expect(back.rig!.name).toBe('b');
    expect(rigSlice.reducer(back, redone()).rig!.name).toBe('d');
    expect(rigSlice.reducer(back, edited({ rig: named('e') })).future).toHaveLength(0);
  });
  test('read-only stays as it is', () => {
    const state = run(opened(named('a')), edited({ rig: named('b') }), readOnlyChanged(true), edited({ rig: named('c') }), undone());
    expect(state.rig!.name).toBe('b');
  });
});
