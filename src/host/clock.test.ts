import type { EngineEvent } from '../core/engine/hands/event';
import { ClockFollower } from './clock';

/** Plays ticks with jitter at tempi that may change, and gives what was sent and where the transport would be. */
function follow(quarters: readonly (readonly [tempo: number, count: number])[], jitterMs: number, seed = 1) {
  let time = 1000;
  let now = 0;
  let random = seed;
  const draw = () => {
    random = (random * 1103515245 + 12345) % 2147483648;
    return (random / 2147483648) * 2 - 1;
  };
  const sent: { at: number; event: EngineEvent }[] = [];
  const clock = new ClockFollower(
    (event) => sent.push({ at: now, event }),
    () => now,
  );
  now = time;
  clock.take({ type: 'start' });
  for (const [tempo, count] of quarters) {
    for (let tick = 0; tick < count * 24; tick++) {
      now = time + jitterMs * draw();
      clock.take({ type: 'clock' });
      time += 60000 / tempo / 24;
    }
  }
  // The transport by the tempi that were sent.
  let position = 0;
  let last = 1000;
  let tempo = 0;
  for (const { at, event } of [...sent, { at: time, event: { type: 'panic' } as EngineEvent }]) {
    position += ((at - last) / 60000) * tempo;
    last = at;
    if (event.type === 'tempo') tempo = event.tempo ?? 0;
    if (event.type === 'position') position = event.quarters;
  }
  const tempi = sent.flatMap(({ at, event }) =>
    event.type === 'tempo' && event.tempo !== null ? [{ at, tempo: event.tempo }] : [],
  );
  return { tempi, position, clock };
}
beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

test.each([60, 97.3, 120, 180])('a clock of %f with 5 ms of jitter is followed within 0.5 %%', (tempo) => {
  for (const seed of [1, 2, 3, 4, 5]) {
    const { tempi } = follow([[tempo, 24]], 5, seed);
    const settled = tempi.filter(({ at }) => at > 1000 + (4.2 * 60000) / tempo);
    expect(settled.length).toBeGreaterThan(0);
    for (const each of settled) expect(Math.abs(each.tempo / tempo - 1)).toBeLessThan(0.005);
  }
});
test('without jitter it is exact, and told once', () => {
  const { tempi } = follow([[120, 16]], 0);
  expect(tempi.length).toBeLessThan(12);
  expect(Math.abs(tempi[tempi.length - 1].tempo - 120)).toBeLessThan(0.4);
});
test('another tempo is taken up within a quarter or so', () => {
  const { tempi } = follow(
    [
      [120, 8],
      [150, 3],
    ],
    2,
  );
  const change = 1000 + 8 * 500;
  const found = tempi.find(({ at, tempo }) => at > change && Math.abs(tempo - 150) < 3);
  expect(found).toBeDefined();
  expect(found!.at - change).toBeLessThan(1.6 * 400);
});
test('the transport stays with the clock for minutes', () => {
  // What passes before there is a tempo, a quarter, is caught up with as well.
  const { position } = follow([[113, 400]], 5);
  expect(Math.abs(position - 400)).toBeLessThan(0.06);
});
test('where the clock falls silent the patch’s own tempo holds again', () => {
  const { clock } = follow([[120, 4]], 0);
  expect(clock.tempo).not.toBeNull();
  jest.advanceTimersByTime(2000);
  expect(clock.tempo).toBeNull();
});
