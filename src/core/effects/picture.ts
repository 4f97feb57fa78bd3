import { KEYS } from '../music/pitch';
import type { TunedKeys } from '../music/tunings';
import FFT from 'fft.js';
import { EffectRooms, type Room } from '../dsp/kernel/effectRooms';
import { levelFloor, rmsDb } from './pictureLevels';
import { effectKind, type Effect } from './index';
import { QUARTERS_PER_FRAME, AT_QUARTERS, type EffectKind } from './effect';

/**
 * What an effect does now, measured on the effect itself: x and y of a line. `response`: Hz and dB; `curve`: dB in and
 * out; `decay` and `pattern`: seconds and dB.
 */
export interface EffectPicture {
  kind: 'response' | 'curve' | 'decay' | 'pattern';
  x: number[];
  y: number[];
}

const RATE = 48000;
const SPAN = 32;

/** A room for one effect alone; null where it needs none. */
export function roomAlone(kind: EffectKind, rate: number): Room | null {
  const floats = kind.room?.(rate) ?? 0;
  return floats > 0 ? new EffectRooms(4 * floats + 64).take(floats) : null;
}

/** An effect of its own for measuring, with its values in units, fully wet. `tempo` in quarters a minute. */
export function effectForPicture(
  kindId: string,
  values: Readonly<Record<string, number>>,
  steps: readonly number[],
  tempo: number,
  tuned: TunedKeys | null = null,
): { effect: Effect; values: Float64Array; time: Float64Array } {
  const kind = effectKind(kindId);
  const row = new Float64Array(33);
  row.set(steps.slice(0, 32));
  row[32] = steps.length;
  const time = new Float64Array(2);
  time[QUARTERS_PER_FRAME] = tempo / 60 / RATE;
  const effect = kind.make({
    rate: RATE,
    seed: 1,
    room: roomAlone(kind, RATE),
    time,
    key: Float64Array.of(NaN),
    cents: tuned?.cents ?? new Float64Array(KEYS),
    steps: row,
    side: null,
    impulse: null,
  });
  const list = Float64Array.from(
    Object.values(kind.parameters),
    (parameter) => values[parameter.id] ?? parameter.default,
  );
  effect.aim(list);
  return { effect, values: list, time };
}

type Made = ReturnType<typeof effectForPicture>;

/** Takes a stretch through an effect, which begins so many frames after the effect did. */
function run(made: Made, left: Float32Array, right: Float32Array, began = 0): void {
  const mix = made.values[0] / 100;
  const dry = left.slice();
  const per = made.time[QUARTERS_PER_FRAME];
  for (let at = 0; at < left.length; at += SPAN) {
    made.time[AT_QUARTERS] = (began + at) * per;
    made.effect.process(left, right, at, Math.min(left.length, at + SPAN));
  }
  if (mix < 1) for (let i = 0; i < left.length; i++) left[i] = left[i] * mix + dry[i] * (1 - mix);
}

/** The picture of a kind of effect with these values. */
export function pictureOf(
  kindId: string,
  values: Readonly<Record<string, number>>,
  steps: readonly number[] = [],
  tempo = 120,
  tuned: TunedKeys | null = null,
): EffectPicture {
  const kind = effectKind(kindId);
  const make = () => effectForPicture(kindId, values, steps, tempo, tuned);
  switch (kind.picture) {
    case 'response':
      return responseOf(kindId, make());
    case 'curve':
      return curveOf(kindId, make);
    case 'decay':
      return decayOf(make(), Math.min(8, Math.max(0.3, kind.tail?.(make().values, tempo) ?? 1)));
    default:
      return patternOf(make(), (60 / tempo) * 4);
  }
}

const POINTS = 180;
const LOW = 20,
  HIGH = 20000;

/** Frames of an impulse response: as many as it takes until what is left of it is 80 dB softer, between these. */
const SHORTEST_RESPONSE = 8192,
  LONGEST_RESPONSE = 131072;
const PIECE = 4096;

/**
 * Where the response is read: evenly by octaves, and where the effect itself has a frequency, which may be a peak
 * narrower than what lies between.
 */
function frequenciesOf(kindId: string, values: Float64Array): number[] {
  const own = Object.values(effectKind(kindId).parameters).flatMap(({ unit }, n) =>
    unit === 'Hz' && values[n] >= LOW && values[n] <= HIGH ? [values[n]] : [],
  );
  const even = Array.from({ length: POINTS }, (_, n) => LOW * (HIGH / LOW) ** (n / (POINTS - 1)));
  return [...new Set([...even, ...own])].sort((a, b) => a - b);
}

/**
 * The impulse response, as long as it lasts; the impulse comes a little later than at once, so that what looks ahead or
 * moves is under way.
 */
function impulseResponse(made: Made): Float32Array {
  const left = new Float32Array(LONGEST_RESPONSE);
  const right = new Float32Array(LONGEST_RESPONSE);
  left[256] = right[256] = 1;
  let all = 0;
  for (let at = 0; at < LONGEST_RESPONSE; at += PIECE) {
    run(made, left.subarray(at, at + PIECE), right.subarray(at, at + PIECE), at);
    const piece = powerOf(left, at, at + PIECE);
    all += piece;
    if (at + PIECE >= SHORTEST_RESPONSE && piece < 1e-8 * all) return left.subarray(0, at + PIECE);
  }
  return left;
}

function responseOf(kindId: string, made: Made): EffectPicture {
  const response = impulseResponse(made);
  const size = 2 ** Math.ceil(Math.log2(response.length));
  const padded = new Float32Array(size);
  padded.set(response);
  const fft = new FFT(size);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, padded);
  const power = (bin: number) => out[2 * bin] ** 2 + out[2 * bin + 1] ** 2;
  const x = frequenciesOf(kindId, made.values);
  const even = (HIGH / LOW) ** (0.5 / POINTS);
  const y = x.map((hz) => {
    // Where bins are wider apart than points, each point has its own sum: bins beside it would be another frequency.
    if ((hz * (even - 1 / even) * size) / RATE < 8) return 10 * Math.log10(powerAt(response, hz) + 1e-12);
    const bin = (hz * size) / RATE;
    const whole = Math.floor(bin);
    return 10 * Math.log10(power(whole) * (1 - bin + whole) + power(whole + 1) * (bin - whole) + 1e-12);
  });
  return { kind: 'response', x, y };
}

/** Power of a response at one frequency (G. Goertzel, 1958). */
function powerAt(response: Float32Array, hz: number): number {
  const turn = 2 * Math.cos((2 * Math.PI * hz) / RATE);
  let one = 0,
    two = 0;
  for (let i = 0; i < response.length; i++) {
    const now = response[i] + turn * one - two;
    two = one;
    one = now;
  }
  return one * one + two * two - turn * one * two;
}

const powerOf = (signal: Float32Array, from: number, to: number): number => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += signal[i] * signal[i];
  return sum;
};

/** Tone of the curves: whole waves fit into every window. */
const CURVE_HZ = 400;
/**
 * Time in which a curve is listened to at the least and at the most for each level, and the change from one window to
 * the next at which it has settled.
 */
const CURVE_WINDOW = 0.05,
  CURVE_MOST = 12,
  SETTLED_DB = 0.02;

/**
 * What comes out for what comes in, each level held until what comes out has settled: as long as the effect's own times
 * ask for.
 */
function curveOf(kindId: string, make: () => Made): EffectPicture {
  const kind = effectKind(kindId);
  const { values } = make();
  const times = Object.values(kind.parameters).map(({ unit }, n) => (unit === 's' ? values[n] : 0));
  const slowest = Math.max(kind.settles?.(values) ?? 0, ...times);
  const window = Math.ceil(Math.max(CURVE_WINDOW, slowest / 4) * CURVE_HZ) * (RATE / CURVE_HZ);
  const x: number[] = [];
  const y: number[] = [];
  const left = new Float32Array(window),
    right = new Float32Array(window);
  for (let inDb = -60; inDb <= 0; inDb += 3) {
    const height = 10 ** (inDb / 20);
    const made = make();
    let [before, now] = [NaN, NaN];
    for (
      let at = 0;
      at < CURVE_MOST * RATE && !(at > 2 * window && Math.abs(now - before) < SETTLED_DB);
      at += window
    ) {
      for (let i = 0; i < window; i++)
        left[i] = right[i] = height * Math.sin((2 * Math.PI * CURVE_HZ * (at + i)) / RATE);
      run(made, left, right, at);
      before = now;
      now = rmsDb(left, window >> 1, window) + 3.0103;
    }
    x.push(inDb);
    y.push(now);
  }
  return { kind: 'curve', x, y };
}

function decayOf(made: Made, seconds: number): EffectPicture {
  const frames = Math.round(seconds * RATE);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let i = 0, seed = 1; i < 240; i++) {
    seed = (Math.imul(seed, 1664525) + 1013904223) | 0;
    left[i] = right[i] = seed / 2 ** 31;
  }
  run(made, left, right);
  const step = Math.max(240, Math.round(frames / 160));
  const x: number[] = [];
  const y: number[] = [];
  for (let at = 0; at + step <= frames; at += step) {
    x.push(at / RATE);
    y.push(levelFloor(rmsDb(left, at, at + step)));
  }
  return { kind: 'decay', x, y };
}

function patternOf(made: Made, seconds: number): EffectPicture {
  const frames = Math.round(Math.min(8, seconds) * RATE);
  const left = Float32Array.from({ length: frames }, (_, i) => 0.25 * Math.sin((2 * Math.PI * 500 * i) / RATE));
  const right = left.slice();
  run(made, left, right);
  const step = 480;
  const x: number[] = [];
  const y: number[] = [];
  for (let at = 0; at + step <= frames; at += step) {
    x.push(at / RATE);
    y.push(levelFloor(rmsDb(left, at, at + step) + 15.05));
  }
  return { kind: 'pattern', x, y };
}
