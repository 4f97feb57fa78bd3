import { insideOf } from '../../../tests/kit/inside';
import { newRoute } from '../rig/defaults';
import { ATTRIBUTES, keepStrike, scatterOver } from '../rig/edits/chance';
import type { Patch } from '../rig/schema';
import { newLayer, newPatch, markAt } from '../rig/defaults';
import { make, render, start, TONE } from '../../../tests/kit/engine';
import { resolveStrikes } from './offline/resolve';
import type { Engine } from './engine';

const layers = [newLayer('l0', 'l0', 's', markAt(0)), newLayer('l1', 'l1', 's', markAt(1))];
const base: Patch = { ...newPatch('p', 'p'), layers };
const all = ATTRIBUTES.map(({ id }) => id);
const setupOf = (patch: Patch, seed = 1) => ({
  audio: TONE,
  layers: [...patch.layers],
  patch: { macros: patch.macros, routes: patch.routes },
  seed,
});
const strike = (engine: Engine, frames: number, key = 60): Float32Array => {
  engine.handle({ type: 'noteOn', channel: 1, key, velocity: 100 });
  const { left } = render(engine, frames, 480);
  engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 });
  engine.handle({ type: 'panic' });
  render(engine, 480, 480);
  return left;
};

describe('chance at each strike', () => {
  it('does nothing at an amount of 0: a thousand strikes are the same bits as without it', () => {
    const scattered = scatterOver(base, ['l0', 'l1'], all, 'each', 0);
    expect(scattered.macros).toHaveLength(8);
    const [a, b] = [start(setupOf(scattered, 1)), start(setupOf(base, 77))];
    for (let i = 0; i < 1000; i++) {
      const [x, y] = [strike(a, 96, 48 + (i % 24)), strike(b, 96, 48 + (i % 24))];
      for (let n = 0; n < 96; n++) if (x[n] !== y[n]) throw new Error(`strike ${i} differs at ${n}`);
    }
  });

  it('covers its limits at full, and never leaves them: around for two-sided values, upward for one-sided ones', () => {
    const scattered = scatterOver(base, ['l0'], ['pitch', 'pan', 'start', 'delay', 'reversed', 'level'], 'each', 1);
    const { program } = make({ ...setupOf(scattered) });
    const found = resolveStrikes(program, 60, 100, { repeat: 4000, seed: 3 })
      .flat()
      .filter(({ layer }) => layer === 0);
    const range = (id: string) => {
      const values = found.map(({ values: all_ }) => all_[id]);
      return [Math.min(...values), Math.max(...values)];
    };
    const near = ([low, high]: number[], a: number, b: number, slack: number) => {
      expect(low).toBeGreaterThanOrEqual(a - 1e-6);
      expect(high).toBeLessThanOrEqual(b + 1e-6);
      expect(low).toBeLessThan(a + slack);
      expect(high).toBeGreaterThan(b - slack);
    };
    near(range('tune'), -100, 100, 2);
    near(range('pan'), -1, 1, 0.02);
    near(range('start'), 0, 40, 0.5);
    near(range('delay'), 0, 0.25, 0.005);
    near(range('level'), -6, 6, 0.1);
    const turned = found.filter(({ values }) => values.reversed === 1).length / found.length;
    expect(Math.abs(turned - 0.5)).toBeLessThan(0.05);
  });

  it('is the same for all layers of a strike, or each layer’s own', () => {
    const tunes = (together: 'together' | 'each') => {
      const { program } = make({ ...setupOf(scatterOver(base, ['l0', 'l1'], ['pitch'], together, 1)) });
      return resolveStrikes(program, 60, 100, { repeat: 50, seed: 3 }).map((strikes) =>
        strikes.map(({ values }) => values.tune),
      );
    };
    expect(tunes('together').every(([a, b]) => a === b)).toBe(true);
    expect(tunes('each').some(([a, b]) => a !== b)).toBe(true);
  });

  it('is heard by the engine as it is told by resolve', () => {
    const scattered = scatterOver(base, ['l0'], ['pitch', 'pan'], 'each', 1);
    const { program } = make({ ...setupOf(scattered) });
    const engine = start(setupOf(scattered, 9));
    const told = resolveStrikes(program, 60, 100, { repeat: 3, seed: 9 }).map((strikes) =>
      strikes.map(({ values }) => values.tune),
    );
    const heard = [0, 1, 2].map(() => {
      strike(engine, 96);
      return insideOf(engine)
        .voices.filter(({ layer }) => layer?.program.id === 'l0')
        .map(({ targets }) => targets[2] * 100);
    });
    told.forEach(([tune], i) => expect(heard[i].some((each) => Math.abs(each - tune) < 0.01)).toBe(true));
  });

  it('can be kept: every strike is the one that was liked, bit for bit, and others go on as they are', () => {
    const scattered = scatterOver(base, ['l0', 'l1'], all, 'each', 1);
    const engine = start(setupOf(scattered, 4));
    for (let i = 0; i < 5; i++) strike(engine, 14400);
    const liked = strike(engine, 14400);
    const seed = engine.readings.strikeSeed;
    const another = strike(engine, 14400);
    expect(another.every((x, i) => x === liked[i])).toBe(false);
    const kept = keepStrike(scattered, ['l0', 'l1'], seed);
    engine.setProgram(make(setupOf(kept)).program);
    for (let i = 0; i < 3; i++) {
      const again = strike(engine, 14400);
      expect(again.every((x, n) => x === liked[n])).toBe(true);
    }
    engine.setProgram(make(setupOf(keepStrike(kept, ['l0', 'l1'], null))).program);
    expect(strike(engine, 14400).every((x, i) => x === liked[i])).toBe(false);
  });

  it('replays: the same seed and events give the same bits', () => {
    const scattered = scatterOver(base, ['l0', 'l1'], all, 'each', 1);
    const [a, b] = [start(setupOf(scattered, 6)), start(setupOf(scattered, 6))];
    for (let i = 0; i < 20; i++) {
      const [x, y] = [strike(a, 960), strike(b, 960)];
      expect(x.every((each, n) => each === y[n])).toBe(true);
    }
  });

  it('is taken up again by the same macro, and needs one that is free', () => {
    const once = scatterOver(base, ['l0', 'l1'], ['pitch'], 'each', 0.3);
    const twice = scatterOver(once, ['l0', 'l1'], ['pitch'], 'together', 0.3);
    expect(twice.macros).toHaveLength(1);
    expect(twice.routes).toHaveLength(once.routes.length);
    const full: Patch = {
      ...base,
      macros: Array.from({ length: 16 }, (_, i) => ({ number: i + 1, name: 'm', value: 0, style: 'strip' as const })),
      routes: [newRoute('r', 'macro.1', 'layer.l0.pan', 1)],
    };
    expect(scatterOver(full, ['l0'], ['pitch'], 'each')).toBe(full);
  });
});
