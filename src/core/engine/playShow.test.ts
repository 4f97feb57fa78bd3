import { cc, make, off, on, RATE, STEADY } from '../../../tests/kit/engine';
import { prepareSample } from '../dsp/sample';
import type { Take } from '../music/take';
import { Engine } from './engine';
import { playShow } from './offline/playShow';

const LEVELS = [-6, -12];
const programs = LEVELS.map(
  (level, n) => make({ layers: [{ params: { level, attack: 0.001, release: 0.05 } }], patch: { id: `p${n}` } }).program,
);
function engineFor(): Engine {
  const engine = new Engine({ rate: RATE });
  for (const { key, loop, levels, reverse } of programs.flatMap(({ samples }) => samples))
    engine.addSample(key, prepareSample(STEADY, loop, levels, reverse));
  return engine;
}
const choose = (at: number, program: number): Take['events'][number] => ({
  at,
  event: { type: 'program', channel: 1, program },
});
const play = (at: number, event: ReturnType<typeof on>): Take['events'][number] => ({
  at,
  event: event as Take['events'][number]['event'],
});
const take = (events: Take['events']): Take => ({ name: 't', seconds: 2, events });
/** A mono voice in the middle stands 3 dB below its gain in each channel. */
const levelAt = (left: Float32Array, seconds: number) => 20 * Math.log10(left[Math.round(seconds * RATE)] * Math.SQRT2);

test('each step plays its own patch, from its own frame on', () => {
  const { left } = playShow(
    engineFor(),
    (step) => programs[step],
    take([choose(0, 0), play(0.05, on(60)), play(0.9, off(60)), choose(1, 1), play(1.05, on(60)), play(1.9, off(60))]),
    0,
  );
  expect(left).toHaveLength(2 * RATE);
  expect(levelAt(left, 0.5)).toBeCloseTo(-6, 1);
  expect(levelAt(left, 1.5)).toBeCloseTo(-12, 1);
});
test('what is held rings on in its old patch under the new one, until it is let go', () => {
  const { left } = playShow(
    engineFor(),
    (step) => programs[step],
    take([
      choose(0, 0),
      play(0.05, on(60)),
      choose(0.5, 1),
      play(0.55, on(64)),
      play(1.2, off(60)),
      play(1.9, off(64)),
    ]),
    0,
  );
  expect(levelAt(left, 1)).toBeCloseTo(20 * Math.log10(10 ** (-6 / 20) + 10 ** (-12 / 20)), 1);
  expect(levelAt(left, 1.6)).toBeCloseTo(-12, 1);
});
test('a pause changes nothing, and a step that is not there neither', () => {
  const { left } = playShow(
    engineFor(),
    (step) => programs[step] ?? null,
    take([choose(0, 0), choose(0.3, 7), play(0.5, on(60)), play(1.9, off(60))]),
    0,
  );
  expect(levelAt(left, 1)).toBeCloseTo(-6, 1);
});
test('is the same bits however often it is asked what goes on, and controllers stay where they are over a change', () => {
  const events = [
    choose(0, 0),
    play(0.01, cc(7, 64)),
    play(0.05, on(60)),
    choose(0.777, 1),
    play(0.8, on(67)),
    play(1.9, off(67)),
  ];
  let asked = 0;
  const once = playShow(
    engineFor(),
    (step) => programs[step],
    take(events),
    0.5,
    () => {
      asked++;
    },
  );
  expect(once.left).toEqual(playShow(engineFor(), (step) => programs[step], take(events), 0.5).left);
  expect(asked).toBeGreaterThan((2.5 * RATE) / 128 - 1);
  expect(once.left.some((x) => Number.isNaN(x))).toBe(false);
});
