import inspector from 'node:inspector/promises';
import { prepareSample } from '../src/core/dsp/sample';
import { Engine } from '../src/core/engine/engine';
import { programFor, testTone } from './lab';
import { everyEffect } from './mix';
import { grainEngine, synthEngine } from './kinds';
import { EFFECTS } from '../src/core/effects';
import { eightLayers, engineWith, sixteenMovers } from './moves';
import { row } from './row';

/** A wheel going round, a step with each block. */
const turning = Array.from(
  { length: 128 },
  (_, value) => ({ type: 'controller', channel: 1, controller: 1, value }) as const,
);

/**
 * What is put on the heap while 256 voices sound, by V8's own sampling, objects since collected included; at rest, and
 * while the wheel moves a window and three routes of every voice with each block.
 */
export async function allocation(): Promise<void> {
  const audio = Array.from({ length: 8 }, (_, i) => testTone(48000, 2, 1, 200 + 17 * i));
  const program = programFor({
    audio,
    layer: {
      params: { cutoff: 3000, pan: 0.3, level: -40, attack: 0.01, decay: 2, sustain: -6 },
      windows: [{ source: 'cc.1', low: 0, high: 127, fadeIn: 127, fadeOut: 0, shape: 'sine', read: 'always' }],
    },
    zone: { loop: { start: 0, end: 96000, crossfade: 0, until: 'end' } },
    routes: ['cutoff', 'pan', 'tune'].map((target, i) => ({
      id: `route-${i}`,
      source: 'cc.1',
      target: `layer.layer.${target}`,
      depth: 0.2,
      curve: 'linear' as const,
      on: true,
      polarity: 'as-is' as const,
      bound: false,
      counts: 'last' as const,
    })),
  });
  const engine = new Engine({ rate: 48000 });
  program.samples.forEach((request, i) =>
    engine.addSample(request.key, prepareSample(audio[i], request.loop, request.levels, request.reverse)),
  );
  engine.setProgram(program);
  engine.handle({ type: 'controller', channel: 1, controller: 1, value: 64 });
  for (let i = 0; i < 256; i++) engine.handle({ type: 'noteOn', channel: 1 + (i >> 4), key: i % 8, velocity: 100 });
  const left = new Float32Array(128);
  const right = new Float32Array(128);
  const moves = Array.from(
    { length: 128 },
    (_, value) => ({ type: 'controller', channel: 1, controller: 1, value }) as const,
  );
  const second = (moving: boolean) => {
    for (let i = 0; i < 375; i++) {
      if (moving) engine.handle(moves[i % 128]);
      engine.process(left, right, 128);
    }
  };
  for (let i = 0; i < 5; i++) for (const moving of [false, true]) second(moving);
  await heapOf('hands at rest', engine, () => second(false));
  await heapOf('wheel moving', engine, () => second(true));
  const { movers, routes } = sixteenMovers();
  const full = engineWith({ movers, routes }, 256);
  const sound = () => {
    for (let i = 0; i < 375; i++) full.process(left, right, 128);
  };
  for (let i = 0; i < 5; i++) sound();
  await heapOf('sixteen movers', full, sound);
  const layers = eightLayers(true);
  const all = () => {
    for (let i = 0; i < 375; i++) layers.process(left, right, 128);
  };
  for (let i = 0; i < 5; i++) all();
  await heapOf('eight layers with everything in use', layers, all, layers.mostVoices);
}

/** Bytes that two seconds of sound put on the heap, and who puts them there. */
export async function heapOf(what: string, engine: Engine, second: () => void, voices = 256): Promise<void> {
  const session = new inspector.Session();
  session.connect();
  await session.post('HeapProfiler.startSampling', {
    samplingInterval: 512,
    includeObjectsCollectedByMajorGC: true,
    includeObjectsCollectedByMinorGC: true,
  } as never);
  second();
  second();
  const { profile } = await session.post('HeapProfiler.stopSampling');
  session.disconnect();
  if (voices === 256 && engine.voiceCount !== voices)
    throw new Error(`${engine.voiceCount} voices sounded: not what was to be measured`);
  let bytes = 0;
  const sites = new Map<string, number>();
  const walk = (node: typeof profile.head, inside: boolean): void => {
    const here = inside || node.callFrame.functionName === 'process';
    if (here) {
      bytes += node.selfSize;
      const site = `${node.callFrame.functionName} (${node.callFrame.url.split('/').slice(-1)[0]}:${node.callFrame.lineNumber})`;
      sites.set(site, (sites.get(site) ?? 0) + node.selfSize);
    }
    node.children.forEach((child) => walk(child, here));
  };
  walk(profile.head, false);
  const each = 2 * 1500 * voices;
  row(
    `heap bytes for each voice and tick of 32 frames, ${what}`,
    (bytes / each).toFixed(2),
    '0.00',
    bytes / each < 0.005,
  );
  for (const [site, size] of [...sites].sort((a, b) => b[1] - a[1]).slice(0, 3))
    if (size / each > 0.005) console.log(`        ${(size / each).toFixed(2)} in ${site}`);
}

/** Every effect at work, oscillators and grains, with a wheel that moves them: bytes for each of them and tick. */
export async function allocationOfKinds(): Promise<void> {
  const left = new Float32Array(128),
    right = new Float32Array(128);
  for (const [what, engine, count] of [
    ['every effect at work, a wheel moving them, by effect', everyEffect(), EFFECTS.length],
    ['64 synth voices, a mover and a wheel moving them', synthEngine(64, true), 64],
    ['64 voices of grains, a mover and a wheel moving them', grainEngine(64, 4, true), 64],
  ] as const) {
    const second = () => {
      for (let i = 0; i < 375; i++) {
        engine.handle(turning[i % 128]);
        engine.process(left, right, 128);
      }
    };
    for (let i = 0; i < 6; i++) second();
    if (count === 64 && engine.voiceCount !== count)
      throw new Error(`${engine.voiceCount} voices sounded: not what was to be measured`);
    await heapOf(what, engine, second, count);
  }
}
