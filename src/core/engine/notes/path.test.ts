import { cc, off, on, RATE, render, start } from '../../../../tests/kit/engine';
import { arpeggio, keysOf, madeBy, timesOf, withPath } from '../../../../tests/kit/path';
import { route } from '../../../../tests/kit/moves';
import { noteValue } from '../../music/time';
import { fullWindow } from '../../rig/defaults';
import { SCALES } from '../../music/scales';
import type { EngineEvent } from '../hands/event';
import { tempo120 } from '../../../../tests/kit/pathNotes';

const held = (keys: readonly number[], from = 0, to = 10): (readonly [number, EngineEvent])[] =>
  keys.flatMap((key) => [[from, on(key, 100)] as const, [to, off(key)] as const]);

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
