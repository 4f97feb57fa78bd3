import fc from 'fast-check';
import type { Audio } from '../dsp/sample';
import { fullWindow, markAt, newLayer } from '../rig/defaults';
import type { Layer, Patch, Sound } from '../rig/schema';
import { CycleError } from '../space/order';
import { gainOfVelocity, touchTable } from './program/compile';
import { type Engine } from './engine';
import type { EngineEvent } from './hands/event';
import { resolveStrikes } from './offline/resolve';
import {
  cc,
  largestBend,
  largestStep,
  levelAfter,
  make,
  off,
  on,
  RATE,
  render,
  start,
  STEADY,
  TONE,
  whole,
} from '../../../tests/kit/engine';

const QUIET = { params: { level: -12 } };

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

describe('pedals and messages', () => {
  const layers = [{ params: { release: 0.005 } }];
  const sounds = (engine: Engine) => {
    render(engine, RATE / 4);
    return engine.voiceCount;
  };
  test('a note ends with its key, unless sustain holds it', () => {
    const engine = start({ layers });
    engine.handle(on());
    engine.handle(cc(64, 127));
    engine.handle(off());
    expect(sounds(engine)).toBe(1);
    engine.handle(cc(64, 0));
    expect(sounds(engine)).toBe(0);
  });
  test('lifting the pedal leaves keys that are down', () => {
    const engine = start({ layers });
    for (const event of [cc(64, 127), on(60), on(64), off(60), cc(64, 63)]) engine.handle(event);
    expect(sounds(engine)).toBe(1);
  });
  test('sostenuto holds only what was down when it went down', () => {
    const engine = start({ layers });
    for (const event of [on(60), cc(66, 127), on(64), off(60), off(64)]) engine.handle(event);
    expect(sounds(engine)).toBe(1);
    engine.handle(cc(66, 0));
    expect(sounds(engine)).toBe(0);
  });
  test('sostenuto and sustain together: the last one up lets go', () => {
    const engine = start({ layers });
    for (const event of [on(60), cc(66, 127), cc(64, 127), off(60), cc(66, 0)]) engine.handle(event);
    expect(sounds(engine)).toBe(1);
    engine.handle(cc(64, 0));
    expect(sounds(engine)).toBe(0);
  });
  test('a layer that does not hear the pedal lets go with the key', () => {
    const engine = start({
      layers: [
        ...layers,
        { params: { release: 0.005 }, receive: { ...newLayer('', '', '', markAt(0)).receive, sustain: false } },
      ],
    });
    for (const event of [cc(64, 127), on(), off()]) engine.handle(event);
    expect(sounds(engine)).toBe(1);
  });
  // MIDI 1.0: 120 all sound off, 121 reset all controllers (RP-015), 123 all notes off.
  test('120 silences even held notes, 123 lets keys go but not the pedal, 121 lets pedals go', () => {
    const all = start({ layers });
    for (const event of [cc(64, 127), on(60), on(64), off(60), cc(120, 0)]) all.handle(event);
    expect(sounds(all)).toBe(0);
    const notes = start({ layers });
    for (const event of [on(60), cc(64, 127), cc(123, 0)]) notes.handle(event);
    expect(sounds(notes)).toBe(1);
    notes.handle(cc(121, 0));
    expect(sounds(notes)).toBe(0);
    notes.handle(cc(1, 99));
    notes.handle(cc(121, 0));
    expect(notes.controllers.cc[1]).toBe(0);
    expect(notes.controllers.cc[11]).toBe(127);
  });
  test('channels: a layer on channel 2 hears nothing else, one on any hears all', () => {
    const engine = start({ layers: [{ receive: { ...newLayer('', '', '', markAt(0)).receive, channel: 2 } }, {}] });
    engine.handle(on(60, 100, 1));
    expect(sounds(engine)).toBe(1);
    engine.handle(on(64, 100, 2));
    expect(sounds(engine)).toBe(3);
  });
  test('full-length zones play on after their key', () => {
    const engine = start({ layers, zones: [{ key: whole, playback: 'full-length' }] });
    engine.handle(on());
    engine.handle(off());
    expect(sounds(engine)).toBe(1);
  });
  test('panic silences at once and without a click', () => {
    const engine = start({ audio: TONE, layers: [QUIET] });
    for (const event of [on(60), on(67), cc(64, 127)]) engine.handle(event);
    render(engine, 4800);
    engine.handle({ type: 'panic' });
    const { left } = render(engine, 4800);
    expect(largestStep(left)).toBeLessThan(0.03);
    expect(left.slice(600).every((x) => x === 0)).toBe(true);
    expect(engine.controllers.isDown(1, 64)).toBe(false);
  });
});

describe('the engine as a whole', () => {
  const melody: [number, EngineEvent][] = [
    [0, on(60)],
    [777, on(64, 90)],
    [5001, cc(1, 64)],
    [9000, off(60)],
    [12345, { type: 'bend', channel: 1, bend: 0.3 }],
    [20000, off(64)],
  ];
  const play = (block: number, seed = 1) => {
    const engine = start({
      audio: TONE,
      seed,
      layers: [QUIET, { params: { cutoff: 900, resonance: 3, level: -14 }, transpose: 7 }],
    });
    for (const [frame, event] of melody) engine.handle(event, frame);
    return render(engine, 24000, block).left;
  };
  test('the same bits for the same events, however the output is cut', () => {
    const reference = play(24000);
    for (const block of [128, 1, 37, 480]) expect(play(block)).toEqual(reference);
  });
  test('events act on their own frame, only later by the engine’s latency, in blocks of any size', () => {
    for (const block of [1, 31, 100, 128, 2048]) {
      for (const frame of [0, 1, 77, 110, 128, 1000]) {
        const engine = start();
        const left = new Float32Array(2048 + block);
        // Handed over just before the block in which it falls.
        for (let at = 0; at < 2048; at += block) {
          if (frame >= at && frame < at + block) engine.handle(on(), frame);
          engine.process(left.subarray(at, at + block), new Float32Array(block), block);
        }
        expect(left.findIndex((x) => x !== 0)).toBe(frame + engine.latency);
      }
    }
  });
  test('more notes than voices: the quietest released one goes first, nothing clicks, the count is kept', () => {
    const engine = start({ audio: TONE, maxVoices: 4, layers: [{ params: { level: -24, release: 5 } }] });
    for (const event of [on(60, 127), on(62, 30), on(64, 127), on(65, 100)]) engine.handle(event);
    render(engine, 4800);
    for (const event of [off(64), off(65)]) engine.handle(event);
    engine.handle(on(67));
    const { left } = render(engine, 4800);
    expect(largestStep(left)).toBeLessThan(0.03);
    expect(engine.voiceCount).toBe(4);
    engine.handle(cc(120, 0));
    render(engine, 4800);
    expect(engine.voiceCount).toBe(0);
    expect(engine.mostVoices).toBe(5);
  });
  test('256 voices and no more', () => {
    const engine = start({ layers: [{ params: { level: -50 } }] });
    for (let channel = 1; channel <= 3; channel++)
      for (let key = 0; key < 128; key++) engine.handle(on(key, 100, channel));
    render(engine, 9600);
    expect(engine.voiceCount).toBe(256);
  });
  test('a note in the middle of a patch change goes on until it is let go', () => {
    const engine = start({ layers: [QUIET] });
    engine.handle(on());
    render(engine, 4800);
    engine.setProgram(make({ patch: { id: 'other' }, layers: [QUIET] }).program);
    expect(levelAfter(engine, 0.2)).toBeCloseTo(10 ** (-12 / 20), 3);
    engine.handle(off());
    expect(levelAfter(engine, 1)).toBe(0);
    expect(engine.voiceCount).toBe(0);
  });
  test('a changed window is heard on the held note; a deleted layer fades', () => {
    const engine = start({ layers: [QUIET, QUIET] });
    engine.handle(on());
    render(engine, 4800);
    engine.setProgram(
      make({
        layers: [{ ...QUIET, windows: [{ ...fullWindow('key'), high: 64, fadeOut: 8 }, fullWindow('velocity')] }],
      }).program,
    );
    expect(levelAfter(engine, 0.3)).toBeCloseTo(10 ** (-12 / 20) * Math.SQRT1_2, 3);
  });
  test('a sample that ends while it sounds does not click', () => {
    const engine = start({ audio: { ...STEADY, data: new Float32Array(3000).fill(0.3) } });
    engine.handle(on());
    const { left } = render(engine, 6000);
    expect(largestStep(left)).toBeLessThan(0.02);
    expect(engine.voiceCount).toBe(0);
  });
  test('a parameter that jumps is smoothed, whatever the wave is at when it does', () => {
    for (let before = 4801; before < 4901; before += 16) {
      const engine = start({ audio: TONE, layers: [{ params: { level: -12, pan: -1, cutoff: 20480 } }] });
      engine.handle(on());
      render(engine, before);
      engine.setProgram(
        make({ audio: TONE, layers: [{ params: { level: -12, pan: 1, cutoff: 200, lowCut: 100 } }] }).program,
      );
      const { left } = render(engine, 2400);
      expect(largestBend(left)).toBeLessThan(0.003);
    }
  });
  test('nothing that is not a number, denormal or above full scale ever comes out', () => {
    const event = fc.oneof(
      fc.record({
        type: fc.constant('noteOn' as const),
        channel: fc.integer({ min: 0, max: 17 }),
        key: fc.integer({ min: -1, max: 128 }),
        velocity: fc.integer({ min: 0, max: 128 }),
      }),
      fc.record({
        type: fc.constant('noteOff' as const),
        channel: fc.integer({ min: 1, max: 16 }),
        key: fc.integer({ min: 0, max: 127 }),
        velocity: fc.constant(64),
      }),
      fc.record({
        type: fc.constant('controller' as const),
        channel: fc.integer({ min: 1, max: 16 }),
        controller: fc.integer({ min: 0, max: 128 }),
        value: fc.oneof(fc.integer({ min: -1, max: 128 }), fc.constant(NaN)),
      }),
      fc.record({ type: fc.constant('bend' as const), channel: fc.constant(1), bend: fc.double({ min: -2, max: 2 }) }),
      fc.record({ type: fc.constant('macro' as const), number: fc.integer({ min: 0, max: 20 }), value: fc.double() }),
    );
    const nasty: Audio = {
      rate: RATE,
      channels: 2,
      data: Float32Array.from({ length: 4000 }, (_, i) => [1, -1, 1e-39, 0][i % 4] * (i % 97 === 0 ? 50 : 1)),
    };
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 4000 }), event), { maxLength: 40 }), (events) => {
        const engine = start({
          audio: nasty,
          layers: [{ params: { resonance: 20, cutoff: 3000, bendRange: 48, lowCut: 300 } }, { transpose: 48 }],
          zones: [{ key: whole, loop: { start: 10, end: 500, crossfade: 4, until: 'end' } }],
        });
        for (const [frame, each] of events) engine.handle(each as EngineEvent, frame);
        const { left, right } = render(engine, 4096, 128);
        for (const x of [...left, ...right])
          if (!(x === 0 || (Math.abs(x) <= 1 && Math.abs(x) > 1e-30))) throw new Error(`${x} came out`);
      }),
      { numRuns: 25 },
    );
  });
});

describe('alternates', () => {
  const zones = [0, 1, 2].map((alternate) => ({ key: whole, alternate }));
  const heard = (alternation: Sound['alternation'], repeat: number, seed = 1) =>
    resolveStrikes(make({ zones, alternation }).program, 60, 100, { repeat, seed }).map((answers) =>
      answers.map((answer) => answer.zone),
    );
  test('in turn', () => expect(heard('in-turn', 7).flat()).toEqual([0, 1, 2, 0, 1, 2, 0]));
  test('at random: one each time, all of them in the long run', () => {
    const draws = heard('random', 300);
    expect(draws.every((answers) => answers.length === 1)).toBe(true);
    expect(new Set(draws.flat()).size).toBe(3);
  });
  test('shuffled: every round has each once, and none follows itself', () => {
    const draws = heard('shuffled', 300).flat();
    for (let round = 0; round < 300; round += 3) expect(new Set(draws.slice(round, round + 3)).size).toBe(3);
    for (let i = 1; i < draws.length; i++) expect(draws[i]).not.toBe(draws[i - 1]);
  });
  test('a zone that is no alternate always sounds beside them', () => {
    const { program } = make({ zones: [...zones, { key: whole }] });
    expect(resolveStrikes(program, 60, 100, { repeat: 3 }).map((answers) => answers.length)).toEqual([2, 2, 2]);
  });
});
