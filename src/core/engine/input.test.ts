import { cc, off, on, RATE } from '../../../tests/kit/engine';
import { Chance } from '../dsp/chance';
import { markAt, newEffect, newLayer, newMover, newPatch, newRoute, newSound } from '../rig/defaults';
import { prepare } from '../formats/prepare';
import { speakThrough } from '../rig/edits/mix';
import type { Layer, Patch } from '../rig/schema';
import { compile } from './program/compile';
import { Engine } from './engine';
import { TICK } from './program/tick';
import { GAIN } from './program/voiceValues';

/** A layer that hears what comes in from outside. */
const SECONDS = 2;
const TONE = Float32Array.from({ length: SECONDS * RATE }, (_, i) => 0.25 * Math.sin((2 * Math.PI * 441 * i) / RATE));
const OTHER = Float32Array.from({ length: SECONDS * RATE }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 997 * i) / RATE));

interface Made {
  params?: Layer['params'];
  layer?: Partial<Layer>;
  patch?: Partial<Patch>;
}
function programOf({ params = {}, layer = {}, patch = {} }: Made = {}, id = 'p') {
  const made = { ...newLayer('l', 'L', 'mic', markAt(0)), params: { level: 0, ...params }, ...layer };
  return compile(
    { ...newPatch(id, id), layers: [made], ...patch },
    { sounds: [{ ...newSound('mic', 'Mic'), kind: 'input' }], samples: [], keyLow: 21, keyHigh: 108 },
  );
}
function begin(made: Made = {}): Engine {
  const engine = new Engine({ rate: RATE });
  engine.prepareKinds();
  engine.setProgram(programOf(made));
  return engine;
}
function hear(engine: Engine, frames: number, cut = 128, left = TONE, right = left, from = 0) {
  const outLeft = new Float32Array(frames),
    outRight = new Float32Array(frames);
  for (let at = 0; at < frames; at += cut) {
    const end = Math.min(frames, at + cut);
    engine.process(
      outLeft.subarray(at, end),
      outRight.subarray(at, end),
      end - at,
      [],
      left.subarray(from + at, from + end),
      right.subarray(from + at, from + end),
    );
  }
  return { left: outLeft, right: outRight };
}
const rms = (x: Float32Array, from = 4000, to = x.length): number =>
  Math.sqrt(x.subarray(from, to).reduce((sum, each) => sum + each * each, 0) / (to - from));
const db = (x: number): number => 20 * Math.log10(x);

test('what comes in goes out, later by the engine’s own latency and no more, as it was', () => {
  const engine = begin();
  const { left, right } = hear(engine, RATE);
  // A stereo voice in the middle keeps its sides.
  for (let i = 6000; i < RATE; i += 7) {
    expect(left[i]).toBeCloseTo(TONE[i - engine.latency], 4);
    expect(right[i]).toBeCloseTo(TONE[i - engine.latency], 4);
  }
  expect(engine.latency).toBeLessThan(TICK + 0.006 * RATE);
});

test('the same bits however the output is cut, in blocks beyond what is kept as well', () => {
  const run = (cut: number) => {
    const engine = begin({ params: { cutoff: 2000 } });
    engine.handle(cc(7, 90), 3000);
    return hear(engine, 40000, cut);
  };
  const whole = run(128);
  for (const cut of [1, 33, 441, 8192, 40000]) expect(run(cut)).toEqual(whole);
});

test('one side alone, gain, level, mute and solo', () => {
  const at = (made: Made) => {
    const { left, right } = hear(begin(made), 12000, 128, TONE, OTHER);
    return [db(rms(left)), db(rms(right))];
  };
  const [l, r] = at({});
  expect(l - r).toBeCloseTo(db(2.5), 1);
  expect(at({ params: { inputSide: 1 } })).toEqual([expect.closeTo(l, 1), expect.closeTo(l, 1)]);
  expect(at({ params: { inputSide: 2 } })).toEqual([expect.closeTo(r, 1), expect.closeTo(r, 1)]);
  expect(at({ params: { inputGain: -6 } })[0]).toBeCloseTo(l - 6, 1);
  expect(at({ params: { level: -12 } })[0]).toBeCloseTo(l - 12, 1);
  expect(at({ params: { inputGain: -60 } })[0]).toBe(-Infinity);
  expect(at({ layer: { on: false } })[0]).toBe(-Infinity);
});

test('windows, routes, filters, effects and movers are those of every layer', () => {
  const windows = [...newLayer('', '', '', markAt(0)).windows];
  const open = {
    source: 'cc.20',
    low: 64,
    high: 127,
    fadeIn: 0,
    fadeOut: 0,
    shape: 'linear' as const,
    read: 'always' as const,
  };
  const windowed = begin({ layer: { windows: [...windows, open] } });
  expect(rms(hear(windowed, 8000).left)).toBe(0);
  windowed.handle(cc(20, 100));
  expect(rms(hear(windowed, 8000).left)).toBeGreaterThan(0.1);
  const wheel = begin({ patch: { routes: [newRoute('r', 'cc.1', 'layer.l.inputGain', -0.5)] } });
  const full = rms(hear(wheel, 8000).left);
  wheel.handle(cc(1, 127));
  expect(rms(hear(wheel, 8000).left)).toBeLessThan(full / 30);
  const filtered = begin({ params: { cutoff: 120 } });
  expect(db(rms(hear(filtered, 12000).left) / full)).toBeLessThan(-15);
  const late = begin({ layer: { effects: [{ ...newEffect('e', 'echo'), params: { mix: 100 } }] } });
  hear(late, RATE);
  expect(rms(hear(late, 4000, 128, new Float32Array(RATE)).left, 0)).toBeGreaterThan(0.001);
  const follower = begin({
    patch: { movers: [{ ...newMover('follower', 1, 'F'), follows: 'l' }], knobs: [] },
  });
  hear(follower, 12000);
  expect(follower.sounding!.evaluator.movers.value(0)).toBeGreaterThan(0.1);
});

test('the gate shuts out what is soft and lets what is loud through; it does not chatter at its threshold', () => {
  const soft = TONE.map((x) => x * 0.01);
  const gated = { params: { inputGate: -40 } };
  expect(db(rms(hear(begin(gated), 24000, 128, soft).left, 12000))).toBeLessThan(-90);
  expect(rms(hear(begin(gated), 24000).left)).toBeCloseTo(rms(TONE), 2);
  // Around the threshold with a little noise: it opens once and stays.
  const chance = new Chance(5);
  const near = TONE.map((x) => (x / 0.25) * 0.0102 * (0.9 + 0.2 * chance.share()));
  const { left } = hear(begin(gated), 48000, 128, near);
  let changes = 0;
  let open = false;
  for (let at = 4800; at < 48000; at += 480) {
    const is = rms(left, at, at + 480) > 0.004;
    if (is !== open) changes++;
    open = is;
  }
  expect(changes).toBeLessThanOrEqual(1);
});

test('while keys are held: heard from the key to its release, in the keys of its window alone', () => {
  const windows = newLayer('', '', '', markAt(0)).windows.map((window) =>
    window.source === 'key' ? { ...window, low: 48, high: 59 } : window,
  );
  const engine = begin({ params: { inputOpen: 0, release: 0.01 }, layer: { windows } });
  expect(rms(hear(engine, 6000).left, 0)).toBe(0);
  engine.handle(on(72));
  expect(rms(hear(engine, 6000).left, 0)).toBe(0);
  engine.handle(on(50));
  expect(rms(hear(engine, 6000).left)).toBeGreaterThan(0.1);
  engine.handle(off(50));
  hear(engine, 6000);
  expect(rms(hear(engine, 6000).left, 0)).toBe(0);
});

describe('always', () => {
  test('no key and no pedal ends it, an edit lets it be, another patch ends it in its release, silence ends it', () => {
    const engine = begin({ params: { release: 0.02 } });
    hear(engine, 4000);
    expect(engine.voiceCount).toBe(1);
    for (const channel of [1, 16]) {
      engine.handle(on(60, 90, channel));
      engine.handle(off(60, channel));
      engine.handle(cc(123, 0, channel));
      engine.handle(cc(64, 0, channel));
    }
    hear(engine, 4000);
    expect(rms(hear(engine, 4000).left, 0)).toBeGreaterThan(0.1);
    const before = engine.voiceCount;
    engine.setProgram(programOf({ params: { release: 0.02, inputGain: -3 } }));
    hear(engine, 4000);
    expect(engine.voiceCount).toBe(before);
    engine.setProgram(programOf({ params: { inputOpen: 0 } }, 'other'));
    hear(engine, 6000);
    expect(rms(hear(engine, 2000).left, 0)).toBe(0);
    expect(engine.ringingCount).toBe(0);
    engine.setProgram(programOf({}, 'third'));
    expect(rms(hear(engine, 6000).left)).toBeGreaterThan(0.1);
    engine.handle({ type: 'panic' });
    hear(engine, 4000);
    expect(rms(hear(engine, 4000).left, 0)).toBe(0);
  });
  test('an edit opens it, and shuts it', () => {
    const engine = begin({ params: { inputOpen: 0, release: 0.01 } });
    expect(rms(hear(engine, 6000).left, 0)).toBe(0);
    engine.setProgram(programOf({ params: { release: 0.01 } }));
    expect(rms(hear(engine, 6000).left)).toBeGreaterThan(0.1);
    engine.setProgram(programOf({ params: { inputOpen: 0, release: 0.01 } }));
    hear(engine, 4000);
    expect(rms(hear(engine, 4000).left, 0)).toBe(0);
  });
});

describe('always open, in company', () => {
  const sounds = [
    { ...newSound('mic', 'Mic'), kind: 'input' as const },
    { ...newSound('saw', 'Saw'), kind: 'synth' as const },
  ];
  /** The input in one layer, oscillators in others: on pads that choke each other where a group is given. */
  const beside = (maxVoices: number, choke = 0): Engine => {
    const layers = [
      { ...newLayer('l', 'L', 'mic', markAt(0)), params: { level: 0 }, pad: 1, choke },
      { ...newLayer('k', 'K', 'saw', markAt(1)), params: { level: -60 }, pad: 2, choke },
    ];
    const engine = new Engine({ rate: RATE, maxVoices });
    engine.prepareKinds();
    const program = compile({ ...newPatch('p', 'P'), layers }, { sounds, samples: [], keyLow: 21, keyHigh: 108 });
    for (const request of program.samples) engine.addSample(request.key, prepare(request, undefined));
    engine.setProgram(program);
    hear(engine, 4000);
    return engine;
  };
  const isHeard = (engine: Engine): boolean => rms(hear(engine, 8000).left) > 0.1;

  test.each([1, 2, 3, 8])('no key takes its place, and it takes none, where %i voices are allowed', (most) => {
    const engine = beside(most);
    for (let key = 40; key < 60; key++) {
      engine.handle(on(key, 127));
      hear(engine, 600);
    }
    expect(engine.voiceCount).toBeGreaterThanOrEqual(most + 1);
    expect(isHeard(engine)).toBe(true);
    expect(engine.voiceCount).toBe(most + 1);
  });
  test('where the machine is at its limit it stays as well', () => {
    const engine = beside(8);
    for (let key = 40; key < 46; key++) engine.handle(on(key));
    engine.handle({ type: 'voices', most: 1 });
    expect(isHeard(engine)).toBe(true);
    expect(engine.voiceCount).toBe(2);
  });
  test('silence ends it, and opening it again begins it, once', () => {
    const engine = beside(8);
    engine.handle({ type: 'panic' });
    hear(engine, 4000);
    expect(isHeard(engine)).toBe(false);
    engine.handle({ type: 'stand' });
    engine.handle({ type: 'stand' });
    expect(isHeard(engine)).toBe(true);
    expect(engine.voiceCount).toBe(1);
    // Asked for in the very moment in which it fades.
    engine.handle({ type: 'panic' });
    engine.handle({ type: 'stand' });
    expect(isHeard(engine)).toBe(true);
  });
  test('a pad of its choke group, and the end of all sound on a channel, let it be', () => {
    const engine = beside(8, 1);
    engine.handle(on(60));
    expect(isHeard(engine)).toBe(true);
    for (const channel of [1, 16]) engine.handle(cc(120, 0, channel));
    expect(isHeard(engine)).toBe(true);
  });
  test('what comes in and is no number is silence; what comes after it is heard', () => {
    for (const bad of [NaN, Infinity, -Infinity]) {
      const engine = beside(8);
      expect(rms(hear(engine, 6000, 128, new Float32Array(6000).fill(bad)).left, 4000)).toBe(0);
      expect(engine.faultCount).toBe(0);
      expect(isHeard(engine)).toBe(true);
    }
  });
  test('put to rest for what it made, it begins again', () => {
    const engine = beside(8);
    engine['pool'].all.find((voice) => voice.isStanding)!.now[GAIN] = NaN;
    hear(engine, 256);
    expect([engine.faultCount, engine.lastFault]).toEqual([1, 'l']);
    expect(isHeard(engine)).toBe(true);
  });
  test('unmuted by the end of a solo, though no voice was free when it was to begin', () => {
    const engine = beside(2);
    engine.handle({ type: 'solo', layerIds: ['k'] });
    engine.handle({ type: 'panic' });
    hear(engine, 4000);
    for (const key of [40, 41]) engine.handle(on(key));
    hear(engine, 4000);
    engine.handle({ type: 'stand' });
    engine.handle({ type: 'solo', layerIds: [] });
    expect(isHeard(engine)).toBe(true);
  });
});

test('nothing comes in: silence, and no fault', () => {
  const engine = begin();
  const left = new Float32Array(6000),
    right = new Float32Array(6000);
  engine.process(left, right, 6000);
  expect(left.every((x) => x === 0)).toBe(true);
  expect(engine.faultCount).toBe(0);
  // What is no number comes from outside as well.
  const bad = new Float32Array(6000).fill(NaN);
  hear(engine, 6000, 128, bad, bad);
  expect(hear(engine, 12000).left.every(Number.isFinite)).toBe(true);
});

test('one layer speaks through another: the vocoder hears it, the layer itself is not heard', () => {
  const sounds = [
    { ...newSound('mic', 'Mic'), kind: 'input' as const },
    { ...newSound('saw', 'Saw'), kind: 'synth' as const },
  ];
  const layers = [newLayer('voice', 'Voice', 'mic', markAt(0)), newLayer('keys', 'Keys', 'saw', markAt(1))];
  const patch = speakThrough({ ...newPatch('p', 'P'), layers }, 'voice', 'keys');
  expect(speakThrough(patch, 'voice', 'voice')).toBe(patch);
  const engine = new Engine({ rate: RATE });
  engine.prepareKinds();
  const program = compile(patch, { sounds, samples: [], keyLow: 21, keyHigh: 108 });
  for (const request of program.samples) engine.addSample(request.key, prepare(request, undefined));
  engine.setProgram(program);
  // Nobody plays: what is said is not heard.
  expect(rms(hear(engine, 12000).left, 0)).toBeLessThan(1e-4);
  engine.handle(on(48, 110));
  const spoken = rms(hear(engine, 24000).left, 12000);
  const silent = rms(hear(engine, 48000, 128, new Float32Array(48000)).left, 36000);
  expect(db(spoken / Math.max(1e-6, silent))).toBeGreaterThan(20);
});
