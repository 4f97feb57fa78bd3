/** Patches of everything at once, played: an engine with what they need, and what is wrong with how they sound. */
import { Chance } from '../../src/core/dsp/chance';
import { prepareSample } from '../../src/core/dsp/sample';
import { Engine } from '../../src/core/engine/engine';
import type { EngineEvent } from '../../src/core/engine/hands/event';
import type { Program } from '../../src/core/engine/program/program';
import { prepare } from '../../src/core/formats/prepare';
import { anyActs, anyOf, anyPatch, IMPULSE, programOf, RECORDING, type Act } from './company';
import { RATE } from './engine';

/**
 * An engine with all samples of some programs. `isReady`: all it may need is made before, as where sound is made live;
 * else when it is wanted.
 */
export function engineWith(
  programs: readonly Program[],
  maxVoices = 24,
  seed = 5,
  isReady = true,
  rate = RATE,
): Engine {
  const engine = new Engine({ rate, maxVoices, seed });
  if (isReady) engine.prepareKinds();
  const added = new Set<string>();
  for (const program of programs) {
    for (const request of program.samples) {
      if (added.has(request.key)) continue;
      added.add(request.key);
      engine.addSample(request.key, prepared(request));
    }
  }
  return engine;
}
const cache = new Map<string, ReturnType<typeof prepare>>();
function prepared(request: Program['samples'][number]): ReturnType<typeof prepare> {
  const known = cache.get(request.key);
  if (known) return known;
  const audio = request.sampleId === 'impulse' ? IMPULSE : RECORDING;
  const made = request.waves ? prepare(request) : prepareSample(audio, request.loop, request.levels, request.reverse);
  cache.set(request.key, made);
  return made;
}

/** Somebody who sings into the input, and breathes. */
const voiceOf = (frames: number): Float32Array =>
  Float32Array.from({ length: frames }, (_, i) =>
    i % 12000 < 9000 ? 0.2 * Math.sin((2 * Math.PI * 197 * i) / RATE) + 0.02 * Math.sin(i * i * 0.3) : 0,
  );

/** Plays acts in blocks of some size. Faults are what had to be put to rest. */
export function playActs(
  program: Program,
  acts: readonly Act[],
  frames: number,
  block: number,
  { maxVoices = 24, isReady = true, rate = RATE } = {},
): { left: Float32Array; right: Float32Array; phones: Float32Array; engine: Engine } {
  const programs = [program, ...acts.flatMap((act) => ('program' in act ? [act.program] : []))];
  const engine = engineWith(programs, maxVoices, 5, isReady, rate);
  engine.outputs.map([0, 1]);
  engine.setProgram(program);
  const left = new Float32Array(frames),
    right = new Float32Array(frames);
  const beside = [new Float32Array(frames), new Float32Array(frames)];
  const input = voiceOf(frames);
  let done = 0;
  const goTo = (frame: number) => {
    while (done < frame) {
      const count = Math.min(block, frame - done);
      const cut = (channel: Float32Array) => channel.subarray(done, done + count);
      engine.process(cut(left), cut(right), count, beside.map(cut), cut(input), cut(input));
      done += count;
    }
  };
  // Events are told ahead, up to the next edit, as a take tells them.
  for (let n = 0; n < acts.length; n++) {
    const act = acts[n];
    if ('program' in act) {
      goTo(act.at);
      engine.setProgram(act.program);
    } else if (n === 0 || 'program' in acts[n - 1]) {
      goTo(act.at);
      for (let m = n; m < acts.length && !('program' in acts[m]); m++)
        engine.handle((acts[m] as { event: EngineEvent }).event, Math.max(engine.frame, acts[m].at));
    }
  }
  goTo(frames);
  return { left, right, phones: beside[0], engine };
}

export const CUTS = [1, 7, 32, 33, 128, 441];

/** How a patch by chance is tried: how long, in which blocks, how much is done to it. */
export interface Trial {
  frames?: number;
  cuts?: readonly number[];
  count?: number;
  edits?: number;
  maxVoices?: number;
  rate?: number;
  /** What else is asked of the engine that has played it. */
  ended?: (engine: Engine) => string | undefined;
}

/** What is wrong with a patch by chance, played in blocks of several sizes; undefined: nothing is. */
export function whatIsWrong(
  seed: number,
  { frames = 16000, cuts = CUTS, count, edits, rate, maxVoices: most, ended = () => undefined }: Trial = {},
): string | undefined {
  const chance = new Chance(77 + seed * 104729);
  const patch = anyPatch(seed);
  const other = anyPatch(seed + 500000, 'q');
  const program = programOf(patch, rate);
  if (!program) return `patch ${seed} cannot be compiled`;
  const acts = anyActs(patch, other, frames, chance, { count, edits, rate });
  const maxVoices = most ?? anyOf([4, 12, 24, 64], chance);
  try {
    const whole = playActs(program, acts, frames, 8192, { maxVoices, rate });
    if (whole.engine.faultCount > 0)
      return `patch ${seed}: “${whole.engine.lastFault}” was no number ${whole.engine.faultCount} times`;
    const channels = ['left', 'right', 'phones'] as const;
    for (const channel of channels) {
      const bad = whole[channel].findIndex((x) => !(Math.abs(x) <= 1));
      if (bad >= 0) return `patch ${seed}: frame ${bad} of ${channel} is ${whole[channel][bad]}`;
    }
    for (const cut of cuts) {
      // Every second time voices and rooms are made when they are wanted: that changes nothing either.
      const now = playActs(program, acts, frames, cut, { maxVoices, isReady: cut % 2 === 1, rate });
      for (const channel of channels) {
        const at = now[channel].findIndex((x, i) => x !== whole[channel][i]);
        if (at >= 0)
          return (
            `patch ${seed}: in blocks of ${cut} ${channel} differs from frame ${at} on ` +
            `(${now[channel][at]} for ${whole[channel][at]})`
          );
      }
    }
    const after = ended(whole.engine);
    if (after) return `patch ${seed}: ${after}`;
  } catch (error) {
    return `patch ${seed}: ${(error as Error).stack}`;
  }
  return undefined;
}
