import { newEffect, newGroup, newPool, newRoute, markAt } from '../../rig/defaults';
import type { EffectSpec, Patch } from '../../rig/schema';
import {
  largest,
  largestStep,
  levelAfter,
  make,
  on,
  off,
  RATE,
  render,
  start,
  TONE,
} from '../../../../tests/kit/engine';

const effect = (
  id: string,
  kind: string,
  params: Record<string, number> = {},
  more: Partial<EffectSpec> = {},
): EffectSpec => ({ ...newEffect(id, kind), params, ...more });
const db = (x: number) => 20 * Math.log10(x);
/** A bell that does nothing. */
const nothing = (id: string) => effect(id, 'equaliser');

describe('strips and connections', () => {
  test('a layer in a group, sends before and after the strip, and a shared effect add up in dB', () => {
    const patch: Partial<Patch> = {
      groups: [{ ...newGroup('g', 'g', markAt(0)), effects: [nothing('e1')], params: { level: -6 } }],
      pools: [{ ...newPool('p', 'p', [nothing('e2')]), params: { level: -3 } }],
      connections: [
        { id: 'a', kind: 'send', from: 'layer.l0', to: 'pool.p', level: -10, on: true, tap: 'before' },
        { id: 'b', kind: 'send', from: 'group.g', to: 'pool.p', level: -20, on: true, tap: 'after' },
      ],
    };
    const engine = start({ layers: [{ groupId: 'g', effects: [nothing('e3')], params: { level: -12 } }], patch });
    engine.handle(on());
    const strip = 10 ** (-12 / 20);
    const group = strip * 10 ** (-6 / 20);
    const pool = (10 ** (-10 / 20) + group * 10 ** (-20 / 20)) * 10 ** (-3 / 20);
    expect(levelAfter(engine, 0.5)).toBeCloseTo(group + pool, 3);
  });
  test('a mute of a connection, of a shared effect, and the lowest level are silence, and come without a click', () => {
    for (const change of [{ on: false }, { level: -60 }] as const) {
      const patch = (connection: object): Partial<Patch> => ({
        connections: [
          { id: 'o', kind: 'output', from: 'layer.l0', to: 'main', level: 0, on: true, tap: 'after', ...connection },
        ],
      });
      const engine = start({ layers: [{ params: { level: -12 } }], patch: patch({ level: -1 }) });
      engine.handle(on());
      render(engine, RATE / 4);
      engine.setProgram(make({ layers: [{ params: { level: -12 } }], patch: patch(change) }).program);
      const { left } = render(engine, RATE / 2);
      expect(left[left.length - 1]).toBe(0);
      expect(largestStep(left)).toBeLessThan(0.002);
    }
  });
  test('width 0 makes both sides the same, 200 doubles what differs', () => {
    const sides = (width: number) => {
      const engine = start({ layers: [{ params: { pan: -1, level: -12, width } }] });
      engine.handle(on());
      const { left, right } = render(engine, RATE / 4);
      return [left[left.length - 1], right[right.length - 1]];
    };
    const [whole] = sides(100);
    expect(sides(0)[0]).toBeCloseTo(whole / 2, 5);
    expect(sides(0)[1]).toBeCloseTo(whole / 2, 5);
    expect(sides(200)[0]).toBeCloseTo(whole * 1.5, 4);
    expect(sides(200)[1]).toBeCloseTo(-whole / 2, 4);
  });
  test('a connection taken elsewhere crossfades', () => {
    const patch = (to: string): Partial<Patch> => ({
      pools: [newPool('p', 'p', [nothing('e')]), newPool('q', 'q', [nothing('f')])],
      connections: [{ id: 'o', kind: 'output', from: 'layer.l0', to, level: 0, on: true, tap: 'after' }],
    });
    const engine = start({ layers: [{ params: { level: -12 } }], patch: patch('pool.p') });
    engine.handle(on());
    render(engine, RATE / 4);
    engine.setProgram(make({ layers: [{ params: { level: -12 } }], patch: patch('pool.q') }).program);
    const { left } = render(engine, RATE / 4);
    expect(left.reduce((least, x) => Math.min(least, x), 1) * Math.SQRT2).toBeGreaterThan(10 ** (-12 / 20) * 0.98);
    expect(largestStep(left)).toBeLessThan(0.002);
  });
  test('a route moves a send, a strip and an effect, for all notes', () => {
    const patch: Partial<Patch> = {
      pools: [newPool('p', 'p', [effect('e', 'equaliser', { kind1: 3, frequency1: 8000, gain1: 0 })])],
      macros: [{ number: 1, name: 'm', value: 0, style: 'strip' }],
      connections: [
        { id: 's', kind: 'send', from: 'layer.l0', to: 'pool.p', level: -60, on: true, tap: 'after' },
        { id: 'o', kind: 'output', from: 'layer.l0', to: 'main', level: 0, on: false, tap: 'after' },
      ],
      routes: [
        newRoute('r', 'macro.1', 'connection.s.level', 60 / 72),
        newRoute('t', 'macro.1', 'equaliser.e.gain1', -0.25),
      ],
    };
    const engine = start({ layers: [{ params: { level: -12 } }], patch });
    engine.handle(on());
    expect(levelAfter(engine, 0.3)).toBe(0);
    engine.handle({ type: 'macro', number: 1, value: 1 });
    // A send at 0 dB, and a low shelf 12 dB down far above the steady 0 Hz.
    expect(db(levelAfter(engine, 0.5))).toBeCloseTo(-24, 1);
  });
});

describe('a chain', () => {
  const chained = (effects: EffectSpec[]) =>
    make({ audio: TONE, layers: [{ effects }], patch: { main: { level: -12, width: 100, effects: [] } } }).program;
  test('effects come, go, change places and switch without a click under a held tone', () => {
    const lowCut = effect('a', 'equaliser', { kind1: 5, frequency1: 480, gain1: 12 });
    const pressed = effect('b', 'compressor', { threshold: -40, ratio: 4 });
    const engine = start({ audio: TONE, patch: { main: { level: -12, width: 100, effects: [] } } });
    engine.handle(on());
    const { left: before } = render(engine, RATE / 2);
    const steepest = largestStep(before.subarray(RATE / 4));
    const steps: EffectSpec[][] = [
      [lowCut],
      [lowCut, pressed],
      [pressed, lowCut],
      [pressed, { ...lowCut, on: false }],
      [pressed, lowCut],
      [{ ...lowCut, params: { kind1: 1, frequency1: 100, slope1: 3 } }],
      [],
    ];
    for (const effects of steps) {
      engine.setProgram(chained(effects));
      const { left } = render(engine, RATE / 4);
      expect(largest(left)).toBeGreaterThan(0.01);
      // A bell of 12 dB makes the wave four times as steep; a click would be far more than that between two frames.
      expect(largestStep(left)).toBeLessThan(steepest * 4.4);
    }
    const { left } = render(engine, RATE / 4);
    expect(largestStep(left)).toBeCloseTo(steepest, 3);
  });
  test('what is off passes everything bit by bit, and what is without effects is as it was before there were any', () => {
    const play = (effects: EffectSpec[]) => {
      const engine = start({ audio: TONE, layers: [{ effects }] });
      engine.handle(on());
      return render(engine, RATE / 4).left;
    };
    expect(play([effect('a', 'reverb', {}, { on: false }), effect('b', 'compressor', {}, { on: false })])).toEqual(
      play([]),
    );
  });
  test('a patch that comes begins with its effects, not from nothing', () => {
    const engine = start({ layers: [{ effects: [effect('a', 'limiter', { ceiling: -20 })] }] });
    engine.handle(on());
    expect(largest(render(engine, RATE / 4).left)).toBeLessThanOrEqual(10 ** (-20 / 20) * 1.0001);
  });
  test('a tail rings out when its effect is switched off, when the patch changes, and ends', () => {
    const wet = (on_: boolean) =>
      make({
        audio: TONE,
        layers: [
          { params: { level: -12 }, effects: [effect('r', 'reverb', { mix: 50, decay: 1, damping: 0 }, { on: on_ })] },
        ],
      }).program;
    const engine = start({
      audio: TONE,
      layers: [{ params: { level: -12 }, effects: [effect('r', 'reverb', { mix: 50, decay: 1, damping: 0 })] }],
    });
    engine.handle(on());
    render(engine, RATE / 2);
    engine.handle(off());
    render(engine, RATE / 4);
    engine.setProgram(wet(false));
    expect(largest(render(engine, RATE / 4).left)).toBeGreaterThan(0.001);
    engine.setProgram({ ...wet(true), patchId: 'other' });
    expect(engine.ringingCount).toBe(1);
    expect(largest(render(engine, RATE / 4).left)).toBeGreaterThan(0.0003);
    render(engine, 3 * RATE);
    expect(engine.ringingCount).toBe(0);
    expect(largest(render(engine, RATE / 4).left)).toBe(0);
  });
  test('panic silences tails at once without a click, and the next note is as ever', () => {
    const engine = start({
      audio: TONE,
      layers: [{ params: { level: -12 }, effects: [effect('r', 'reverb', { mix: 50, decay: 10 })] }],
    });
    engine.handle(on());
    render(engine, RATE / 2);
    engine.handle({ type: 'panic' });
    const { left } = render(engine, RATE / 4);
    expect(largestStep(left)).toBeLessThan(0.05);
    expect(largest(left.subarray(RATE / 8))).toBe(0);
    engine.handle(on());
    expect(largest(render(engine, RATE / 4).left)).toBeGreaterThan(0.04);
  });
});

describe('hearing', () => {
  test('without an effect, with a gain that makes up; one thing alone; what an effect changes', () => {
    const layers = [
      { params: { level: -12 }, effects: [effect('a', 'equaliser', { kind1: 3, frequency1: 8000, gain1: -12 })] },
      { params: { level: -20 } },
    ];
    const engine = start({ layers });
    engine.handle(on());
    const both = 10 ** (-24 / 20) + 10 ** (-20 / 20);
    expect(levelAfter(engine, 0.3)).toBeCloseTo(both, 3);
    engine.handle({ type: 'without', ids: ['a'], gainDb: -6 });
    expect(db(levelAfter(engine, 0.3))).toBeCloseTo(db(10 ** (-12 / 20) + 10 ** (-20 / 20)) - 6, 1);
    engine.handle({ type: 'without', ids: [], gainDb: 0 });
    engine.handle({ type: 'listen', to: { kind: 'place', id: 'layer.l1' } });
    expect(db(levelAfter(engine, 0.3))).toBeCloseTo(-20, 1);
    engine.handle({ type: 'listen', to: { kind: 'change', id: 'a' } });
    expect(levelAfter(engine, 0.3)).toBeCloseTo(10 ** (-24 / 20) - 10 ** (-12 / 20), 2);
    engine.handle({ type: 'listen', to: { kind: 'connection', id: 'out-layer-l0' } });
    expect(db(levelAfter(engine, 0.3))).toBeCloseTo(-24, 1);
    engine.handle({ type: 'listen', to: null });
    expect(levelAfter(engine, 0.3)).toBeCloseTo(both, 3);
  });
  test('without a shared effect nothing comes of it: what is sent there is not doubled', () => {
    const engine = start({
      layers: [{ params: { level: -12 } }],
      patch: {
        pools: [newPool('p', 'p', [effect('r', 'echo', { mix: 100, clock: 0, time: 0.01, feedback: 0, lowCut: 20 })])],
        connections: [{ id: 's', kind: 'send', from: 'layer.l0', to: 'pool.p', level: 0, on: true, tap: 'after' }],
      },
    });
    engine.handle(on());
    const whole = levelAfter(engine, 0.3);
    engine.handle({ type: 'without', ids: ['*'], gainDb: 0 });
    expect(db(whole / levelAfter(engine, 0.3))).toBeCloseTo(6, 0);
  });
  test('the same bits however the output is cut', () => {
    const play = (block: number) => {
      const engine = start({
        audio: TONE,
        layers: [{ effects: [effect('c', 'compressor', { threshold: -30 }), effect('r', 'reverb', { mix: 40 })] }],
      });
      engine.handle(on());
      engine.handle(off(), 9000);
      return render(engine, RATE / 2, block).left;
    };
    const whole = play(RATE / 2);
    for (const block of [128, 100, 7]) expect(play(block)).toEqual(whole);
  });
});
