/** Loops of voices that were moved into the kernel, against the same written plainly. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import fc from 'fast-check';
import { CombPool } from '../comb';
import { Kernel } from './kernel';
import * as at from './layout';
import { ALL_PAGES, COMB_FRAMES, GRAIN_POINTS, GRAIN_SHAPES } from './synthLayout';

const kernel = new Kernel(ALL_PAGES);
const SPANS = [32, 32, 5, 1, 32, 17, 32, 32];

/** y = x + g·y(n − D) through one pole, or y = x + g·x(n − D), between frames by third-order Lagrange. */
function plainComb(x: readonly number[], [delay, share, loss, level]: readonly number[], feedback: boolean): number[] {
  const own = feedback ? loss / (1 - loss) : 0;
  const late = Math.min(COMB_FRAMES - 4, Math.max(3, delay - own));
  const whole = Math.floor(late) - 1;
  const d = late - whole;
  const weights = [0, 1, 2, 3].map((i) =>
    [0, 1, 2, 3].reduce((product, j) => (i === j ? product : (product * (d - j)) / (i - j)), 1),
  );
  const line: number[] = [];
  let lost = 0;
  return x.map((now, n) => {
    const delayed = weights.reduce((sum, w, i) => sum + w * (line[n - whole - i] ?? 0), 0);
    lost += (1 - loss) * (delayed - lost);
    const y = now + share * (feedback ? lost : delayed);
    line.push(Math.fround(feedback ? y : now));
    return y * level;
  });
}

test.each([
  [true, true],
  [true, false],
  [false, true],
  [false, false],
])(
  'a comb (feedback: %s, two channels: %s) is the plain one, and one channel leaves the other alone',
  (feedback, stereo) => {
    fc.assert(
      fc.property(
        fc.double({ min: 2, max: 4200, noNaN: true }),
        fc.double({ min: -0.98, max: 0.98, noNaN: true }),
        fc.double({ min: 0, max: 0.9, noNaN: true }),
        (delay, share, loss) => {
          const settings = [delay, share, loss, 0.7];
          const comb = new CombPool(kernel).take()!;
          comb.set(Float64Array.from(settings));
          const frames = SPANS.reduce((a, b) => a + b) * 12;
          const inputs = [1, 2].map((seed) => Array.from({ length: frames }, (_, i) => Math.sin(seed * i * i)));
          const out: number[][] = [[], []];
          for (let n = 0, from = 0; from < frames; from += SPANS[n++ % SPANS.length]) {
            const count = SPANS[n % SPANS.length];
            kernel.made.set(inputs[0].slice(from, from + count));
            if (stereo) kernel.madeRight.set(inputs[1].slice(from, from + count));
            else kernel.madeRight.fill(NaN);
            comb.process(stereo ? 1 : 0, at.MADE, count, feedback);
            out[0].push(...kernel.made.subarray(0, count));
            out[1].push(...kernel.madeRight.subarray(0, count));
          }
          const near = (a: number[], b: number[]) => a.every((y, i) => Math.abs(y - b[i]) < 1e-6);
          const left = near(out[0], plainComb(inputs[0], settings, feedback));
          return left && (stereo ? near(out[1], plainComb(inputs[1], settings, feedback)) : out[1].every(Number.isNaN));
        },
      ),
      { numRuns: 40 },
    );
  },
);

test('a grain is its recording times its shape, its smooth ends and its gains, and touches no frame beside it', () => {
  const points = Float32Array.from(
    { length: GRAIN_POINTS + 2 },
    (_, i) => 0.2 + Math.sin((i / GRAIN_POINTS) * Math.PI),
  );
  kernel.floats.set(points, GRAIN_SHAPES >> 2);
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 31 }),
      fc.integer({ min: 1, max: 32 }),
      fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
      fc.double({ min: 40, max: 200_000, noNaN: true }),
      fc.boolean(),
      fc.boolean(),
      (from, most, begun, length, backward, stereo) => {
        const count = Math.min(most, 32 - from);
        const age = Math.max(0, begun * (length - count));
        const { words, numbers, made, madeRight, side, sideRight } = kernel;
        for (let i = 0; i < 32; i++) {
          made[i] = i < count ? Math.sin(3 * i + 1) : NaN;
          madeRight[i] = i < count ? Math.cos(5 * i) : NaN;
        }
        side.fill(7);
        sideRight.fill(-7);
        words[at.GRAIN_COUNT >> 2] = count;
        words[at.GRAIN_FROM >> 2] = from;
        words[at.GRAIN_BACKWARD >> 2] = backward ? 1 : 0;
        words[at.GRAIN_STEREO >> 2] = stereo ? 1 : 0;
        words[at.GRAIN_SHAPE >> 2] = GRAIN_SHAPES;
        numbers[at.GRAIN_AGE >> 3] = age;
        numbers[at.GRAIN_LENGTH >> 3] = length;
        numbers[at.GRAIN_LEFT >> 3] = 0.6;
        numbers[at.GRAIN_RIGHT >> 3] = 0.3;
        kernel.loops.grain();
        return Array.from({ length: 32 }, (_, frame) => frame).every((frame) => {
          const i = frame - from;
          if (i < 0 || i >= count) return side[frame] === 7 && sideRight[frame] === -7;
          const old = age + i;
          const place = (old / length) * GRAIN_POINTS;
          const n = Math.floor(place);
          const shape = points[n] + (points[n + 1] - points[n]) * (place - n);
          const height = shape * Math.min(1, (old + 1) / 13) * Math.min(1, (length - old) / 12);
          const read = backward ? count - 1 - i : i;
          const l = Math.sin(3 * read + 1) * height;
          const r = stereo ? Math.cos(5 * read) * height : l;
          return Math.abs(side[frame] - 7 - 0.6 * l) < 2e-5 && Math.abs(sideRight[frame] + 7 - 0.3 * r) < 2e-5;
        });
      },
    ),
    { numRuns: 400 },
  );
});

test('the kernel’s code is taken in where the stack is small, as in the audio thread', async () => {
  const written = readFileSync(join(__dirname, 'code.ts'), 'utf8').replace('export const CODE', 'const CODE');
  const source = `${written}\nrequire('node:worker_threads').parentPort.postMessage(WebAssembly.validate(CODE));`;
  const answer = (text: string) =>
    new Promise((resolve, reject) => {
      const worker = new Worker(text, { eval: true, resourceLimits: { stackSizeMb: 0.5 } });
      worker.once('message', resolve).once('error', reject);
    });
  expect(await answer(source)).toBe(true);
  // As arguments it is not: what is written here is not met by accident.
  const asArguments = source.replace('new Uint8Array([', 'Uint8Array.of(').replace('])', ')');
  await expect(answer(asArguments)).rejects.toThrow();
});
