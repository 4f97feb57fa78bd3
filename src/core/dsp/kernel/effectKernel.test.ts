import FFT from 'fft.js';
import { EffectRooms } from './effectRooms';
import * as at from './effectLayout';

describe('rooms of effects', () => {
  const small = () => new EffectRooms(1 << 20);

  test('every room is zeros when it is given, and no two overlap', () => {
    const rooms = small();
    const taken = [100, 5000, 17, 60000, 1].map((floats) => rooms.take(floats));
    taken.forEach(({ memory }, n) => {
      expect(memory.every((x) => x === 0)).toBe(true);
      expect(memory.byteOffset % 16).toBe(0);
      memory.fill(n + 1);
    });
    taken.forEach(({ memory }, n) => expect(memory.every((x) => x === n + 1)).toBe(true));
  });

  test('what is given back is wiped before another has it, at once or little by little', () => {
    for (const steps of [0, 1, 40]) {
      const rooms = small();
      const kernels = new Set<object>();
      const kept = rooms.take(20_000);
      kept.memory.fill(8);
      // So often that it could not go on without what was given back.
      for (let n = 0; n < 8; n++) {
        const { memory, kernel } = rooms.take(200_000);
        expect(memory.every((x) => x === 0)).toBe(true);
        memory.fill(7);
        kernels.add(kernel);
        rooms.keep((each) => each === kept.memory);
        for (let s = 0; s < steps; s++) rooms.wipe(65536);
      }
      expect(kept.memory.every((x) => x === 8)).toBe(true);
      expect(kernels.size).toBe(steps === 40 ? 1 : 3);
    }
  });

  test('what is wiped in part is not given, though a part of it would do', () => {
    const rooms = small();
    const a = rooms.take(200_000);
    a.memory.fill(7);
    rooms.keep(() => false);
    rooms.wipe(65536);
    expect(rooms.take(100_000).memory.every((x) => x === 0)).toBe(true);
  });

  test('where there is no room left, another kernel has it, however large', () => {
    const rooms = small();
    const a = rooms.take(200_000);
    const b = rooms.take(900_000);
    expect(b.kernel).not.toBe(a.kernel);
    expect(b.memory.length).toBe(900_000);
    expect(rooms.take(10).kernel).toBe(a.kernel);
  });

  test('nothing of what lies before the rooms overlaps', () => {
    const places = [
      [at.PAIRS, at.PAIRS_BYTES],
      [at.SIDE_PAIRS, at.PAIRS_BYTES],
      [at.SCRATCH, at.SCRATCH_BYTES],
      [at.HALF_FIRST, 4 * at.FIRST_TAPS],
      [at.HALF_SECOND, 4 * at.SECOND_TAPS],
      [at.HALF_THIRD, 4 * at.THIRD_TAPS],
      [at.SHARP, 4 * (at.SHARP_REACH + 1)],
      [at.TURNS, 8 * at.TURN_COUNT],
      [at.TRANSFORM, 16 * 2048],
      [at.TRANSFORM_OTHER, 16 * 2048],
      [at.ROOMS, 1],
    ];
    for (let n = 1; n < places.length; n++)
      expect(places[n][0]).toBeGreaterThanOrEqual(places[n - 1][0] + places[n - 1][1]);
  });
});

test.each([
  ['short', 0, at.SHORT, at.CONVOLUTION_SHORT_RESPONSE, at.SHORT_PART],
  ['long', 1, at.LONG, 0, at.LONG_PART],
])('the transform of a %s block is that of a library (fft.js), both channels at once', (_, isLong, size, to, part) => {
  const { kernel, memory } = new EffectRooms(4 << 20).take(1 << 19);
  const place = memory.byteOffset;
  kernel.words[(place + at.CONVOLUTION_MASK) >> 2] = 15;
  kernel.words[(place + at.CONVOLUTION_LONGS) >> 2] = 1;
  const response = isLong ? at.CONVOLUTION_LINE + 16 * at.LINE_FRAME_BYTES : to;
  const channel = (seed: number) => Array.from({ length: 2 * size }, (__, i) => Math.sin(seed * i * i) * Math.cos(i));
  const sides = [channel(0.37), channel(0.91)];
  for (let i = 0; i < 2 * size; i++)
    sides.forEach((side, n) => (kernel.transform[4 * (i >> 1) + (i & 1) + 2 * n] = side[i]));
  kernel.loops.convolveRespond(place, isLong, 0);
  const fft = new FFT(2 * size);
  sides.forEach((side, n) => {
    const wanted = fft.createComplexArray();
    fft.realTransform(wanted, side);
    const row = (k: number) => memory.subarray((response + (2 * n + k) * part) / 4);
    const [re, im] = [row(0), row(1)];
    const scale = Math.sqrt(size);
    expect(Math.abs(re[0] - wanted[0]) / scale).toBeLessThan(3e-6);
    // The highest frequency, which is real as well, has its place beside the lowest.
    expect(Math.abs(im[0] - wanted[2 * size]) / scale).toBeLessThan(3e-6);
    for (let k = 1; k < size; k++) {
      expect(Math.abs(re[k] - wanted[2 * k]) / scale).toBeLessThan(3e-6);
      expect(Math.abs(im[k] - wanted[2 * k + 1]) / scale).toBeLessThan(3e-6);
    }
  });
});
