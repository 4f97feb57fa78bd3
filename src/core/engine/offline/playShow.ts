import type { Take } from '../../music/take';
import type { Engine } from '../engine';
import type { PlayedProgram } from '../program/program';

const BLOCK = 128;

/**
 * Plays a take of a whole show from its start, and `tail` seconds on: each of its program changes puts the program of
 * that step before the engine, on its frame, with whatever is held ringing on. `programOf` gives the
 * program of a step, null where nothing changes (a pause). `each` is called after every {@link BLOCK} frames at the
 * most. The engine's latency stays in: it may differ from step to step.
 */
export function playShow(
  engine: Engine,
  programOf: (step: number) => PlayedProgram | null,
  take: Pick<Take, 'seconds' | 'events'>,
  tail: number,
  each: () => void = () => undefined,
): { left: Float32Array; right: Float32Array } {
  const frames = Math.ceil((take.seconds + tail) * engine.rate);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const first = engine.frame;
  const changes = take.events.flatMap(({ at, event }) =>
    event.type === 'program' ? [{ frame: Math.round(at * engine.rate), step: event.program }] : [],
  );
  let next = 0;
  let change = 0;
  for (let made = 0; made < frames;) {
    while (change < changes.length && changes[change].frame <= made) {
      const program = programOf(changes[change++].step);
      if (program) engine.setProgram(program);
    }
    const end = Math.min(frames, made + BLOCK, change < changes.length ? changes[change].frame : Infinity);
    for (; next < take.events.length && Math.round(take.events[next].at * engine.rate) < end; next++) {
      const { at, event } = take.events[next];
      if (event.type !== 'program') engine.handle(event, first + Math.round(at * engine.rate));
    }
    engine.process(left.subarray(made, end), right.subarray(made, end), end - made);
    each();
    made = end;
  }
  return { left, right };
}
