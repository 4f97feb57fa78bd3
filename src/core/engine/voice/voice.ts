import { Envelope, type EnvelopeShape } from '../../dsp/envelope';
import type { Kernel } from '../../dsp/kernel/kernel';
import {
  AMPLITUDE,
  COEFFICIENTS,
  GAINS,
  MADE,
  PAN_GAINS,
  STATES as SECTION_STATES,
  TAIL,
} from '../../dsp/kernel/layout';
import type { Draws } from '../notes/draws';
import type { CombPool } from '../../dsp/comb';
import { layPan, setPan, type PanGains } from '../../dsp/pan';
import { OFF as FILTER_OFF } from '../../space/filterKinds';
import type { PreparedSample } from '../../dsp/sample';
import type { WaveSet } from '../../dsp/waves';
import type { Generator } from './generators/generator';
import type { GrainGenerator, ShapeTable } from './generators/grains';
import { SampleGenerator } from './generators/samples';
import type { InputGenerator } from './generators/input';
import type { SynthGenerator } from './generators/synth';
import { NOTE_STATE } from '../hands/noteValues';
import { OF_SYNTH, SHAPES_KEY } from '../program/program';
import {
  COMB_DAMPING,
  DRIFT,
  ENVELOPE_TO_CUTOFF,
  ENVELOPE_TO_CUTOFF2,
  FILTER2_KIND,
  FILTER_KIND,
  FILTER_PATHS,
  movesEnvelope,
  TILT_PIVOT,
} from '../program/strikeValues';
import { VoiceFilters } from './voiceFilters';
import {
  CUTOFF2_KEY,
  CUTOFF_KEY,
  DRIVE,
  GAIN,
  LOW_CUT_KEY,
  PAN,
  Q2,
  SEMITONES,
  TILT,
  VALUES,
  VIBRATO,
} from '../program/voiceValues';
import { FILTER_BITS, HIGHEST_KEY, Leading, SMOOTHED } from './leading';
import { isSound } from './isSound';
import { Onset } from './onset';
import { newShape, readShape } from './ownEnvelope';
import { StruckNote } from './struckNote';
import { Sway } from './sway';

/** A voice that must go, goes in this time: short enough to free it, long enough not to click. */
const FADE_SECONDS = 0.005;
/** Seconds after which a voice that was let go ends, whatever it plays. */
const LONGEST_LET_GO = 60;

/** Elements of a voice's block in the kernel's memory. */
const SPAN_GAIN = GAINS >> 3,
  PAN_GAIN = PAN_GAINS >> 3,
  NEXT_AMPLITUDE = AMPLITUDE >> 3;
const STATES = SECTION_STATES >> 3,
  STATES_END = COEFFICIENTS >> 3;

/** One sounding zone. All its parts are made once and used again for the next note. */
export class Voice extends StruckNote {
  readonly row: number;
  /** What stands still of the gain, the pitch and the cutoff, where something else of them moves by itself. */
  readonly still = new Float64Array(VALUES);
  /** Pitch it is heading for without its vibrato; whether it has any. */
  readonly stillSemitones = new Float64Array(1);
  trembles = false;
  /** The envelope of its level moves a filter. */
  follows = false;
  /** Where the filters are heading without the envelope. */
  readonly stillCutoffs = new Float64Array(2);
  /** Where the values of `voiceValues` are heading; worked out from routes and windows when something moved. */
  readonly targets = new Float64Array(VALUES);
  /** The engine's control epoch in which the targets were worked out. */
  epoch = -1;
  /** Present amplitude, for the choice of whom to steal. */
  amplitude = 0;

  /** What makes its sound: of recordings, or what another kind of sound has. */
  private readonly samples: SampleGenerator;
  private oscillators: SynthGenerator | null = null;
  private grains: GrainGenerator | null = null;
  private input: InputGenerator | null = null;
  /** The same by number of the kind. */
  private byKind: readonly (Generator | undefined)[];
  generator: Generator;
  private readonly envelope = new Envelope();
  /** The envelope of its voicing, or its own where something moved it. */
  private shape!: EnvelopeShape;
  private readonly ownShape = newShape();
  /** Seconds that have gone by when it is led, and the frame up to which it was led last. */
  readonly waited = new Float64Array(2);
  readonly filters: VoiceFilters;
  private readonly onset = new Onset();
  readonly now = new Float64Array(VALUES);
  private settled = false;
  private fade = 1;
  /** Of a zone that comes in from silence: frames since it began, and frames in which it comes in. */
  private comesIn = 0;
  private readonly fadeIn = new Float64Array(1);
  private fadeStep = 0;
  readonly panGains: PanGains = { ll: 0, rl: 0, lr: 0, rr: 0 };
  /**
   * Where the amplitude stands at the end of this span. A field, because a number handed to a function may be put on
   * the heap.
   */
  private nextAmplitude = 0;
  /** The voice's block in the kernel's memory: its byte, and its first element as numbers. */
  private readonly block: number;
  readonly first: number;
  readonly numbers: Float64Array;

  /** What sways its pitch, and what of it is led. */
  readonly sway: Sway = new Sway(this);
  private readonly leading: Leading;

  constructor(
    private readonly kernel: Kernel,
    readonly n: number,
    readonly states: Float64Array,
    readonly tangents: Float64Array,
    private readonly combs: { readonly pool: CombPool | null },
    private readonly engineRate: number,
  ) {
    super();
    this.row = n * NOTE_STATE;
    this.block = kernel.voiceAt(n);
    this.first = this.block >> 3;
    this.numbers = kernel.numbers;
    this.filters = new VoiceFilters(kernel, this.block, tangents);
    this.generator = this.samples = new SampleGenerator(kernel, this.block, this.targets, engineRate);
    this.byKind = [this.samples];
    this.leading = new Leading(this);
  }

  /** Starts from silence. The targets must have been worked out. `start` and `end` in frames of the recording. */
  start(sample: PreparedSample, start: number, end: number, fadeOut: number): void {
    this.samples.begin(sample, start, end, fadeOut);
    this.begin(this.samples);
  }

  /** The generators of other kinds of sound: made when a program first needs them. */
  setGenerators(oscillators: SynthGenerator, grains: GrainGenerator, input: InputGenerator): void {
    this.oscillators = oscillators;
    this.grains = grains;
    this.input = input;
    this.byKind = [this.samples, oscillators, grains, input];
  }

  /** Takes up the generator of a kind, so that its values can be aimed; false where there is none. */
  take(kind: number): boolean {
    const generator = this.byKind[kind];
    if (!generator || (kind === OF_SYNTH && !this.oscillators!.isReady(SHAPES_KEY))) return false;
    this.generator = generator;
    return true;
  }

  /** Whether its oscillators read these waves now. */
  playsWaves(set: WaveSet): boolean {
    return this.active && this.generator === this.oscillators && this.oscillators.plays(set);
  }

  /** Starts oscillators; `strike` are the own values read at the strike. */
  startSynth(strike: Float64Array, waves: readonly string[], scatter: Draws, aside: boolean): void {
    const { strikeValues } = this;
    const sideBySide =
      strikeValues[FILTER_PATHS] === 1 &&
      strikeValues[FILTER_KIND] !== FILTER_OFF &&
      strikeValues[FILTER2_KIND] !== FILTER_OFF;
    this.oscillators!.begin(strike, waves, SHAPES_KEY, scatter, sideBySide, aside);
    this.begin(this.oscillators!);
  }

  /** Starts grains of a recording. */
  startGrains(
    sample: PreparedSample,
    start: number,
    end: number,
    strike: Float64Array,
    drawn: ShapeTable,
    scatter: Draws,
  ): void {
    this.grains!.begin(sample, start, end, strike, drawn, this.fullLength, scatter);
    this.begin(this.grains!);
  }

  /** Hears what comes in from outside, from now on. */
  startInput(): void {
    this.input!.begin();
    this.begin(this.input!);
  }

  private begin(generator: Generator): void {
    this.generator = generator;
    this.active = true;
    this.released = this.sustained = this.caught = false;
    this.keyDown = true;
    const { strikeValues } = this;
    this.filters.begin(
      strikeValues[FILTER_KIND],
      strikeValues[FILTER2_KIND],
      strikeValues[FILTER_PATHS] === 1,
      strikeValues,
      COMB_DAMPING,
      TILT_PIVOT,
      this.combs.pool,
    );
    this.follows = strikeValues[ENVELOPE_TO_CUTOFF] !== 0 || strikeValues[ENVELOPE_TO_CUTOFF2] !== 0;
    this.trembles = this.targets[VIBRATO] > 0 || this.sway.gliding[0] !== 0 || strikeValues[DRIFT] > 0;
    this.leading.start();
    this.stillSemitones[0] = this.targets[SEMITONES];
    if (this.follows) this.followEnvelope();
    this.now.set(this.targets);
    this.now[SEMITONES] += this.sway.gliding[0];
    this.settled = false;
    this.fade = 1;
    this.fadeStep = 0;
    this.comesIn = 0;
    this.framesLetGo = 0;
    this.primes = 0;
    this.fadeIn[0] = 0;
    this.amplitude = 0;
    this.onset.begin(strikeValues);
    const { numbers, first } = this;
    numbers.fill(0, first + SPAN_GAIN, first + SPAN_GAIN + 4);
    numbers.fill(0, first + STATES, first + STATES_END);
    this.sway.start();
    this.shapeEnvelope();
    this.envelope.start(this.shape);
    this.setPitch();
    this.setPan();
    this.setFilters(true);
  }

  /** It is louder or softer by a factor from this frame on: something else is softer or louder by as much. */
  scale(factor: number): void {
    this.now[GAIN] *= factor;
    this.targets[GAIN] *= factor;
    this.amplitude *= factor;
    this.leading.scale(factor);
    for (let n = 0; n < 4; n++) this.numbers[this.first + SPAN_GAIN + n] *= factor;
  }

  /** Takes the times and levels of the envelope from what was read at the strike, or has been edited since. */
  shapeEnvelope(): void {
    if (!movesEnvelope(this.strikeMoved)) {
      this.shape = this.voicing.envelope;
      return;
    }
    this.shape = this.ownShape;
    readShape(this.ownShape, this.strikeValues);
  }

  /** Whether anything of it is looked at every few ticks. */
  get isLed(): boolean {
    return this.trembles || this.follows || this.layer.program.moves;
  }

  /** Moves the filters by the envelope of the level. */
  followEnvelope(): void {
    const { strikeValues, targets, stillCutoffs } = this;
    const { value } = this.envelope;
    targets[CUTOFF_KEY] = Math.max(
      0,
      Math.min(HIGHEST_KEY, stillCutoffs[0] + strikeValues[ENVELOPE_TO_CUTOFF] * value),
    );
    targets[CUTOFF2_KEY] = Math.max(
      0,
      Math.min(HIGHEST_KEY, stillCutoffs[1] + strikeValues[ENVELOPE_TO_CUTOFF2] * value),
    );
  }

  /** Gives the voice, just started, a loop of frames of its recording that is made while it sounds. */
  loopWhileSounding(start: number, end: number, crossfade: number, untilRelease: boolean): void {
    this.samples.loopWhileSounding(start, end, crossfade, untilRelease);
  }

  /** Lets the voice, just started, come in from silence in so many seconds. */
  comeIn(seconds: number): void {
    this.fadeIn[0] = seconds * this.engineRate;
  }

  /**
   * Goes on where another voice of the same note is: its envelope and movers stand as they do there, and it comes in
   * while that one fades.
   */
  goOnFrom(other: Voice, seconds: number): void {
    this.envelope.copy(other.envelope);
    this.onset.end();
    this.states.copyWithin(this.row, other.row, other.row + NOTE_STATE);
    this.comeIn(seconds);
  }

  /** Writes its grains, if it has any: see `Readings.readGrains`. */
  showGrains(into: Float32Array, at: number, end: number): number {
    return this.grains !== null && this.generator === this.grains
      ? this.grains.show(into, at, end, this.n, this.key)
      : at;
  }

  /** The key's release, once no pedal holds it. Full-length zones do not care. */
  release(): void {
    this.released = true;
    this.generator.release();
    if (!this.fullLength) this.envelope.release();
  }

  /** Ends with its release, held or not, full-length or not. */
  letEnd(): void {
    this.keyDown = this.sustained = this.caught = false;
    this.released = true;
    this.envelope.release();
  }

  /** Whether all that its sound is made of are numbers. */
  get isSound(): boolean {
    return isSound(this);
  }

  /** Ends at once: what it makes is no number, and must not be faded. */
  cut(): void {
    this.active = false;
    this.filters.end();
    this.generator.end();
  }

  /** Goes silent within {@link FADE_SECONDS}. */
  dismiss(seconds = FADE_SECONDS): void {
    this.fadeOver(seconds * this.engineRate);
  }

  /** How loud it is, or is about to be where it has just begun: 0 for what is not let through. */
  get loudness(): number {
    if (this.layer.gain === 0) return 0;
    return this.envelope.isRising ? Math.max(this.amplitude, this.targets[GAIN]) : this.amplitude;
  }

  get isDismissed(): boolean {
    return this.fadeStep > 0;
  }

  private fadeOver(frames: number): void {
    const step = this.fade / Math.max(1, frames);
    if (step > this.fadeStep) this.fadeStep = step;
  }

  /**
   * Adds `frames` (at most TICK) frames to the kernel's bus from its frame `at` on. `smoothing` holds, by frames, the
   * share by which values near their targets. Unheard, it only moves on.
   */
  render(at: number, frames: number, smoothing: Float64Array, heard: boolean): void {
    const { generator, engineRate, strikeValues } = this;
    if (!this.settled) this.approach(smoothing, frames);
    if (generator.values !== null) generator.values.advance(smoothing, frames);
    if (this.leading.ticksLeft > 0) this.leading.glide(frames);
    // What ends while it still sounds is faded over its last frames instead of being cut.
    if (generator.endsWithin(frames)) this.fadeOver(Math.max(frames, generator.left[0]));
    if (generator.stands || (this.released && this.hasLastedTooLong(frames))) this.dismiss();
    this.envelope.advance(this.shape, frames, engineRate);
    if (this.fadeStep > 0) this.fade = Math.max(0, this.fade - this.fadeStep * frames);
    if (this.onset.state[0] > 0) this.onset.advance(strikeValues, frames, engineRate);
    this.comesIn += frames;
    const risen = this.comesIn < this.fadeIn[0] ? this.comesIn / this.fadeIn[0] : 1;
    this.nextAmplitude = heard ? this.envelope.value * this.now[GAIN] * this.fade * this.onset.state[1] * risen : 0;
    if (this.nextAmplitude === 0 && this.amplitude === 0) generator.skip(frames);
    else this.sound(at, frames);
    this.amplitude = this.nextAmplitude;
    if (this.envelope.isDone || this.fade === 0) {
      this.active = false;
      this.filters.end();
      generator.end();
    }
  }

  /**
   * Whether it has been let go for longer than anybody would wait for: a minute, or as long as its recording takes at
   * its own pitch.
   */
  private hasLastedTooLong(frames: number): boolean {
    this.framesLetGo += frames;
    return this.framesLetGo > LONGEST_LET_GO * this.engineRate && this.framesLetGo > this.generator.ownFrames;
  }
  private framesLetGo = 0;

  /** Adds the span to the bus, its gains moving in straight lines to the next amplitude. */
  private sound(at: number, frames: number): void {
    const { generator, filters } = this;
    this.numbers[this.first + NEXT_AMPLITUDE] = this.nextAmplitude;
    if (!filters.isLong && generator.playWhole(at, frames, filters.sections)) return;
    generator.make(frames);
    if (this.primes !== 0) this.primeWithTurned(frames, generator.channels - 1);
    this.finish(generator.channels - 1, at, frames);
  }

  /** Takes what was made through the filters, and adds it to the bus. */
  private finish(stereo: number, at: number, frames: number): void {
    const { filters, kernel, block } = this;
    const { hasSide, hasPast } = this.generator;
    const isLong = filters.isLong || hasSide || hasPast;
    if (isLong) filters.process(stereo, frames, hasSide, hasPast);
    kernel.loops.finish(block, stereo, at, frames, isLong ? 0 : filters.sections);
  }

  private setPan(): void {
    setPan(this.panGains, this.now, PAN, this.generator.channels);
    layPan(this.panGains, this.numbers, this.first + PAN_GAIN);
  }

  /**
   * Takes the values a share of the way to their targets, and all of it once next to nothing is left. Those of the loop
   * are read when it comes round.
   */
  private approach(smoothing: Float64Array, frames: number): void {
    const { now, targets } = this;
    const led = this.leading.ledNow();
    const share = smoothing[frames];
    let moved = 0;
    this.settled = true;
    for (let place = 0; place < SMOOTHED; place++) {
      const distance = targets[place] - now[place];
      if (distance === 0 || (led & (1 << place)) !== 0) continue;
      moved |= 1 << place;
      if (distance < ENOUGH[place] && distance > -ENOUGH[place]) now[place] = targets[place];
      else {
        now[place] += distance * share;
        this.settled = false;
      }
    }
    if (moved & (1 << SEMITONES)) this.setPitch();
    if (moved & (1 << PAN)) this.setPan();
    if (moved & FILTERED_BITS) this.setFilters(false);
  }

  /** To be called when the targets were written anew. */
  unsettle(): void {
    this.settled = false;
  }

  private setPitch(): void {
    worked[0] = 2 ** (this.now[SEMITONES] / 12);
    this.generator.prepare(worked, 0);
    this.generator.speed(worked, 0);
  }

  /**
   * A low-pass that comes in during a note first hears the frames that went before, fully open, and stays so for a
   * span: it takes up the signal where it is, and closes from there.
   */
  private primeLowPass(): void {
    const { generator, kernel, block, filters } = this;
    const others = filters.sections;
    filters.openFirst(this.engineRate);
    if (generator === this.samples) {
      this.samples.readBefore(PRIMING);
      kernel.loops.filter(block, generator.channels - 1, MADE, PRIMING, filters.sections & ~others);
    } else this.primes = filters.sections & ~others;
  }
  /**
   * Sections that hear, before their first span, the beginning of it turned round: of a generator that does not know
   * what went before.
   */
  private primes = 0;

  private primeWithTurned(frames: number, stereo: number): void {
    const { made, madeRight, tail, tailRight, loops } = this.kernel;
    const count = frames < PRIMING ? frames : PRIMING;
    for (let i = 0; i < count; i++) {
      tail[i] = made[count - 1 - i];
      tailRight[i] = madeRight[count - 1 - i];
    }
    loops.filter(this.block, stereo, TAIL, count, this.primes);
    this.primes = 0;
  }

  /**
   * A filter that is fully open stays out of the way until it is first needed, then stays in for the rest of the note.
   */
  setFilters(atStart: boolean, quickly = false): void {
    const { now, filters, engineRate } = this;
    if (filters.needsFirst(now)) {
      if (filters.isLowPass && !filters.firstIsIn && !atStart) this.primeLowPass();
      else filters.setFirst(now, engineRate, quickly);
    }
    filters.setOthers(now, engineRate);
  }
  /** Sways the pitch on by the time that has gone by. */
  tremble(): void {
    if (this.sway.advance()) return;
    this.trembles = false;
    this.settled = false;
  }

  /** Goes on to another pitch of its zone, in so many seconds. */
  glideTo(zoneSemitones: number, seconds: number): void {
    this.sway.glideTo(zoneSemitones, seconds);
    if (this.sway.gliding[0] !== 0) this.trembles = true;
  }

  /** Sets what moves by itself on its way to its targets: see {@link Leading}. */
  lead(): void {
    this.leading.lead();
  }
}

/** Room for what is being worked out. */
const worked = new Float64Array(1);
const FILTERED_BITS = FILTER_BITS | (1 << LOW_CUT_KEY) | (1 << CUTOFF2_KEY) | (1 << Q2) | (1 << DRIVE) | (1 << TILT);
/** Frames in which a filter as open as one that comes in has forgotten how it began. */
const PRIMING = 24;
/** What is left of the way when a value has arrived. */
const ENOUGH = Float64Array.of(1e-6, 1e-4, 1e-4, 1e-2, 1e-3, 1e-2, 1e-2, 1e-3, 1e-2, 1e-3);
