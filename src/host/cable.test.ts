import { Cable } from './cable';

function begin() {
  const sent: { at: number; bytes: readonly number[] }[] = [];
  let now = 0;
  const cable = new Cable({ send: (bytes) => sent.push({ at: now, bytes }) });
  return {
    sent,
    cable,
    run: (untilMs: number, each: (ms: number) => void = () => undefined, step = 0.25) => {
      for (; now < untilMs; now += step) {
        each(now);
        cable.flush(now);
      }
    },
  };
}

test('values that move as fast as they like: at most a thousand messages in any second, and the last value arrives', () => {
  const { sent, cable, run } = begin();
  run(3000, (ms) => {
    for (let cc = 0; cc < 8; cc++) cable.move(cc, [0xb0, cc, Math.round(ms / 24) & 127], ms);
  });
  for (let from = 0; from < 2000; from += 50)
    expect(sent.filter(({ at }) => at >= from && at < from + 1000).length).toBeLessThanOrEqual(1000);
  // A cable of 31 250 baud carries 3125 bytes a second (MIDI 1.0): it is used, not only spared.
  expect(sent.length).toBeGreaterThan(2900);
  run(3100);
  for (let cc = 0; cc < 8; cc++)
    expect(sent.filter(({ bytes }) => bytes[1] === cc).pop()!.bytes[2]).toBe(Math.round(2999.75 / 24) & 127);
});

test('values wait their turn: none is starved by one that moves more', () => {
  const { sent, cable, run } = begin();
  run(200, (ms) => {
    cable.move(1, [0xb0, 1, Math.floor(ms) & 127], ms);
    if (ms % 10 === 0) cable.move(2, [0xb0, 2, (ms / 10) & 127], ms);
  });
  expect(sent.filter(({ bytes }) => bytes[1] === 2)).toHaveLength(20);
});

test('a note never waits for what moves, and what moves gives way to it', () => {
  const { sent, cable } = begin();
  for (let cc = 0; cc < 20; cc++) cable.move(cc, [0xb0, cc, 1], 0);
  cable.send([0x90, 60, 100], 0);
  expect(sent.at(-1)!.bytes).toEqual([0x90, 60, 100]);
  expect(sent).toHaveLength(2);
  // Ten notes fill the cable for ten times 0.96 ms (three bytes of ten bits), held at a millisecond each.
  for (let key = 0; key < 10; key++) cable.send([0x90, key, 100], 0);
  cable.flush(11.9);
  expect(sent).toHaveLength(12);
  cable.flush(12);
  expect(sent).toHaveLength(13);
  // What is forgotten does not go out; what else waits does.
  for (let cc = 0; cc < 19; cc++) cable.forget(cc);
  for (let now = 13; now < 100; now++) cable.flush(now);
  expect(sent.slice(13).map(({ bytes }) => bytes)).toEqual([[0xb0, 19, 1]]);
});
