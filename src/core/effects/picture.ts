import FFT from 'fft.js';
import { levelFloor, rmsDb } from './pictureLevels';
import { effectKind, type Effect } from './index';
import { QUARTERS_PER_FRAME, AT_QUARTERS } from './effect';

/** What an effect does now, measured on the effect itself: x and y of a line. `response`: Hz and dB; `curve`: dB in and out; `decay` and `pattern`: seconds and dB. */
export interface EffectPicture { kind: 'response' | 'curve' | 'decay' | 'pattern'; x: number[]; y: number[] }

const RATE = 48000;
const SPAN = 32;

/** An effect of its own for measuring, with its values in units, fully wet. `tempo` in quarters a minute. */
export function effectForPicture(kindId: string, values: Readonly<Record<string, number>>, steps: readonly number[], tempo: number): { effect: Effect; values: Float64Array; time: Float64Array } {
  const kind = effectKind(kindId);
  const row = new Float64Array(33);
  row.set(steps.slice(0, 32));
  row[32] = steps.length;
  const time = new Float64Array(2);
  time[QUARTERS_PER_FRAME] = tempo / 60 / RATE;
  const effect = kind.make({ rate: RATE, seed: 1, memory: new Float32Array(kind.room?.(RATE) ?? 0), time, key: Float64Array.of(NaN), steps: row, side: null, impulse: null });
  const list = Float64Array.from(Object.values(kind.parameters), (parameter) => values[parameter.id] ?? parameter.default);
  effect.aim(list);
  return { effect, values: list, time };
}

function run(made: { effect: Effect; values: Float64Array; time: Float64Array }, left: Float32Array, right: Float32Array): void {
  const mix = made.values[0] / 100;
  const dry = left.slice();
  const per = made.time[QUARTERS_PER_FRAME];
  for (let at = 0; at < left.length; at += SPAN) {
    made.time[AT_QUARTERS] = at * per;
    made.effect.process(left, right, at, Math.min(left.length, at + SPAN));
  }
  if (mix < 1) for (let i = 0; i < left.length; i++) left[i] = left[i] * mix + dry[i] * (1 - mix);
}

/** The picture of a kind of effect with these values. */
export function pictureOf(kindId: string, values: Readonly<Record<string, number>>, steps: readonly number[] = [], tempo = 120): EffectPicture {
  const kind = effectKind(kindId);
  const make = () => effectForPicture(kindId, values, steps, tempo);
  switch (kind.picture) {
    case 'response': return responseOf(make());
    case 'curve': return curveOf(make);
    case 'decay': return decayOf(make(), Math.min(8, Math.max(0.3, kind.tail?.(make().values, tempo) ?? 1)));
    default: return patternOf(make(), (60 / tempo) * 4);
  }
}

const POINTS = 180;
const LOW = 20, HIGH = 20000;

function responseOf(made: ReturnType<typeof effectForPicture>): EffectPicture {
  const size = 8192;
  const left = new Float32Array(size);
  const right = new Float32Array(size);
  // A little later than at once, so that what looks ahead or moves is under way.
  left[256] = right[256] = 1;
  run(made, left, right);
  const fft = new FFT(size);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, left);
  const power = (bin: number) => out[2 * bin] ** 2 + out[2 * bin + 1] ** 2;
  const x: number[] = [];
  const y: number[] = [];
  for (let n = 0; n < POINTS; n++) {
    const hz = LOW * (HIGH / LOW) ** (n / (POINTS - 1));
    const from = (hz * (HIGH / LOW) ** (-0.5 / POINTS) * size) / RATE;
    const to = (hz * (HIGH / LOW) ** (0.5 / POINTS) * size) / RATE;
    let sum = 0;
    if (to - from < 2) {
      const bin = (hz * size) / RATE;
      const whole = Math.floor(bin);
      sum = power(whole) * (1 - bin + whole) + power(whole + 1) * (bin - whole);
    } else {
      let count = 0;
      for (let bin = Math.ceil(from); bin < to; bin++) { sum += power(bin); count++; }
      sum /= Math.max(1, count);
    }
    x.push(hz);
    y.push(10 * Math.log10(sum + 1e-12));
  }
  return { kind: 'response', x, y };
}

function curveOf(make: () => ReturnType<typeof effectForPicture>): EffectPicture {
  const x: number[] = [];
  const y: number[] = [];
  const frames = 9600;
  for (let inDb = -60; inDb <= 0; inDb += 3) {
    const height = 10 ** (inDb / 20);
    const left = Float32Array.from({ length: frames }, (_, i) => height * Math.sin((2 * Math.PI * 400 * i) / RATE));
    run(make(), left, left.slice());
    x.push(inDb);
    y.push(rmsDb(left, frames - 2400, frames) + 3.0103);
  }
  return { kind: 'curve', x, y };
}

function decayOf(made: ReturnType<typeof effectForPicture>, seconds: number): EffectPicture {
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

function patternOf(made: ReturnType<typeof effectForPicture>, seconds: number): EffectPicture {
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
