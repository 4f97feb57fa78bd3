import type { EngineEvent } from '../core/engine/hands/event';
import { Latch } from './latch';

jest.useFakeTimers();
const on = (key: number) => ({ type: 'noteOn' as const, channel: 1, key, velocity: 90 });
const off = (key: number) => ({ type: 'noteOff' as const, channel: 1, key, velocity: 64 });

function make(tempo = 120) {
  let now = 5;
  const sent: { event: EngineEvent; time?: number }[] = [];
  const latch = new Latch(
    (event, time) => sent.push({ event, time }),
    () => now,
    () => tempo,
  );
  const run = (seconds: number) => {
    for (let t = 0; t < seconds; t += 0.01) {
      now += 0.01;
      jest.advanceTimersByTime(10);
    }
  };
  const words = () => sent.map(({ event }) => `${event.type} ${'key' in event ? event.key : ''}`);
  return { latch, sent, run, words };
}

test('without it, everything passes as it comes', () => {
  const { latch, words } = make();
  for (const event of [on(60), off(60)]) latch.take(event);
  expect(words()).toEqual(['noteOn 60', 'noteOff 60']);
});
test('a kept note ends by the port that it came by', () => {
  const { latch, sent } = make();
  latch.setHolding(true);
  latch.take({ ...on(60), port: 2 });
  latch.take({ ...off(60), port: 2 });
  latch.take(on(60));
  latch.setHolding(false);
  expect(sent.map(({ event }) => [event.type, 'port' in event ? event.port : undefined])).toEqual([
    ['noteOn', 2],
    ['noteOn', undefined],
    ['noteOff', 2],
  ]);
});
test('held keys stay until they are struck again, or hold is taken off', () => {
  const { latch, words } = make();
  latch.setHolding(true);
  for (const event of [on(60), off(60), on(64), off(64), on(60), off(60)]) latch.take(event);
  expect(words()).toEqual(['noteOn 60', 'noteOn 64', 'noteOff 60', 'noteOff 60']);
  latch.setHolding(false);
  expect(words().slice(4)).toEqual(['noteOff 64']);
});
test('what fingers hold when it comes on is kept as well, and what they still hold when it goes stays', () => {
  const { latch, words } = make();
  latch.take(on(60));
  latch.setHolding(true);
  latch.take(off(60));
  latch.take(on(62));
  expect(words()).toEqual(['noteOn 60', 'noteOn 62']);
  latch.setHolding(false);
  expect(words().slice(2)).toEqual(['noteOff 60']);
});
// A quarter lasts 60 / tempo seconds.
test('repeat strikes what is held again in time, and stops', () => {
  const { latch, sent, run } = make(120);
  latch.setHolding(true);
  latch.take(on(60));
  latch.setRepeating(true);
  run(2.02);
  const strikes = sent
    .filter(({ event, time }) => event.type === 'noteOn' && time !== undefined)
    .map(({ time }) => Number((time! - 5).toFixed(3)));
  expect(strikes.slice(0, 4)).toEqual([0.5, 1, 1.5, 2]);
  latch.setRepeating(false);
  const count = sent.length;
  run(2);
  expect(sent).toHaveLength(count);
});
test('silence clears everything', () => {
  const { latch, sent, run } = make();
  latch.setHolding(true);
  latch.take(on(60));
  latch.setRepeating(true);
  latch.clear();
  const count = sent.length;
  run(3);
  expect(sent).toHaveLength(count);
  expect([latch.holding, latch.repeating]).toEqual([false, false]);
});
