import type { Audio } from '../dsp/sample';
import type { Layer, Zone } from '../rig/schema';
import { off, on, RATE, render, start, whole } from '../../../tests/kit/engine';

/** Loops that are made while they sound, held against those that are laid down beforehand and against arithmetic. */
const loop = (first: number, end: number, crossfade = 0, until: 'end' | 'release' = 'end') => ({
  start: first,
  end,
  crossfade,
  until,
});
const sine = (hz: number, channels: 1 | 2 = 1, rate = RATE): Audio => ({
  rate,
  channels,
  data: Float32Array.from(
    { length: rate * 2 * channels },
    (_, i) =>
      0.4 * Math.sin((2 * Math.PI * hz * (channels === 2 && i % 2 ? 1.5 : 1) * Math.floor(i / channels)) / rate),
  ),
});
const play = (audio: Audio, zone: Partial<Zone>, layer: Partial<Layer>, key = 60, seconds = 2) => {
  const engine = start({ audio, zones: [{ key: whole, ...zone }], layers: [layer] });
  engine.handle(on(key));
  return render(engine, seconds * RATE);
};
const db = (samples: Float32Array, reference: Float32Array, from: number) => {
  let error = 0;
  let power = 0;
  for (let i = from; i < samples.length; i++) {
    error += (samples[i] - reference[i]) ** 2;
    power += reference[i] ** 2;
  }
  return 10 * Math.log10(error / power + 1e-30);
};
const power = (samples: Float32Array, from: number, to: number) => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i] ** 2;
  return Math.sqrt(sum / (to - from));
};

describe('a loop of whole periods', () => {
  // 480 Hz at 48 kHz: 100 frames a period, so a loop of 4000 frames closes exactly, and the tone goes on as if there
  // were none.
  const audio = sine(480);
  const zone = { loop: loop(6000, 10000, 0, 'release') };
  const endless: Audio = {
    ...audio,
    data: Float32Array.from({ length: RATE * 10 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * 480 * i) / RATE)),
  };
  test.each([
    [60, 0],
    [60, 7],
    [67, 0],
    [48, 0],
    [84, 0],
  ])('goes on like the endless tone at key %i, transposed by %i', (key, transpose) => {
    const ours = play(audio, zone, { transpose }, key);
    const theirs = play(endless, {}, { transpose }, key);
    expect(db(ours.left, theirs.left, 1000)).toBeLessThan(-40);
  });
  test('with crossfades between its rounds too', () => {
    const ours = play(audio, { loop: loop(6000, 10000, 800, 'release') }, {});
    expect(db(ours.left, play(endless, {}, {}).left, 1000)).toBeLessThan(-40);
  });
  test('in stereo, each channel its own tone', () => {
    const both = sine(480, 2);
    const ours = play(both, { loop: loop(6000, 10000, 400, 'release') }, {});
    const left = play(sine(480), zone, { params: { pan: -1 } });
    expect(db(ours.left, left.left, 1000)).toBeLessThan(-40);
    expect(power(ours.right, RATE, 2 * RATE)).toBeCloseTo(0.4 * Math.SQRT1_2, 2);
  });
  test('through low-pass and high-pass, as loud as filtered otherwise', () => {
    const filtered = { params: { cutoff: 700, lowCut: 200, resonance: 2 } };
    const ours = play(audio, zone, filtered);
    const theirs = play(endless, {}, filtered);
    expect(20 * Math.log10(power(ours.left, RATE, 2 * RATE) / power(theirs.left, RATE, 2 * RATE))).toBeCloseTo(0, 1);
  });
});

describe('where routes have it', () => {
  /** A sample whose value tells where it is read. */
  const ramp: Audio = { rate: RATE, channels: 1, data: Float32Array.from({ length: RATE }, (_, i) => i / RATE) };
  const where = (params: Layer['params']) => {
    const { left } = play(ramp, { loop: loop(12000, 14400) }, { params: { ...params, level: -6.0206 } }, 60, 3);
    const late = left.subarray(2 * RATE).map((x) => x * 2 * Math.SQRT2);
    return [Math.min(...late), Math.max(...late)].map((x) => Math.round(x * RATE));
  };
  test('it lies where it was laid, as long as nothing moves it', () => {
    const [low, high] = where({});
    expect(Math.abs(low - 12000)).toBeLessThan(400);
    expect(Math.abs(high - 14400)).toBeLessThan(400);
  });
  test('position moves it by a share of the sample', () => {
    const [low, high] = where({ loopPosition: 25 });
    expect(low).toBeGreaterThan(23300);
    expect(high).toBeLessThan(26800);
  });
  test('length is a share of its own', () => {
    const [low, high] = where({ loopLength: 25 });
    expect(low).toBeGreaterThan(11400);
    expect(high).toBeLessThan(12900);
  });
  test('it never leaves the sample', () => {
    expect(where({ loopPosition: 100 })[1]).toBeLessThanOrEqual(RATE);
    expect(where({ loopPosition: -100 })[0]).toBeGreaterThanOrEqual(-50);
    expect(where({ loopLength: 400, loopPosition: 90 })[1]).toBeLessThanOrEqual(RATE);
  });
});

test('bent while it loops, the pitch follows and nothing breaks', () => {
  const engine = start({
    audio: sine(480),
    zones: [{ key: whole, loop: loop(6000, 10000, 500, 'release') }],
    layers: [{ params: { bendRange: 24 } }],
  });
  engine.handle(on());
  let largest = 0;
  for (let step = 0; step < 60; step++) {
    engine.handle({ type: 'bend', channel: 1, bend: Math.sin(step / 5) });
    const { left } = render(engine, 1600);
    for (const x of left) largest = Math.max(largest, Math.abs(x));
  }
  expect(largest).toBeGreaterThan(0.2);
  expect(largest).toBeLessThan(0.45);
  engine.handle(off());
  render(engine, RATE * 2);
  expect(engine.voiceCount).toBe(0);
});
