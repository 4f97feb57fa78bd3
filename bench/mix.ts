/**
 * What the mix costs: each effect's share of one core, what all of them put on the heap, and each demo patch with
 * sixteen notes.
 */
import { existsSync, readFileSync } from 'node:fs';
import { performance } from 'node:perf_hooks';
import { prepareSample } from '../src/core/dsp/sample';
import { EFFECTS } from '../src/core/effects';
import { roomAlone } from '../src/core/effects/picture';
import { compile, contextOf } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import { readArchive } from '../src/core/formats/rigArchive';
import { prepare } from '../src/core/formats/prepare';
import { needsNoFile } from '../src/core/sounds/synth/tableIds';
import { newEffect, newPool } from '../src/core/rig/defaults';
import type { EffectSpec, Patch } from '../src/core/rig/schema';
import { programFor, testTone } from './lab';
import { median } from './row';

const RATE = 48000;
const SECONDS = 4;

/**
 * By effect, its share of one core in per cent, on noise; those that listen have something to listen to, the
 * convolution a recording of two seconds.
 */
export function shares(): { id: string; share: number }[] {
  let seed = 1;
  const noise = Float32Array.from({ length: RATE * (SECONDS + 1) }, () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) | 0;
    return seed / 2 ** 32;
  });
  return EFFECTS.map((kind) => {
    const impulse = kind.impulse
      ? prepareSample(
          { rate: RATE, channels: 2, data: noise.slice(0, RATE * 4).map((x, i) => 0.05 * x * Math.exp(-i / 40000)) },
          null,
        )
      : null;
    const effect = kind.make({
      rate: RATE,
      seed: 1,
      room: roomAlone(kind, RATE),
      time: Float64Array.of(0, 2 / RATE),
      key: Float64Array.of(60),
      cents: new Float64Array(128),
      steps: new Float64Array(33),
      side: kind.listens ? { left: noise, right: noise } : null,
      impulse,
    });
    const values = Float64Array.from(Object.values(kind.parameters), (parameter) => parameter.default);
    // Four bells: an equaliser that does nothing costs nothing.
    if (kind.id === 'equaliser') for (let band = 0; band < 4; band++) values[1 + 5 * band] = 5;
    effect.aim(values);
    const left = noise.slice(),
      right = noise.slice();
    let at = 0;
    for (; at < RATE; at += 32) effect.process(left, right, at, at + 32);
    const began = performance.now();
    for (; at < left.length; at += 32) effect.process(left, right, at, at + 32);
    return { id: kind.id, share: (performance.now() - began) / (10 * SECONDS) };
  });
}

/** A patch in which every effect works, on shared effects that one layer sends to; a route moves a value of each. */
export function everyEffect(): Engine {
  const audio = [testTone(RATE, 2, 1, 220)];
  const effects = EFFECTS.map(({ id }, i): EffectSpec => ({ ...newEffect(`effect-${i}`, id), listens: null }));
  const pools: Patch['pools'] = Array.from({ length: 8 }, (_, p) =>
    newPool(
      `pool-${p}`,
      `${p}`,
      effects.filter((_each, i) => i % 8 === p),
    ),
  );
  const patch: Partial<Patch> = {
    pools,
    connections: pools.map(({ id }) => ({
      id: `send-${id}`,
      kind: 'send',
      from: 'layer.layer',
      to: `pool.${id}`,
      level: -20,
      on: true,
      tap: 'after',
    })),
    routes: effects.map(({ id, kind }, i) => ({
      id: `route-${i}`,
      source: 'cc.1',
      target: `${kind}.${id}.${Object.keys(EFFECTS.find((each) => each.id === kind)!.parameters)[0]}`,
      depth: -0.3,
      curve: 'linear',
      on: true,
      polarity: 'as-is',
      bound: false,
      counts: 'last',
    })),
  };
  const program = programFor({
    audio,
    zone: { loop: { start: 0, end: 96000, crossfade: 0, until: 'end' } },
    routes: [...(patch.routes ?? [])],
    patch,
  });
  const engine = new Engine({ rate: RATE });
  program.samples.forEach((request) =>
    engine.addSample(request.key, prepareSample(audio[0], request.loop, request.levels, request.reverse)),
  );
  engine.setProgram(program);
  engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
  return engine;
}

/**
 * By patch of a rig that comes along, its share of one core in per cent with sixteen notes held. Empty where it has not
 * been built.
 */
export function demoShares(path = 'build/demo/perigee-tide.wavicle'): { name: string; share: number }[] {
  if (!existsSync(path)) return [];
  const { rig, wavs } = readArchive(readFileSync(path));
  return rig.patches.map((patch) => {
    const program = compile(patch, contextOf(rig));
    const samples = program.samples.map((request) => ({
      key: request.key,
      sample: prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!),
    }));
    const left = new Float32Array(128),
      right = new Float32Array(128);
    /** Milliseconds of some seconds after a second with sixteen notes struck. */
    const play = (seconds: number): number[] => {
      const engine = new Engine({ rate: RATE });
      for (const { key, sample } of samples) engine.addSample(key, sample);
      engine.setProgram(program);
      for (let i = 0; i < 16; i++) engine.handle({ type: 'noteOn', channel: 1, key: 40 + 3 * i, velocity: 90 });
      return Array.from({ length: seconds + 1 }, () => {
        const began = performance.now();
        for (let i = 0; i < 375; i++) engine.process(left, right, 128);
        return performance.now() - began;
      }).slice(1);
    };
    // Until everything is compiled, which takes the machine's other core, nothing is measured.
    play(3);
    return { name: patch.name, share: median(play(3)) / 10 };
  });
}
