import type { Audio } from '../dsp/sample';
import type { Prepared } from '../dsp/prepared';
import { Engine } from '../engine/engine';
import { playTake } from '../engine/offline/playTake';
import type { Program } from '../engine/program/program';
import { TICK } from '../engine/program/tick';
import { interleaved } from '../measure/level';
import { findLoops } from '../measure/loop';
import type { ZoneLoop } from '../rig/schema';
import type { BounceSettings, BounceStrike, BounceTarget } from './plan';

export const BOUNCE_RATE = 48000;
/** A tail ends where it stays this far below the loudest moment (dB), for so long. */
const SILENCE_DB = -72;
const QUIET_SECONDS = 0.25;
/** The cut at the end is softened over so many seconds. */
const FADE_SECONDS = 0.005;
const BLOCK = 128;
const RAMP = TICK;
/** One place alone fades in when it is asked for. */
const LISTEN_SECONDS = 0.05;
const STEP_SECONDS = 0.5;

/** What a strike sounds like from its first frame to the end of its tail; a loop where one was wished and found. */
export interface RenderedStrike {
  audio: Audio;
  loop: ZoneLoop | null;
  peak: number;
}

/** Renders one strike of a target by itself, deterministically: each alternate is a draw with a seed of its own. */
export function renderStrike(
  program: Program,
  samples: readonly { key: string; sample: Prepared }[],
  target: Pick<BounceTarget, 'solo' | 'listen'>,
  settings: BounceSettings,
  { key, velocity, alternate }: BounceStrike,
): RenderedStrike {
  const engine = new Engine({ rate: BOUNCE_RATE, seed: 1 + alternate });
  for (const { key: name, sample } of samples) engine.addSample(name, sample);
  engine.setProgram(program);
  if (target.solo.length > 0) engine.handle({ type: 'solo', layerIds: target.solo });
  if (target.listen !== null) {
    engine.handle({ type: 'listen', to: { kind: 'place', id: target.listen } });
    const quiet = new Float32Array(BLOCK);
    for (let at = 0; at < LISTEN_SECONDS * BOUNCE_RATE; at += BLOCK) engine.process(quiet, quiet, BLOCK);
  }
  const held = playTake(
    engine,
    { seconds: settings.seconds, events: [{ at: 0, event: { type: 'noteOn', channel: 1, key, velocity } }] },
    0,
    new Map(Object.entries(settings.set)),
  );
  const pieces: Float32Array[][] = [[held.left, held.right]];
  let peak = greatest(held.left, held.right);
  // The engine has gone on by its latency while it was held: the key is let go right where the piece ends.
  engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 });
  let quiet = 0;
  const step = Math.round(STEP_SECONDS * BOUNCE_RATE);
  for (let tail = 0; tail < settings.longestTail * BOUNCE_RATE && quiet < QUIET_SECONDS * BOUNCE_RATE; tail += step) {
    const left = new Float32Array(step);
    const right = new Float32Array(step);
    for (let at = 0; at < step; at += BLOCK) {
      const end = Math.min(step, at + BLOCK);
      engine.process(left.subarray(at, end), right.subarray(at, end), end - at);
    }
    pieces.push([left, right]);
    peak = Math.max(peak, greatest(left, right));
    const floor = peak * 10 ** (SILENCE_DB / 20);
    let last = -1;
    for (let i = step - 1; i >= 0 && last < 0; i--)
      if (Math.abs(left[i]) > floor || Math.abs(right[i]) > floor) last = i;
    quiet = last < 0 ? quiet + step : step - 1 - last;
  }
  const [left, right] = [0, 1].map((side) => joined(pieces.map((piece) => piece[side])));
  const floor = peak * 10 ** (SILENCE_DB / 20);
  let end = left.length;
  while (end > 1 && Math.abs(left[end - 1]) <= floor && Math.abs(right[end - 1]) <= floor) end--;
  takeBackLead(left, right);
  const audio = soften(
    settings.stereo ? interleaved(left.subarray(0, end), right.subarray(0, end), BOUNCE_RATE) : mono(left, right, end),
  );
  const loop = settings.loop ? loopIn(audio, settings.seconds) : null;
  if (!loop) return { audio, loop: null, peak };
  // What lies behind the loop is never played.
  const kept = Math.min(audio.data.length / audio.channels, loop.end + 1);
  return { audio: { ...audio, data: audio.data.slice(0, kept * audio.channels) }, loop, peak };
}

/**
 * Every voice comes in over {@link RAMP} frames, as a straight line, and so will those that play this recording: what
 * it has had already is taken back.
 */
function takeBackLead(left: Float32Array, right: Float32Array): void {
  for (let i = 0; i < RAMP - 1 && i < left.length; i++) {
    left[i] *= RAMP / (i + 1);
    right[i] *= RAMP / (i + 1);
  }
}

function greatest(left: Float32Array, right: Float32Array): number {
  let most = 0;
  for (let i = 0; i < left.length; i++) most = Math.max(most, Math.abs(left[i]), Math.abs(right[i]));
  return most;
}

function joined(pieces: readonly Float32Array[]): Float32Array {
  const out = new Float32Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

const mono = (left: Float32Array, right: Float32Array, frames: number): Audio => ({
  rate: BOUNCE_RATE,
  channels: 1,
  data: Float32Array.from({ length: frames }, (_, i) => (left[i] + right[i]) / 2),
});

function soften({ rate, channels, data }: Audio): Audio {
  const frames = data.length / channels;
  const fade = Math.min(frames, Math.round(FADE_SECONDS * rate));
  for (let i = 0; i < fade; i++) for (let c = 0; c < channels; c++) data[(frames - 1 - i) * channels + c] *= i / fade;
  return { rate, channels, data };
}

/** Where in what is held a loop may lie, as shares of it, and how good it must be. */
const LOOP_FROM = 0.45,
  LOOP_TO = 0.95,
  ALIKE = 0.9,
  LEAST_SECONDS = 0.15,
  CROSSFADE_SECONDS = 0.03;
/** A sound that falls by more than this from the beginning of the loop to its end would pump in it. */
const MOST_FALL_DB = 1.5;

/**
 * A loop in the held stretch of a recording, crossfaded; null where it dies away, or nothing in it resembles itself.
 */
export function loopIn(audio: Audio, seconds: number): ZoneLoop | null {
  const frames = Math.min(audio.data.length / audio.channels, Math.round(seconds * audio.rate));
  const from = Math.round(frames * LOOP_FROM);
  const to = Math.round(frames * LOOP_TO);
  if (to - from < LEAST_SECONDS * audio.rate) return null;
  const power = (at: number): number => {
    const length = Math.round(0.1 * audio.rate);
    let sum = 0;
    for (let i = Math.max(0, at - length) * audio.channels; i < Math.min(frames, at) * audio.channels; i++)
      sum += audio.data[i] ** 2;
    return sum;
  };
  if (Math.abs(10 * Math.log10((power(from) + 1e-12) / (power(to) + 1e-12))) > MOST_FALL_DB) return null;
  const found = findLoops(audio, from, to, Math.round(0.12 * audio.rate), 3).filter(
    ({ start, end, quality }) => quality.correlation >= ALIKE && end - start >= LEAST_SECONDS * audio.rate,
  );
  const best = found[0];
  return best
    ? {
        start: best.start,
        end: best.end,
        crossfade: Math.min(best.start, Math.round(CROSSFADE_SECONDS * audio.rate), (best.end - best.start) >> 1),
        until: 'end',
      }
    : null;
}
