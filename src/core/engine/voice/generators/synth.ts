import type { SynthMemory } from '../../../dsp/kernel/synthMemory';
import {
  DELAYED,
  DELAYED_AT,
  FREQUENCY_MOD,
  FROM,
  GOES_OVER,
  HISTORY,
  INCREMENTS,
  IS_CIRCLE,
  IS_PLAIN,
  IS_PULSE,
  LEADS,
  MIX,
  MODULATES,
  NEXT_FREQUENCY_MOD,
  NEXT_MIX,
  NEXT_NOISE_LEFT,
  NEXT_PHASE_MOD,
  NEXT_RING,
  NOISE_COLOUR,
  NOISE_LEFT,
  NOISE_PATH,
  NOISE_PLAYS,
  NOISE_SEED,
  OLD_MIX,
  OLD_OTHER,
  OLD_SHIFT,
  OLD_WAVE,
  ORDER,
  OSCILLATOR_BYTES,
  OTHER_WAVE,
  PATH,
  PENDING,
  PHASES,
  PHASE_MOD,
  PLAYS,
  RING,
  SHARE,
  SHARED,
  SHIFT,
  SIDE_BY_SIDE,
  STEREO,
  SYNC,
  UNISON,
  WAVE,
  WAYS,
  DELAYED_FRAMES,
  WRAP_HISTORY,
} from '../../../dsp/kernel/synthLayout';
import { levelOfWave, WAVE_GUARD, type WaveSet } from '../../../dsp/waves';
import type { Draws } from '../../notes/draws';
import { OSCILLATORS, OTHERS, PULSE, SAW, SINE, TRIANGLE, WAVES_SHAPE } from '../../../sounds/synth/parameters';
import { SHAPE_SAW, SHAPE_SINE, SHAPE_TRIANGLE } from '../../../sounds/synth/tables';
import { exp2 } from '../../../dsp/quick';
import type { Generator } from './generator';
import { PartGains } from './partGains';
import { OwnGlide } from './ownGlide';

/** A synth's oscillators and its sub; the noise has no place among them. */
const PARTS = OSCILLATORS + 1;
const SUB = OSCILLATORS;
const A4 = 440;
/**
 * Rows of waves are kept softer than plain shapes, so that none goes beyond full scale; here they come to about the
 * same.
 */
const WAVES_GAIN = 2;
/** Ways that an oscillator may go, as the parameter counts them. */
const TO_FIRST = 1,
  TO_SECOND = 2,
  PAST = 3;

/**
 * Where the values of a synth stand among its own: those that follow while a note sounds, and those read at the strike.
 * By oscillator, each in turn.
 */
export interface SynthPlaces {
  position: readonly number[];
  width: readonly number[];
  octave: readonly number[];
  semitones: readonly number[];
  cents: readonly number[];
  level: readonly number[];
  pan: readonly number[];
  detune: readonly number[];
  spread: readonly number[];
  phaseMod: readonly number[];
  frequencyMod: readonly number[];
  ring: readonly number[];
  subLevel: number;
  noiseLevel: number;
  noiseColour: number;
  shape: readonly number[];
  phase: readonly number[];
  free: readonly number[];
  unison: readonly number[];
  from: readonly number[];
  sync: readonly number[];
  path: readonly number[];
  subShape: number;
  subOctave: number;
  subPath: number;
  noisePath: number;
  count: number;
  whole: Uint8Array;
}

/** Oscillators with waves or plain shapes, which modulate one another, a sub and noise. */
export class SynthGenerator implements Generator {
  channels: 1 | 2 = 2;
  readonly values: OwnGlide;
  readonly left = new Float64Array(1);
  hasSide = false;
  hasPast = false;
  /** The oscillators' waves; those of a plain shape are all the same set. */
  private readonly sets: (WaveSet | null)[] = [null, null, null, null];
  private readonly setAt = new Int32Array(PARTS);
  private readonly shape = new Int32Array(PARTS);
  private readonly unison = new Int32Array(PARTS);
  private readonly from = new Int32Array(PARTS);
  private readonly sync = new Int32Array(PARTS);
  private readonly path = new Int32Array(PARTS);
  private readonly level = new Int32Array(PARTS);
  private noisePath = 0;
  private subDown = 1;
  /** By oscillator: how many times the note's frequency it has; by voice of its unison, each one's share of that. */
  private readonly ratios = new Float64Array(PARTS);
  private readonly detunes = new Float64Array(PARTS * 8);
  /** Cycles in a frame that the pitch asks for; and of each oscillator. */
  private readonly base = new Float64Array(1);
  private readonly cycles = new Float64Array(PARTS);
  private readonly worked = new Float64Array(1);
  private pitched = false;
  private stale = false;
  private order = 0;
  private readonly block: number;
  private readonly floats: Float32Array;
  private readonly words: Int32Array;
  private readonly perCycle: number;
  private readonly loops: SynthMemory['kernel']['loops'];

  private readonly gains: PartGains;

  constructor(
    private readonly synth: SynthMemory,
    n: number,
    private readonly places: SynthPlaces,
    engineRate: number,
    private readonly tells = false,
  ) {
    this.values = new OwnGlide(places.count, places.whole);
    this.block = synth.voiceAt(n) >> 2;
    this.floats = synth.kernel.floats;
    this.words = synth.kernel.words;
    this.loops = synth.kernel.loops;
    this.gains = new PartGains(this.floats, PARTS);
    this.perCycle = A4 / engineRate;
  }

  /** Whether the waves of plain shapes are there: without them nothing sounds. */
  isReady(shapes: string): boolean {
    return this.synth.placeOf(shapes) > 0;
  }

  /** Whether one of its oscillators has these waves. */
  plays(set: WaveSet): boolean {
    return this.sets.includes(set);
  }

  /**
   * Begins. The targets must have been worked out; `strike` are the own values read at the strike, `waves` the keys of
   * each oscillator's waves, `shapes` that of the plain ones, `aside`: routes may move it to one side.
   */
  begin(
    strike: Float64Array,
    waves: readonly string[],
    shapes: string,
    scatter: Draws,
    sideBySide: boolean,
    aside: boolean,
  ): void {
    const { places, words, floats, block, synth, values } = this;
    values.begin();
    const size = (SHARED >> 2) + 16;
    words.fill(0, block, block + size);
    for (let n = 0; n < PARTS; n++) {
      const at = block + (n * OSCILLATOR_BYTES) / 4;
      const isSub = n === SUB;
      const subShape = strike[places.subShape];
      const shape = isSub ? (subShape === 0 ? SINE : subShape === 1 ? TRIANGLE : PULSE) : strike[places.shape[n]];
      this.shape[n] = shape;
      const key = shape === WAVES_SHAPE && !isSub ? waves[n] : shapes;
      let place = synth.placeOf(key);
      let set = synth.setOf(key);
      if (place === 0) {
        this.shape[n] = SAW;
        place = synth.placeOf(shapes);
        set = synth.setOf(shapes);
      }
      this.setAt[n] = place;
      this.sets[n] = set;
      this.level[n] = -1;
      this.unison[n] = isSub ? 1 : Math.max(1, Math.min(8, strike[places.unison[n]]));
      this.from[n] = isSub ? 0 : OTHERS[n][strike[places.from[n]]];
      this.sync[n] = isSub || strike[places.sync[n]] === 0 ? -1 : OTHERS[n][strike[places.sync[n]] - 1];
      this.path[n] = isSub ? strike[places.subPath] : strike[places.path[n]];
      words[at + (UNISON >> 2)] = this.unison[n];
      words[at + (FROM >> 2)] = this.from[n];
      words[at + (SYNC >> 2)] = this.sync[n];
      words[at + (IS_PLAIN >> 2)] = this.shape[n] === SAW || this.shape[n] === PULSE ? 1 : 0;
      words[at + (IS_PULSE >> 2)] = this.shape[n] === PULSE ? 1 : 0;
      words[at + (PATH >> 2)] = this.path[n];
      floats[at + (PENDING >> 2)] = -1;
      floats.fill(-1, at + (WRAP_HISTORY >> 2), at + (WRAP_HISTORY >> 2) + 4);
      for (let u = 0; u < this.unison[n]; u++) {
        // Voices of a unison begin apart, so that they do not all begin as one.
        const free = !isSub && strike[places.free[n]] === 1;
        if (free || u > 0) scatter.next();
        const phase = free || u > 0 ? scatter.share[0] : isSub ? 0 : strike[places.phase[n]];
        words[at + (PHASES >> 2) + u] = (phase - Math.floor(phase)) * 4294967296;
      }
    }
    for (let n = 0; n < OSCILLATORS; n++)
      if (this.sync[n] >= 0) words[block + (this.sync[n] * OSCILLATOR_BYTES) / 4 + (LEADS >> 2)] = 1;
    this.subDown = strike[places.subOctave] === 1 ? 0.25 : 0.5;
    this.noisePath = strike[places.noisePath];
    const shared = block + (SHARED >> 2);
    words[shared + (NOISE_SEED >> 2)] = 1 + scatter.below(0x7fff_fffe);
    words[shared + (NOISE_PATH >> 2)] = this.noisePath;
    this.putInOrder();
    let ways = 1 << this.noisePath;
    for (let n = 0; n < PARTS; n++) ways |= 1 << this.path[n];
    words[shared + (WAYS >> 2)] = ways;
    words[shared + (SIDE_BY_SIDE >> 2)] = sideBySide ? 1 : 0;
    this.hasPast = (ways & (1 << PAST)) !== 0;
    this.hasSide = sideBySide ? (ways & ((1 << TO_FIRST) | (1 << TO_SECOND))) !== 0 : (ways & (1 << TO_SECOND)) !== 0;
    this.channels = this.isMono(aside) ? 1 : 2;
    words[shared + (STEREO >> 2)] = this.channels === 2 ? 1 : 0;
    this.fresh = true;
  }
  /** It has begun, and nothing is written yet. */
  private fresh = false;

  /** Oscillators that modulate come before those that they modulate, as far as they do not go round in a circle. */
  private putInOrder(): void {
    const { words, block, from, sync } = this;
    const shared = block + (SHARED >> 2);
    let placed = 0;
    let count = 0;
    let circle = 0;
    while (count < OSCILLATORS) {
      let next = -1;
      for (let n = 0; n < OSCILLATORS && next < 0; n++) {
        if (placed & (1 << n)) continue;
        const waits = this.usesOther(n) && (placed & (1 << from[n])) === 0;
        const waitsForSync = sync[n] >= 0 && (placed & (1 << sync[n])) === 0;
        if (!waits && !waitsForSync) next = n;
      }
      if (next < 0) {
        circle = 1;
        for (let n = 0; n < OSCILLATORS && next < 0; n++) if ((placed & (1 << n)) === 0) next = n;
      }
      words[shared + (ORDER >> 2) + count++] = next;
      placed |= 1 << next;
    }
    words[shared + (ORDER >> 2) + count] = SUB;
    words[shared + (IS_CIRCLE >> 2)] = circle;
    this.order = this.uses();
  }

  /** Whether an oscillator is modulated now, or about to be. */
  private usesOther(n: number): boolean {
    const { places } = this;
    const { now, targets } = this.values;
    return (
      now[places.phaseMod[n]] !== 0 ||
      targets[places.phaseMod[n]] !== 0 ||
      now[places.frequencyMod[n]] !== 0 ||
      targets[places.frequencyMod[n]] !== 0 ||
      now[places.ring[n]] !== 0 ||
      targets[places.ring[n]] !== 0
    );
  }

  private uses(): number {
    let bits = 0;
    for (let n = 0; n < OSCILLATORS; n++) if (this.usesOther(n)) bits |= 1 << n;
    return bits;
  }

  prepare(values: Float64Array, at: number): void {
    this.base[0] = values[at] * this.perCycle;
    this.pitched = true;
  }

  speed(values: Float64Array, at: number): void {
    this.base[0] = values[at] * this.perCycle;
    this.pitched = true;
  }

  readonly stands = false;
  readonly ownFrames = 0;

  release(): void {
    // Its envelope ends it.
  }

  end(): void {
    // Nothing of it is lent.
  }

  endsWithin(): boolean {
    return false;
  }

  playWhole(): boolean {
    return false;
  }

  skip(frames: number): void {
    // Its oscillators go on, so that it comes back where it would be.
    const { words, block, unison } = this;
    if (this.isDue) this.update();
    for (let n = 0; n < PARTS; n++) {
      const at = block + (n * OSCILLATOR_BYTES) / 4;
      for (let u = 0; u < unison[n]; u++)
        words[at + (PHASES >> 2) + u] += Math.imul(words[at + (INCREMENTS >> 2) + u], frames);
    }
  }

  make(frames: number): void {
    if (this.isDue) this.update();
    this.loops.synth(this.block << 2, frames);
  }

  private get isDue(): boolean {
    return this.values.moves || this.stale || this.pitched || this.fresh;
  }

  /** Writes what has moved to where the loops read it; each value goes in a straight line to where it is now. */
  private update(): void {
    const first = this.fresh;
    this.fresh = false;
    const { places, words, floats, block, values, base, cycles, worked, unison } = this;
    const { now } = values;
    const moves = values.moves || first;
    if (moves && !first && this.uses() !== this.order) this.putInOrder();
    const wide = this.stale || moves;
    for (let n = 0; n < PARTS; n++) {
      const at = block + (n * OSCILLATOR_BYTES) / 4;
      const isSub = n === SUB;
      const mine = unison[n];
      if (moves) {
        if (isSub) this.ratios[n] = this.subDown * this.ratios[0];
        else {
          worked[0] = now[places.octave[n]] + (now[places.semitones[n]] + now[places.cents[n]] / 100) / 12;
          exp2(worked, 0);
          this.ratios[n] = worked[0];
          for (let u = 0; u < mine; u++) {
            worked[0] = mine > 1 ? ((u / (mine - 1) - 0.5) * now[places.detune[n]]) / 1200 : 0;
            exp2(worked, 0);
            this.detunes[8 * n + u] = worked[0];
          }
        }
      }
      if (moves || this.pitched) {
        cycles[n] = base[0] * this.ratios[n];
        for (let u = 0; u < mine; u++) {
          const inc = cycles[n] * (isSub ? 1 : this.detunes[8 * n + u]);
          words[at + (INCREMENTS >> 2) + u] = (inc < 0.5 ? inc : 0.5) * 4294967296;
        }
      }
      if (!wide && !this.pitched) continue;
      if (wide) this.updateLevels(n, at, first);
    }
    for (let n = 0; n < PARTS; n++) this.updateWaves(n, block + (n * OSCILLATOR_BYTES) / 4, first);
    if (wide) {
      const shared = block + (SHARED >> 2);
      const gain = now[places.noiseLevel] * (this.channels === 1 ? 1 : Math.SQRT1_2);
      const before = shared + (NOISE_LEFT >> 2);
      floats[before] = first ? gain : floats[shared + (NEXT_NOISE_LEFT >> 2)];
      floats[shared + (NEXT_NOISE_LEFT >> 2)] = gain;
      floats[shared + (NOISE_COLOUR >> 2)] = now[places.noiseColour];
      words[shared + (NOISE_PLAYS >> 2)] = gain !== 0 || floats[before] !== 0 ? 1 : 0;
    }
    // What moved in this span must stand still in the next, which is written once more.
    this.stale = moves || this.goesOver;
    this.goesOver = false;
    this.pitched = false;
  }

  /** Nothing of it stands aside, or could come to. */
  private isMono(aside: boolean): boolean {
    const { places } = this;
    const { targets } = this.values;
    for (let n = 0; n < OSCILLATORS; n++) {
      if (targets[places.pan[n]] !== 0 || (this.unison[n] > 1 && targets[places.spread[n]] > 0)) return false;
    }
    return !aside;
  }

  private updateLevels(n: number, at: number, first: boolean): void {
    const { places, words, floats, values, unison } = this;
    const { now } = values;
    const isSub = n === SUB;
    const mine = unison[n];
    const level = now[isSub ? places.subLevel : places.level[n]];
    const share = 1 / Math.sqrt(mine);
    const loud = this.shape[n] === WAVES_SHAPE ? level * WAVES_GAIN : level;
    const { wanted } = this.gains;
    wanted[0] = loud * share;
    wanted[1] = isSub ? 0 : now[places.pan[n]];
    wanted[2] = isSub ? 0 : now[places.spread[n]];
    const heard = this.gains.update(n, at, mine, this.channels === 1, first) || level !== 0;
    floats[at + (SHARE >> 2)] = share;
    if (!isSub) {
      const pm = now[places.phaseMod[n]] / (2 * Math.PI);
      floats[at + (PHASE_MOD >> 2)] = first ? pm : floats[at + (NEXT_PHASE_MOD >> 2)];
      floats[at + (NEXT_PHASE_MOD >> 2)] = pm;
      floats[at + (FREQUENCY_MOD >> 2)] = first ? now[places.frequencyMod[n]] : floats[at + (NEXT_FREQUENCY_MOD >> 2)];
      floats[at + (NEXT_FREQUENCY_MOD >> 2)] = now[places.frequencyMod[n]];
      floats[at + (RING >> 2)] = first ? now[places.ring[n]] : floats[at + (NEXT_RING >> 2)];
      floats[at + (NEXT_RING >> 2)] = now[places.ring[n]];
    }
    // One that is silent plays where another listens to it.
    let modulates = this.tells;
    for (let other = 0; other < OSCILLATORS && !modulates; other++) {
      if (other === n || n === SUB) continue;
      const at2 = this.block + (other * OSCILLATOR_BYTES) / 4;
      modulates =
        (this.from[other] === n &&
          (this.usesOther(other) ||
            floats[at2 + (PHASE_MOD >> 2)] !== 0 ||
            floats[at2 + (FREQUENCY_MOD >> 2)] !== 0 ||
            floats[at2 + (RING >> 2)] !== 0)) ||
        this.sync[other] === n;
    }
    const needed = heard || modulates;
    words[at + (MODULATES >> 2)] = modulates ? 1 : 0;
    if (!needed && words[at + (PLAYS >> 2)] === 1) {
      words.fill(0, at + (HISTORY >> 2), at + (HISTORY >> 2) + 4);
      words.fill(0, at + (DELAYED >> 2), at + (DELAYED >> 2) + 3 * DELAYED_FRAMES);
    }
    words[at + (PLAYS >> 2)] = needed ? 1 : 0;
    if (!needed) words[at + (DELAYED_AT >> 2)] = 0;
  }

  /**
   * Chooses the waves between which an oscillator stands, and the copy of them for its pitch; goes over to others
   * within a span.
   */
  private updateWaves(n: number, at: number, first: boolean): void {
    const { places, words, floats, worked, setAt } = this;
    const set = this.sets[n];
    if (!set) return;
    const { now } = this.values;
    const isSub = n === SUB;
    const shape = this.shape[n];
    // The highest that its frequency gets, as far as it is known: its own, pushed by others.
    let most = this.cycles[n];
    if (!isSub) {
      const other = this.from[n];
      if (now[places.frequencyMod[n]] > 0) most *= 1 + now[places.frequencyMod[n]];
      if (now[places.phaseMod[n]] > 0) most += now[places.phaseMod[n]] * this.cycles[other];
      if (this.unison[n] > 1) most *= this.detunes[8 * n + this.unison[n] - 1];
    }
    worked[0] = most;
    const level = levelOfWave(set, worked, 0);
    const { size, first: begins } = set.levels[level];
    let wave = shape === TRIANGLE ? SHAPE_TRIANGLE : shape === SINE ? SHAPE_SINE : SHAPE_SAW;
    let other = wave;
    let mix = 0;
    if (shape === WAVES_SHAPE) {
      const place = now[places.position[n]] * (set.waves - 1);
      wave = Math.min(Math.max(0, set.waves - 2), Math.floor(place));
      other = Math.min(set.waves - 1, wave + 1);
      mix = place - wave;
    } else if (shape === PULSE) mix = isSub ? 0.5 : now[places.width[n]];
    const from = setAt[n] + 4 * begins;
    const a = from + 4 * wave * (size + WAVE_GUARD);
    const b = from + 4 * other * (size + WAVE_GUARD);
    const shift = 32 - (31 - Math.clz32(size));
    const changes = words[at + (WAVE >> 2)] !== a || words[at + (OTHER_WAVE >> 2)] !== b;
    if (changes && !first) {
      words[at + (OLD_WAVE >> 2)] = words[at + (WAVE >> 2)];
      words[at + (OLD_OTHER >> 2)] = words[at + (OTHER_WAVE >> 2)];
      words[at + (OLD_SHIFT >> 2)] = words[at + (SHIFT >> 2)];
      floats[at + (OLD_MIX >> 2)] = floats[at + (NEXT_MIX >> 2)];
      this.goesOver = true;
    }
    words[at + (GOES_OVER >> 2)] = changes && !first ? 1 : 0;
    floats[at + (MIX >> 2)] = changes || first ? mix : floats[at + (NEXT_MIX >> 2)];
    floats[at + (NEXT_MIX >> 2)] = mix;
    words[at + (WAVE >> 2)] = a;
    words[at + (OTHER_WAVE >> 2)] = b;
    words[at + (SHIFT >> 2)] = shift;
    this.level[n] = level;
  }
  private goesOver = false;
}
