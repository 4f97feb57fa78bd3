import { NOTE_VALUES, noteValue } from '../music/time';
import { fullWindow } from '../rig/defaults';
import type { Layer, Patch, Route, XyPad } from '../rig/schema';
import { cc, levelAfter, make, off, on, RATE, render, start, whole, type Setup } from '../../../tests/kit/engine';
import { db, heard, mover, pad, route, withAnchor } from '../../../tests/kit/moves';

describe('XY pads', () => {
  test('the middle of four plays all at equal power, a corner one alone', () => {
    const setup = (x: number, y: number): Setup => ({
      layers: [1, 2, 3, 4].map(withAnchor),
      patch: { xyPads: [pad({ x, y })] },
    });
    const program = make(setup(0.5, 0.5)).program;
    expect(program.pads).toHaveLength(1);
    // Four that play the same add up as amplitudes: each at √¼.
    expect(db(heard(setup(0.5, 0.5), 0.3)[9600])).toBeCloseTo(-12 + db(4 * 0.5), 1);
    expect(db(heard(setup(0, 0), 0.3)[9600])).toBeCloseTo(-12, 2);
  });
  test('moved by hand, by routes on its axes and by itself', () => {
    const setup = (more: Partial<XyPad>, routes: Route[] = []): Setup => ({
      layers: [1, 2, 3, 4].map((n) => ({ ...withAnchor(n), on: n === 2 })),
      patch: { xyPads: [pad({ x: 0, y: 0, ...more })], routes },
    });
    const byHand = start(setup({}));
    byHand.handle(on());
    expect(levelAfter(byHand, 0.2)).toBe(0);
    byHand.handle({ type: 'xy', number: 1, x: 1, y: 0 });
    expect(db(levelAfter(byHand, 0.2))).toBeCloseTo(-12, 1);
    byHand.handle({ type: 'rest', kind: 'xy', number: 1 });
    expect(levelAfter(byHand, 0.2)).toBeLessThan(1e-4);
    expect(
      db(heard(setup({}, [route('cc.1', 'xy.1.x', 1)]), 0.3, (engine) => engine.handle(cc(1, 127)))[9600]),
    ).toBeCloseTo(-12, 1);
    const path = heard(
      setup({
        motion: 'path',
        path: [
          [0, 0, 0],
          [1, 1, 0],
          [2, 0, 0],
        ],
      }),
      2.2,
    );
    expect(db(path[RATE])).toBeCloseTo(-12, 0);
    expect(path[2 * RATE]).toBeLessThan(0.05);
    const wandering = heard(setup({ x: 0.5, y: 0.5, motion: 'wander', params: { speed: 2, radius: 0.5 } }), 4);
    const later = wandering.filter((_, i) => i > 4800 && i % 100 === 0);
    expect(Math.max(...later) - Math.min(...later)).toBeGreaterThan(0.05);
    const sprung = start(setup({ motion: 'spring', params: { spring: 0.2 } }));
    sprung.handle(on());
    sprung.handle({ type: 'xy', number: 1, x: 1, y: 0 });
    expect(db(levelAfter(sprung, 0.2))).toBeCloseTo(-12, 1);
    sprung.handle({ type: 'xy', number: 1, x: 1, y: 0, letGo: true });
    expect(levelAfter(sprung, 0.6)).toBeLessThan(0.02);
  });
});

describe('blends', () => {
  const layers = (['fadeIn', 'fadeOut'] as const).map((side): Partial<Layer> => ({
    windows: [
      fullWindow('key'),
      fullWindow('velocity'),
      {
        source: 'blend.1',
        low: 0,
        high: 1,
        fadeIn: side === 'fadeIn' ? 1 : 0,
        fadeOut: side === 'fadeOut' ? 1 : 0,
        shape: 'root',
        read: 'always',
      },
    ],
  }));
  const byKey = (depth: number): Setup => ({
    layers: [
      { ...layers[0], params: { level: -6 } },
      { ...layers[1], params: { level: -6 } },
    ],
    patch: {
      blends: [{ number: 1, name: 'b', value: 0.5 }],
      routes: [route({ formula: '(key - keyLow) / (keyHigh - keyLow) * 2 - 1' }, 'blend.1', depth)],
    },
  });
  const levels = (depth: number, key: number) =>
    [0, 1].map((n) => {
      const setup = byKey(depth);
      const engine = start({ ...setup, layers: setup.layers!.map((layer, i) => ({ ...layer, on: i === n })) });
      engine.handle(on(key));
      return levelAfter(engine, 0.3) / 10 ** (-6 / 20);
    });
  // Common practice, no source: a controller that goes from key 39 to key 84.
  test('by key at +100 %: the lowest key plays only one, the highest only the other; −100 % is the mirror', () => {
    expect(levels(0.5, 39)).toEqual([expect.closeTo(0, 3), expect.closeTo(1, 3)]);
    expect(levels(0.5, 84)).toEqual([expect.closeTo(1, 3), expect.closeTo(0, 3)]);
    expect(levels(-0.5, 39)).toEqual([expect.closeTo(1, 3), expect.closeTo(0, 3)]);
  });
  test('two held keys have two values, and the powers of both sides sum to 1 everywhere', () => {
    for (let key = 39; key <= 84; key += 5)
      expect(levels(0.5, key).reduce((sum, x) => sum + x * x, 0)).toBeCloseTo(1, 2);
  });
});

describe('a list of sounds', () => {
  const setup = (morph: boolean, value: number): Setup => ({
    layers: [{ list: ['s', 's', 's'], morph, params: { choice: value, level: -6 } }],
    zones: [{ key: whole }],
  });
  test('the choice is made at the strike', () => {
    const { program } = make({ ...setup(false, 0), patch: { routes: [route('scatter.1', 'layer.l0.choice', 1)] } });
    expect(program.layers[0].own).toHaveLength(3);
    const engine = start(setup(false, 50));
    engine.handle(on());
    expect(db(levelAfter(engine, 0.2))).toBeCloseTo(-6, 1);
    expect(engine.voiceCount).toBe(1);
  });
  test('or crossfades between neighbours while it sounds', () => {
    // Twice the same at its middle: two amplitudes of cos 45° each.
    expect(db(heard(setup(true, 25), 0.3)[9600])).toBeCloseTo(-6 + db(2 * Math.SQRT1_2), 1);
    expect(db(heard(setup(true, 50), 0.3)[9600])).toBeCloseTo(-6, 1);
  });
});

describe('what all notes share', () => {
  const main = (counts: Route['counts']): Setup => ({
    layers: [{ params: { level: -20, velocityToLevel: 0 } }],
    patch: {
      main: { level: -20, width: 100, effects: [] },
      routes: [route('velocity', 'main.level', 20 / 66, { counts })],
    },
  });
  const after = (counts: Route['counts']) => {
    const engine = start(main(counts));
    engine.handle(on(72, 127));
    engine.handle(on(48, 64));
    return db(levelAfter(engine, 0.4) / 2);
  };
  test.each([
    ['last', 64],
    ['highest', 127],
    ['lowest', 64],
    ['loudest', 127],
    ['mean', 95.5],
  ] as const)('the %s note counts', (counts, velocity) =>
    expect(after(counts)).toBeCloseTo(-40 + 20 * ((velocity - 1) / 126), 1),
  );
  test('a contour of the strike moves the main level: it begins with the note that counts', () => {
    const patch: Partial<Patch> = {
      main: { level: -20, width: 100, effects: [] },
      movers: [
        mover('contour', {
          points: [
            [0, 0, 0],
            [1, 1, 0],
          ],
          params: { lasts: 1 },
        }),
      ],
      routes: [route('contour.1', 'main.level', 20 / 66)],
    };
    const engine = start({ layers: [{ params: { level: -20 } }], patch });
    render(engine, RATE);
    engine.handle(on());
    expect(db(levelAfter(engine, 0.5))).toBeCloseTo(-30, 0);
    expect(db(levelAfter(engine, 0.8))).toBeCloseTo(-20, 0);
  });
  test('a follower ducks one layer under another, and lets it up again', () => {
    const patch: Partial<Patch> = {
      movers: [mover('follower', { follows: 'l0', params: { fall: 0.05, floor: -40 } })],
      routes: [route('follower.1', 'layer.l1.level', -30 / 66)],
    };
    const engine = start({
      layers: [
        { params: { pan: -1 }, windows: [{ ...fullWindow('key'), high: 59 }, fullWindow('velocity')] },
        { params: { level: -6, pan: 1 }, windows: [{ ...fullWindow('key'), low: 60 }, fullWindow('velocity')] },
      ],
      patch,
    });
    const right = () => db(render(engine, RATE / 2).right[RATE / 2 - 1]);
    engine.handle(on(60));
    expect(right()).toBeCloseTo(-6, 1);
    engine.handle(on(40, 127));
    // The layer below is at full scale.
    expect(right()).toBeCloseTo(-36, 0);
    engine.handle(off(40));
    expect(right()).toBeCloseTo(-6, 1);
  });
});

describe('movers that move one another', () => {
  test('a macro takes the rate of a sample and hold from quarters to eighths', () => {
    const halves = (value: number) => {
      const signal = heard(
        {
          layers: [{ params: { level: -20 } }],
          patch: {
            tempo: 120,
            macros: [{ number: 1, name: 'm', value, style: 'latched' }],
            movers: [mover('hold', { params: { length: noteValue('1/4') } })],
            routes: [
              route('hold.1', 'layer.l0.level', 0.2),
              route('macro.1', 'hold.1.length', (noteValue('1/8') - noteValue('1/4')) / (NOTE_VALUES.length - 1)),
            ],
          },
        },
        4.01,
      );
      // Of each quarter, half a second long: whether its second half stands where its first does.
      return Array.from(
        { length: 8 },
        (_, n) =>
          Math.abs(db(signal[Math.round((n / 2 + 0.2) * RATE)]) - db(signal[Math.round((n / 2 + 0.45) * RATE)])) < 1e-3,
      );
    };
    expect(halves(0)).toEqual(Array(8).fill(true));
    expect(halves(1)).toEqual(Array(8).fill(false));
  });
  test('an LFO moves the rate of another; a circle is refused with its members', () => {
    const movers = [mover('lfo', { number: 1 }), mover('lfo', { number: 2 })];
    expect(() => make({ patch: { movers, routes: [route('lfo.1', 'lfo.2.rate', 0.2)] } })).not.toThrow();
    expect(() =>
      make({ patch: { movers, routes: [route('lfo.1', 'lfo.2.rate', 0.2), route('lfo.2', 'lfo.1.rate', 0.2)] } }),
    ).toThrow(/lfo\.1 → lfo\.2|lfo\.2 → lfo\.1/);
  });
});
