import { Performance } from './performance';

const on = (key: number, velocity = 90) => ({ type: 'noteOn' as const, channel: 1, key, velocity });

test('held keys, strikes and controllers are what the hands do now', () => {
  const hands = new Performance();
  let told = 0;
  const stop = hands.subscribe(() => told++);
  hands.note(on(60, 33));
  hands.note({ type: 'controller', channel: 1, controller: 1, value: 80 });
  hands.note({ type: 'bend', channel: 1, bend: -0.5 });
  expect([...hands.held]).toEqual([[60, 33]]);
  expect(hands.strikes.map(({ key, velocity }) => [key, velocity])).toEqual([[60, 33]]);
  expect([hands.controllers.cc[1], hands.controllers.bend[0]]).toEqual([80, -0.5]);
  hands.note({ type: 'noteOff', channel: 1, key: 60, velocity: 0 });
  expect(hands.held.size).toBe(0);
  expect(told).toBe(4);
  stop();
  hands.note(on(61));
  expect(told).toBe(4);
});

test('the last strikes are kept, not all of them', () => {
  const hands = new Performance();
  for (let i = 0; i < 100; i++) hands.note(on(i % 128));
  expect(hands.strikes).toHaveLength(48);
  expect(hands.strikes[47].key).toBe(99);
});

test('panic and reset put everything to rest; solo is nobody’s hand', () => {
  const hands = new Performance();
  hands.note(on(60));
  hands.note({ type: 'controller', channel: 2, controller: 64, value: 127 });
  hands.note({ type: 'macro', number: 3, value: 0.5 });
  const { version } = hands;
  hands.note({ type: 'solo', layerIds: ['a'] });
  expect(hands.version).toBe(version);
  hands.note({ type: 'controller', channel: 2, controller: 121, value: 0 });
  expect(hands.controllers.isDown(2, 64)).toBe(false);
  hands.note({ type: 'panic' });
  expect(hands.held.size).toBe(0);
  // Channel mode messages are no controllers of their own.
  hands.note({ type: 'controller', channel: 1, controller: 123, value: 7 });
  expect(hands.controllers.cc[123]).toBe(0);
});

test('an engine at rest is brought to where the hands are; what was said last on any channel comes last', () => {
  const hands = new Performance();
  for (const event of [
    { type: 'controller', channel: 3, controller: 1, value: 100 },
    { type: 'controller', channel: 2, controller: 1, value: 20 },
    { type: 'controller', channel: 2, controller: 64, value: 127 },
    { type: 'bend', channel: 2, bend: -0.5 },
    { type: 'channelPressure', channel: 2, pressure: 7 },
    { type: 'macro', number: 4, value: 0.25 },
    { type: 'noteOn', channel: 2, key: 60, velocity: 9 },
  ] as const)
    hands.note(event);
  const fresh = new Performance();
  hands.moved().forEach((event) => fresh.note(event));
  expect(fresh.controllers).toEqual(hands.controllers);
  expect(hands.moved()).toHaveLength(6);
  expect(new Performance().moved()).toEqual([]);
  hands.restMacros();
  expect(hands.moved()).toHaveLength(5);
});
