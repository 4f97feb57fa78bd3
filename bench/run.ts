/**
 * npm run bench: the engine against the browser's own nodes, compile time, and the delay from an event to sound.
 * Machines are noisy, so speeds are ratios of runs taken in turn, medians of several.
 */
import inspector from 'node:inspector/promises';
import { performance } from 'node:perf_hooks';
import { deserialize, serialize } from 'node:v8';
import { readSfz } from '../src/core/formats/sfzRead';
import { makePlan } from '../src/core/mapping/plan';
import { PLAN_DEFAULTS } from '../src/core/mapping/planModel';
import { fileNameOfKey } from '../src/core/music/noteNames';
import { prepareSample } from '../src/core/dsp/sample';
import { compile } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import { markAt, newLayer, newPatch, newSound, newZone } from '../src/core/rig/defaults';
import type { Program } from '../src/core/engine/program/program';
import type { Sound } from '../src/core/rig/schema';
import { programFor, testTone } from './lab';
import { costOfLayers, costs, eightLayers, engineWith, fullPatch, sixteenMovers } from './moves';
import { grainEngine, grainsInHalfACore, shareOf, synthEngine } from './kinds';
import { demoShares, everyEffect, shares } from './mix';
import { bounceBench, checkBench } from './check';
import { stage } from './stage';
import { engineAgainstNodes, synthAgainstNodes } from './nodes';
import { median, row } from './row';

function compileTime(): void {
  const sounds: Sound[] = Array.from({ length: 10 }, (_, s) => ({
    ...newSound(`sound-${s}`, `sound ${s}`),
    zones: Array.from({ length: 500 }, (__, z) => {
      const key = (z % 32) * 4;
      const dynamic = Math.floor(z / 32);
      return {
        ...newZone(`sample-${s}-${z}`, key),
        key: { low: key, high: key + 3, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
        velocity: { low: 1 + dynamic * 7, high: 7 + dynamic * 7, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
      };
    }),
  }));
  const patch = {
    ...newPatch('patch', 'patch'),
    layers: sounds.map((sound, i) => newLayer(`layer-${i}`, sound.name, sound.id, markAt(i))),
  };
  const samples = sounds.flatMap((sound) =>
    sound.zones.map(({ sampleId: id }) => ({ id, name: id, rate: 48000, channels: 1, frames: 48000 })),
  );
  let program!: Program;
  const times = Array.from({ length: 15 }, () => {
    const began = performance.now();
    program = compile(patch, { sounds, samples, keyLow: 21, keyHigh: 108 });
    return performance.now() - began;
  });
  row(
    'compile a patch of 10 layers and 5 000 zones, median',
    `${median(times).toFixed(1)} ms`,
    '50 ms',
    median(times) <= 50,
  );
  console.log(`        the first of ${times.length}, before anything was optimised: ${times[0].toFixed(1)} ms`);
  // What an edit costs the audio thread, which must fill 128 frames every 2.7 ms: reading the message, and taking the
  // program over.
  const { samples: _, ...played } = program;
  const message = serialize(played);
  const engine = new Engine({ rate: 48000 });
  const taken = Array.from({ length: 25 }, () => {
    const began = performance.now();
    engine.setProgram(deserialize(message) as typeof played);
    return performance.now() - began;
  });
  row(
    'the audio thread takes that patch over, median',
    `${median(taken).toFixed(2)} ms`,
    '2.7 ms',
    median(taken) <= 2.7,
  );
}

/**
 * What is put on the heap while 256 voices sound, by V8's own sampling, objects since collected included; at rest, and
 * while the wheel moves a window and
 * three routes of every voice with each block.
 */
async function allocation(): Promise<void> {
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
async function heapOf(what: string, engine: Engine, second: () => void, voices = 256): Promise<void> {
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
  row(`heap bytes for each voice and tick of 32 frames, ${what}`, (bytes / each).toFixed(2), '1', bytes / each < 1);
  for (const [site, size] of [...sites].sort((a, b) => b[1] - a[1]).slice(0, 3))
    if (size / each >= 0.1) console.log(`        ${(size / each).toFixed(2)} in ${site}`);
}

/** An SFZ file of 5 000 regions, inheritance and crossfades in it, from text to zones. */
function sfzTime(): void {
  const lines = ['<control> default_path=samples/', '<global> ampeg_release=0.4 cutoff=9000'];
  for (let group = 0; group < 50; group++) {
    lines.push(`<group> lovel=${1 + group * 2} hivel=${2 + group * 2} fil_veltrack=1200 volume=-${group % 7}`);
    for (let region = 0; region < 100; region++)
      lines.push(
        `<region> sample=tone ${region}.wav lokey=${region} hikey=${region + 1} pitch_keycenter=${region} tune=${region % 9} xfin_lokey=${region} xfin_hikey=${region + 1} seq_length=2 seq_position=${1 + (region % 2)} loop_mode=loop_continuous loop_start=100 loop_end=${900 + region}`,
      );
  }
  const text = lines.join('\n');
  const sample = { sampleId: 'a', frames: 44100, root: null, tuneCents: 0, loop: null };
  const times = Array.from({ length: 9 }, () => {
    const began = performance.now();
    const { zones } = readSfz(
      text,
      'bench.sfz',
      () => undefined,
      () => sample,
    );
    if (zones.length !== 5000) throw new Error(`${zones.length} zones were read`);
    return performance.now() - began;
  });
  row('read an SFZ file of 5 000 regions, the first time', `${times[0].toFixed(0)} ms`, '300 ms', times[0] <= 300);
  console.log(`        median of ${times.length}: ${median(times).toFixed(0)} ms`);
}

/** A folder of 1 000 files read by name and laid out. */
function planTime(): void {
  const files = Array.from({ length: 1000 }, (_, i) => ({
    path: `${['soft', 'mid', 'hard', 'loud'][i % 4]}/wire ${fileNameOfKey(24 + (Math.floor(i / 4) % 62))}_rr${1 + Math.floor(i / 248)}.wav`,
    sampleId: String(i),
    frames: 44100,
    levelDb: -30 + (i % 4) * 5,
    root: null,
    tuneCents: 0,
    loop: null,
  }));
  const times = Array.from({ length: 9 }, () => {
    const began = performance.now();
    const plan = makePlan(files, PLAN_DEFAULTS);
    if (plan.rows.some((each) => !each.placed)) throw new Error('files were left out');
    return performance.now() - began;
  });
  row('plan a folder of 1 000 files, the first time', `${times[0].toFixed(0)} ms`, '200 ms', times[0] <= 200);
  console.log(`        median of ${times.length}: ${median(times).toFixed(0)} ms`);
}

function moves(): void {
  const { movers, hands } = costs();
  row('64 voices with four movers each, against the same at rest', `${movers.toFixed(2)} ×`, '1.35 ×', movers <= 1.35);
  row('the same with four routes from a wheel that rests', `${hands.toFixed(2)} ×`, '1.03 ×', hands <= 1.03);
  const { share, voices } = costOfLayers();
  row(
    `eight layers with everything of a layer in use, 64 notes held (${voices} voices), of one core`,
    `${(100 * share).toFixed(0)} %`,
    '50 %',
    share <= 0.5,
  );
  const { compileIt } = fullPatch();
  const times = Array.from({ length: 15 }, () => {
    const began = performance.now();
    compileIt();
    return performance.now() - began;
  });
  row(
    'compile 16 macros, 4 pads, 16 movers, 200 routes, median',
    `${median(times).toFixed(1)} ms`,
    '20 ms',
    median(times) <= 20,
  );
}

/** Effects, and the demo's patches with them. */
async function mix(): Promise<void> {
  const each = shares();
  for (const { id, share } of each) row(`${id}, of one core`, `${share.toFixed(2)} %`, '20 %', share <= 20);
  for (const { name, share } of demoShares())
    row(`${name} with 16 notes and its effects, of one core`, `${share.toFixed(1)} %`, '35 %', share <= 35);
  const engine = everyEffect();
  const left = new Float32Array(128),
    right = new Float32Array(128);
  const moves = Array.from(
    { length: 128 },
    (_, value) => ({ type: 'controller', channel: 1, controller: 1, value }) as const,
  );
  const second = () => {
    for (let i = 0; i < 375; i++) {
      engine.handle(moves[i % 128]);
      engine.process(left, right, 128);
    }
  };
  for (let i = 0; i < 6; i++) second();
  // So many effects are one voice here: bytes for each effect and tick.
  await heapOf('every effect at work, a wheel moving them, by effect', engine, second, each.length);
}

/** Oscillators and grains: their heap, how many grains a core carries, and oscillators against the browser's own. */
async function kinds(): Promise<void> {
  const left = new Float32Array(128),
    right = new Float32Array(128);
  const moves = Array.from(
    { length: 128 },
    (_, value) => ({ type: 'controller', channel: 1, controller: 1, value }) as const,
  );
  for (const [what, engine, voices] of [
    ['64 synth voices', synthEngine(64, true), 64],
    ['64 voices of grains', grainEngine(64, 4, true), 64],
  ] as const) {
    const second = () => {
      for (let i = 0; i < 375; i++) {
        engine.handle(moves[i % 128]);
        engine.process(left, right, 128);
      }
    };
    for (let i = 0; i < 6; i++) second();
    if (engine.voiceCount !== voices)
      throw new Error(`${engine.voiceCount} voices sounded: not what was to be measured`);
    await heapOf(`${what}, a mover and a wheel moving them`, engine, second, voices);
  }
  row(
    '64 synth voices, of one core',
    `${shareOf(synthEngine(64, false)).toFixed(0)} %`,
    '50 %',
    shareOf(synthEngine(64, false)) <= 50,
  );
  const grains = grainsInHalfACore();
  row('grains at once in half of a core', `${grains.toFixed(0)}`, '256', grains >= 256);
  await synthAgainstNodes();
}

if (process.argv[2] === 'check') {
  checkBench(row, Number(process.argv[3] ?? 200));
  process.exit(0);
}
if (process.argv[2] === 'bounce') {
  bounceBench(row);
  process.exit(0);
}
if (process.argv[2] === 'stage') {
  stage(row);
  process.exit(0);
}
if (process.argv[2] === 'kinds') {
  await kinds();
  process.exit(0);
}
if (process.argv[2] === 'mix') {
  await mix();
  process.exit(0);
}
if (process.argv[2] === 'moves') {
  moves();
  await allocation();
  process.exit(0);
}
compileTime();
sfzTime();
moves();
planTime();
await mix();
await kinds();
stage(row);
bounceBench(row);
checkBench(row, 40);
await allocation();
await engineAgainstNodes();
