import { readFileSync } from 'node:fs';
import { loudnessOf, peakOf } from './loudness';
import { figure } from '../../../tests/kit/figure';

const RATE = 48000;
const sine = (seconds: number, db: number, hz = 1000, rate = RATE) =>
  Float32Array.from({ length: seconds * rate }, (_, i) => 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / rate));
const joined = (...parts: Float32Array[]) => Float32Array.from(parts.flatMap((part) => [...part]));

// EBU Tech 3341, minimum requirement test signals 1 to 5: stereo sines of 1 kHz, −23.0 ± 0.1 LUFS (−33.0 for the
// second).
test.each<[string, Float32Array, number]>([
  ['1', sine(20, -23), -23],
  ['2', sine(20, -33), -33],
  ['3', joined(sine(10, -36), sine(60, -23), sine(10, -36)), -23],
  ['4', joined(sine(10, -72), sine(10, -36), sine(60, -23), sine(10, -36), sine(10, -72)), -23],
  ['5', joined(sine(20, -26), sine(20.1, -20), sine(20, -26)), -23],
])('signal %s of EBU Tech 3341', (_, signal, lufs) => {
  const off = Math.abs(loudnessOf([signal, signal], RATE) - lufs);
  expect(figure('loudness, signals 1 to 5', off, 'LU', 'EBU Tech 3341')).toBeLessThan(0.1);
});

/** Integrated loudness by the library, called at its WebAssembly exports, since its own loader wants a bundler. */
function libebur128(rate: number, left: Float32Array, right: Float32Array): number {
  const module = new WebAssembly.Module(readFileSync('node_modules/ebur128-wasm/ebur128_wasm_bg.wasm'));
  const imports = Object.fromEntries(WebAssembly.Module.imports(module).map(({ name }) => [name, () => 0]));
  const {
    memory,
    __wbindgen_malloc: malloc,
    ebur128_integrated_stereo: measure,
  } = new WebAssembly.Instance(module, { './ebur128_wasm_bg.js': imports }).exports as {
    memory: WebAssembly.Memory;
    __wbindgen_malloc: (bytes: number) => number;
    ebur128_integrated_stereo: (...args: number[]) => number;
  };
  const put = (samples: Float32Array) => {
    const at = malloc(samples.length * 4);
    new Float32Array(memory.buffer).set(samples, at / 4);
    return [at, samples.length];
  };
  return measure(rate, ...put(left), ...put(right));
}

// libebur128 in its WebAssembly build, on signals of many frequencies and another rate.
test.each([
  [48000, 60],
  [48000, 440],
  [44100, 3000],
  [44100, 9000],
])('agrees with libebur128 at %i frames a second, %i Hz', (rate, hz) => {
  const left = sine(6, -18, hz, rate);
  const right = sine(6, -25, hz * 1.31, rate);
  const off = Math.abs(loudnessOf([left, right], rate) - libebur128(rate, left, right));
  expect(figure('loudness', off, 'LU', 'libebur128')).toBeLessThan(0.05);
});

test('silence and snippets have no loudness', () => {
  expect(loudnessOf([new Float32Array(RATE)], RATE)).toBe(-Infinity);
  expect(loudnessOf([sine(0.1, 0)], RATE)).toBe(-Infinity);
  expect(peakOf([Float32Array.from([0.1, -0.7]), Float32Array.from([0.2])])).toBeCloseTo(0.7, 6);
});
