import { fullWindow, markAt, newLayer } from '../rig/defaults';
import type { Layer, Patch } from '../rig/schema';
import { CycleError } from '../space/order';
import { gainOfVelocity, touchTable } from './program/compile';
import { type Engine } from './engine';
import type { EngineEvent } from './hands/event';
import { resolveStrikes } from './offline/resolve';
import { cc, largestStep, levelAfter, make, on, RATE, render, start, TONE, whole } from '../../../tests/kit/engine';
import { QUIET } from '../../../tests/kit/wholeEngine';

describe('level', () => {
  // SFZ v1, amp_veltrack 100: 20·log10((v/127)²); velocity 64 → −11.9 dB.
  test.each([
    [127, 0],
    [64, -11.905],
    [1, -84.15],
  ])('velocity %i stands at %f dB', (velocity, db) => {
    expect(20 * Math.log10(gainOfVelocity(velocity, 1))).toBeCloseTo(db, 1);
    const engine = start();
    engine.handle(on(60, velocity));
    expect(20 * Math.log10(levelAfter(engine, 0.5))).toBeCloseTo(db, 1);
  });
  test('touch turns velocities: fixed, squeezed, bent', () => {
    expect(touchTable({ curve: 0, outLow: 1, outHigh: 127, fixed: null })[77]).toBe(77);
    expect(new Set(touchTable({ curve: 0, outLow: 1, outHigh: 127, fixed: 90 }).slice(1))).toEqual(new Set([90]));
    expect(touchTable({ curve: 0, outLow: 40, outHigh: 80, fixed: null })[127]).toBe(80);
    expect(touchTable({ curve: 1, outLow: 1, outHigh: 127, fixed: null })[32]).toBe(
      Math.round(1 + 126 * (31 / 126) ** 0.25),
    );
  });
  // DLS and General MIDI 2: 40·log10(value/127) dB.
  test('volume and expression, unless the layer does not hear them', () => {
    for (const [expression, db] of [
      [true, 80 * Math.log10(64 / 127)],
      [false, 0],
    ] as const) {
      const engine = start({ layers: [{ receive: { ...newLayer('', '', '', markAt(0)).receive, expression } }] });
      engine.handle(cc(7, 64));
      engine.handle(cc(11, 64));
      engine.handle(on());
      expect(20 * Math.log10(levelAfter(engine, 0.5))).toBeCloseTo(db, 1);
    }
  });
  test('level, main level, mute and solo', () => {
    const engine = start({
      layers: [QUIET, { params: { level: -20 } }],
      patch: { main: { level: -6, width: 100, effects: [] } },
    });
    engine.handle(on());
    expect(levelAfter(engine, 0.5)).toBeCloseTo(10 ** (-18 / 20) + 10 ** (-26 / 20), 3);
    engine.handle({ type: 'solo', layerIds: ['l1'] });
    expect(levelAfter(engine, 0.5)).toBeCloseTo(10 ** (-26 / 20), 3);
    engine.handle({ type: 'solo', layerIds: ['deleted'] });
    expect(levelAfter(engine, 0.5)).toBeCloseTo(10 ** (-18 / 20) + 10 ** (-26 / 20), 3);
    engine.handle({ type: 'solo', layerIds: [] });
    engine.setProgram(
      make({
        layers: [{ ...QUIET, on: false }, { params: { level: -20 } }],
        patch: { main: { level: -6, width: 100, effects: [] } },
      }).program,
    );
    expect(levelAfter(engine, 0.5)).toBeCloseTo(10 ** (-26 / 20), 3);
  });
  test('the lowest level is silence', () => {
    const engine = start({ layers: [{ params: { level: -60 } }] });
    engine.handle(on());
    expect(levelAfter(engine, 0.2)).toBe(0);
  });
});

describe('windows', () => {
  test('a controller’s window lets a held note in and out without a click', () => {
    const engine = start({
      layers: [
        {
          ...QUIET,
          windows: [
            fullWindow('key'),
            fullWindow('velocity'),
            { source: 'cc.1', low: 0, high: 127, fadeIn: 127, fadeOut: 0, shape: 'linear', read: 'always' },
          ],
        },
      ],
    });
    engine.handle(on());
    expect(levelAfter(engine, 0.2)).toBe(0);
    engine.handle(cc(1, 127));
    const { left } = render(engine, RATE / 2);
    expect(left[left.length - 1] * Math.SQRT2).toBeCloseTo(10 ** (-12 / 20), 4);
    expect(largestStep(left)).toBeLessThan(0.002);
  });
  test('keys and velocities outside start nothing', () => {
    const engine = start({
      layers: [
        {
          windows: [
            { ...fullWindow('key'), low: 50, high: 60, fadeIn: 4 },
            { ...fullWindow('velocity'), low: 40 },
          ],
        },
      ],
    });
    for (const event of [on(49), on(50), on(61), on(55, 39)]) engine.handle(event);
    render(engine, 64);
    expect(engine.voiceCount).toBe(0);
    engine.handle(on(51));
    render(engine, 64);
    expect(engine.voiceCount).toBe(1);
  });
  test('velocity zones and their fades', () => {
    const edge = (low: number, high: number, fadeIn = 0, fadeOut = 0) => ({
      low,
      high,
      fadeIn,
      fadeOut,
      shape: 'sine' as const,
    });
    const { program } = make({
      zones: [
        { key: whole, velocity: edge(1, 80, 0, 20) },
        { key: whole, velocity: edge(60, 127, 20) },
      ],
    });
    const gains = (velocity: number) => resolveStrikes(program, 60, velocity)[0].map((answer) => answer.gain);
    expect(gains(30)).toEqual([1]);
    expect(
      gains(70)
        .map((gain) => gain ** 2)
        .reduce((a, b) => a + b),
    ).toBeCloseTo(1, 6);
    expect(gains(120)).toEqual([1]);
  });
  test('transposition takes the samples of the key it lands on', () => {
    const key = (k: number) => ({ ...whole, low: k, high: k });
    const { program } = make({
      zones: [
        { key: key(60), root: 60 },
        { key: key(72), root: 72 },
      ],
      layers: [{ transpose: 12 }],
    });
    expect(resolveStrikes(program, 60, 100)[0]).toMatchObject([{ zone: 1, semitones: 0 }]);
  });
});

describe('routes', () => {
  const route = {
    id: 'r',
    source: 'cc.1' as const,
    target: 'layer.l0.level',
    depth: -0.5,
    curve: 'linear' as const,
    polarity: 'as-is' as const,
    bound: false,
    counts: 'last' as const,
    on: true,
  };
  const steady = (patch: Partial<Patch>, ...events: EngineEvent[]) => {
    const engine = start({ patch, layers: [{ params: { level: -6 } }] });
    for (const event of events) engine.handle(event);
    engine.handle(on());
    return 20 * Math.log10(levelAfter(engine, 0.5));
  };
  test('add depth · curve(source) in the parameter’s range', () => {
    expect(steady({ routes: [route] }, cc(1, 127))).toBeCloseTo(-6 - 33, 1);
    expect(steady({ routes: [{ ...route, curve: 'slow' }] }, cc(1, 64))).toBeCloseTo(-6 - 33 * (64 / 127) ** 2, 1);
    expect(steady({ routes: [{ ...route, polarity: 'inverted' }] }, cc(1, 127))).toBeCloseTo(-6, 1);
    expect(steady({ routes: [route, { ...route, id: 'q', source: 'velocity', depth: 0.25 }] }, cc(1, 127))).toBeCloseTo(
      -6 - 33 + 16.5,
      1,
    );
    expect(steady({ routes: [{ ...route, on: false }] }, cc(1, 127))).toBeCloseTo(-6, 1);
  });
  test('scaled by another source', () =>
    expect(
      steady(
        {
          macros: [{ number: 1, name: 'm', value: 0.5, style: 'strip' as const }],
          routes: [{ ...route, scaledBy: 'macro.1' }],
        },
        cc(1, 127),
      ),
    ).toBeCloseTo(-6 - 16.5, 1));
  test('through macros and blends, in order', () => {
    const macros = [
      { number: 1, name: 'a', value: 0, style: 'strip' as const },
      { number: 2, name: 'b', value: 0.2, style: 'strip' as const },
    ];
    const chain = [
      { ...route, source: 'macro.2' },
      { ...route, id: 'c', source: 'macro.1', target: 'macro.2', depth: 0.5 },
      { ...route, id: 'd', target: 'macro.1', depth: 1 },
    ];
    expect(steady({ macros, routes: chain }, cc(1, 127))).toBeCloseTo(-6 - 33 * 0.7, 1);
    expect(
      steady({
        blends: [{ number: 1, name: 'x', value: 0.5 }],
        routes: [
          { ...route, source: 'blend.1' },
          { ...route, id: 'k', source: 'velocity', target: 'blend.1', depth: 0.5 },
        ],
      }),
    ).toBeCloseTo(-6 - 33, 1);
  });
  test('formulas over sources and the learned range of keys', () => {
    expect(steady({ routes: [{ ...route, source: { formula: '(key − keyLow) / (keyHigh − keyLow)' } }] })).toBeCloseTo(
      -6 - (33 * 21) / 45,
      1,
    );
  });
  test('a circle is refused with its members', () => {
    const macros = [
      { number: 1, name: 'a', value: 0, style: 'strip' as const },
      { number: 2, name: 'b', value: 0, style: 'strip' as const },
    ];
    const circle = [
      { ...route, source: 'macro.1', target: 'macro.2' },
      { ...route, id: 'c', source: 'macro.2', target: 'macro.1' },
    ];
    expect(() => make({ patch: { macros, routes: circle } })).toThrow(CycleError);
    expect(() => make({ patch: { macros, routes: circle } })).toThrow(/macro\.1.*macro\.2/);
  });
  test('chance with its amount at 0 gives the same bits every time, above 0 it does not', () => {
    const scattered = (value: number, seed: number) => {
      const engine = start({
        audio: TONE,
        seed,
        patch: {
          macros: [{ number: 1, name: 'm', value, style: 'strip' }],
          routes: [{ ...route, source: 'random.1', target: 'layer.l0.tune', depth: 0.5, scaledBy: 'macro.1' }],
        },
      });
      engine.handle(on());
      return render(engine, 4800).left;
    };
    expect(scattered(0, 1)).toEqual(scattered(0, 99));
    expect(scattered(1, 1)).not.toEqual(scattered(1, 99));
    expect(scattered(1, 5)).toEqual(scattered(1, 5));
  });
});

/** Frequency by counting rises through 0 over a second. */
function pitchOf(engine: Engine): number {
  render(engine, 9600);
  const { left } = render(engine, RATE);
  let first = -1,
    last = -1,
    count = -1;
  for (let i = 1; i < left.length; i++) {
    if (left[i - 1] >= 0 || left[i] < 0) continue;
    last = i - left[i] / (left[i] - left[i - 1]);
    if (first < 0) first = last;
    count++;
  }
  return (count * RATE) / (last - first);
}

describe('pitch', () => {
  test.each([
    [60, 480],
    [72, 960],
    [67, 480 * 2 ** (7 / 12)],
    [48, 240],
  ])('key %i of a sample with root 60', (key, hz) => {
    const engine = start({ audio: TONE });
    engine.handle(on(key));
    expect(1200 * Math.log2(pitchOf(engine) / hz)).toBeCloseTo(0, 1);
  });
  test('bend moves by the layer’s range, fine tune by cents, a layer that does not hear it stays', () => {
    const cents = (layer: Partial<Layer>, ...events: EngineEvent[]) => {
      const engine = start({ audio: TONE, layers: [layer] });
      engine.handle(on());
      for (const event of events) engine.handle(event);
      return 1200 * Math.log2(pitchOf(engine) / 480);
    };
    const up: EngineEvent = { type: 'bend', channel: 1, bend: 1 };
    expect(cents({}, up)).toBeCloseTo(200, 0);
    expect(cents({ params: { bendRange: 12 } }, { ...up, bend: -0.5 })).toBeCloseTo(-600, 0);
    expect(cents({ params: { tune: 35 } })).toBeCloseTo(35, 0);
    expect(cents({ receive: { ...newLayer('', '', '', markAt(0)).receive, bend: false } }, up)).toBeCloseTo(0, 0);
  });
  test('a sample of another rate keeps its pitch', () => {
    const engine = start({ audio: { rate: 32000, channels: 1, data: TONE.data } });
    engine.handle(on());
    expect(pitchOf(engine)).toBeCloseTo(320, 1);
  });
});
