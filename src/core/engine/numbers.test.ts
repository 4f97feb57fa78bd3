import { areNumbers } from './moving/numbers';

const silence = () => new Float32Array(16);

test.each([NaN, Infinity, -Infinity])(
  '%s is found in either channel, wherever it stands in the stretch, and nowhere else',
  (fault) => {
    for (let at = 0; at < 16; at++) {
      const bad = silence();
      bad[at] = fault;
      for (const [left, right] of [
        [bad, silence()],
        [silence(), bad],
        [bad, bad],
      ]) {
        expect(areNumbers(left, right, 0, 16)).toBe(false);
        expect(areNumbers(left, right, at, at + 1)).toBe(false);
        expect(areNumbers(left, right, 0, at)).toBe(true);
        expect(areNumbers(left, right, at + 1, 16)).toBe(true);
      }
    }
  },
);

test('the loudest and the softest that there are, are numbers', () => {
  const loud = new Float32Array(16).fill(3e38);
  const soft = new Float32Array(16).fill(1e-45);
  expect(areNumbers(loud, loud, 0, 16)).toBe(true);
  expect(areNumbers(soft, loud, 0, 16)).toBe(true);
});
