/**
 * Runs inside the browser page of the bench and of the browser tests: renders the engine's own worklet, or the
 * browser's own nodes,
 * in an OfflineAudioContext.
 */
import { prepareSample, type Audio } from '../src/core/dsp/sample';
import { prepare } from '../src/core/formats/prepare';
import { compile } from '../src/core/engine/program/compile';
import type { ClickSound } from '../src/core/engine/click';
import type { EngineEvent } from '../src/core/engine/hands/event';
import type { Program } from '../src/core/engine/program/program';
import { markAt, newLayer, newPatch, newSound, newZone } from '../src/core/rig/defaults';
import type { Layer, Patch, Route, Sound, Zone } from '../src/core/rig/schema';
import { PROCESSOR_NAME, engineNode, type FromEngine, type ToEngine } from '../src/host/protocol';

export interface Timed {
  event: EngineEvent;
  time: number;
}
export interface EngineRun {
  /**
   * One zone each: a single one lies over all keys with root 60; several lie one on each key from 0, moved by −10 … 5
   * semitones.
   */
  audio: readonly Audio[];
  zone?: Partial<Zone>;
  layer?: Partial<Layer>;
  routes?: Route[];
  events: Timed[];
  seconds: number;
  workletUrl: string;
  rate?: number;
  /** Connections of its mix. */
  patch?: Partial<Patch>;
  /** Played to eight channels: ids of pairs of the rig, the pair of channels of each and of the click. */
  outputs?: { pairs: string[]; map: number[]; click: number; sound: ClickSound | null };
}

/** How far the i-th of several zones is moved. */
export const semitonesOf = (i: number): number => (i % 16) - 10;

/** A patch of one layer that plays the audio. */
export function programFor({
  audio,
  zone = {},
  layer = {},
  routes = [],
  patch: rest = {},
  outputs,
}: Pick<EngineRun, 'audio' | 'zone' | 'layer' | 'routes' | 'patch' | 'outputs'>) {
  const samples = audio.map(({ rate, channels, data }, i) => ({
    id: `sample-${i}`,
    name: 'sample',
    rate,
    channels,
    frames: data.length / channels,
  }));
  const zones = samples.map(({ id }, i) =>
    samples.length > 1
      ? { ...newZone(id, i), tune: semitonesOf(i) * 100, ...zone }
      : { ...newZone(id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const }, ...zone },
  );
  const sound = { ...newSound('sound', 'sound'), zones };
  const patch = {
    ...newPatch('patch', 'patch'),
    ...rest,
    layers: [{ ...newLayer('layer', 'layer', 'sound', markAt(0)), ...layer }],
    routes,
  };
  return compile(patch, { sounds: [sound], samples, keyLow: 21, keyHigh: 108, pairs: outputs?.pairs });
}

/** What the worklet makes of the events, and how long it took; all channels, where there are more than two. */
export async function renderEngine(run: EngineRun): Promise<Rendered> {
  const program = programFor(run);
  const samples = program.samples.map((request) => ({
    key: request.key,
    sample: prepareSample(
      run.audio[Number(request.sampleId.split('-')[1])],
      request.loop,
      request.levels,
      request.reverse,
    ),
  }));
  return inWorklet(program, samples, run.events, run);
}

async function inWorklet(
  program: Program,
  samples: Extract<ToEngine, { type: 'samples' }>['samples'],
  events: readonly Timed[],
  { seconds, workletUrl, rate = 48000, outputs }: Pick<EngineRun, 'seconds' | 'workletUrl' | 'rate' | 'outputs'>,
): Promise<Rendered> {
  const channels = outputs ? 8 : 2;
  const context = new OfflineAudioContext(channels, rate * seconds, rate);
  context.destination.channelInterpretation = outputs ? 'discrete' : 'speakers';
  await context.audioWorklet.addModule(workletUrl);
  const alone = { seed: 1, maxVoices: 256, meters: null, scope: null, log: null, follows: false };
  const node = new AudioWorkletNode(context, PROCESSOR_NAME, engineNode({ ...alone, channels }));
  node.connect(context.destination);
  const heard = new Promise<void>((resolve, reject) => {
    node.port.onmessage = ({ data }: MessageEvent<FromEngine>) => {
      if (data.type === 'echo') resolve();
      else if (data.type === 'failed') reject(new Error(data.message));
    };
  });
  const say = (message: ToEngine) => node.port.postMessage(message);
  say({ type: 'samples', samples });
  say({ type: 'program', program, serial: 1 });
  if (outputs) {
    say({ type: 'outputs', map: outputs.map, click: outputs.click });
    say({ type: 'click', sound: outputs.sound });
  }
  for (const { event, time } of events) say({ type: 'event', event, time });
  say({ type: 'echo' });
  await heard;
  return timed(context);
}

/** Renders, and times what comes after the first quarter: by then everything is compiled, loaded and playing. */
async function timed(context: OfflineAudioContext): Promise<Rendered> {
  let began = performance.now();
  void context.suspend(context.length / context.sampleRate / 4).then(() => {
    began = performance.now();
    return context.resume();
  });
  const buffer = await context.startRendering();
  const channels = Array.from({ length: buffer.numberOfChannels }, (_, n) => buffer.getChannelData(n));
  return { left: channels[0], right: channels[1], channels, ms: performance.now() - began };
}
export interface Rendered {
  left: Float32Array;
  right: Float32Array;
  channels: Float32Array[];
  ms: number;
}

export interface NativeVoice {
  audio: Audio;
  semitones: number;
  cutoff: number;
  q: number;
  gain: number;
  pan: number;
  /** Low-pass when not said; {@link peakDb} is a peak's gain. */
  type?: 'lowpass' | 'highpass' | 'bandpass' | 'notch' | 'peaking';
  peakDb?: number;
  envelope?: { attack: number; decay: number; sustain: number };
}

/** The same job for the browser's own nodes: buffer source → biquad → gain → panner for each voice. */
export async function renderNative(
  voices: readonly NativeVoice[],
  seconds: number,
  rate = 48000,
): Promise<{ left: Float32Array; right: Float32Array; ms: number }> {
  const context = new OfflineAudioContext(2, rate * seconds, rate);
  const buffers = new Map(
    [...new Set(voices.map((voice) => voice.audio))].map((audio) => {
      const buffer = context.createBuffer(audio.channels, audio.data.length / audio.channels, audio.rate);
      for (let c = 0; c < audio.channels; c++)
        buffer.copyToChannel(
          audio.data.filter((_, i) => i % audio.channels === c),
          c,
        );
      return [audio, buffer] as const;
    }),
  );
  for (const voice of voices) {
    const source = new AudioBufferSourceNode(context, {
      buffer: buffers.get(voice.audio)!,
      playbackRate: 2 ** (voice.semitones / 12),
    });
    const filter = new BiquadFilterNode(context, {
      type: voice.type ?? 'lowpass',
      frequency: voice.cutoff,
      gain: voice.peakDb ?? 0,
      // Of low-pass and high-pass nodes Q is in dB, of all others as it is (Web Audio API).
      Q:
        voice.type === undefined || voice.type === 'lowpass' || voice.type === 'highpass'
          ? 20 * Math.log10(voice.q)
          : voice.q,
    });
    const gain = new GainNode(context, { gain: voice.gain });
    if (voice.envelope)
      gain.gain
        .setValueAtTime(0, 0)
        .linearRampToValueAtTime(voice.gain, voice.envelope.attack)
        .setTargetAtTime(voice.gain * voice.envelope.sustain, voice.envelope.attack, voice.envelope.decay / 5);
    const pan = new StereoPannerNode(context, { pan: voice.pan });
    source.connect(filter).connect(gain).connect(pan).connect(context.destination);
    source.start();
  }
  return timed(context);
}

/** Sines that never line up: every voice has work to do. */
export function testTone(rate: number, seconds: number, channels: 1 | 2, hz = 220): Audio {
  const data = new Float32Array(rate * seconds * channels);
  for (let i = 0; i < rate * seconds; i++)
    for (let c = 0; c < channels; c++)
      data[i * channels + c] = 0.5 * Math.sin((2 * Math.PI * hz * (1 + c * 0.01) * i) / rate);
  return { rate, channels, data };
}

/** The engine's worklet with a synth: so many notes of one layer. */
export async function renderSynth(
  params: Sound['params'],
  keys: readonly number[],
  seconds: number,
  workletUrl: string,
  rate = 48000,
): Promise<{ left: Float32Array; right: Float32Array; ms: number }> {
  const sound: Sound = { ...newSound('sound', 'sound'), kind: 'synth' };
  const program = compile(
    {
      ...newPatch('patch', 'patch'),
      layers: [
        { ...newLayer('layer', 'layer', 'sound', markAt(0)), params: { level: -30, velocityToLevel: 0, ...params } },
      ],
    },
    { sounds: [sound], samples: [], keyLow: 21, keyHigh: 108, rate },
  );
  const events = keys.map((key, i): Timed => ({
    event: { type: 'noteOn', channel: 1 + (i >> 5), key, velocity: 100 },
    time: 0,
  }));
  return inWorklet(
    program,
    program.samples.map((request) => ({ key: request.key, sample: prepare(request) })),
    events,
    { seconds, workletUrl, rate },
  );
}

/**
 * The same of the browser's own nodes: for each voice four oscillators, each with a panner and a detune, two biquads, a
 * gain.
 */
export async function renderNativeSynth(
  keys: readonly number[],
  seconds: number,
  rate = 48000,
): Promise<{ left: Float32Array; right: Float32Array; ms: number }> {
  const context = new OfflineAudioContext(2, rate * seconds, rate);
  for (const key of keys) {
    const low = new BiquadFilterNode(context, { type: 'lowpass', frequency: 3000, Q: -3 });
    const high = new BiquadFilterNode(context, { type: 'highpass', frequency: 80, Q: -3 });
    const gain = new GainNode(context, { gain: 0.01 });
    low.connect(high).connect(gain).connect(context.destination);
    for (const [detune, pan] of [
      [-7.5, -0.6],
      [7.5, 0.6],
      [-7.5, -0.6],
      [7.5, 0.6],
    ]) {
      const oscillator = new OscillatorNode(context, {
        type: 'sawtooth',
        frequency: 440 * 2 ** ((key - 69) / 12),
        detune,
      });
      oscillator.connect(new StereoPannerNode(context, { pan })).connect(low);
      oscillator.start();
    }
  }
  return timed(context);
}
