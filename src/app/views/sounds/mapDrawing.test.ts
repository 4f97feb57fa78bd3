import { newZone } from '../../../core/rig/defaults';
import { keyScaleOf } from '../../parts/keyScale';
import { boxOf, depthOf, isInside, velocityAtY, yOfVelocity, type MapSpace } from './mapDrawing';

const space: MapSpace = { scale: keyScaleOf(880), height: 254 };
const edge = (low: number, high: number, fadeIn = 0, fadeOut = 0) => ({
  low,
  high,
  fadeIn,
  fadeOut,
  shape: 'sine' as const,
});

test('a zone lies over its keys and velocities, both ends inside', () => {
  const box = boxOf({ ...newZone('w', 60), key: edge(60, 62), velocity: edge(64, 127) }, space);
  expect(box).toEqual({ x0: (60 - 21) * 10, x1: (63 - 21) * 10, y0: 0, y1: 254 * (1 - 63 / 127) });
  const all = boxOf({ ...newZone('w', 60), key: edge(21, 108), velocity: edge(1, 127) }, space);
  expect(all).toEqual({ x0: 0, x1: 880, y0: 0, y1: 254 });
});

test('neighbours share a border', () => {
  const below = boxOf({ ...newZone('w', 60), velocity: edge(1, 63) }, space);
  const above = boxOf({ ...newZone('w', 60), velocity: edge(64, 127) }, space);
  expect(above.y1).toBe(below.y0);
});

test('every velocity is found again at its own height', () => {
  for (let velocity = 1; velocity < 128; velocity++) {
    expect(velocityAtY(yOfVelocity(velocity + 0.5, space.height), space.height)).toBe(velocity);
    expect(velocityAtY(yOfVelocity(velocity, space.height) - 0.01, space.height)).toBe(velocity);
  }
  expect(velocityAtY(-5, space.height)).toBe(127);
  expect(velocityAtY(9999, space.height)).toBe(1);
});

test('full depth lies inside the shores by the lengths of the fades', () => {
  const zone = { ...newZone('w', 60), key: edge(40, 80, 10, 5), velocity: edge(20, 120, 30, 0) };
  const box = boxOf(zone, space);
  const full = depthOf(zone, space);
  expect(full.x0).toBe(space.scale.middle(50));
  expect(full.x1).toBe(space.scale.middle(75));
  expect(full.y0).toBe(box.y0);
  expect(full.y1).toBeLessThan(box.y1);
  const plain = { ...newZone('w', 60), key: edge(40, 80) };
  expect(depthOf(plain, space)).toEqual(boxOf(plain, space));
});

test('a line drawn around a point holds it, also where it bends inward', () => {
  const hook: [number, number][] = [
    [0, 0],
    [10, 0],
    [10, 10],
    [6, 10],
    [6, 3],
    [4, 3],
    [4, 10],
    [0, 10],
  ];
  expect(isInside(hook, 2, 8)).toBe(true);
  expect(isInside(hook, 5, 8)).toBe(false);
  expect(isInside(hook, 8, 8)).toBe(true);
  expect(isInside(hook, 12, 5)).toBe(false);
  expect(isInside([], 1, 1)).toBe(false);
});
