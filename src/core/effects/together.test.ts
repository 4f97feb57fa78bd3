/** Effects as an engine has them: all in one kernel, in turn, in rooms that others had before. */
import { EffectRooms, type Room } from '../dsp/kernel/effectRooms';
import { prepareSample } from '../dsp/sample';
import type { Effect, EffectKind } from './effect';
import { EFFECTS } from './index';

const RATE = 48000;
const FRAMES = 9600;

const noise = (seed: number): Float32Array => {
  let s = seed;
  return Float32Array.from({ length: FRAMES }, () => {
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    return (0.5 * s) / 2 ** 31;
  });
};
const impulse = prepareSample(
  {
    rate: RATE,
    channels: 2,
    data: Float32Array.from({ length: 12000 }, (_, i) => Math.sin(i * i) * Math.exp(-i / 3000)),
  },
  null,
);

interface Playing {
  effect: Effect;
  room: Room | null;
  left: Float32Array;
  right: Float32Array;
}

function begin(kind: EffectKind, values: Readonly<Record<string, number>>, rooms: EffectRooms, seed: number): Playing {
  const floats = kind.room?.(RATE) ?? 0;
  const room = floats > 0 ? rooms.take(floats) : null;
  const effect = kind.make({
    rate: RATE,
    seed: 1,
    room,
    time: Float64Array.of(0, 2 / RATE),
    key: Float64Array.of(57),
    cents: new Float64Array(128),
    steps: Float64Array.from({ length: 33 }, (_, i) => (i === 32 ? 8 : (i % 4) / 3)),
    side: kind.listens ? { left: noise(91), right: noise(92) } : null,
    impulse: kind.impulse ? impulse : null,
  });
  effect.aim(
    Float64Array.from(Object.values(kind.parameters), (parameter) => values[parameter.id] ?? parameter.default),
  );
  return { effect, room, left: noise(seed), right: noise(seed + 1) };
}

/** Spans as events cut them: mostly whole ones, some of a few frames. */
function* spans(): Generator<[number, number]> {
  for (let at = 0, n = 0; at < FRAMES; n++) {
    const to = Math.min(FRAMES, at + (n % 7 === 3 ? 5 : n % 11 === 4 ? 1 : 32));
    yield [at, to];
    at = to;
  }
}

const all = EFFECTS.flatMap((kind) =>
  [{}, ...kind.presets.map(({ values }) => values)].map((values, n) => ({ name: `${kind.id} ${n}`, kind, values })),
);
const alone = all.map(({ kind, values }, n) => {
  const playing = begin(kind, values, new EffectRooms(4 * (kind.room?.(RATE) ?? 0) + 64), 7 + 2 * n);
  for (const [from, to] of spans()) playing.effect.process(playing.left, playing.right, from, to);
  return playing;
});

/** All of them span by span in one engine's rooms. */
function together(rooms: EffectRooms): Playing[] {
  const playing = all.map(({ kind, values }, n) => begin(kind, values, rooms, 7 + 2 * n));
  for (const [from, to] of spans())
    for (const { effect, left, right } of playing) effect.process(left, right, from, to);
  return playing;
}
const differing = (playing: readonly Playing[]): string[] =>
  playing.flatMap(({ left, right }, n) =>
    left.every((x, i) => x === alone[n].left[i]) && right.every((x, i) => x === alone[n].right[i]) ? [] : [all[n].name],
  );

test('every effect with every preset sounds the same bits beside all others as alone, and in rooms that others left', () => {
  const rooms = new EffectRooms(64 << 20);
  expect(differing(together(rooms))).toEqual([]);
  rooms.keep(() => false);
  for (let n = 0; n < 4000; n++) rooms.wipe(1 << 16);
  // In another order they find rooms of other sizes.
  rooms.take(1000);
  expect(differing(together(rooms))).toEqual([]);
});

test('an effect that was reset sounds as a new one', () => {
  // What turns by itself goes on turning: its phase is no sound.
  const turns = new Set(['reverb', 'rotary', 'tape', 'tremolo', 'phaser', 'flanger', 'notches', 'chorus', 'ring']);
  const rooms = new EffectRooms(64 << 20);
  const playing = together(rooms);
  playing.forEach(({ effect }) => effect.reset());
  const again = all.map((_, n) => ({ left: noise(7 + 2 * n), right: noise(8 + 2 * n) }));
  for (const [from, to] of spans())
    playing.forEach(({ effect }, n) => effect.process(again[n].left, again[n].right, from, to));
  const wrong = all.filter(({ kind }, n) => {
    if (turns.has(kind.id)) return !again[n].left.every(Number.isFinite);
    return again[n].left.some((x, i) => x !== alone[n].left[i]);
  });
  expect(wrong.map(({ name }) => name)).toEqual([]);
});
