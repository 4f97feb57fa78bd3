import type { Take } from '../formats/midiFile';
import type { SourceId } from '../space/source';
import type { Engine } from './engine';
import type { EngineEvent } from './event';

/**
 * Plays a take from its start through an engine that has its program and samples, and `tail` seconds on. Sources in `set` are put there first, and events of the take that would
 * move them are left out. The limiter's delay is taken off, so that the result begins with the take.
 */
export function playTake(engine: Engine, take: Pick<Take, 'seconds' | 'events'>, tail: number, set: ReadonlyMap<SourceId, number> = new Map()): { left: Float32Array; right: Float32Array } {
  for (const [id, value] of set) {
    const [kind, index] = id.split('.');
    if (kind === 'cc') engine.handle({ type: 'controller', channel: 1, controller: Number(index), value });
    else if (kind === 'macro') engine.handle({ type: 'macro', number: Number(index), value });
    else if (kind === 'bend') engine.handle({ type: 'bend', channel: 1, bend: value });
    else if (kind === 'channelPressure') engine.handle({ type: 'channelPressure', channel: 1, pressure: value });
  }
  const { delay } = engine.limiter;
  const frames = Math.ceil((take.seconds + tail) * engine.rate) + delay;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const first = engine.frame;
  let next = 0;
  for (let made = 0; made < frames; made += BLOCK) {
    const end = Math.min(frames, made + BLOCK);
    for (; next < take.events.length && take.events[next].at * engine.rate < end; next++) {
      const { at, event } = take.events[next];
      if (!isHeld(event, set)) engine.handle(event, first + Math.round(at * engine.rate));
    }
    engine.process(left.subarray(made, end), right.subarray(made, end), end - made);
  }
  return { left: left.subarray(delay), right: right.subarray(delay) };
}

/** Events are handed over this far ahead: short enough that they never fill the engine's queue. */
const BLOCK = 128;

const isHeld = (event: EngineEvent, set: ReadonlyMap<SourceId, number>): boolean =>
  (event.type === 'controller' && set.has(`cc.${event.controller}`)) || (event.type === 'bend' && set.has('bend')) || (event.type === 'channelPressure' && set.has('channelPressure'));
