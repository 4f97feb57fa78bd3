import { TakeRecorder } from './takeRecorder';

const strike = (key: number, velocity = 90) => ({ type: 'noteOn', channel: 1, key, velocity }) as const;
const lift = (key: number) => ({ type: 'noteOff', channel: 1, key, velocity: 64 }) as const;

test('writes notes and moves in quarters; what was struck a little early in the count-in belongs to the first beat', () => {
  let now = -0.1;
  const recorder = new TakeRecorder();
  recorder.note(strike(50));
  recorder.start(() => now);
  recorder.note(strike(60));
  now = 1;
  recorder.note(lift(60));
  recorder.note({ type: 'controller', channel: 1, controller: 1, value: 30 });
  recorder.note({ type: 'controller', channel: 1, controller: 121, value: 0 });
  recorder.move('reverb.e.decay', 2);
  now = 1.004;
  recorder.move('reverb.e.decay', 2.5);
  now = 2;
  recorder.note({ type: 'xy', number: 1, x: 0.2, y: 0.7 });
  recorder.note(strike(64));
  now = 3;
  expect(recorder.stop()).toEqual({
    notes: [
      [0, 1, 60, 90],
      [2, 1, 64, 90],
    ],
    moves: [
      [1, 'cc.1', 30],
      [1, 'reverb.e.decay', 2.5],
      [2, 'xy.1.x', 0.2],
      [2, 'xy.1.y', 0.7],
    ],
  });
  expect(recorder.on).toBe(false);
});

test('a key held over the end of a round is a note in both', () => {
  let now = 3.5;
  const recorder = new TakeRecorder();
  recorder.start(() => now);
  recorder.note(strike(60));
  expect(recorder.take(4).notes).toEqual([[3.5, 0.5, 60, 90]]);
  now = 1;
  recorder.note(lift(60));
  expect(recorder.stop().notes).toEqual([[0, 1, 60, 90]]);
});

test('a short note in the last sixteenth of the count-in is the first note; what ended before is none', () => {
  let now = -0.5;
  const recorder = new TakeRecorder();
  recorder.start(() => now);
  recorder.note(strike(48));
  now = -0.4;
  recorder.note(lift(48));
  now = -0.2;
  recorder.note(strike(60));
  now = -0.05;
  recorder.note(lift(60));
  expect(recorder.stop().notes).toEqual([[0, expect.closeTo(0.15, 9), 60, 90]]);
});

test('what was recorded so far can be looked at, keys that are down with it, and all of it stays', () => {
  let now = 0;
  const recorder = new TakeRecorder();
  recorder.start(() => now);
  recorder.note(strike(60));
  now = 1;
  recorder.note(lift(60));
  recorder.note(strike(64));
  recorder.move('macro.1', 0.5);
  now = 2;
  expect(recorder.peek()).toEqual({
    notes: [
      [0, 1, 60, 90],
      [1, 1, 64, 90],
    ],
    moves: [[1, 'macro.1', 0.5]],
  });
  now = 3;
  expect(recorder.stop()).toEqual({
    notes: [
      [0, 1, 60, 90],
      [1, 2, 64, 90],
    ],
    moves: [[1, 'macro.1', 0.5]],
  });
});
