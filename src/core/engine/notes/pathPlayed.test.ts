import { tried } from '../../../../tests/kit/whole';
import fc from 'fast-check';
import { cc, make, off, on, RATE, render, start, TONE, whole, largestStep } from '../../../../tests/kit/engine';
import { arpeggio, keysOf, madeBy, path, withPath } from '../../../../tests/kit/path';
import { pitches } from '../../../../tests/kit/moves';
import { ARPEGGIO_ORDERS, ARPEGGIO_PRESETS, patternOf } from '../../music/arpeggios';
import { nameOfChord, spelledKeys } from '../../music/chords';
import { noteValue } from '../../music/time';
import { fullWindow } from '../../rig/defaults';
import { SCALES, snapTable } from '../../music/scales';
import { resolveStrikes } from '../offline/resolve';
import { MadeReader } from '../offline/made';
import { writeDown } from '../offline/writeDown';
import type { EngineEvent } from '../hands/event';
import { tempo120 } from '../../../../tests/kit/pathNotes';

describe('one at a time', () => {
  const mono = (playing: 'mono' | 'legato', params = {}) =>
    withPath({ playing }, { params: { release: 0.01, ...params } });
  test('the newest key plays, and the one before it comes back', () => {
    const events: (readonly [number, EngineEvent])[] = [
      [0, on(60)],
      [0.1, on(64)],
      [0.2, on(67)],
      [0.3, off(67)],
      [0.4, off(64)],
      [0.5, off(60)],
    ];
    const { notes, engine } = madeBy({ layers: [mono('mono')] }, events, 1);
    expect(keysOf(notes)).toEqual([60, 64, 67, 64, 60]);
    expect(engine.mostVoices).toBeLessThanOrEqual(2);
    expect(engine.voiceCount).toBe(0);
  });
  test('legato goes on with the same voice: no new strike, no click', () => {
    const { engine, left } = madeBy(
      { audio: TONE, layers: [mono('legato', { attack: 0.05 })] },
      [
        [0, on(60)],
        [0.3, on(67)],
        [0.6, off(67)],
        [0.9, off(60)],
      ],
      1.2,
    );
    expect(engine.mostVoices).toBe(1);
    expect(engine.voiceCount).toBe(0);
    expect(largestStep(left.subarray(RATE / 10, 0.9 * RATE))).toBeLessThan(0.045);
    const heard = (from: number) => pitches(Float64Array.from(left.subarray(from * RATE, (from + 0.1) * RATE)), 20)[0];
    expect(heard(0.15)).toBeCloseTo(480, 0);
    expect(heard(0.45)).toBeCloseTo(480 * 2 ** (7 / 12), 0);
    expect(heard(0.75)).toBeCloseTo(480, 0);
  });
  test('a glide takes its time for the whole way, or for each octave of it', () => {
    const pitchAt = (glide: 'time' | 'rate', to: number, seconds: number) => {
      const { left } = madeBy(
        { audio: TONE, layers: [withPath({ playing: 'legato', glide }, { params: { glide: 0.4 } })] },
        [
          [0, on(60)],
          [0.2, on(to)],
        ],
        1,
      );
      return (
        12 *
        Math.log2(
          pitches(
            Float64Array.from(left.subarray((0.2 + seconds - 0.02) * RATE, (0.2 + seconds + 0.02) * RATE)),
            8,
          )[0] / 480,
        )
      );
    };
    expect(pitchAt('time', 72, 0.2)).toBeCloseTo(6, 0);
    expect(pitchAt('time', 66, 0.2)).toBeCloseTo(3, 0);
    expect(pitchAt('rate', 66, 0.1)).toBeCloseTo(3, 0);
    expect(pitchAt('rate', 66, 0.25)).toBeCloseTo(6, 1);
  });
  test('without a path, notes glide from the last one too', () => {
    const { left } = madeBy(
      { audio: TONE, layers: [{ params: { glide: 0.5, release: 0.005 } }] },
      [
        [0, on(60)],
        [0.1, off(60)],
        [0.2, on(72)],
      ],
      1,
    );
    const heard = pitches(Float64Array.from(left.subarray(0.43 * RATE, 0.47 * RATE)), 8)[0];
    expect(12 * Math.log2(heard / 480)).toBeCloseTo(6, 0);
  });
});

describe('windows, limits, edits', () => {
  test('ranges are meant for keys as played, or as transposed', () => {
    const layer = (ranges: 'played' | 'made') => ({
      path: path({ ranges }),
      transpose: 12,
      windows: [{ ...fullWindow('key'), low: 72, high: 83 }, fullWindow('velocity')],
    });
    const sounds = (ranges: 'played' | 'made', key: number) => {
      const engine = start({ zones: [{ key: whole }], layers: [layer(ranges)] });
      engine.handle(on(key));
      render(engine, 200);
      return engine.voiceCount > 0;
    };
    expect([60, 72].map((key) => sounds('played', key))).toEqual([false, true]);
    expect([60, 72].map((key) => sounds('made', key))).toEqual([true, false]);
  });
  test('a layer keeps to its own limit of voices, others are not touched', () => {
    const engine = start({ layers: [{ path: path({ limit: 3 }) }, {}] });
    for (const key of [60, 62, 64, 65, 67]) engine.handle(on(key));
    render(engine, RATE / 10);
    expect(engine.voiceCount).toBe(3 + 5);
  });
  test('a held note keeps to the rules that it began with: sustain, bend', () => {
    const layer = (sustain: boolean) => ({
      layers: [
        {
          receive: {
            port: 'any',
            channel: 'any' as const,
            bend: true,
            sustain,
            sostenuto: true,
            wheel: true,
            pressure: true,
            expression: true,
            program: false,
            song: true,
          },
          params: { release: 0.005 },
        },
      ],
    });
    const engine = start(layer(true));
    engine.handle(cc(64, 127));
    engine.handle(on(60));
    engine.handle(off(60));
    engine.setProgram({ ...start(layer(false)).sounding!.program });
    render(engine, RATE / 5);
    expect(engine.voiceCount).toBe(1);
    engine.handle(cc(64, 0));
    render(engine, RATE / 5);
    expect(engine.voiceCount).toBe(0);
  });
  test('a program change picks a sound of the list, where the layer hears it', () => {
    const plain = start().sounding!.program.layers[0].receive;
    const engine = start({
      layers: [{ list: ['s', 's', 's'], receive: { ...plain, program: true, song: true } }, { list: ['s', 's', 's'] }],
    });
    engine.handle({ type: 'program', channel: 1, program: 2 });
    expect(engine.sounding!.layers.map(({ picked }) => picked)).toEqual([2, -1]);
  });
  test('every note that a path makes is told when it ends, whatever is edited: nothing hangs on an output', () => {
    const change = fc.record({
      chord: fc.record({ on: fc.boolean(), notes: fc.constantFrom([4, 7], [12]) }),
      arpeggio: fc.record({ on: fc.boolean(), hold: fc.boolean() }),
      playing: fc.constantFrom('poly' as const, 'mono' as const, 'legato' as const),
      scale: fc.record({ on: fc.boolean(), outside: fc.constantFrom('up' as const, 'silent' as const) }),
    });
    const act = fc.oneof(
      fc.record({ key: fc.integer({ min: 55, max: 62 }), down: fc.boolean() }),
      fc.record({ change }),
    );
    fc.assert(
      fc.property(fc.array(act, { minLength: 10, maxLength: 50 }), (acts) => {
        const engine = start({ layers: [withPath({ playing: 'mono', instrument: 'loft' })] });
        const reader = new MadeReader(engine);
        const sounding = new Map<number, number>();
        const listen = () => {
          for (const { key, velocity } of reader.take())
            sounding.set(key, Math.max(0, (sounding.get(key) ?? 0) + (velocity > 0 ? 1 : -1)));
        };
        for (const each of acts) {
          if ('change' in each)
            engine.setProgram(make({ layers: [withPath({ ...each.change, instrument: 'loft' })] }).program);
          else engine.handle(each.down ? on(each.key) : off(each.key));
          listen();
          render(engine, 900);
          listen();
        }
        for (let key = 55; key <= 62; key++) engine.handle(off(key));
        engine.setProgram(make({ layers: [withPath({ instrument: 'loft' })] }).program);
        listen();
        render(engine, RATE / 2, 128);
        listen();
        expect([...sounding.values()].every((count) => count === 0)).toBe(true);
      }),
      { numRuns: tried(25, 8) },
    );
  });
  test('whatever is edited under held notes and running arpeggios, everything ends', () => {
    const change = fc.record({
      scale: fc.record({
        on: fc.boolean(),
        outside: fc.constantFrom('nearest' as const, 'up' as const, 'silent' as const),
      }),
      chord: fc.record({ on: fc.boolean(), notes: fc.constantFrom([4, 7], [12]) }),
      arpeggio: fc.record({
        on: fc.boolean(),
        order: fc.constantFrom(...ARPEGGIO_ORDERS),
        hold: fc.boolean(),
        start: fc.constantFrom('key' as const, 'beat' as const),
      }),
      playing: fc.constantFrom('poly' as const, 'mono' as const, 'legato' as const),
      limit: fc.constantFrom(0, 2),
    });
    const act = fc.oneof(
      fc.record({ kind: fc.constant('key' as const), key: fc.integer({ min: 55, max: 66 }), down: fc.boolean() }),
      fc.record({ kind: fc.constant('pedal' as const), down: fc.boolean() }),
      fc.record({ kind: fc.constant('edit' as const), change }),
      fc.record({ kind: fc.constant('tempo' as const), tempo: fc.integer({ min: 60, max: 200 }) }),
      fc.record({ kind: fc.constant('patch' as const), id: fc.constantFrom('p', 'q') }),
    );
    fc.assert(
      fc.property(fc.array(act, { minLength: 10, maxLength: 60 }), (acts) => {
        const programOf = (changes: Parameters<typeof withPath>[0], id: string) =>
          make({ layers: [withPath(changes, { params: { release: 0.01, strum: 0.01 } }), {}], patch: { id } }).program;
        const engine = start({ layers: [{}, {}] });
        let id = 'p';
        let now: Parameters<typeof withPath>[0] = {};
        for (const each of acts) {
          if (each.kind === 'key') engine.handle(each.down ? on(each.key) : off(each.key));
          else if (each.kind === 'pedal') engine.handle(cc(64, each.down ? 127 : 0));
          else if (each.kind === 'tempo') engine.handle({ type: 'tempo', tempo: each.tempo });
          else {
            if (each.kind === 'edit') now = each.change;
            else id = each.id;
            engine.setProgram(programOf(now, id));
          }
          render(engine, 800);
        }
        engine.handle(cc(64, 0));
        for (let key = 55; key <= 66; key++) engine.handle(off(key));
        engine.setProgram(programOf({}, id));
        render(engine, RATE / 2);
        expect(engine.voiceCount).toBe(0);
        expect(engine.isBusy).toBe(false);
      }),
      { numRuns: tried(40, 12) },
    );
  });
});

test('resolve answers with what the path makes of a key, note by note', () => {
  const { program } = make({
    layers: [
      withPath(
        { scale: { on: true, name: 'major', root: 0, outside: 'up' }, chord: { on: true, notes: [2, 4], in: 'steps' } },
        { transpose: 12 },
      ),
      {},
    ],
  });
  const [answers] = resolveStrikes(program, 61, 100);
  expect(answers.map(({ layer, key, semitones }) => [layer, key, semitones])).toEqual([
    [1, 61, 1],
    [0, 74, 14],
    [0, 77, 17],
    [0, 81, 21],
  ]);
});

test('what a path makes is written down as a take', () => {
  const { program } = make({
    ...tempo120,
    layers: [withPath(arpeggio({ order: 'up-down' }), { params: { arpGate: 50 } })],
  });
  const take = {
    name: 'held',
    seconds: 0.5,
    events: [
      [0, on(60, 90)],
      [0, on(64, 90)],
      [0, on(67, 90)],
      [0.5, off(60)],
      [0.5, off(64)],
      [0.5, off(67)],
    ].map(([at, event]) => ({ at: at as number, event: event as never })),
  };
  const written = writeDown(program, 0, take);
  expect(
    written.events.map(({ at, event }) => [Math.round(at * 1e4) / 1e4, event.type, (event as { key: number }).key]),
  ).toEqual([
    [0, 'noteOn', 60],
    [0.0625, 'noteOff', 60],
    [0.125, 'noteOn', 64],
    [0.1875, 'noteOff', 64],
    [0.25, 'noteOn', 67],
    [0.3125, 'noteOff', 67],
    [0.375, 'noteOn', 64],
    [0.4375, 'noteOff', 64],
  ]);
});

test('chords are spelled by their names', () => {
  expect(
    [
      [60, 64, 67],
      [62, 65, 69],
      [64, 67, 72],
      [57, 60, 64, 67],
      [59, 62, 65],
      [60, 67],
      [55, 62, 64, 71],
      [60, 61, 67],
    ].map(nameOfChord),
  ).toEqual(['C', 'Dm', 'C/E', 'Am7', 'Bdim', 'C5', 'G6', undefined]);
  // One spelling in one line: that of the chord, or that of the keys.
  expect([spelledKeys([60, 56, 63], 4), spelledKeys([67, 68, 69], 4)]).toEqual(['A♭3 C4 E♭4', 'G4 G♯4 A4']);
});

test('every scale fits itself on all twelve roots: what is in it stays, what is not goes to a key of it', () => {
  expect(SCALES.length).toBeGreaterThanOrEqual(20);
  for (const { intervals } of SCALES) {
    for (let root = 0; root < 12; root++) {
      const inside = (key: number) => intervals.includes((key - root + 144) % 12);
      for (const outside of ['nearest', 'up', 'down'] as const) {
        snapTable(intervals, root, outside).forEach((to, key) => {
          expect(inside(to)).toBe(true);
          if (inside(key)) expect(to).toBe(key);
          else if (outside === 'nearest')
            for (let d = 1; d < Math.abs(to - key); d++)
              expect((key - d >= 0 && inside(key - d)) || (key + d < 128 && inside(key + d))).toBe(false);
        });
      }
    }
  }
});

test('twenty arpeggios of ours and more, each with notes in it', () => {
  expect(ARPEGGIO_PRESETS.length).toBeGreaterThanOrEqual(20);
  for (const { pattern, rate } of ARPEGGIO_PRESETS) {
    expect(patternOf(pattern).some(({ kind }) => kind === 'note')).toBe(true);
    expect(() => noteValue(rate)).not.toThrow();
  }
});
