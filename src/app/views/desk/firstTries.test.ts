import { fullWindow } from '../../../core/rig/defaults';
import { edgeWasMoved, strokeSoftThenHard, wheelWasRaised } from './firstTries';

const strike = (velocity: number, at = 10, on = 'p') => ({ key: 60, velocity, at, on });

test('soft, then hard, on this patch, and since the line is there', () => {
  expect(strokeSoftThenHard([strike(40), strike(110)], 'p', 0)).toBe(true);
  expect(strokeSoftThenHard([strike(110), strike(40)], 'p', 0)).toBe(false);
  expect(strokeSoftThenHard([strike(40), strike(80)], 'p', 0)).toBe(false);
  expect(strokeSoftThenHard([strike(40, 10, 'other'), strike(110)], 'p', 0)).toBe(false);
  expect(strokeSoftThenHard([strike(40, 10), strike(110, 30)], 'p', 20)).toBe(false);
});

test('a wheel that stands high already has to go down first', () => {
  expect(wheelWasRaised(0, 60)).toBe(true);
  expect(wheelWasRaised(0, 12)).toBe(false);
  expect(wheelWasRaised(127, 127)).toBe(false);
});

test('an edge is moved when a border of a window is elsewhere; what is wider in its fade is no edge that moved', () => {
  const windows = [fullWindow('key'), { ...fullWindow('velocity'), high: 84 }];
  expect(edgeWasMoved(windows, windows)).toBe(false);
  expect(edgeWasMoved(windows, [windows[0], { ...windows[1], fadeOut: 9 }])).toBe(false);
  expect(edgeWasMoved(windows, [windows[0], { ...windows[1], high: 90 }])).toBe(true);
});
