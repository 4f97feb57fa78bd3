import { isWaves, type Prepared } from '../../dsp/prepared';
import type { PreparedSample } from '../../dsp/sample';
import type { WaveSet } from '../../dsp/waves';
import type { PlayedProgram } from '../program/program';
import { type VoicePool } from '../voice/voicePool';

import type { SoundingPatch } from './soundingPatch';

/** The patch that plays, and those that ring out. */
interface Sounding {
  readonly present: SoundingPatch | null;
  readonly ringing: readonly SoundingPatch[];
}

/** The samples and waves that programs find by the keys of their requests. */
export class Bank {
  readonly samples = new Map<string, PreparedSample>();
  private readonly waves = new Map<string, WaveSet>();

  constructor(
    private readonly pool: VoicePool,
    private readonly patches: Sounding,
  ) {}

  /**
   * Puts a sample where programs find it by the key of their request. A sample that arrives late is heard from the next
   * strike on.
   */
  add(key: string, sample: Prepared): void {
    const { present } = this.patches;
    if (isWaves(sample)) {
      this.waves.set(key, sample);
      // Laid down as soon as they come, while there is room: a change of patch then copies nothing.
      if (present?.program.waveKeys.includes(key)) this.holdWaves(present.program);
      else if (this.pool.synth) this.pool.synth.hold(key, sample);
      return;
    }
    this.samples.set(key, sample);
    if (key.startsWith('impulse ')) present?.mix.findImpulses(this.samples);
    present?.addSample(key, sample);
  }

  /** The waves of a program come to where oscillators read them; those that nobody plays any more leave. */
  holdWaves(program: PlayedProgram): void {
    if (program.specs.length === 0 && !this.pool.synth) return;
    const synth = this.pool.prepareKinds();
    const kept = new Set(program.waveKeys);
    for (const patch of this.patches.ringing) for (const key of patch.program.waveKeys) kept.add(key);
    // What a voice reads stays, whatever its layer plays from now on.
    const isWanted = (key: string, set: WaveSet) =>
      kept.has(key) || this.pool.all.some((voice) => voice.playsWaves(set));
    for (const key of program.waveKeys) {
      const set = this.waves.get(key);
      if (set) synth.hold(key, set, isWanted);
    }
  }

  /** Forgets samples that are not among `keys`; voices that play one go on to their end. */
  keep(keys: ReadonlySet<string>): void {
    for (const key of this.samples.keys()) if (!keys.has(key)) this.samples.delete(key);
    for (const key of this.waves.keys()) if (!keys.has(key)) this.waves.delete(key);
    this.patches.present?.findSamples(this.samples);
  }

  /** Makes what other kinds of sound than samples need, before a program asks for it. */
  prepareKinds(): void {
    this.pool.prepareKinds();
    this.pool.makeAll();
  }
}
