import { soundsSlice } from './soundsSlice';

const { actions, reducer } = soundsSlice;
const after = (...done: Parameters<typeof reducer>[1][]) => done.reduce(reducer, soundsSlice.getInitialState());

test('the leader is one of the chosen, the last that was added', () => {
  expect(after(actions.zonesChosen([3, 4]))).toMatchObject({ selected: [3, 4], leader: 3 });
  expect(after(actions.zonesChosen([3]), actions.zoneToggled(7))).toMatchObject({ selected: [3, 7], leader: 7 });
  expect(after(actions.zonesChosen([3]), actions.zoneToggled(7), actions.zoneToggled(7))).toMatchObject({
    selected: [3],
    leader: 3,
  });
  expect(after(actions.zonesChosen([3]), actions.zoneToggled(3))).toMatchObject({ selected: [], leader: null });
});

test('choosing more keeps the leader where it is still among them', () => {
  expect(after(actions.zonesChosen([5]), actions.zonesChosen([4, 5, 6])).leader).toBe(5);
  expect(after(actions.zonesChosen([5]), actions.zonesChosen([4, 6])).leader).toBe(4);
  expect(after(actions.zonesChosen([5]), actions.zonesChosen([])).leader).toBeNull();
});

test('panels, batch and hearing are remembered', () => {
  expect(
    after(
      actions.lowerChosen('waveform'),
      actions.batchChosen('scale'),
      actions.aloneSet(false),
      actions.followSet(true),
    ),
  ).toMatchObject({ lower: 'waveform', batch: 'scale', alone: false, followsPlaying: true });
});
