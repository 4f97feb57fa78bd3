import { Rest } from './rest';

/** Something that tells its one listener. */
class Told {
  private listener: () => void = () => undefined;
  subscribe = (listener: () => void) => {
    this.listener = listener;
    return () => undefined;
  };
  tell(): void {
    this.listener();
  }
}
class Hands extends Told {
  held = new Set<number>();
}
class Takes extends Told {
  playing = false;
}

const setUp = () => {
  const [page, hands, takes] = [new EventTarget(), new Hands(), new Takes()];
  const clock = { now: 1000, touches: 0 };
  const rest = new Rest(
    { page, hands, takes },
    () => clock.touches++,
    () => clock.now,
  );
  return { page, hands, takes, clock, rest };
};

test.each(['pointerdown', 'keydown', 'wheel', 'drop'])('a %s on the page begins the rest anew', (type) => {
  const { page, clock, rest } = setUp();
  clock.now += 900;
  expect(rest.leftOf(1000)).toBe(100);
  page.dispatchEvent(new Event(type));
  expect([rest.leftOf(1000), clock.touches]).toEqual([1000, 1]);
  clock.now += 1200;
  expect(rest.leftOf(1000)).toBe(0);
});

test('a controller is a touch; while a key is held or a take plays there is no rest, however long it lasts', () => {
  const { hands, takes, clock, rest } = setUp();
  clock.now += 5000;
  hands.tell();
  expect([rest.leftOf(1000), clock.touches]).toEqual([1000, 1]);
  hands.held.add(60);
  clock.now += 5000;
  expect(rest.leftOf(1000)).toBe(1000);
  hands.held.clear();
  expect(rest.leftOf(1000)).toBe(0);
  takes.playing = true;
  takes.tell();
  clock.now += 5000;
  expect([rest.leftOf(1000), clock.touches]).toEqual([1000, 2]);
  takes.playing = false;
  takes.tell();
  expect([rest.leftOf(1000), clock.touches]).toEqual([0, 2]);
});
