import { tried } from '../../../tests/kit/whole';
import fc from 'fast-check';
import type { Audio } from '../dsp/sample';
import { fullWindow, markAt, newLayer } from '../rig/defaults';
import type { Sound } from '../rig/schema';
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
import { QUIET } from '../../../tests/kit/wholeEngine';

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
      { numRuns: tried(25, 8) },
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
