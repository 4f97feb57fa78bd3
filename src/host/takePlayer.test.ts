import type { EngineEvent } from '../core/engine/event';
import { TakePlayer } from './takePlayer';

jest.useFakeTimers();
const on = (key: number): EngineEvent => ({ type: 'noteOn', channel: 1, key, velocity: 90 });
const off = (key: number): EngineEvent => ({ type: 'noteOff', channel: 1, key, velocity: 64 });
const wheel = (value: number): EngineEvent => ({ type: 'controller', channel: 1, controller: 1, value });
const take = { name: 't', seconds: 1, events: [{ at: 0, event: on(60) }, { at: 0.2, event: wheel(90) }, { at: 0.5, event: off(60) }, { at: 0.6, event: on(64) }, { at: 0.9, event: off(64) }] };

/** A player on a clock of its own, which the timers move. */
function make() {
  let now = 10;
  const sent: { event: EngineEvent; time: number }[] = [];
  const shown: EngineEvent[] = [];
  const player = new TakePlayer(() => now, (event, time) => sent.push({ event, time: time! }), (event) => shown.push(event));
  const run = (seconds: number) => { for (let t = 0; t < seconds; t += 0.01) { now += 0.01; jest.advanceTimersByTime(10); } };
  return { player, sent, shown, run };
}

test('every event goes out ahead of its time, for its time, and is shown when that has come', () => {
  const { player, sent, shown, run } = make();
  player.setLooped(false);
  player.load(take);
  player.play();
  run(0.3);
  expect(sent.map(({ event, time }) => [event.type, Number((time - 10.05).toFixed(3))])).toEqual([['noteOn', 0], ['controller', 0.2]]);
  expect(shown.map((event) => event.type)).toEqual(['noteOn', 'controller']);
  run(1);
  expect(sent.filter(({ event }) => event.type === 'noteOn')).toHaveLength(2);
  expect(player.playing).toBe(false);
});

test('round and round, each round a whole take later', () => {
  const { player, sent, run } = make();
  player.load(take);
  player.play();
  run(3.2);
  const strikes = sent.filter(({ event }) => event.type === 'noteOn' && event.key === 60).map(({ time }) => Number((time - 10.05).toFixed(3)));
  expect(strikes).toEqual([0, 1, 2, 3]);
});

test('stopped, it lets go of what it holds, puts back what it moved, and shows nothing more', () => {
  const { player, sent, shown, run } = make();
  player.load(take);
  player.play();
  run(0.35);
  sent.length = 0;
  player.stop();
  expect(sent.map(({ event }) => event)).toEqual([off(60), { type: 'controller', channel: 1, controller: 121, value: 0 }]);
  const before = shown.length;
  run(1);
  // What was put back is shown, nothing of the rest of the take.
  expect(shown.slice(before).map((event) => event.type)).toEqual(['noteOff', 'controller']);
  player.stop();
  expect(sent).toHaveLength(2);
});

test('another take while one plays begins anew; an empty one ends at once', () => {
  const { player, sent, run } = make();
  player.load(take);
  player.play();
  run(0.1);
  player.load({ name: 'u', seconds: 2, events: [{ at: 0, event: on(40) }] });
  expect(player.playing).toBe(true);
  run(0.2);
  expect(sent.some(({ event }) => event.type === 'noteOn' && event.key === 40)).toBe(true);
  expect(sent.some(({ event }) => event.type === 'noteOff' && event.key === 60)).toBe(true);
  player.load({ name: 'none', seconds: 0, events: [] });
  run(0.3);
  expect(player.playing).toBe(false);
  expect(player.position).toBe(0);
});
