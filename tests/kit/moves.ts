/** What the tests of what moves share. */
import { fullWindow, newMover, newRoute } from '../../src/core/rig/defaults';
import type { Layer, Mover, Route, XyPad } from '../../src/core/rig/schema';
import type { Engine } from '../../src/core/engine/engine';
import { on, RATE, render, start, type Setup } from './engine';

export const route = (source: Route['source'], target: string, depth: number, more: Partial<Route> = {}): Route => ({
  ...newRoute(`${JSON.stringify(source)}${target}`.replace(/\W/g, ''), source, target, depth),
  ...more,
});
export const mover = (kind: Mover['kind'], more: Partial<Mover> = {}): Mover => ({
  ...newMover(kind, 1, kind),
  ...more,
});
export const heard = (
  setup: Setup,
  seconds: number,
  before: (engine: Engine) => void = () => undefined,
): Float64Array => {
  const engine = start(setup);
  before(engine);
  engine.handle(on());
  const { left } = render(engine, Math.round(seconds * RATE));
  return Float64Array.from(left, (x) => x * Math.SQRT2);
};
export const db = (x: number): number => 20 * Math.log10(x);
export const pad = (more: Partial<XyPad> = {}): XyPad => ({
  number: 1,
  name: 'p',
  x: 0.5,
  y: 0.5,
  motion: 'hand',
  path: [],
  params: {},
  anchors: [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ].map(([x, y], i) => ({ name: `a${i}`, x, y, layerId: `l${i}` })),
  ...more,
});
export const withAnchor = (n: number): Partial<Layer> => ({
  params: { level: -12 },
  windows: [
    fullWindow('key'),
    fullWindow('velocity'),
    { source: `xy.1.anchor.${n}`, low: 0, high: 1, fadeIn: 1, fadeOut: 0, shape: 'root', read: 'always' },
  ],
});

/** Pitch of a tone by its zero crossings, in hertz, over stretches of a signal. */
export function pitches(signal: Float64Array, stretch: number): number[] {
  const found: number[] = [];
  const rises: number[] = [];
  for (let i = 1; i < signal.length; i++)
    if (signal[i - 1] < 0 && signal[i] >= 0) rises.push(i - 1 + signal[i - 1] / (signal[i - 1] - signal[i]));
  for (let i = stretch; i < rises.length; i++) found.push((stretch * RATE) / (rises[i] - rises[i - stretch]));
  return found;
}
