import { tried } from '../../../tests/kit/whole';
import { Chance } from '../dsp/chance';
import { prepareSample, type Audio } from '../dsp/sample';
import { newEffect } from '../rig/defaults';
import { largestBend, make, off, on, RATE, type Setup } from '../../../tests/kit/engine';
import { mover, route } from '../../../tests/kit/moves';
import { Engine } from './engine';

/** A tone so low and smooth that any break in it stands out by far. */
const LOW_TONE: Audio = {
  rate: RATE,
  channels: 1,
  data: Float32Array.from({ length: RATE * 4 }, (_, i) => 0.25 * Math.sin((2 * Math.PI * 110 * i) / RATE)),
};
const PATCHES: Setup[] = [
  { layers: [{ params: { attack: 0.02, release: 0.08 } }] },
  {
    layers: [{ params: { attack: 0.02, release: 0.2 }, effects: [newEffect('e1', 'reverb')] }],
    patch: { movers: [mover('lfo')], routes: [route('lfo.1', 'layer.l0.pan', 0.2)] },
  },
  {
    layers: [{ params: { attack: 0.03, release: 0.05 } }, { params: { attack: 0.02, release: 0.3, level: -6 } }],
    patch: {
      main: { width: 100, params: {}, level: -3, effects: [newEffect('e2', 'echo')] } as never,
      movers: [mover('wander')],
      routes: [route('wander.1', 'layer.l1.level', 0.1)],
    },
  },
  { layers: [{ params: { attack: 0.02, release: 0.1 }, transpose: 12, effects: [newEffect('e3', 'chorus')] }] },
];
const programs = PATCHES.map(
  (setup, n) =>
    make({
      ...setup,
      audio: LOW_TONE,
      patch: {
        ...setup.patch,
        id: `p${n}`,
        main: { ...setup.patch?.main, width: 100, level: -12, effects: setup.patch?.main?.effects ?? [] },
      },
    }).program,
);

function engineWith(first: number): Engine {
  const engine = new Engine({ rate: RATE, seed: 3 });
  for (const { key, loop, levels, reverse } of programs.flatMap(({ samples }) => samples))
    engine.addSample(key, prepareSample(LOW_TONE, loop, levels, reverse));
  engine.setProgram(programs[first]);
  return engine;
}

/** Random keys, wheels and pedals, and changes of patch so many frames apart; tells what came out. */
function wander(changes: number, most: number, seed: number, only?: number) {
  const chance = new Chance(seed);
  const anyOf = (count: number) => Math.floor(chance.share() * count);
  const engine = engineWith(only ?? 0);
  const held: number[] = [];
  const BLOCK = 128;
  const left = new Float32Array(BLOCK);
  const right = new Float32Array(BLOCK);
  const last = [0, 0];
  const result = { bend: 0, peak: 0, ringing: 0, voices: 0, bad: 0 };
  const run = (frames: number) => {
    for (let done = 0; done < frames; done += BLOCK) {
      const count = Math.min(BLOCK, frames - done);
      engine.process(left, right, count);
      for (let i = 0; i < count; i++) {
        const x = left[i];
        if (!(Math.abs(x) <= 1)) result.bad++;
        result.bend = Math.max(result.bend, Math.abs(x - 2 * last[1] + last[0]));
        result.peak = Math.max(result.peak, Math.abs(x));
        last[0] = last[1];
        last[1] = x;
      }
      result.ringing = Math.max(result.ringing, engine.ringingCount);
      result.voices = Math.max(result.voices, engine.voiceCount);
    }
  };
  for (let n = 0; n < changes; n++) {
    run(1 + anyOf(most));
    const acts = [
      () => {
        const key = 45 + anyOf(24);
        held.push(key);
        engine.handle(on(key, 30 + anyOf(60)), engine.frame + anyOf(200));
      },
      () => {
        const key = held.splice(anyOf(held.length), 1)[0];
        if (key !== undefined) engine.handle(off(key), engine.frame + anyOf(200));
      },
      () => engine.handle({ type: 'controller', channel: 1, controller: 64, value: chance.share() < 0.3 ? 127 : 0 }),
      () => engine.handle({ type: 'controller', channel: 1, controller: 1, value: anyOf(128) }),
    ];
    acts[held.length > 6 ? 1 : anyOf(acts.length)]();
    const next = only ?? anyOf(programs.length);
    engine.setProgram(programs[next]);
  }
  engine.handle({ type: 'controller', channel: 1, controller: 64, value: 0 });
  for (const key of held) engine.handle(off(key));
  // Later than the latest end that waits for its frame.
  run(512);
  for (let key = 0; key < 128; key++) engine.handle(off(key));
  return { engine, run, result };
}

test('thousands of changes of patch under notes, movers and effects: no break, no note that stays, no patch that is left', () => {
  // What each patch does by itself under the same hands; all that ring can add up.
  const alone = programs.map((_, n) => wander(400, 240, 5, n).result.bend);
  const { engine, run, result } = wander(tried(10_000, 2500), 240, 5);
  expect(result.bad).toBe(0);
  expect(result.peak).toBeGreaterThan(0.03);
  expect(result.bend).toBeLessThan(4 * Math.max(...alone));
  // Twelve are kept at the most, however fast one changes, and those beyond them fade for some milliseconds.
  expect(result.ringing).toBeLessThanOrEqual(24);
  run(RATE * 12);
  expect(engine.voiceCount).toBe(0);
  expect(engine.ringingCount).toBe(0);
  const left = new Float32Array(RATE);
  engine.process(left, new Float32Array(RATE), RATE);
  expect(left.every((x) => Math.abs(x) < 1e-4)).toBe(true);
}, 180_000);

test('the first note after a change sounds within one quantum, and what was held goes on until it is let go', () => {
  const engine = engineWith(1);
  const frames = (count: number) => {
    const left = new Float32Array(count);
    engine.process(left, new Float32Array(count), count);
    return left;
  };
  engine.handle(on(50, 100));
  frames(RATE);
  const before = engine.voiceCount;
  engine.setProgram(programs[0]);
  engine.handle(on(62, 100));
  frames(128);
  expect(engine.voiceCount).toBe(before + 1);
  frames(RATE);
  expect(engine.voiceCount).toBe(before + 1);
  engine.handle(off(50));
  frames(RATE);
  expect(engine.voiceCount).toBe(1);
  const silent = engineWith(0);
  const { latency } = silent;
  silent.setProgram(programs[3]);
  silent.handle(on(60, 127));
  const left = new Float32Array(latency + 128 + silent.latency);
  silent.process(left, new Float32Array(left.length), left.length);
  expect(left.findIndex((x) => x !== 0)).toBeLessThanOrEqual(silent.latency + 128);
  expect(left.findIndex((x) => x !== 0)).toBeGreaterThan(0);
});

test('a change makes no break that would be heard: the tone that rings is the tone that would have gone on', () => {
  const whole = engineWith(1);
  const changed = engineWith(1);
  for (const engine of [whole, changed]) engine.handle(on(50, 100));
  const take = (engine: Engine, count: number) => {
    const left = new Float32Array(count);
    engine.process(left, new Float32Array(count), count);
    return left;
  };
  take(whole, RATE / 2);
  take(changed, RATE / 2);
  changed.setProgram(programs[3]);
  const a = take(whole, RATE / 4);
  const b = take(changed, RATE / 4);
  expect(largestBend(b)).toBeLessThan(1.05 * largestBend(a));
  expect(Math.max(...b.map((x, i) => Math.abs(x - a[i])))).toBeLessThan(1e-3);
});
