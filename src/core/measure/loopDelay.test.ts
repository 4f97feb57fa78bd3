import { Chance } from '../dsp/chance';
import { loopDelay, metresOf } from './loopDelay';

function probe(frames = 2400, at = 500): Float32Array {
  const chance = new Chance(3);
  return Float32Array.from({ length: 24000 }, (_, i) =>
    i >= at && i < at + frames ? 0.4 * (2 * chance.share() - 1) : 0,
  );
}
function heardAfter(sent: Float32Array, delay: number, gain: number, noise: number): Float32Array {
  const chance = new Chance(9);
  return Float32Array.from(
    sent,
    (_, i) => gain * (i >= delay ? sent[i - delay] : 0) + noise * (2 * chance.share() - 1),
  );
}

test.each([0, 1, 480, 1021, 9600])(
  'a loop of %i frames is found to the frame, soft, turned round and in noise',
  (delay) => {
    const sent = probe();
    expect(loopDelay(sent, heardAfter(sent, delay, 1, 0), 12000)).toBe(delay);
    expect(loopDelay(sent, heardAfter(sent, delay, -0.05, 0), 12000)).toBe(delay);
    expect(loopDelay(sent, heardAfter(sent, delay, 0.1, 0.02), 12000)).toBe(delay);
  },
);

test('where it is not heard nothing is told', () => {
  const sent = probe();
  expect(loopDelay(sent, heardAfter(sent, 400, 0, 0.1), 12000)).toBeUndefined();
  expect(loopDelay(sent, new Float32Array(24000), 12000)).toBeUndefined();
  expect(loopDelay(new Float32Array(100), sent, 12000)).toBeUndefined();
});

test('a latency as a distance: ten milliseconds are three and a half metres', () => {
  expect(metresOf(10)).toBeCloseTo(3.43, 2);
});
