import type { Take } from '../formats/midiFile';
import type { SourceId } from '../space/source';
import type { Engine } from './engine';

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
  const frames = Math.ceil((take.seconds + tail) * engine.rate);
  const left = new Float32Array(frames + delay);
  const right = new Float32Array(frames + delay);
  const first = engine.frame;
  let made = 0;
  const processTo = (end: number) => {
    if (end > made) engine.process(left.subarray(made, end), right.subarray(made, end), end - made);
    made = Math.max(made, end);
  };
  for (const { at, event } of take.events) {
    if (event.type === 'controller' && set.has(`cc.${event.controller}`)) continue;
    if (event.type === 'bend' && set.has('bend')) continue;
    const frame = Math.round(at * engine.rate);
    processTo(Math.min(frame, frames));
    engine.handle(event, first + frame);
  }
  processTo(frames + delay);
  return { left: left.subarray(delay), right: right.subarray(delay) };
}
