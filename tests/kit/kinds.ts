/** What tests of synths and grains share: one layer with such a sound, played and looked at by its spectrum. */
import FFT from 'fft.js';
import { compile } from '../../src/core/engine/program/compile';
import { Engine } from '../../src/core/engine/engine';
import type { EngineEvent } from '../../src/core/engine/hands/event';
import { prepare } from '../../src/core/formats/prepare';
import { prepareSample, type Audio } from '../../src/core/dsp/sample';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../src/core/rig/defaults';
import type { Layer, Patch, Sound, Zone } from '../../src/core/rig/schema';

export const RATE = 48000;
const everywhere = { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const };

export interface KindSetup {
  sound?: Partial<Sound>;
  zone?: Partial<Zone>;
  layer?: Partial<Layer>;
  patch?: Partial<Patch>;
  audio?: Audio;
  seed?: number;
  rate?: number;
}

/** An engine that plays one sound, at the same level for every velocity. */
export function engineFor({
  sound = {},
  zone = {},
  layer = {},
  patch = {},
  audio,
  seed,
  rate = RATE,
}: KindSetup): Engine {
  const full: Sound = {
    ...newSound('s', 's', audio ? [{ ...newZone('w', 60), key: everywhere, ...zone }] : []),
    kind: audio ? 'grains' : 'synth',
    ...sound,
  };
  const program = compile(
    {
      ...newPatch('p', 'p'),
      layers: [
        {
          ...newLayer('l', 'l', 's', markAt(0)),
          ...layer,
          params: { velocityToLevel: 0, ...full.params, ...layer.params },
        },
      ],
      ...patch,
    },
    {
      sounds: [full],
      samples: audio
        ? [
            {
              id: 'w',
              name: 'w',
              rate: audio.rate,
              channels: audio.channels,
              frames: audio.data.length / audio.channels,
            },
          ]
        : [],
      keyLow: 21,
      keyHigh: 108,
      rate,
    },
  );
  const engine = new Engine({ rate, seed });
  for (const request of program.samples)
    engine.addSample(
      request.key,
      request.waves ? prepare(request) : prepareSample(audio!, request.loop, request.levels, request.reverse),
    );
  engine.setProgram(program);
  return engine;
}

export interface Played {
  left: Float32Array;
  right: Float32Array;
}

/** Plays events at their seconds; by itself one note that goes on. */
export function play(
  setup: KindSetup,
  key: number,
  seconds: number,
  events: { at: number; event: EngineEvent }[] = [],
  block = 4096,
): Played {
  const engine = engineFor(setup);
  const rate = setup.rate ?? RATE;
  const all = [{ at: 0, event: { type: 'noteOn' as const, channel: 1, key, velocity: 127 } }, ...events];
  for (const { at, event } of all) engine.handle(event, Math.round(at * rate));
  const frames = Math.round(seconds * rate) + engine.latency;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let from = 0; from < frames; from += block) {
    const to = Math.min(frames, from + block);
    engine.process(left.subarray(from, to), right.subarray(from, to), to - from);
  }
  return { left: left.subarray(engine.latency), right: right.subarray(engine.latency) };
}

export const db = (x: number): number => 20 * Math.log10(x + 1e-12);
export const rms = (x: Float32Array, from = 0, to = x.length): number =>
  Math.sqrt(x.subarray(from, to).reduce((sum, y) => sum + y * y, 0) / (to - from));
export const hzOf = (key: number): number => 440 * 2 ** ((key - 69) / 12);

/**
 * Amplitude of one frequency over some frames, by projection under a Blackman-Harris window, which keeps others 92 dB
 * away.
 */
export function amplitudeAt(x: Float32Array, hz: number, from = 24000, count = 65536, rate = RATE): number {
  let re = 0,
    im = 0,
    sum = 0;
  for (let i = 0; i < count; i++) {
    const t = (2 * Math.PI * i) / count;
    const w = 0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t);
    const angle = (2 * Math.PI * hz * i) / rate;
    re += w * x[from + i] * Math.cos(angle);
    im += w * x[from + i] * Math.sin(angle);
    sum += w;
  }
  return (2 * Math.hypot(re, im)) / sum;
}

/** The spectrum of some frames, in bins of rate / size. */
export function spectrumOf(x: Float32Array, from = 24000, size = 65536): Float64Array {
  const fft = new FFT(size);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(
    out,
    Array.from({ length: size }, (_, i) => {
      const t = (2 * Math.PI * i) / size;
      return (
        (x[from + i] ?? 0) * (0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t))
      );
    }),
  );
  return Float64Array.from(
    { length: size / 2 },
    (_, k) => Math.hypot(out[2 * k], out[2 * k + 1]) / ((size * 0.35875) / 2),
  );
}

/** The greatest amplitude that lies on no harmonic of a frequency, and the greatest of all. */
export function besideHarmonics(x: Float32Array, hz: number, size = 65536): { alias: number; most: number } {
  const spectrum = spectrumOf(x, 24000, size);
  let alias = 0;
  let most = 0;
  for (let k = 4; k < spectrum.length; k++) {
    const at = (k * RATE) / size;
    most = Math.max(most, spectrum[k]);
    const nearest = Math.round(at / hz);
    if (nearest >= 1 && Math.abs(at - nearest * hz) < 6 * (RATE / size)) continue;
    alias = Math.max(alias, spectrum[k]);
  }
  return { alias, most };
}

/** A pitch to a hundredth of a cent, by how far a tone's phase goes between two stretches. */
export function hzNear(x: Float32Array, hz: number, from = 12000, apart = 48000, count = 8192): number {
  const phaseAt = (first: number) => {
    let re = 0,
      im = 0;
    for (let i = 0; i < count; i++) {
      const w = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / count);
      const angle = (2 * Math.PI * hz * (first + i)) / RATE;
      re += w * x[first + i] * Math.cos(angle);
      im += w * x[first + i] * Math.sin(angle);
    }
    return Math.atan2(re, im);
  };
  // What the tone gains on `hz` over the distance; both are near enough that it is less than half a turn.
  let turn = phaseAt(from + apart) - phaseAt(from);
  turn -= 2 * Math.PI * Math.round(turn / (2 * Math.PI));
  return hz + (turn * RATE) / (2 * Math.PI * apart);
}
