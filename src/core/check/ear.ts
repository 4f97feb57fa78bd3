import type { Prepared } from '../dsp/prepared';
import { compile, contextOf } from '../engine/program/compile';
import { Engine } from '../engine/engine';
import { playTake } from '../engine/offline/playTake';
import type { Program, SampleRequest } from '../engine/program/program';
import type { Recording } from '../measure/recording';
import type { Take } from '../music/take';
import { withoutEffects } from '../rig/mix';
import type { Layer, Patch, Rig } from '../rig/schema';
import { parseSource, type SourceId } from '../space/source';
import type { LoopHeard } from './heard';

export const RATE = 48000;
const STRIKE_SECONDS = 0.45;
/** Voices that a single strike may take. */
const STRIKE_VOICES = 32;

/**
 * What is listened to, and where its samples come from; what is not there is passed over. `recording` and `loop`
 * measure what has no need of the engine. `clock` gives milliseconds. `told` hears how far it is, 0…1, and ends it by
 * false.
 */
export interface Listening {
  rig: Rig;
  patch: Patch;
  take: Pick<Take, 'seconds' | 'events'>;
  recording: (sampleId: string, pitched: boolean) => Recording | undefined;
  loop: (sampleId: string, loop: { start: number; end: number; crossfade: number }) => LoopHeard | undefined;
  prepared: (request: SampleRequest) => Prepared | undefined;
  clock: () => number;
  told?: (share: number) => boolean;
}

/** Plays strikes of layers, without effects unless they are wanted. */
export class Ear {
  strikes = 0;
  private readonly made = new Map<Patch, Program>();
  private readonly dried = new Map<Patch, Patch>();

  constructor(private readonly listening: Listening) {}

  /** `rig`: another than that which is listened to, for which nothing is kept. */
  program(patch: Patch = this.listening.patch, rig: Rig = this.listening.rig): Program {
    const own = rig === this.listening.rig;
    const known = own ? this.made.get(patch) : undefined;
    if (known) return known;
    const program = compile(patch, contextOf(rig, RATE));
    if (own) this.made.set(patch, program);
    return program;
  }

  private dry(patch: Patch): Patch {
    const known = this.dried.get(patch);
    if (known) return known;
    const bare = withoutEffects(patch);
    this.dried.set(patch, bare);
    return bare;
  }

  samples(program: Program): { key: string; sample: Prepared }[] {
    return program.samples.flatMap((request) => {
      const sample = this.listening.prepared(request);
      return sample ? [{ key: request.key, sample }] : [];
    });
  }

  engine(patch?: Patch, maxVoices?: number, rig?: Rig): Engine {
    const engine = new Engine({ rate: RATE, maxVoices });
    const program = this.program(patch, rig);
    for (const { key, sample } of this.samples(program)) engine.addSample(key, sample);
    engine.setProgram(program);
    return engine;
  }

  /**
   * What a strike of some layers sounds like by itself. `set`: where sources stand. Each has an engine of its own, so
   * that nothing depends on strikes before.
   */
  strike(
    layerIds: readonly string[],
    key: number,
    velocity: number,
    {
      seconds = STRIKE_SECONDS,
      set = new Map(),
      patch = this.listening.patch,
      of,
    }: { seconds?: number; set?: ReadonlyMap<SourceId, number>; patch?: Patch; of?: Rig } = {},
  ): Float32Array[] {
    this.strikes++;
    const engine = this.engine(this.dry(patch), STRIKE_VOICES, of);
    engine.handle({ type: 'solo', layerIds });
    const { left, right } = playTake(
      engine,
      { seconds, events: [{ at: 0, event: { type: 'noteOn', channel: 1, key, velocity } }] },
      0,
      set,
    );
    return [left, right];
  }
}

/** Sources other than key and velocity where a layer is heard: each of its windows at its middle. */
export function openFor(patch: Patch, layers: readonly Layer[]): Map<SourceId, number> {
  const set = new Map<SourceId, number>();
  for (const layer of layers) {
    for (const window of [...layer.windows, ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? [])]) {
      const source = parseSource(window.source);
      if (
        source &&
        window.source !== 'key' &&
        window.source !== 'velocity' &&
        /^(cc|macro|xy|bend|channelPressure)/.test(window.source) &&
        !set.has(window.source)
      )
        set.set(window.source, (window.low + window.fadeIn + window.high - window.fadeOut) / 2);
    }
  }
  return set;
}
