import type { Take } from '../../music/take';
import { CHANNELS } from '../hands/controllers';
import type { SourceId } from '../../space/source';
import type { Engine } from '../engine';

/**
 * Plays a take from its start through an engine that has its program and samples, and `tail` seconds on. Sources in
 * `set` are put there first, on every channel; what the take
 * itself moves goes on from there. `each` is called after every {@link BLOCK} frames.
 * The engine's latency is taken off, so that the result begins with the take.
 */
export function playTake(
  engine: Engine,
  take: Pick<Take, 'seconds' | 'events'>,
  tail: number,
  set: ReadonlyMap<SourceId, number> = new Map(),
  each: () => void = () => undefined,
  input: { left: Float32Array; right: Float32Array } | null = null,
): { left: Float32Array; right: Float32Array; beside: Float32Array[] } {
  for (const [id, value] of set) {
    const [kind, index] = id.split('.');
    if (kind === 'xy') {
      const { dots } = engine.controllers;
      const at = 2 * Number(index);
      const other = (axis: 0 | 1) => (Number.isNaN(dots[at + axis]) ? 0.5 : dots[at + axis]);
      engine.handle({
        type: 'xy',
        number: Number(index),
        x: id.endsWith('.x') ? value : other(0),
        y: id.endsWith('.y') ? value : other(1),
      });
    }
    if (kind === 'macro') engine.handle({ type: 'macro', number: Number(index), value });
    for (let channel = 1; channel < CHANNELS; channel++) {
      if (kind === 'cc') engine.handle({ type: 'controller', channel, controller: Number(index), value });
      else if (kind === 'bend') engine.handle({ type: 'bend', channel, bend: value });
      else if (kind === 'channelPressure') engine.handle({ type: 'channelPressure', channel, pressure: value });
    }
  }
  const delay = engine.latency;
  const frames = Math.ceil((take.seconds + tail) * engine.rate) + delay;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  // What goes to other pairs than the first, left and right in turn.
  const beside = Array.from({ length: 2 * (engine.outputs.count - 1) }, () => new Float32Array(frames));
  const first = engine.frame;
  let next = 0;
  for (let made = 0; made < frames; made += BLOCK) {
    const end = Math.min(frames, made + BLOCK);
    for (; next < take.events.length && take.events[next].at * engine.rate < end; next++) {
      const { at, event } = take.events[next];
      engine.handle(event, first + Math.round(at * engine.rate));
    }
    engine.process(
      left.subarray(made, end),
      right.subarray(made, end),
      end - made,
      beside.map((channel) => channel.subarray(made, end)),
      input && heardFrom(input.left, made, end),
      input && heardFrom(input.right, made, end),
    );
    each();
  }
  return {
    left: left.subarray(delay),
    right: right.subarray(delay),
    beside: beside.map((channel) => channel.subarray(delay)),
  };
}

/** Frames of an input; silence after its end. */
function heardFrom(input: Float32Array, from: number, to: number): Float32Array {
  if (to <= input.length) return input.subarray(from, to);
  const frames = new Float32Array(to - from);
  frames.set(input.subarray(Math.min(from, input.length), Math.min(to, input.length)));
  return frames;
}

/** Events are handed over this far ahead: short enough that they never fill the engine's queue. */
const BLOCK = 128;
