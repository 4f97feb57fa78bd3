/** What oscillators and grains cost: engines that play many of them, for speed and for the heap. */
import { performance } from 'node:perf_hooks';
import { prepareSample } from '../src/core/dsp/sample';
import { compile } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import { prepare } from '../src/core/formats/prepare';
import { markAt, newLayer, newMover, newPatch, newRoute, newSound, newZone } from '../src/core/rig/defaults';
import type { Sound } from '../src/core/rig/schema';
import { testTone } from './lab';

const RATE = 48000;

/** The voice of the comparison: two oscillators, two voices of unison each, two filters. */
export const SYNTH_VOICE: Sound['params'] = {
  osc1Shape: 1,
  osc1Unison: 2,
  osc2Shape: 1,
  osc2Level: -6,
  osc2Unison: 2,
  filterKind: 1,
  cutoff: 3000,
  filter2Kind: 3,
  cutoff2: 80,
  attack: 0.01,
  sustain: -3,
};

function engineOf(sound: Sound, params: Sound['params'], count: number, moves: boolean): Engine {
  const audio = testTone(RATE, 4, 1, 220);
  const patch = {
    ...newPatch('p', 'p'),
    layers: [{ ...newLayer('l', 'l', 's', markAt(0)), params: { level: -40, ...params } }],
    ...(moves
      ? {
          movers: [{ ...newMover('lfo', 1, 'x') }],
          routes: [
            newRoute('a', 'lfo.1', sound.kind === 'synth' ? 'layer.l.osc1Position' : 'layer.l.grainPosition', 0.3),
            newRoute('b', 'cc.1', sound.kind === 'synth' ? 'layer.l.osc2PhaseMod' : 'layer.l.grainOverlap', 0.1),
          ],
        }
      : {}),
  };
  const program = compile(patch, {
    sounds: [sound],
    samples: [{ id: 'w', name: 'w', rate: RATE, channels: 1, frames: RATE * 4 }],
    keyLow: 21,
    keyHigh: 108,
    rate: RATE,
  });
  const engine = new Engine({ rate: RATE });
  for (const request of program.samples)
    engine.addSample(
      request.key,
      request.waves ? prepare(request) : prepareSample(audio, request.loop, request.levels, request.reverse),
    );
  engine.setProgram(program);
  for (let i = 0; i < count; i++)
    engine.handle({ type: 'noteOn', channel: 1 + (i >> 5), key: 30 + (i & 31), velocity: 100 });
  return engine;
}

export const synthEngine = (count: number, moves: boolean): Engine =>
  engineOf(
    { ...newSound('s', 's'), kind: 'synth' },
    { ...SYNTH_VOICE, ...(moves ? { osc1Shape: 0 } : {}) },
    count,
    moves,
  );
export const grainEngine = (count: number, overlap: number, moves = false): Engine =>
  engineOf(
    {
      ...newSound('s', 's', [
        { ...newZone('w', 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
      ]),
      kind: 'grains',
    },
    {
      grainLength: 0.2,
      grainOverlap: overlap,
      grainMost: 64,
      grainPitchScatter: 20,
      grainPanScatter: 50,
      grainPositionScatter: 10,
    },
    count,
    moves,
  );

/** Share of one core, in per cent. */
export function shareOf(engine: Engine, seconds = 3): number {
  const left = new Float32Array(128),
    right = new Float32Array(128);
  const blocks = (of: number) => {
    for (let i = 0; i < (of * RATE) / 128; i++) engine.process(left, right, 128);
  };
  blocks(1.5);
  const began = performance.now();
  blocks(seconds);
  return (performance.now() - began) / (10 * seconds);
}

/**
 * How many grains may sound at once within half of a core: counted and timed at some hundreds, and reckoned on from
 * there.
 */
export function grainsInHalfACore(): number {
  const engine = grainEngine(16, 32);
  const share = shareOf(engine, 2);
  const found = new Float32Array(4 * 4096);
  return (engine.readings.readGrains(found, 0, found.length) * 50) / share;
}
