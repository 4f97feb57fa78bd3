import { noteValue } from '../music/time';
import { vibratoRoute } from '../rig/defaults';
import type { Patch } from '../rig/schema';
import { cc, largestStep, levelAfter, off, on, RATE, render, start, TONE, whole } from '../../../tests/kit/engine';
import { db, heard, mover, pitches, route } from '../../../tests/kit/moves';

describe('an LFO, measured in what is heard', () => {
  test('on the level: it goes as many dB to both sides as the route says', () => {
    // 12 dB of a range of 66: −18 ± 12 dB at 2 Hz.
    const signal = heard(
      {
        layers: [{ params: { level: -18 } }],
        patch: {
          movers: [mover('lfo', { clock: 'hz', begins: 'never', params: { rate: 2 } })],
          routes: [route('lfo.1', 'layer.l0.level', 12 / 66)],
        },
      },
      3,
    );
    const second = signal.subarray(RATE, 2 * RATE);
    expect(db(Math.max(...second))).toBeCloseTo(-6, 1);
    expect(db(Math.min(...second))).toBeCloseTo(-30, 1);
  });
  test('on the pitch: ± 50 cents', () => {
    const signal = heard(
      {
        audio: TONE,
        layers: [{ params: { level: -6 } }],
        patch: {
          movers: [mover('lfo', { reach: 'note', clock: 'hz', begins: 'strike', params: { rate: 1 } })],
          routes: [route('lfo.1', 'layer.l0.tune', 50 / 2400)],
        },
      },
      3,
    );
    const cents = pitches(signal.subarray(RATE), 4).map((hz) => 1200 * Math.log2(hz / 480));
    expect(Math.max(...cents)).toBeGreaterThan(48.5);
    expect(Math.max(...cents)).toBeLessThan(51);
    expect(Math.min(...cents)).toBeGreaterThan(-51);
    expect(Math.min(...cents)).toBeLessThan(-48.5);
  });
  test('a square on the level does not click', () => {
    const signal = heard(
      {
        audio: TONE,
        layers: [{ params: { level: -6 } }],
        patch: {
          movers: [mover('lfo', { shape: 'square', clock: 'hz', params: { rate: 8 } })],
          routes: [route('lfo.1', 'layer.l0.level', 0.15)],
        },
      },
      2,
    );
    // Twice the step that the tone itself has at its loudest.
    expect(largestStep(Float32Array.from(signal))).toBeLessThan(
      2 * 0.5 * 10 ** (3.9 / 20) * ((2 * Math.PI * 480) / RATE),
    );
  });
  test('locked to the beat it is where the transport has it, and begins with a restart', () => {
    const patch: Partial<Patch> = {
      tempo: 120,
      movers: [mover('lfo', { shape: 'square', params: { length: noteValue('1/2') } })],
      routes: [route('lfo.1', 'layer.l0.level', 0.1)],
    };
    const engine = start({ layers: [{ params: { level: -20 } }], patch });
    render(engine, RATE / 4);
    engine.handle({ type: 'position', quarters: 0 });
    engine.handle(on());
    const { left } = render(engine, 2 * RATE);
    const high = (t: number) => db(left[Math.round(t * RATE)] * Math.SQRT2) > -20;
    expect([0.3, 0.6, 1.2, 1.7].map(high)).toEqual([true, false, true, false]);
  });
});

test('an envelope of each note on the high cut: the spectrum opens and closes', () => {
  const noise = {
    rate: RATE,
    channels: 1 as const,
    data: Float32Array.from({ length: RATE * 4 }, (_, i) => Math.sin(i * 12.9898 * i) * 0.3),
  };
  const signal = heard(
    {
      audio: noise,
      layers: [{ params: { cutoff: 200, level: -6 } }],
      patch: {
        movers: [mover('envelope', { params: { attack: 1, decay: 1, sustain: 0 } })],
        routes: [route('envelope.1', 'layer.l0.cutoff', 0.5)],
      },
    },
    3,
  );
  // How much of the energy lies in differences from one frame to the next: high for treble.
  const treble = (t: number) => {
    let steps = 0,
      sum = 0;
    for (let i = Math.round(t * RATE) - 2400; i < t * RATE + 2400; i++) {
      steps += (signal[i] - signal[i - 1]) ** 2;
      sum += signal[i] ** 2;
    }
    return steps / sum;
  };
  expect(treble(1)).toBeGreaterThan(10 * treble(0.1));
  expect(treble(1)).toBeGreaterThan(10 * treble(2.5));
});

describe('routes', () => {
  test('a bound one keeps its target within its reach whatever else moves it', () => {
    const routes = [
      route('macro.1', 'layer.l0.level', 12 / 66, { bound: true }),
      route('cc.1', 'layer.l0.level', -0.5),
      route('velocity', 'layer.l0.level', 0.5),
    ];
    const patch: Partial<Patch> = { macros: [{ number: 1, name: 'm', value: 0, style: 'strip' }], routes };
    for (const value of [0, 0.3, 1])
      for (const wheel of [0, 60, 127]) {
        const engine = start({ layers: [{ params: { level: -18 } }], patch });
        engine.handle({ type: 'macro', number: 1, value });
        engine.handle(cc(1, wheel));
        engine.handle(on());
        const level = db(levelAfter(engine, 0.4));
        expect(level).toBeGreaterThan(-18.05);
        expect(level).toBeLessThan(-5.95);
      }
  });
  test('scaled by something at 0, everything is the same bits as without them', () => {
    const bare = heard({ audio: TONE }, 0.5);
    const routes = ['tune', 'pan', 'start', 'delay', 'attack', 'level'].map((target) =>
      route('scatter.1', `layer.l0.${target}`, 0.4, { scaledBy: 'macro.1' }),
    );
    const patch = (value: number): Partial<Patch> => ({
      macros: [{ number: 1, name: 'm', value, style: 'strip' }],
      movers: [mover('lfo')],
      routes: [...routes, route('lfo.1', 'layer.l0.cutoff', 0.3, { scaledBy: 'macro.1' })],
    });
    expect(heard({ audio: TONE, patch: patch(0) }, 0.5)).toEqual(bare);
    expect(heard({ audio: TONE, patch: patch(0.5) }, 0.5)).not.toEqual(bare);
  });
  test('the alternate is at one end for a strike and at the other for the next, for all that the strike starts', () => {
    const engine = start({
      audio: TONE,
      layers: [{ params: { pan: -1 } }, { params: { pan: -1 } }],
      patch: { routes: ['l0', 'l1'].map((id) => route('alternate', `layer.${id}.pan`, 1)) },
    });
    const sides = [0, 1, 2, 3].map(() => {
      engine.handle(on());
      const { left, right } = render(engine, RATE / 10);
      engine.handle(cc(120, 0));
      render(engine, RATE / 10);
      const peak = (signal: Float32Array) => Math.max(...signal.map(Math.abs));
      return [peak(left) > 0.1, peak(right) > 0.1];
    });
    expect(sides).toEqual([
      [true, false],
      [false, true],
      [true, false],
      [false, true],
    ]);
  });
  test('what is read at the strike stays for the note: delay, start, release, direction', () => {
    const late = heard({ patch: { routes: [route('cc.20', 'layer.l0.delay', 0.025)] } }, 1, (engine) =>
      engine.handle(cc(20, 127)),
    );
    expect(late.findIndex((x) => x > 0.01) / RATE).toBeCloseTo(0.5, 2);
    const ramp = { rate: RATE, channels: 1 as const, data: Float32Array.from({ length: RATE }, (_, i) => i / RATE) };
    const from = heard({ audio: ramp, patch: { routes: [route('velocity', 'layer.l0.start', 0.5)] } }, 0.2);
    expect(from[RATE / 10]).toBeCloseTo(0.6, 2);
    const back = heard({ audio: ramp, patch: { routes: [route('velocity', 'layer.l0.reversed', 1)] } }, 0.2);
    expect(back[RATE / 10]).toBeCloseTo(0.9, 2);
    const long = (wheel: number) => {
      const engine = start({ patch: { routes: [route('cc.1', 'layer.l0.release', 0.4)] } });
      engine.handle(cc(1, wheel));
      engine.handle(on());
      render(engine, 4800);
      engine.handle(cc(1, 0));
      engine.handle(off());
      return levelAfter(engine, 0.5);
    };
    expect(long(0)).toBe(0);
    expect(long(127)).toBeGreaterThan(0.1);
  });
  test('transposition in whole semitones, with the samples of the key it lands on', () => {
    const zones = [{ key: { ...whole, high: 63 } }, { key: { ...whole, low: 64, high: 127 }, root: 64, gain: -6 }];
    expect(
      db(
        heard({ zones, patch: { routes: [route('cc.1', 'layer.l0.transpose', 4 / 96)] } }, 0.2, (engine) =>
          engine.handle(cc(1, 127)),
        )[8000],
      ),
    ).toBeCloseTo(-6, 1);
    expect(
      db(heard({ zones, patch: { routes: [route('cc.1', 'layer.l0.transpose', 4 / 96)] } }, 0.2)[8000]),
    ).toBeCloseTo(0, 1);
  });
  test('touch that moves is felt in level and zone', () => {
    const zones = [
      { key: whole, velocity: { ...whole, low: 1, high: 60 } },
      { key: whole, velocity: { ...whole, low: 61, high: 127 }, gain: -20 },
    ];
    const engine = start({
      zones,
      layers: [{ params: { velocityToLevel: 0 } }],
      patch: { routes: [route('cc.1', 'layer.l0.touch', 0.5)] },
    });
    engine.handle(on(60, 40));
    expect(db(levelAfter(engine, 0.2))).toBeCloseTo(0, 1);
    engine.handle(off());
    engine.handle(cc(1, 127));
    levelAfter(engine, 1);
    engine.handle(on(60, 40));
    expect(db(levelAfter(engine, 0.2))).toBeCloseTo(-20, 1);
  });
});

describe('vibrato', () => {
  test('a new layer has it on the wheel: 30 cents at its end, grown in its onset', () => {
    const signal = heard(
      {
        audio: TONE,
        layers: [{ params: { level: -6, vibratoOnset: 0.5, vibratoRate: 2 } }],
        patch: { routes: [vibratoRoute('v', 'l0')] },
      },
      3,
      (engine) => engine.handle(cc(1, 127)),
    );
    const cents = (from: number, to: number) =>
      pitches(signal.subarray(from * RATE, to * RATE), 3).map((hz) => Math.abs(1200 * Math.log2(hz / 480)));
    expect(Math.max(...cents(1, 3))).toBeGreaterThan(28.5);
    expect(Math.max(...cents(1, 3))).toBeLessThan(31);
    expect(Math.max(...cents(0, 0.1))).toBeLessThan(8);
  });
  test('with the wheel down there is none, to the bit', () =>
    expect(heard({ audio: TONE, patch: { routes: [vibratoRoute('v', 'l0')] } }, 0.5)).toEqual(
      heard({ audio: TONE }, 0.5),
    ));
});
