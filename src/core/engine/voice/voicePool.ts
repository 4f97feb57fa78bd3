import { CombPool } from '../../dsp/comb';
import type { Kernel } from '../../dsp/kernel/kernel';
import { tangentsFor } from '../../dsp/quick';
import { SynthMemory } from '../../dsp/kernel/synthMemory';
import { GrainGenerator, layShapes } from './generators/grains';
import { InputGenerator } from './generators/input';
import { SynthGenerator } from './generators/synth';
import { InputRing } from '../hands/inputRing';
import type { LayerState } from '../notes/layerState';
import { NOTE_STATE } from '../hands/noteValues';
import { GRAIN_PLACES, INPUT_PLACES, SYNTH_PLACES } from './ownPlaces';
import { Voice } from './voice';

/** Voices beyond the limit in which stolen ones fade out. */
const LEAVING = 32;
/**
 * Each strike since makes a voice count as this many dB softer: of two alike the older goes, and a soft note just
 * struck outlives a loud one of long ago.
 */
const DB_PER_STRIKE = 0.5;

/**
 * All the voices there are; who must go when there are too many. They are made when they are first wanted, or all at once
 * by {@link makeAll}: where sound is made live, nothing may be made at a strike.
 */
export class VoicePool {
  private readonly made: Voice[] = [];
  readonly all: readonly Voice[] = this.made;
  /** As many as there may be, those that leave included. */
  private readonly most: number;
  /**
   * States of movers that notes have for themselves, a row for each voice and one for a strike that is being answered.
   */
  readonly states: Float64Array;

  /** Memories of combs; made when a program first needs them. */
  readonly combs: { pool: CombPool | null } = { pool: null };

  /** Strikes and voices so far, over all patches. */
  strikeCount = 0;
  births = 0;

  constructor(
    private readonly kernel: Kernel,
    private readonly maxVoices: number,
    private readonly engineRate: number,
    private readonly ring: InputRing = new InputRing(),
  ) {
    this.most = maxVoices + LEAVING;
    this.states = new Float64Array((this.most + 1) * NOTE_STATE);
  }

  /** Makes all voices, so that no strike has to. */
  makeAll(): void {
    while (this.made.length < this.most) this.makeVoice();
  }

  private makeVoice(): Voice {
    const { kernel, engineRate, made } = this;
    const voice = new Voice(kernel, made.length, this.states, tangentsFor(engineRate), this.combs, engineRate);
    if (this.synth) this.giveGenerators(voice, this.synth);
    made.push(voice);
    return voice;
  }

  private giveGenerators(voice: Voice, synth: SynthMemory): void {
    voice.setGenerators(
      new SynthGenerator(synth, voice.n, SYNTH_PLACES, this.engineRate),
      new GrainGenerator(this.kernel, this.kernel.voiceAt(voice.n), GRAIN_PLACES, this.engineRate),
      new InputGenerator(this.kernel, this.ring, INPUT_PLACES, this.engineRate),
    );
  }

  /** Voices that may sound for now: fewer where the machine is at its limit. */
  allowed = Infinity;

  /** Sends away what is beyond a number of voices, those first that are missed least. */
  allow(most: number): void {
    this.allowed = most;
    let counted = this.count();
    for (; counted > most; counted--) {
      const victim = this.victim(-1, null);
      if (!victim) return;
      victim.dismiss();
    }
  }

  /** Makes what combs need: to be called where a program is taken over, not while sound is made. */
  prepareCombs(): void {
    this.combs.pool ??= new CombPool(this.kernel);
  }

  /** The memory of oscillators; made when a program first needs it. */
  synth: SynthMemory | null = null;

  /** Makes what other kinds of sound than samples need: to be called where a program is taken over, or before. */
  prepareKinds(): SynthMemory {
    if (this.synth) return this.synth;
    const synth = new SynthMemory(this.kernel);
    this.synth = synth;
    layShapes(this.kernel);
    for (const voice of this.all) this.giveGenerators(voice, synth);
    return synth;
  }

  /** The row of a strike that is being answered. */
  get askingRow(): number {
    return this.most * NOTE_STATE;
  }

  /** Whether another voice needs one of those that sound to go. */
  get isFull(): boolean {
    return this.count() >= Math.min(this.maxVoices, this.allowed);
  }

  /** Voices that sound and are played: those that stand by themselves take no note's place. */
  private count(): number {
    let count = 0;
    for (const voice of this.all) if (voice.active && !voice.isDismissed && !voice.isStanding) count++;
    return count;
  }

  /**
   * A voice for a strike: a free one, after an old or quiet one has been sent away where the limit is reached. Null
   * where all that sound are of the same strike.
   */
  take(strike: number, layer: LayerState, limit: number): Voice | null {
    if (limit > 0 && this.countOf(layer) >= limit) {
      // A layer at its own limit makes room for itself.
      const victim = this.victim(strike, layer);
      if (!victim) return null;
      victim.dismiss();
    } else if (this.isFull) {
      const victim = this.victim(strike, null);
      if (!victim || victim.amplitude === 0) return victim;
      victim.dismiss();
    }
    return this.free() ?? this.quietestLeaving();
  }

  private countOf(layer: LayerState): number {
    let count = 0;
    for (const voice of this.all)
      if (voice.active && !voice.isDismissed && !voice.isStanding && voice.layer === layer) count++;
    return count;
  }

  private free(): Voice | null {
    for (const voice of this.all) if (!voice.active) return voice;
    return this.made.length < this.most ? this.makeVoice() : null;
  }

  /**
   * Who goes for a strike: of those let go first, then of those that pedals hold, then of those under fingers, the one
   * that is quietest, its age counted in.
   */
  private victim(strike: number, layer: LayerState | null): Voice | null {
    let best: Voice | null = null;
    let bestClaim = 0;
    let bestDb = 0;
    for (const voice of this.all) {
      if (!voice.active || voice.isDismissed || voice.isStanding || voice.strike === strike) continue;
      if (layer && voice.layer !== layer) continue;
      const claim = voice.released && !voice.fullLength ? 0 : voice.keyDown ? 2 : 1;
      if (best && claim > bestClaim) continue;
      // Where the machine is at its limit, what is masked goes, however young.
      const db =
        20 * Math.log10(voice.loudness + 1e-9) -
        (this.allowed < this.maxVoices ? 0 : DB_PER_STRIKE * (strike - voice.strike));
      if (best && claim === bestClaim && (db > bestDb || (db === bestDb && voice.born > best.born))) continue;
      best = voice;
      bestClaim = claim;
      bestDb = db;
    }
    return best;
  }

  private quietestLeaving(): Voice {
    let best = this.all[0];
    for (const voice of this.all)
      if (voice.isDismissed && (!best.isDismissed || voice.amplitude < best.amplitude)) best = voice;
    return best;
  }
}
