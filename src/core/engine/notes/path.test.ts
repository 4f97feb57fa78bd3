import fc from 'fast-check';
import { cc, make, off, on, RATE, render, start, TONE, whole, largestStep } from '../../../../tests/kit/engine';
import { arpeggio, keysOf, madeBy, path, timesOf, withPath } from '../../../../tests/kit/path';
import { route } from '../../../../tests/kit/moves';
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

const held = (keys: readonly number[], from = 0, to = 10): (readonly [number, EngineEvent])[] =>
  keys.flatMap((key) => [[from, on(key, 100)] as const, [to, off(key)] as const]);
const tempo120 = { patch: { tempo: 120 } };

describe('scale', () => {
  test('notes outside it go to the nearest, up, down, or stay silent', () => {
    const scale = (outside: 'nearest' | 'up' | 'down' | 'silent') =>
      keysOf(
        madeBy(
          { layers: [withPath({ scale: { on: true, name: 'major', root: 0, outside } })] },
          held([60, 61, 66, 70]),
          0.1,
        ).notes,
      );
    expect(scale('nearest')).toEqual([60, 60, 65, 69]);
    expect(scale('up')).toEqual([60, 62, 67, 71]);
    expect(scale('down')).toEqual([60, 60, 65, 69]);
    expect(scale('silent')).toEqual([60]);
  });
  test('it looks at keys after the transposition', () => {
    expect(
      keysOf(
        madeBy(
          { layers: [withPath({ scale: { on: true, name: 'major', root: 0, outside: 'up' } }, { transpose: 1 })] },
          held([60, 61]),
          0.1,
        ).notes,
      ),
    ).toEqual([62, 62]);
  });
  test('what two keys make of the same note ends with the second of them', () => {
    const { engine } = madeBy(
      {
        layers: [
          withPath({ scale: { on: true, name: 'major', root: 0, outside: 'up' } }, { params: { release: 0.005 } }),
        ],
      },
      [
        [0, on(61)],
        [0, on(62)],
        [0.1, off(61)],
      ],
      0.3,
    );
    expect(engine.voiceCount).toBe(1);
    engine.handle(off(62));
    render(engine, RATE / 5);
    expect(engine.voiceCount).toBe(0);
  });
});

describe('chord', () => {
  test('in semitones, and in steps of the scale', () => {
    expect(
      keysOf(madeBy({ layers: [withPath({ chord: { on: true, notes: [4, 7] } })] }, held([60, 62]), 0.1).notes),
    ).toEqual([60, 64, 67, 62, 66, 69]);
    const inScale = withPath({
      scale: { on: true, name: 'major', root: 0, outside: 'nearest' },
      chord: { on: true, notes: [2, 4], in: 'steps' },
    });
    // C major, D minor, B diminished.
    expect(keysOf(madeBy({ layers: [inScale] }, held([60, 62, 71]), 0.1).notes)).toEqual([
      60, 64, 67, 62, 65, 69, 71, 74, 77,
    ]);
  });
  test('strummed, and cut short by a key that is let go before', () => {
    const layer = withPath({ chord: { on: true, notes: [4, 7, 12] } }, { params: { strum: 0.05 } });
    timesOf(madeBy({ layers: [layer] }, held([60]), 0.5).notes).forEach((time, i) =>
      expect(time).toBeCloseTo(i * 0.05, 4),
    );
    const { notes, engine } = madeBy(
      { layers: [layer] },
      [
        [0, on(60)],
        [0.07, off(60)],
      ],
      2,
    );
    expect(keysOf(notes)).toEqual([60, 64]);
    expect(engine.voiceCount).toBe(0);
  });
  test('by chance within the scale: seeded, kept for a key or drawn anew, never outside', () => {
    const play = (harmony: 'kept' | 'drawn', seed: number) =>
      keysOf(
        madeBy(
          {
            layers: [
              withPath({
                scale: { on: true, name: 'dorian', root: 2, outside: 'nearest' },
                chord: { on: true, notes: [0, 0, 0], harmony },
                seed,
              }),
            ],
          },
          [
            [0, on(62)],
            [0.1, off(62)],
            [0.2, on(62)],
            [0.3, off(62)],
            [0.4, on(62)],
            [0.5, off(62)],
          ],
          0.6,
        ).notes,
      );
    const kept = play('kept', 4);
    expect(kept).toHaveLength(12);
    expect(kept.slice(4, 8)).toEqual(kept.slice(0, 4));
    const drawn = play('drawn', 4);
    expect(new Set([drawn.slice(0, 4), drawn.slice(4, 8), drawn.slice(8)].map(String)).size).toBeGreaterThan(1);
    expect(play('drawn', 4)).toEqual(drawn);
    expect(play('kept', 5)).not.toEqual(kept);
    const { intervals } = SCALES.find(({ id }) => id === 'dorian')!;
    for (const key of [...kept, ...drawn]) expect(intervals).toContain((key - 2) % 12);
  });
});

describe('arpeggio', () => {
  const play = (
    change: Parameters<typeof arpeggio>[0],
    keys: readonly number[],
    steps: number,
    pattern = 'x',
    params = {},
  ) =>
    keysOf(
      madeBy(
        { ...tempo120, layers: [withPath(arpeggio(change, pattern), { params })] },
        held(keys),
        steps * 0.125 - 0.01,
      ).notes,
    );
  // By hand, as each order is meant.
  test.each([
    ['up', [60, 64, 67, 60, 64, 67]],
    ['down', [67, 64, 60, 67, 64, 60]],
    ['up-down', [60, 64, 67, 64, 60, 64]],
    ['as-played', [64, 60, 67, 64, 60, 67]],
    ['outside-in', [60, 67, 64, 60, 67, 64]],
  ] as const)('%s', (order, expected) => {
    expect(play({ order }, [64, 60, 67], 6)).toEqual(expected);
  });
  test('all at once, at random from the seed, over octaves, with a pattern', () => {
    expect(play({ order: 'chord' }, [60, 64], 2)).toEqual([60, 64, 60, 64]);
    const random = play({ order: 'random' }, [60, 64, 67], 16);
    expect(play({ order: 'random' }, [60, 64, 67], 16)).toEqual(random);
    expect(new Set(random)).toEqual(new Set([60, 64, 67]));
    expect(play({ order: 'up' }, [60, 64], 5, 'x', { arpOctaves: 2 })).toEqual([60, 64, 72, 76, 60]);
    expect(play({ order: 'up' }, [60, 64], 6, 'x.^-v x')).toEqual([60, 76, 48, 64]);
  });
  test('steps last their note value whatever the tempo, swing makes every second one late', () => {
    const times = (tempo: number, params: Record<string, number>) =>
      timesOf(madeBy({ patch: { tempo }, layers: [withPath(arpeggio(), { params })] }, held([60]), 1).notes).slice(
        0,
        4,
      );
    for (const tempo of [77, 120, 180])
      times(tempo, { arpRate: noteValue('1/8') }).forEach((time, i) => expect(time).toBeCloseTo((i * 30) / tempo, 4));
    times(120, { arpRate: noteValue('1/8'), arpSwing: 66 }).forEach((time, i) =>
      expect(time).toBeCloseTo(0.25 * i + (i % 2 === 1 ? 0.25 * 0.32 : 0), 4),
    );
  });
  test('the gate is a share of the step, a tie goes on, a soft step is soft', () => {
    const { notes } = madeBy(
      { ...tempo120, layers: [withPath(arpeggio({}, 'x-o.'), { params: { arpGate: 50 } })] },
      held([60]),
      0.49,
    );
    expect(notes.map(({ velocity, frame }) => [velocity, Math.round((frame / RATE) * 1000) / 1000])).toEqual([
      [100, 0],
      [0, 0.188],
      [60, 0.25],
      [0, 0.313],
    ]);
  });
  test('begins with the key, or waits for the beat of the transport', () => {
    const first = (startsOn: 'key' | 'beat') =>
      timesOf(
        madeBy({ ...tempo120, layers: [withPath(arpeggio({ start: startsOn }))] }, held([60], 0.3), 1).notes,
      ).slice(0, 2);
    expect(first('key')[0]).toBeCloseTo(0.3, 3);
    expect(first('beat')[0]).toBeCloseTo(0.375, 3);
    expect(first('beat')[1]).toBeCloseTo(0.5, 3);
  });
  test('a tempo that changes in between moves the next step from where it is', () => {
    const { notes } = madeBy(
      { ...tempo120, layers: [withPath(arpeggio(), { params: { arpRate: noteValue('1/4') } })] },
      [...held([60]), [0.25, { type: 'tempo', tempo: 60 }]],
      3,
    );
    // Half a quarter has gone at 120, the other half lasts half a second at 60.
    [0, 0.75, 1.75, 2.75].forEach((time, i) => expect(timesOf(notes)[i]).toBeCloseTo(time, 3));
  });
  test('keys that come and go are taken in and left out; hold goes on with the last ones; nothing is left over', () => {
    const events: (readonly [number, EngineEvent])[] = [
      [0, on(60)],
      [0.2, on(64)],
      [0.45, off(60)],
      [0.8, off(64)],
    ];
    const { notes, engine } = madeBy(
      { ...tempo120, layers: [withPath(arpeggio(), { params: { release: 0.005 } })] },
      events,
      2,
    );
    expect(keysOf(notes)).toEqual([60, 60, 60, 64, 64, 64, 64]);
    expect(engine.voiceCount).toBe(0);
    expect(engine.isBusy).toBe(false);
    const holding = madeBy({ ...tempo120, layers: [withPath(arpeggio({ hold: true }))] }, events, 2);
    expect(keysOf(holding.notes).slice(-4).sort()).toEqual([60, 60, 64, 64]);
    // The next key begins anew.
    holding.engine.handle(on(72));
    const reader = madeBy(
      { ...tempo120, layers: [withPath(arpeggio({ hold: true }))] },
      [...events, [1, on(72)], [1.01, off(72)]],
      2,
    );
    expect(keysOf(reader.notes).slice(-3)).toEqual([72, 72, 72]);
  });
  test('two layers on the two sides of a split run two arpeggios', () => {
    const side = (low: number, high: number) => [{ ...fullWindow('key'), low, high }, fullWindow('velocity')];
    const { notes } = madeBy(
      {
        ...tempo120,
        layers: [
          withPath(arpeggio({ order: 'down' }), { windows: side(0, 59) }),
          withPath(arpeggio(), { windows: side(60, 127), params: { arpRate: noteValue('1/8') } }),
        ],
      },
      held([48, 52, 60, 64]),
      0.49,
    );
    const of = (layer: number) => keysOf(notes.filter((each) => each.layer === layer));
    expect(of(0)).toEqual([52, 48, 52, 48]);
    expect(of(1)).toEqual([60, 64]);
  });
  test('how the output is cut changes nothing', () => {
    const play = (block: number) => {
      const engine = start({
        ...tempo120,
        layers: [withPath(arpeggio({ order: 'random' }, 'x?o.x-'), { params: { arpSwing: 61, arpGate: 130 } })],
      });
      for (const [at, event] of held([60, 63, 70], 0.013, 0.7)) engine.handle(event, Math.round(at * RATE));
      return render(engine, RATE, block).left;
    };
    expect(play(128)).toEqual(play(37));
  });
  test('its step, gate and octaves can be moved', () => {
    const engine = (wheel: number) =>
      timesOf(
        madeBy(
          {
            ...tempo120,
            layers: [withPath(arpeggio())],
            patch: { ...tempo120.patch, routes: [route('cc.1', 'layer.l0.arpRate', -0.2)] },
          },
          [[0, cc(1, wheel)], ...held([60])],
          1,
        ).notes,
      );
    expect(engine(0)[1]).toBeCloseTo(0.125, 3);
    expect(engine(127)[1]).toBeGreaterThan(0.2);
  });
});

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
        const engine = start({ layers: [withPath({ playing: 'mono', output: 'out' })] });
        const reader = new MadeReader(engine);
        const sounding = new Map<number, number>();
        const listen = () => {
          for (const { key, velocity } of reader.take())
            sounding.set(key, Math.max(0, (sounding.get(key) ?? 0) + (velocity > 0 ? 1 : -1)));
        };
        for (const each of acts) {
          if ('change' in each)
            engine.setProgram(make({ layers: [withPath({ ...each.change, output: 'out' })] }).program);
          else engine.handle(each.down ? on(each.key) : off(each.key));
          listen();
          render(engine, 900);
          listen();
        }
        for (let key = 55; key <= 62; key++) engine.handle(off(key));
        engine.setProgram(make({ layers: [withPath({ output: 'out' })] }).program);
        listen();
        render(engine, RATE / 2, 128);
        listen();
        expect([...sounding.values()].every((count) => count === 0)).toBe(true);
      }),
      { numRuns: 25 },
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
      { numRuns: 40 },
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
