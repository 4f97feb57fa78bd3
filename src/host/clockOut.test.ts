import { Chance } from '../core/dsp/chance';
import { ClockOut } from './clockOut';

interface Sent {
  byte: number;
  at: number;
  data: readonly number[];
}
function begin() {
  const sent: Sent[] = [];
  const clock = new ClockOut((bytes, at) => sent.push({ byte: bytes[0], at, data: bytes.slice(1) }));
  return { sent, clock, ticks: () => sent.filter(({ byte }) => byte === 0xf8).map(({ at }) => at) };
}
const stepsOf = (times: number[]) => times.slice(1).map((at, i) => at - times[i]);

test('ticks run evenly though looks and readings do not: their jitter is under a millisecond for minutes', () => {
  const { clock, ticks } = begin();
  const chance = new Chance(7);
  const tempo = 123;
  // The page is looked at by a timer that comes when it can; the audio clock is read up to 3 ms late and runs 80 ppm fast.
  for (let now = 0; now < 180_000; now += 3 + 9 * chance.share()) {
    const read = now - 3 * chance.share();
    clock.look(now, (read * 1.00008 * tempo) / 60_000, now, tempo);
  }
  const times = ticks();
  const step = 60_000 / tempo / 24 / 1.00008;
  expect(times.length).toBeGreaterThan(180_000 / step - 5);
  for (const each of stepsOf(times).slice(50)) expect(Math.abs(each - step)).toBeLessThan(1);
  // And none runs away: each stands within 3 ms of where the transport has it.
  times.forEach((at, n) => expect(Math.abs(at - (times[0] + n * step))).toBeLessThan(4));
});

test('a start is told before its first tick, which comes at once; a position in sixteenths, and continue', () => {
  const { clock, sent } = begin();
  for (let now = 0; now < 500; now += 4) clock.look(now, now / 500, now, 120);
  clock.start(0, 500);
  for (let now = 504; now < 1500; now += 4) clock.look(now, (now - 500) / 500, now, 120);
  const begins = sent.findIndex(({ byte }) => byte === 0xfa);
  expect(sent.slice(0, begins).every(({ byte }) => byte === 0xf8)).toBe(true);
  const after = sent.slice(begins + 1).map(({ at }) => at);
  // At least a millisecond after the start (MIDI 1.0), at most what was given out ahead of it.
  expect(after[0] - sent[begins].at).toBeGreaterThanOrEqual(1);
  expect(after[0]).toBeLessThan(545);
  // A quarter later 24 ticks have gone by: the 25th stands on the beat.
  expect(Math.abs(after[24] - 1000)).toBeLessThan(1);
  for (let n = 1; n < sent.length; n++) expect(sent[n].at).toBeGreaterThanOrEqual(sent[n - 1].at);
  sent.length = 0;
  clock.start(64.5, 1500);
  expect(sent.slice(0, 2).map(({ byte, data }) => [byte, ...data])).toEqual([[0xf2, 258 & 127, 258 >> 7], [0xfb]]);
  clock.stop(1600);
  expect(sent.at(-1)!.byte).toBe(0xfc);
});

test('another tempo holds from where the transport is; a page that slept does not make up for what it missed', () => {
  const { clock, ticks, sent } = begin();
  let quarters = 0;
  let before = 0;
  const play = (from: number, to: number, tempo: number) => {
    for (let now = from; now < to; now += 4) {
      quarters += ((now - before) * tempo) / 60_000;
      before = now;
      clock.look(now, quarters, now, tempo);
    }
  };
  play(0, 2000, 120);
  play(2000, 4000, 90);
  const steps = stepsOf(ticks());
  expect(steps.at(-1)).toBeCloseTo(60_000 / 90 / 24, 1);
  expect(steps[40]).toBeCloseTo(60_000 / 120 / 24, 1);
  const until = sent.length;
  play(64_000, 64_100, 90);
  expect(sent.length - until).toBeLessThan(10);
});

test('nothing that is no number ever goes out', () => {
  const { clock, sent } = begin();
  clock.look(0, NaN, 0, 120);
  clock.look(0, 0, NaN, 120);
  clock.look(0, 0, 0, 0);
  clock.start(0, 10);
  expect(sent.map(({ byte }) => byte)).toEqual([0xfa]);
});
