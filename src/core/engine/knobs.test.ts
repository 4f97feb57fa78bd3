import { RATE, render, start, on, cc, type Setup } from '../../../tests/kit/engine';
import { mover, route } from '../../../tests/kit/moves';
import { CURVE_NAMES } from '../space/curve';
import type { EngineEvent } from './hands/event';
import type { Engine } from './engine';

/** What instruments outside are to be told, read from the engine as whoever sends it does. */
const knob = (n: number, value: number) => ({ id: `k${n}`, instrumentId: 'loft', name: `k${n}`, controller: n, value });
const setup = (patch: Setup['patch'] = {}): Setup => ({ patch: { knobs: [knob(1, 20), knob(2, 127)], ...patch } });
const into = new Float32Array(4);
const read = (engine: Engine): number[] => {
  engine.readings.readKnobs(into, 1);
  return [...into.slice(1, 3)];
};
const after = (engine: Engine, seconds: number, ...events: EngineEvent[]): number[] => {
  for (const event of events) engine.handle(event);
  render(engine, Math.round(seconds * RATE));
  return read(engine);
};

test('values rest where the patch rests them, and nothing beside them is written', () => {
  const engine = start(setup());
  into.fill(-1);
  expect(after(engine, 0.01)).toEqual([20, 127]);
  expect([into[0], into[3]]).toEqual([-1, -1]);
});

test('macros, wheels, velocity and movers take them there, in whole numbers from 0 to 127', () => {
  const macros = [{ number: 1, name: 'm', value: 0, style: 'strip' as const }];
  const byMacro = start(setup({ macros, routes: [route('macro.1', 'knob.k1.value', 1)] }));
  expect(after(byMacro, 0.01)).toEqual([20, 127]);
  expect(after(byMacro, 0.01, { type: 'macro', number: 1, value: 0.4 })[0]).toBe(Math.round(20 + 127 * 0.4));
  expect(after(byMacro, 0.01, { type: 'macro', number: 1, value: 1 })[0]).toBe(127);
  const byWheel = start(setup({ routes: [route('cc.1', 'knob.k2.value', -1, { polarity: 'inverted' })] }));
  expect(after(byWheel, 0.01)[1]).toBe(0);
  expect(after(byWheel, 0.01, cc(1, 127))[1]).toBe(127);
  const byTouch = start(setup({ routes: [route('velocity', 'knob.k1.value', 1)] }));
  // 100 lies at 99/126 of the way from 1 to 127.
  expect(after(byTouch, 0.01, on(60, 100))[0]).toBe(Math.round(20 + (127 * 99) / 126));
});

test('an LFO of 2 Hz takes a value up and down twice in a second, by as much as the route is deep', () => {
  const movers = [{ ...mover('lfo', { clock: 'hz', begins: 'never' }), params: { rate: 2 } }];
  const engine = start(setup({ movers, knobs: [knob(1, 64)], routes: [route('lfo.1', 'knob.k1.value', 0.25)] }));
  const seen: number[] = [];
  for (let n = 0; n < 100; n++) {
    render(engine, RATE / 50);
    seen.push(read(engine)[0]);
  }
  expect(Math.max(...seen)).toBe(Math.round(64 + 127 / 4));
  expect(Math.min(...seen)).toBe(Math.round(64 - 127 / 4));
  const upward = seen.filter((value, n) => n > 0 && seen[n - 1] < 64 && value >= 64).length;
  expect(Math.abs(upward - 4)).toBeLessThanOrEqual(1);
  expect(seen.every(Number.isInteger)).toBe(true);
});

test.each(CURVE_NAMES)('with the curve %s it never leaves what a controller can be', (curve) => {
  const engine = start(setup({ routes: [route('cc.1', 'knob.k1.value', 1, { curve })] }));
  for (let value = 0; value < 128; value += 9) {
    const [now] = after(engine, 0.002, cc(1, value));
    expect(now).toBeGreaterThanOrEqual(20);
    expect(now).toBeLessThanOrEqual(127);
  }
});

test('what goes outside, and reading it, changes no bit of the sound', () => {
  const play = (given: Setup, reads: boolean) => {
    const engine = start({ ...given, layers: [{ params: { cutoff: 900 } }] });
    engine.handle(on());
    const out: number[] = [];
    for (let n = 0; n < 40; n++) {
      engine.handle(cc(1, 3 * n));
      out.push(...render(engine, 128).left);
      if (reads) engine.readings.readKnobs(into, 0);
    }
    return out;
  };
  const cut = route('cc.1', 'layer.l0.cutoff', 0.4);
  const knobs = [knob(1, 3)];
  const plain = play({ patch: { routes: [cut] } }, false);
  expect(play({ patch: { knobs, routes: [cut, route('cc.1', 'knob.k1.value', 1)] } }, true)).toEqual(plain);
});
