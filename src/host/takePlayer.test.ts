import type { TakeEvent } from '../core/music/take';
import type { EngineEvent } from '../core/engine/hands/event';
import { Performance } from './performance';
import { TakePlayer } from './takePlayer';

jest.useFakeTimers();
const on = (key: number): TakeEvent['event'] => ({ type: 'noteOn', channel: 1, key, velocity: 90 });
const off = (key: number): TakeEvent['event'] => ({ type: 'noteOff', channel: 1, key, velocity: 64 });
const wheel = (value: number): TakeEvent['event'] => ({ type: 'controller', channel: 1, controller: 1, value });
const take = {
  name: 't',
  seconds: 1,
  events: [
    { at: 0, event: on(60) },
    { at: 0.2, event: wheel(90) },
    { at: 0.5, event: off(60) },
    { at: 0.6, event: on(64) },
    { at: 0.9, event: off(64) },
  ],
};

/** A player on a clock of its own, which the timers move. */
function make() {
  let now = 10;
  const sent: { event: EngineEvent; time: number }[] = [];
  const shown: EngineEvent[] = [];
  const hands = new Performance();
  const show = (event: EngineEvent) => {
    shown.push(event);
    hands.note(event);
  };
  const player = new TakePlayer(
    () => now,
    (event, time) => sent.push({ event, time: time! }),
    show,
    (event) => hands.standing(event),
  );
  const run = (seconds: number) => {
    for (let t = 0; t < seconds; t += 0.01) {
      now += 0.01;
      jest.advanceTimersByTime(10);
    }
  };
  return { player, sent, shown, run, hands };
}

test('every event goes out ahead of its time, for its time, and is shown when that has come', () => {
  const { player, sent, shown, run } = make();
  player.setLooped(false);
  player.load(take);
  player.play();
  run(0.3);
  expect(sent.map(({ event, time }) => [event.type, Number((time - 10.05).toFixed(3))])).toEqual([
    ['noteOn', 0],
    ['controller', 0.2],
  ]);
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
  const strikes = sent
    .filter(({ event }) => event.type === 'noteOn' && event.key === 60)
    .map(({ time }) => Number((time - 10.05).toFixed(3)));
  expect(strikes).toEqual([0, 1, 2, 3]);
});

test('stopped, it lets go of what it holds, puts back what it moved, and shows nothing more', () => {
  const { player, sent, shown, run } = make();
  player.load(take);
  player.play();
  run(0.35);
  sent.length = 0;
  player.stop();
  expect(sent.map(({ event }) => event)).toEqual([off(60), wheel(0)]);
  // What was put back is shown, nothing of the rest of the take.
  expect(shown.slice(-2)).toEqual([off(60), wheel(0)]);
  const before = shown.length;
  run(1);
  expect(shown).toHaveLength(before);
  player.stop();
  expect(sent).toHaveLength(2);
});

describe('a take leaves everything where the hands had it', () => {
  const cc = (channel: number, controller: number, value: number): TakeEvent['event'] => ({
    type: 'controller',
    channel,
    controller,
    value,
  });
  const bend = (channel: number, value: number): TakeEvent['event'] => ({ type: 'bend', channel, bend: value });
  const playing = (...events: TakeEvent['event'][]) => {
    const all = make();
    all.hands.note(cc(1, 1, 50));
    all.hands.note(cc(1, 7, 90));
    all.player.load({ name: 't', seconds: 1, events: events.map((event, i) => ({ at: 0.1 + i * 0.01, event })) });
    all.player.play();
    all.run(0.5);
    return all;
  };
  const { cc: standing } = new Performance().controllers;

  test('volume, wheel, bend and pressure, on every channel, and what other channels last said', () => {
    const { player, hands } = playing(
      cc(1, 7, 0),
      cc(2, 1, 99),
      bend(3, 0.5),
      cc(1, 74, 20),
      { type: 'channelPressure', channel: 2, pressure: 80 },
      cc(1, 64, 127),
    );
    const { cc: now, bend: bends, channelPressure } = hands.controllers;
    expect([now[7], now[128 + 7], now[1], bends[0], channelPressure[0], now[64]]).toEqual([0, 0, 99, 0.5, 80, 127]);
    player.stop();
    expect([now[7], now[128 + 7], now[1], now[128 + 1], now[2 * 128 + 1]]).toEqual([90, 90, 50, 50, 0]);
    expect([bends[0], bends[3], channelPressure[0], channelPressure[2], now[64], now[74]]).toEqual([
      0,
      0,
      0,
      0,
      0,
      standing[74],
    ]);
  });

  test('a reset of all controllers is undone too; parameter numbers are not sent again', () => {
    const { player, hands, sent } = playing(cc(1, 121, 0), cc(1, 101, 0), cc(1, 100, 0), cc(1, 6, 12));
    expect(hands.controllers.cc[1]).toBe(0);
    sent.length = 0;
    player.stop();
    expect(hands.controllers.cc[1]).toBe(50);
    expect(sent.map(({ event }) => event)).toEqual(expect.arrayContaining([cc(1, 1, 50)]));
    expect(sent.some(({ event }) => event.type === 'controller' && [6, 100, 101].includes(event.controller))).toBe(
      false,
    );
  });

  test('every round begins as the first one did, and lets go of keys that the take forgot', () => {
    const { sent, run } = playing(wheel(100), on(60), cc(1, 64, 127));
    run(0.8);
    const second = sent.filter(({ time }) => Math.abs(time - 11.05) < 1e-6).map(({ event }) => event);
    expect(second).toEqual([off(60), wheel(50), cc(1, 64, 0)]);
  });
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

test('stopped between the sending of a note’s end and its time, no key is shown as held', () => {
  for (let seconds = 0.3; seconds < 0.62; seconds += 0.02) {
    const { player, run, hands } = make();
    player.setLooped(false);
    player.load(take);
    player.play();
    run(seconds);
    player.stop();
    run(0.5);
    expect([seconds, hands.held.size]).toEqual([seconds, 0]);
  }
});

test('goes on with what another machine has played: what is down is held and let go of, but not struck again', () => {
  const { player, sent, run } = make();
  player.load(take);
  player.goOn(0.3, false);
  expect(player.playing).toBe(true);
  expect(player.position).toBeCloseTo(0.3, 6);
  run(0.65);
  expect(sent.map(({ event }) => event)).toEqual([off(60), on(64), off(64)]);
  expect(sent[0].time).toBeCloseTo(10.2, 6);
  // Stopped under a key that the other struck.
  const other = make();
  other.player.load(take);
  other.player.goOn(0.3, false);
  other.player.stop();
  expect(other.sent.map(({ event }) => event)).toContainEqual(off(60));
});

test('a take that goes round goes on in its round; one that is over does not', () => {
  const { player } = make();
  player.load(take);
  player.goOn(7.25, true);
  expect(player.position).toBeCloseTo(0.25, 6);
  player.stop();
  player.goOn(7.25, false);
  expect(player.playing).toBe(false);
});
