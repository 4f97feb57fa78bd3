import { nearestMarker, type Marker } from './waveDrawing';

const frames: Record<Marker, number | undefined> = {
  start: 0,
  end: 1000,
  'loop.start': 400,
  'loop.end': 900,
  'loop.crossfade': 850,
};
const xOf = (frame: number) => frame / 2;

test('a press takes the line that is near, and none where none is', () => {
  expect(nearestMarker(frames, xOf, 2, false)).toBe('start');
  expect(nearestMarker(frames, xOf, 203, true)).toBe('loop.start');
  expect(nearestMarker(frames, xOf, 300, true)).toBeUndefined();
});

test('where lines lie over one another, those of the sample are held above and those of the loop below', () => {
  const whole = { ...frames, 'loop.start': 0, 'loop.end': 1000, 'loop.crossfade': 1000 };
  expect([nearestMarker(whole, xOf, 1, false), nearestMarker(whole, xOf, 1, true)]).toEqual(['start', 'loop.start']);
  expect([nearestMarker(whole, xOf, 500, false), nearestMarker(whole, xOf, 500, true)]).toEqual(['end', 'loop.end']);
});

test('what is not there is not taken', () => {
  const plain = { ...frames, 'loop.start': undefined, 'loop.end': undefined, 'loop.crossfade': undefined };
  expect(nearestMarker(plain, xOf, 200, true)).toBeUndefined();
  // A line of the sample can be held below as well, where nothing else is near.
  expect(nearestMarker(plain, xOf, 3, true)).toBe('start');
});
