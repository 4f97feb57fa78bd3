/** What the engine's tests share: a steady signal or a tone played through a patch, looked at frame by frame. */
import { prepareSample, type Audio } from '../../src/core/dsp/sample';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../src/core/rig/defaults';
import type { Layer, Patch, RigPitch, Sound, Zone } from '../../src/core/rig/schema';
import { compile, type CompileContext } from '../../src/core/engine/program/compile';
import { Engine } from '../../src/core/engine/engine';
import type { EngineEvent } from '../../src/core/engine/hands/event';

export const RATE = 48000;
export const whole = { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const };
/** Ten seconds of a steady 1: what comes out is the gain itself. */
export const STEADY: Audio = { rate: RATE, channels: 1, data: new Float32Array(RATE * 10).fill(1) };
export const TONE: Audio = {
  rate: RATE,
  channels: 1,
  data: Float32Array.from({ length: RATE * 10 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 480 * i) / RATE)),
};

export interface Setup {
  audio?: Audio;
  layers?: Partial<Layer>[];
  patch?: Partial<Patch>;
  zones?: Partial<Zone>[];
  alternation?: Sound['alternation'];
  maxVoices?: number;
  seed?: number;
  ports?: string[];
  pitch?: RigPitch;
}

export function make({
  audio = STEADY,
  layers = [{}],
  patch = {},
  zones = [{ key: whole }],
  alternation = 'in-turn',
  ports,
  pitch,
}: Setup) {
  const sound: Sound = {
    ...newSound('s', 's'),
    alternation,
    zones: zones.map((zone) => ({ ...newZone('w', 60), ...zone })),
  };
  const full: Patch = {
    ...newPatch('p', 'p'),
    layers: layers.map((layer, i) => ({ ...newLayer(`l${i}`, `l${i}`, 's', markAt(i)), ...layer })),
    ...patch,
  };
  const context: CompileContext = {
    sounds: [sound],
    samples: [
      { id: 'w', name: 'w', rate: audio.rate, channels: audio.channels, frames: audio.data.length / audio.channels },
    ],
    keyLow: 39,
    keyHigh: 84,
    ports,
    pitch,
  };
  return { program: compile(full, context), patch: full, context, audio };
}

export function start(setup: Setup = {}): Engine {
  const { program, audio } = make(setup);
  const engine = new Engine({ rate: RATE, maxVoices: setup.maxVoices, seed: setup.seed });
  for (const { key, loop, levels, reverse } of program.samples)
    engine.addSample(key, prepareSample(audio, loop, levels, reverse));
  engine.setProgram(program);
  return engine;
}

export function render(engine: Engine, frames: number, block = frames): { left: Float32Array; right: Float32Array } {
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += block)
    engine.process(left.subarray(at, at + block), right.subarray(at, at + block), Math.min(block, frames - at));
  return { left, right };
}
/** Level at the end of some seconds; a mono voice in the middle stands 3 dB below its gain in each channel. */
export const levelAfter = (engine: Engine, seconds: number): number => {
  const { left } = render(engine, Math.round(seconds * RATE));
  return left[left.length - 1] * Math.SQRT2;
};
export const on = (key = 60, velocity = 127, channel = 1): EngineEvent => ({ type: 'noteOn', channel, key, velocity });
export const off = (key = 60, channel = 1): EngineEvent => ({ type: 'noteOff', channel, key, velocity: 64 });
export const cc = (controller: number, value: number, channel = 1): EngineEvent => ({
  type: 'controller',
  channel,
  controller,
  value,
});

/** The greatest sample, step from one to the next, and bend of three: where a click is, one of them is large. */
export const largest = (signal: Float32Array): number => signal.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
export const largestStep = (signal: Float32Array): number =>
  signal.reduce((most, x, i) => (i < 1 ? 0 : Math.max(most, Math.abs(x - signal[i - 1]))), 0);
export const largestBend = (signal: Float32Array): number =>
  signal.reduce((most, x, i) => (i < 2 ? 0 : Math.max(most, Math.abs(x - 2 * signal[i - 1] + signal[i - 2]))), 0);
