import fc from 'fast-check';
import { setSection } from '../filter';
import { prepareSample, type Audio, type Loop } from '../sample';
import { readSample } from '../sampleReader';
import { Kernel } from './kernel';
import { SYNTH } from './synthLayout';
import {
  PAGES,
  STATIC,
  STATIC_BYTES,
  AMPLITUDE,
  COEFFICIENTS,
  GAINS,
  LONGEST_SPAN,
  LOW_CUT,
  MADE,
  SECTION_BYTES,
  MOST_VOICE_BLOCKS,
  PAN_GAINS,
  READING,
  TAIL,
  TAIL_READING,
  VOICE_BYTES,
} from './layout';

const FRAMES = 300;
const noise = (channels: 1 | 2): Audio => ({
  rate: 48000,
  channels,
  data: Float32Array.from({ length: FRAMES * channels }, (_, i) => Math.sin(i * i * 0.7)),
});
const stereo = noise(2);
const channel = (c: number): Audio => ({ rate: 48000, channels: 1, data: stereo.data.filter((_, i) => i % 2 === c) });

/**
 * Reads spans of these lengths in turn, each cut into pieces of at most `piece`, and gives both channels and where the
 * reading ended.
 */
function reading(
  audio: Audio,
  loop: Loop | null,
  position: number,
  step: number,
  spans: readonly number[],
  piece = LONGEST_SPAN,
) {
  const [level] = prepareSample(audio, loop).levels;
  const kernel = new Kernel();
  const at = kernel.voiceAt(3) + READING;
  kernel.numbers[at / 8] = position;
  kernel.numbers[at / 8 + 1] = step;
  const left: number[] = [];
  const right: number[] = [];
  for (const span of spans) {
    for (let from = 0; from < span; from += piece)
      readSample(level, audio.channels, kernel, at, MADE, from, Math.min(span, from + piece));
    left.push(...kernel.made.subarray(0, span));
    right.push(...kernel.madeRight.subarray(0, span));
  }
  return { left, right, position: kernel.numbers[at / 8] };
}
const close = (a: readonly number[], b: readonly number[]) =>
  a.forEach((x, i) => {
    if (!(Math.abs(x - b[i]) < 2e-5)) throw new Error(`frame ${i}: ${x} against ${b[i]}`);
  });

const loops = fc.option(
  fc
    .tuple(fc.integer({ min: 0, max: 250 }), fc.integer({ min: 1, max: 50 }))
    .map(([start, length]) => ({ start, end: start + length })),
);
const anyReading = fc.record({
  loop: loops,
  position: fc.double({ min: 0, max: 320, noNaN: true }),
  step: fc.oneof(fc.double({ min: 0.01, max: 1.5, noNaN: true }), fc.double({ min: 1.5, max: 400, noNaN: true })),
});

test('what the kernel reads of its own lies where nothing is written to', () => {
  const bytes = new Uint8Array(new Kernel().numbers.buffer);
  const first = bytes.findIndex((byte) => byte !== 0);
  const last =
    bytes.length -
    1 -
    bytes
      .slice()
      .reverse()
      .findIndex((byte) => byte !== 0);
  // There are such tables, and all of them are in their own room.
  expect(first).toBeGreaterThanOrEqual(STATIC);
  expect(last).toBeLessThan(STATIC + STATIC_BYTES);
  expect(STATIC + STATIC_BYTES).toBeLessThanOrEqual(PAGES * 65536);
  expect(PAGES * 65536).toBeLessThanOrEqual(SYNTH);
});

test('two channels are read as each of them alone, at any place and speed, looped or not', () => {
  fc.assert(
    fc.property(anyReading, ({ loop, position, step }) => {
      const both = reading(stereo, loop, position, step, [32, 32, 5]);
      const left = reading(channel(0), loop, position, step, [32, 32, 5]);
      const right = reading(channel(1), loop, position, step, [32, 32, 5]);
      close(both.left, left.left);
      close(both.right, right.left);
      expect(both.position).toBe(left.position);
    }),
  );
});

test('a span cut into pieces is the span', () => {
  fc.assert(
    fc.property(anyReading, fc.integer({ min: 1, max: 31 }), ({ loop, position, step }, piece) => {
      // The same up to the last bit of a position within the window, 2⁻²⁵ of a frame each; the noise is steep.
      const whole = reading(stereo, loop, position, Math.min(step, 2), [32, 32]);
      const pieces = reading(stereo, loop, position, Math.min(step, 2), [32, 32], piece);
      whole.left.forEach((x, i) => expect(Math.abs(x - pieces.left[i])).toBeLessThan(1e-4));
    }),
  );
});

test.each([0.37, 1, 3.9, 7.3, 40, 125])(
  'a straight line is read straight, %f frames at a time, and silence follows it',
  (step) => {
    const line: Audio = { rate: 48000, channels: 1, data: Float32Array.from({ length: 4000 }, (_, i) => i / 4000) };
    const { left } = reading(line, null, 100.25, step, [32]);
    left.forEach((x, i) => {
      const place = 100.25 + i * step;
      if (place < 3970) expect(x).toBeCloseTo(place / 4000, 5);
      else if (place > 4070) expect(x).toBe(0);
    });
  },
);

test('past its end there is silence, for ever', () => {
  expect(Math.max(...reading(stereo, null, FRAMES + 60, 1, [32, 32]).left.map(Math.abs))).toBe(0);
  expect(Math.max(...reading(stereo, null, 1e9, 400, [32, 32]).right.map(Math.abs))).toBe(0);
});

test('gains move in straight lines from where they stood to where they go, and arrive', () => {
  const kernel = new Kernel();
  const voice = kernel.voiceAt(MOST_VOICE_BLOCKS - 1);
  const { numbers, made, madeRight, bus, busRight } = kernel;
  numbers.set([0.2, 0.4, 0, -0.5], (voice + GAINS) / 8);
  numbers.set([1, 0.5, 0.25, 2], (voice + PAN_GAINS) / 8);
  numbers[(voice + AMPLITUDE) / 8] = 0.8;
  made.fill(1);
  madeRight.fill(10);
  bus.fill(100);
  busRight.fill(0);
  kernel.loops.finish(voice, 1, 0, 20, 0);
  for (let i = 0; i < 20; i++) {
    const share = (i + 1) / 20;
    const from = (a: number, b: number) => a + (b - a) * share;
    expect(bus[i]).toBeCloseTo(100 + from(0.2, 0.8) + 10 * from(0, 0.2), 12);
    expect(busRight[i]).toBeCloseTo(from(0.4, 0.4) + 10 * from(-0.5, 1.6), 12);
  }
  expect([...numbers.subarray((voice + GAINS) / 8, (voice + GAINS) / 8 + 4)]).toEqual([0.8, 0.4, 0.2, 1.6]);
});

test.each([1, 2, 7, 20, 31])('a span of %i frames goes to its own place on the bus and touches no other', (frames) => {
  const kernel = new Kernel();
  const { numbers, made, madeRight, bus, busRight } = kernel;
  const voice = kernel.voiceAt(2);
  numbers.fill(1, (voice + GAINS) / 8, (voice + GAINS) / 8 + 4);
  numbers.fill(1, (voice + PAN_GAINS) / 8, (voice + PAN_GAINS) / 8 + 4);
  numbers[(voice + AMPLITUDE) / 8] = 1;
  made.fill(2);
  madeRight.fill(3);
  kernel.loops.finish(voice, 1, 5, frames, 0);
  kernel.loops.finish(voice, 0, 5 + frames, frames, 0);
  const expected = Array.from(bus, (_, i) => (i < 5 || i >= 5 + 2 * frames ? 0 : i < 5 + frames ? 5 : 2));
  expect([...bus]).toEqual(expected);
  expect([...busRight]).toEqual(expected);
});

test('two channels are filtered as each of them alone, in spans of any length', () => {
  const filtered = (side: 'both' | 'left' | 'right') => {
    const kernel = new Kernel();
    const { numbers, made, madeRight } = kernel;
    const voice = kernel.voiceAt(7);
    setSection(numbers, (voice + COEFFICIENTS) / 8, 'low', { cutoffHz: 1500, q: 4 }, 48000);
    setSection(numbers, (voice + COEFFICIENTS + LOW_CUT * SECTION_BYTES) / 8, 'high', { cutoffHz: 90, q: 1 }, 48000);
    const out: number[][] = [[], []];
    for (const span of [32, 5, 1, 32, 13]) {
      for (let i = 0; i < span; i++) {
        const left = Math.sin(i * i + span);
        const right = Math.cos(3 * i * i + span);
        made[i] = side === 'right' ? right : left;
        madeRight[i] = right;
      }
      kernel.loops.filter(voice, side === 'both' ? 1 : 0, MADE, span, 1 | (1 << LOW_CUT));
      out[0].push(...made.subarray(0, span));
      out[1].push(...madeRight.subarray(0, span));
    }
    return out;
  };
  expect(filtered('both')).toEqual([filtered('left')[0], filtered('right')[0]]);
});

test('each kernel has a memory of its own, a voice has its block, and the tail does not disturb what is made', () => {
  const a = new Kernel();
  const b = new Kernel();
  a.numbers[a.voiceAt(0) / 8] = 5;
  expect(b.numbers[b.voiceAt(0) / 8]).toBe(0);
  expect(() => a.voiceAt(MOST_VOICE_BLOCKS)).toThrow(RangeError);
  expect(a.voiceAt(MOST_VOICE_BLOCKS - 1) + VOICE_BYTES).toBeLessThanOrEqual(a.numbers.byteLength);
  a.made.fill(0.5);
  a.numbers[(a.voiceAt(1) + TAIL_READING) / 8 + 1] = 1;
  readSample(prepareSample(channel(0), null).levels[0], 1, a, a.voiceAt(1) + TAIL_READING, TAIL, 0, 32);
  expect([...a.made].every((x) => x === 0.5)).toBe(true);
  expect([...a.tail].some((x) => x !== 0)).toBe(true);
});
