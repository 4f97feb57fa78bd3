/** The engine and `resolve` are two ways to the same answer: what one plays, the other tells without a sound. */
import fc from 'fast-check';
import { fullWindow, newLayer, markAt } from '../rig/defaults';
import type { Layer, Route } from '../rig/schema';
import { FADE_SHAPES } from '../space/window';
import { resolveStrikes } from './offline/resolve';
import { cc, levelAfter, make, off, on, RATE, render, start, STEADY, TONE, whole } from '../../../tests/kit/engine';

const shape = fc.constantFrom(...FADE_SHAPES);
const window = (source: string, least: number, most: number) =>
  fc
    .tuple(
      fc.integer({ min: least, max: most }),
      fc.integer({ min: least, max: most }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 0, max: 60 }),
      shape,
    )
    .map(([a, b, fadeIn, fadeOut, form]) => ({
      source,
      low: Math.min(a, b),
      high: Math.max(a, b),
      fadeIn,
      fadeOut,
      shape: form,
      read: 'always' as const,
    }));
const layer = fc.record({
  windows: fc
    .tuple(window('key', 0, 127), window('velocity', 1, 127), fc.option(window('cc.1', 0, 127), { nil: undefined }))
    .map((windows) => windows.filter((each) => each !== undefined)),
  params: fc.record({
    level: fc.integer({ min: -40, max: -20 }),
    pan: fc.double({ min: -1, max: 1, noNaN: true }),
    velocityToLevel: fc.integer({ min: 0, max: 100 }),
  }),
});
const route = (i: number, target: string, depth: number): Route => ({
  id: `r${i}`,
  source: 'cc.74',
  curve: 'smooth',
  depth,
  target,
  on: true,
  polarity: 'as-is',
  bound: false,
  counts: 'last' as const,
});

test('what sounds, how loud and where, for any windows, with the wheel moved while the note is held', () => {
  fc.assert(
    fc.property(
      fc.array(layer, { minLength: 1, maxLength: 4 }),
      fc.integer({ min: 0, max: 127 }),
      fc.integer({ min: 1, max: 127 }),
      fc.integer({ min: 0, max: 127 }),
      fc.integer({ min: 0, max: 127 }),
      (layers, key, velocity, wheel, slide) => {
        const setup = {
          layers,
          zones: [{ key: whole, pitchPerKey: 0 }],
          patch: { routes: [route(0, 'layer.l0.pan', 0.7)] },
        };
        const { program } = make(setup);
        const engine = start(setup);
        engine.handle(on(key, velocity));
        render(engine, 64);
        engine.handle(cc(1, wheel));
        engine.handle(cc(74, slide));
        const { left, right } = render(engine, RATE * 0.2);
        const told = resolveStrikes(program, key, velocity, {
          set: new Map([
            ['cc.1', wheel],
            ['cc.74', slide],
          ]),
        })[0];
        let expectedLeft = 0;
        let expectedRight = 0;
        for (const { layer: l, gain, touchDb, pan } of told) {
          const level = gain * 10 ** ((touchDb + layers[l].params.level) / 20);
          expectedLeft += level * Math.cos(((pan + 1) * Math.PI) / 4);
          expectedRight += level * Math.sin(((pan + 1) * Math.PI) / 4);
        }
        expect(left[left.length - 1]).toBeCloseTo(expectedLeft, 4);
        expect(right[right.length - 1]).toBeCloseTo(expectedRight, 4);
      },
    ),
    { numRuns: 60 },
  );
});

/** Frequency of a tone from its rising zero crossings. */
function frequency(samples: Float32Array): number {
  const crossings: number[] = [];
  for (let i = 1; i < samples.length; i++)
    if (samples[i - 1] < 0 && samples[i] >= 0) crossings.push(i - samples[i] / (samples[i] - samples[i - 1]));
  return ((crossings.length - 1) * RATE) / (crossings[crossings.length - 1] - crossings[0]);
}

test('the pitch that is told is the pitch that sounds: octaves, tuning, a route on it, keys that follow less', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 40, max: 84 }),
      fc.integer({ min: -12, max: 12 }),
      fc.integer({ min: -100, max: 100 }),
      fc.constantFrom(100, 50, 0),
      fc.integer({ min: 0, max: 127 }),
      (key, transpose, tune, pitchPerKey, slide) => {
        const setup = {
          audio: TONE,
          layers: [{ transpose, params: { tune, velocityToLevel: 0 } }],
          zones: [{ key: whole, root: 60, pitchPerKey }],
          patch: { routes: [route(0, 'layer.l0.tune', 0.3)] },
        };
        const engine = start(setup);
        engine.handle(cc(74, slide));
        engine.handle(on(key));
        render(engine, RATE * 0.05);
        const [{ semitones }] = resolveStrikes(make(setup).program, key, 127, { set: new Map([['cc.74', slide]]) })[0];
        const heard = 1200 * Math.log2(frequency(render(engine, RATE * 0.3).left) / (480 * 2 ** (semitones / 12)));
        expect(Math.abs(heard)).toBeLessThan(1);
      },
    ),
    { numRuns: 40 },
  );
});

describe('extremes', () => {
  test('a sample skipped through ten octaves too fast stays a number below full scale, and ends', () => {
    const engine = start({
      audio: TONE,
      layers: [{ transpose: 48, params: { tune: 1200 } }],
      zones: [{ key: whole, root: 0 }],
      patch: { routes: [route(0, 'layer.l0.tune', 1)] },
    });
    engine.handle(cc(74, 127));
    engine.handle(on(127));
    engine.handle({ type: 'bend', channel: 1, bend: 1 });
    const { left } = render(engine, RATE * 0.5);
    expect(left.every((x) => Math.abs(x) <= 1)).toBe(true);
    expect(engine.voiceCount).toBe(0);
  });
  test('a filter swept over its whole range by the wheel, at high resonance, neither clicks nor bursts', () => {
    const filtered: Partial<Layer> = { params: { level: -20, cutoff: 20, resonance: 12, velocityToLevel: 0 } };
    const engine = start({
      audio: STEADY,
      layers: [filtered],
      patch: { routes: [{ ...route(0, 'layer.l0.cutoff', 1), source: 'cc.1', curve: 'linear' }] },
    });
    engine.handle(on());
    let highest = 0;
    let steepest = 0;
    let before = 0;
    for (let step = 0; step < 400; step++) {
      engine.handle(cc(1, step % 128));
      const { left } = render(engine, 100);
      for (const x of left) {
        highest = Math.max(highest, Math.abs(x));
        steepest = Math.max(steepest, Math.abs(x - before));
        before = x;
      }
    }
    // A steady signal at −23 dB in each channel; a second-order filter of that Q overshoots by less than its own
    // height.
    expect(highest).toBeLessThan(0.15);
    expect(steepest).toBeLessThan(0.03);
    expect(levelAfter(engine, 1)).toBeCloseTo(0.1, 3);
  });
  test('256 voices in 16 layers, on 16 channels, each in its own window: every one is heard in its own layer', () => {
    const layers = Array.from({ length: 16 }, (_, i) => ({
      receive: { ...newLayer('', '', '', markAt(0)).receive, channel: (i + 1) as 1 },
      params: { level: -40 },
      windows: [fullWindow('key'), { ...fullWindow('velocity'), low: i * 7 + 1, high: i * 7 + 7 }],
    }));
    const engine = start({ layers: layers as Partial<Layer>[] });
    for (let channel = 1; channel <= 16; channel++)
      for (let key = 40; key < 56; key++) engine.handle(on(key, (channel - 1) * 7 + 4, channel));
    render(engine, RATE * 0.1);
    expect(engine.voiceCount).toBe(256);
    for (let l = 0; l < 16; l++) expect(engine.readings.takeLayerPeak(l)).toBeGreaterThan(0);
    for (let key = 40; key < 56; key++) engine.handle(off(key, 3));
    render(engine, RATE * 2);
    expect(engine.voiceCount).toBe(240);
  });
});
