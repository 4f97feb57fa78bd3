import { Envelope, type EnvelopeShape } from '../../dsp/envelope';
import { exp2, quarterSine, tangentAt } from '../../dsp/quick';
import type { Kernel } from '../../dsp/kernel/kernel';
import {
  AMPLITUDE,
  COEFFICIENTS,
  GAINS,
  LONGEST_SPAN,
  MADE,
  PAN_GAINS,
  STATES as SECTION_STATES,
  TAIL,
  VOICE_BYTES,
} from '../../dsp/kernel/layout';
import type { Draws } from '../notes/draws';
import type { CombPool } from '../../dsp/comb';
import { B, draw, DRAW, PHASE, SEED, STATE_SIZE, VALUE } from '../../movers/mover';
import { stride, strollInto } from '../../movers/wander';
import { LAYER_PARAMETERS } from '../../rig/parameters';
import type { Receive } from '../../rig/schema';
import { setPan, type PanGains } from '../../dsp/pan';
import { OFF as FILTER_OFF } from '../../space/filterKinds';
import type { PreparedSample } from '../../dsp/sample';
import type { WaveSet } from '../../dsp/waves';
import type { Generator } from './generators/generator';
import type { GrainGenerator, ShapeTable } from './generators/grains';
import { SampleGenerator } from './generators/samples';
import type { SynthGenerator } from './generators/synth';
import { DRAWS, NOTE_STATE, RANDOMS, type NoteValues } from '../hands/noteValues';
import type { LayerState } from '../notes/layerState';
import { OF_GRAINS, OF_SYNTH, SHAPES_KEY, type CompiledWindow, type Voicing } from '../program/program';
import {
  ATTACK,
  ATTACK_CURVE,
  COMB_DAMPING,
  DECAY,
  DECAY_CURVE,
  DELAY,
  DRIFT,
  DRIFT_TIME,
  ENVELOPE_TO_CUTOFF,
  ENVELOPE_TO_CUTOFF2,
  FILTER2_KIND,
  FILTER_KIND,
  FILTER_PATHS,
  HOLD,
  movesEnvelope,
  ONSET,
  ONSET_TIME,
  RELEASE,
  RELEASE_CURVE,
  START_LEVEL,
  STRIKE_VALUES,
  SUSTAIN,
  TILT_PIVOT,
  VIBRATO_ONSET,
  VIBRATO_RATE,
} from '../program/strikeValues';
import { LEAD } from '../program/tick';
import { VoiceFilters } from './voiceFilters';
import {
  CUTOFF2_KEY,
  CUTOFF_KEY,
  cutoffKeyOf,
  DRIVE,
  GAIN,
  LOW_CUT_KEY,
  MORPH,
  PAN,
  Q,
  Q2,
  SEMITONES,
  TILT,
  VALUES,
  VIBRATO,
} from '../program/voiceValues';

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
export class Voice implements NoteValues {
  active = false;
  channel = 0;
  key = 0;
  velocity = 0;
  releaseVelocity = 64;
  readonly randoms = new Float64Array(DRAWS);
  readonly scatters = new Float64Array(RANDOMS);
  readonly row: number;
  layer!: LayerState;
  voicing!: Voicing;
  /** The zone's windows on further sources, while they can be read: they belong to the program the voice began with. */
  zoneWindows: CompiledWindow[] | null = null;
  readonly zoneWindowsGain = Float64Array.of(1);
  /**
   * Choke group whose strikes end this voice (−1: none), whether at once, and the strike that began it, which does not.
   */
  chokedBy = -1;
  chokedFast = true;
  strike = 0;
  /** The key is down; the pedal holds it; the sostenuto pedal caught it. */
  keyDown = false;
  sustained = false;
  caught = false;
  released = false;
  fullLength = false;
  /** Order of birth, so that equal voices are told apart. */
  born = 0;
  zone = 0;
  /**
   * What was read when it began, by place of `strikeValues`, and 1 for each place that something moved: those stay
   * whatever is edited.
   */
  readonly strikeValues = new Float64Array(STRIKE_VALUES);
  readonly strikeMoved = new Uint8Array(STRIKE_VALUES);
  /** Semitones by which its layer moved the key, and the level of the strike as the layer felt it. */
  transpose = 0;
  touchGain = 1;
  touchMoved = false;
  /** What its layer let it hear when it began: a note keeps to the rules that it began with. */
  receive!: Receive;
  /** The note of a path that it belongs to; 0: the key itself plays it. */
  made = 0;
  /**
   * Of a layer that crossfades along its list: how many sounds the list has (1: it does not), and which of them this
   * is.
   */
  morphs = 1;
  morph = 0;
  /** What stands still of the gain, the pitch and the cutoff, where something else of them moves by itself. */
  readonly still = new Float64Array(VALUES);
  /** Pitch it is heading for without its vibrato; whether it has any. */
  readonly stillSemitones = new Float64Array(1);
  trembles = false;
  /** The envelope of its level moves a filter. */
  follows = false;
  /** Where the filters are heading without the envelope. */
  readonly stillCutoffs = new Float64Array(2);
  /**
   * Of the zone alone: windows × gain, pan, distance from the root in semitones; the windows of the layer that are read
   * at the strike are in the gain as well.
   */
  zoneGain = 0;
  zonePan = 0;
  zoneSemitones = 0;
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
  generator: Generator;
  private readonly envelope = new Envelope();
  /** The envelope of its voicing, or its own where something moved it. */
  private shape!: EnvelopeShape;
  private readonly ownShape: EnvelopeShape = {
    delay: 0,
    startLevel: 0,
    attack: 0.001,
    hold: 0,
    decay: 1,
    sustain: 1,
    release: 0.2,
    attackCurve: 0,
    decayCurve: 0,
    releaseCurve: 0,
  };
  /**
   * What is led (see {@link lead}): a bit for each place, ticks that are left of the way, and how things stand and how
   * far they go in a tick.
   */
  private led = 0;
  private ticksLeft = 0;
  private readonly glides = new Float64Array(GLIDES);
  /** Seconds that have gone by when it is led, and the frame up to which it was led last. */
  readonly waited = new Float64Array(2);
  private readonly filters: VoiceFilters;
  /** Of a glide: semitones left of the way, and how many go by in a second. */
  private readonly gliding = new Float64Array(2);
  /** Of the drift: a walk of its own, as wandering movers have it. */
  private readonly drifting = new Float64Array(STATE_SIZE);
  /** Of the onset: seconds left, and the factor now. */
  private readonly onset = Float64Array.of(0, 1);
  /** Of the vibrato: where in its round it is, and seconds since the strike. */
  private sway = 0;
  private swaySeconds = 0;
  private readonly now = new Float64Array(VALUES);
  private settled = false;
  private fade = 1;
  /** Of a zone that comes in from silence: frames since it began, and frames in which it comes in. */
  private comesIn = 0;
  private readonly fadeIn = new Float64Array(1);
  private fadeStep = 0;
  private readonly panGains: PanGains = { ll: 0, rl: 0, lr: 0, rr: 0 };
  /**
   * Where the amplitude stands at the end of this span. A field, because a number handed to a function may be put on
   * the heap.
   */
  private nextAmplitude = 0;
  /** The voice's block in the kernel's memory: its byte, and its first element as numbers. */
  private readonly block: number;
  private readonly first: number;
  private readonly numbers: Float64Array;

  constructor(
    private readonly kernel: Kernel,
    readonly n: number,
    readonly states: Float64Array,
    private readonly tangents: Float64Array,
    private readonly combs: { readonly pool: CombPool | null },
    private readonly engineRate: number,
  ) {
    this.row = n * NOTE_STATE;
    this.block = kernel.voiceAt(n);
    this.first = this.block >> 3;
    this.numbers = kernel.numbers;
    this.filters = new VoiceFilters(kernel, this.block, tangents);
    this.generator = this.samples = new SampleGenerator(kernel, this.block, this.targets, engineRate);
  }

  /** Starts from silence. The targets must have been worked out. `start` and `end` in frames of the recording. */
  start(sample: PreparedSample, start: number, end: number, fadeOut: number): void {
    this.samples.begin(sample, start, end, fadeOut);
    this.begin(this.samples);
  }

  /** The generators of other kinds of sound: made when a program first needs them. */
  setGenerators(oscillators: SynthGenerator, grains: GrainGenerator): void {
    this.oscillators = oscillators;
    this.grains = grains;
  }

  /** Takes up the generator of a kind, so that its values can be aimed; false where there is none. */
  take(kind: number): boolean {
    const generator = kind === OF_SYNTH ? this.oscillators : kind === OF_GRAINS ? this.grains : this.samples;
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
    this.trembles = this.targets[VIBRATO] > 0 || this.gliding[0] !== 0 || strikeValues[DRIFT] > 0;
    this.led = this.ticksLeft = 0;
    this.stillSemitones[0] = this.targets[SEMITONES];
    if (this.follows) this.followEnvelope();
    this.now.set(this.targets);
    this.now[SEMITONES] += this.gliding[0];
    this.settled = false;
    this.fade = 1;
    this.fadeStep = 0;
    this.comesIn = 0;
    this.framesLetGo = 0;
    this.primes = 0;
    this.fadeIn[0] = 0;
    this.amplitude = 0;
    this.onset[0] = strikeValues[ONSET] === 0 ? 0 : strikeValues[ONSET_TIME];
    this.onset[1] = strikeValues[ONSET] === 0 ? 1 : 10 ** (strikeValues[ONSET] / 20);
    const { numbers, first } = this;
    numbers.fill(0, first + SPAN_GAIN, first + SPAN_GAIN + 4);
    numbers.fill(0, first + STATES, first + STATES_END);
    this.sway = this.swaySeconds = 0;
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
    this.glides[GAINS_STEP] *= factor;
    for (let n = 0; n < 4; n++) this.numbers[this.first + SPAN_GAIN + n] *= factor;
  }

  /** Takes the times and levels of the envelope from what was read at the strike, or has been edited since. */
  shapeEnvelope(): void {
    if (!movesEnvelope(this.strikeMoved)) {
      this.shape = this.voicing.envelope;
      return;
    }
    const { ownShape: shape, strikeValues } = this;
    this.shape = shape;
    shape.delay = strikeValues[DELAY];
    shape.startLevel = strikeValues[START_LEVEL];
    shape.attack = strikeValues[ATTACK];
    shape.hold = strikeValues[HOLD];
    shape.decay = strikeValues[DECAY];
    shape.sustain = strikeValues[SUSTAIN];
    shape.release = strikeValues[RELEASE];
    shape.attackCurve = strikeValues[ATTACK_CURVE];
    shape.decayCurve = strikeValues[DECAY_CURVE];
    shape.releaseCurve = strikeValues[RELEASE_CURVE];
  }

  /**
   * Its part, at equal power, of a layer that crossfades along its list: the two sounds next to where the choice is
   * share.
   */
  shareMorph(): void {
    const distance = Math.abs(this.targets[MORPH] * (this.morphs - 1) - this.morph);
    this.targets[GAIN] *= distance >= 1 ? 0 : Math.cos((Math.PI / 2) * distance);
  }

  /** Sways the pitch on by the time that has gone by. */
  tremble(): void {
    const { strikeValues, targets } = this;
    const seconds = this.waited[0];
    this.sway += strikeValues[VIBRATO_RATE] * seconds;
    this.sway -= Math.floor(this.sway);
    this.swaySeconds += seconds;
    const onset = strikeValues[VIBRATO_ONSET];
    const grown = this.swaySeconds < onset ? this.swaySeconds / onset : 1;
    targets[SEMITONES] = this.stillSemitones[0] + targets[VIBRATO] * grown * Math.sin(2 * Math.PI * this.sway);
    const { gliding, drifting } = this;
    if (gliding[0] !== 0) {
      const step = gliding[1] * seconds;
      if (Math.abs(step) >= Math.abs(gliding[0])) gliding[0] = 0;
      else gliding[0] -= step;
      targets[SEMITONES] += gliding[0];
    }
    if (strikeValues[DRIFT] > 0) {
      drifting[PHASE] += seconds / strikeValues[DRIFT_TIME];
      if (drifting[PHASE] >= 1) {
        drifting[PHASE] -= Math.floor(drifting[PHASE]);
        stride(drifting, 0);
      }
      strollInto(drifting, 0);
      targets[SEMITONES] += (drifting[VALUE] * strikeValues[DRIFT]) / 100;
    } else if (targets[VIBRATO] <= 0 && gliding[0] === 0) {
      this.trembles = false;
      this.settled = false;
    }
  }

  /** Draws what a new voice has of its own, and forgets what another had. */
  beginSway(scatter: Draws): void {
    this.gliding[0] = 0;
    if (this.strikeValues[DRIFT] === 0) return;
    const { drifting } = this;
    drifting.fill(0);
    drifting[SEED] = 1 + scatter.below(0x7fff_fffe);
    draw(drifting, 0);
    drifting[B] = drifting[DRAW];
    stride(drifting, 0);
    draw(drifting, 0);
    drifting[PHASE] = (drifting[DRAW] + 1) / 2;
  }

  /** Begins so many semitones away from its pitch, and goes there in so many seconds. */
  glideFrom(semitones: number, seconds: number): void {
    this.gliding[0] = seconds > 0 ? semitones : 0;
    this.gliding[1] = seconds > 0 ? semitones / seconds : 0;
  }

  /** Goes on to another pitch of its zone, in so many seconds. */
  glideTo(zoneSemitones: number, seconds: number): void {
    const { gliding } = this;
    gliding[0] = seconds > 0 ? gliding[0] + this.zoneSemitones - zoneSemitones : 0;
    gliding[1] = seconds > 0 ? gliding[0] / seconds : 0;
    this.zoneSemitones = zoneSemitones;
    if (gliding[0] !== 0) this.trembles = true;
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

  /**
   * Sets what moves by itself on its way to its targets, which it reaches in {@link LEAD} ticks, in straight lines of
   * what the kernel works with. That is how often such things are looked at for a
   * voice: for hundreds of voices the exact functions would cost more than the sound.
   */
  lead(): void {
    const { now, targets, glides, generator, numbers } = this;
    const { program } = this.layer;
    const led = this.ledNow();
    if (led & (1 << SEMITONES)) {
      if ((this.led & (1 << SEMITONES)) === 0) glides[RATIO] = 2 ** (now[SEMITONES] / 12);
      worked[0] = targets[SEMITONES] / 12;
      exp2(worked, 0);
      const ratio = worked[0];
      glides[RATIO + 1] = (ratio - glides[RATIO]) / LEAD;
      now[SEMITONES] = targets[SEMITONES];
      generator.prepare(worked, 0);
    }
    if (led & (1 << PAN)) {
      const at = this.first + PAN_GAIN;
      if (generator.channels === 1) {
        worked[0] = (1 - targets[PAN]) / 2;
        worked[1] = (targets[PAN] + 1) / 2;
        quarterSine(worked, 0);
        quarterSine(worked, 1);
        glides[PANS] = (worked[0] - numbers[at]) / LEAD;
        glides[PANS + 1] = (worked[1] - numbers[at + 1]) / LEAD;
      } else {
        setPan(this.panGains, targets, PAN, 2);
        glides[PANS] = (this.panGains.ll - numbers[at]) / LEAD;
        glides[PANS + 1] = (this.panGains.lr - numbers[at + 1]) / LEAD;
        glides[PANS + 2] = (this.panGains.rl - numbers[at + 2]) / LEAD;
        glides[PANS + 3] = (this.panGains.rr - numbers[at + 3]) / LEAD;
      }
      now[PAN] = targets[PAN];
    }
    if (led & FILTER_BITS) {
      const q = now[Q];
      const before = now[CUTOFF_KEY];
      if ((led & (1 << CUTOFF_KEY)) !== 0) now[CUTOFF_KEY] = targets[CUTOFF_KEY];
      if ((led & (1 << Q)) !== 0) now[Q] = targets[Q];
      const { filters } = this;
      const wasOn = filters.firstIsIn;
      // One that comes in is primed; one that is in goes on from where it is.
      if (!wasOn) this.setFilters(false, true);
      if (filters.firstIsIn && (led & ((1 << CUTOFF_KEY) | (1 << Q))) !== 0) {
        if (!wasOn || (this.led & FILTER_BITS) === 0) {
          glides[TANGENT] = wasOn ? before : HIGHEST_KEY;
          tangentAt(this.tangents, glides, TANGENT);
          glides[DAMPING] = wasOn ? q : Math.SQRT1_2;
        }
        worked[0] = now[CUTOFF_KEY];
        tangentAt(this.tangents, worked, 0);
        glides[TANGENT + 1] = (worked[0] - glides[TANGENT]) / LEAD;
        glides[DAMPING + 1] = (now[Q] - glides[DAMPING]) / LEAD;
      }
    }
    if (led & (1 << GAIN)) glides[GAINS_STEP] = (targets[GAIN] - now[GAIN]) / LEAD;
    this.led = led;
    this.ticksLeft = LEAD;
    // What is not led goes its way a share at a time.
    if ((program.movingBits & ~led & SMOOTHED_BITS) !== 0 || this.follows) this.settled = false;
  }

  /**
   * Which values go in straight lines to where they are led: what moves of pitch, gain and pan, and the cutoff of a
   * low-pass.
   */
  private ledNow(): number {
    const { program } = this.layer;
    let led = program.movingBits | (program.moves ? 1 << GAIN : 0) | (this.trembles ? 1 << SEMITONES : 0);
    if (this.follows) led |= 1 << CUTOFF_KEY;
    return led & (this.filters.isLowPass ? LED_BITS : LED_BITS & ~FILTER_BITS);
  }

  /** Takes what is led on by a span. */
  private glide(frames: number): void {
    const { glides, numbers, led } = this;
    let share = frames / LONGEST_SPAN;
    if (share > this.ticksLeft) share = this.ticksLeft;
    this.ticksLeft -= share;
    if (led & (1 << GAIN)) this.now[GAIN] += glides[GAINS_STEP] * share;
    if (led & (1 << SEMITONES)) {
      glides[RATIO] += glides[RATIO + 1] * share;
      this.generator.speed(glides, RATIO);
    }
    if (led & (1 << PAN)) {
      const at = this.first + PAN_GAIN;
      numbers[at] += glides[PANS] * share;
      numbers[at + 1] += glides[PANS + 1] * share;
      if (this.generator.channels === 2) {
        numbers[at + 2] += glides[PANS + 2] * share;
        numbers[at + 3] += glides[PANS + 3] * share;
      }
    }
    if (
      (led & FILTER_BITS) !== 0 &&
      this.filters.firstIsIn &&
      (glides[TANGENT + 1] !== 0 || glides[DAMPING + 1] !== 0)
    ) {
      glides[TANGENT] += glides[TANGENT + 1] * share;
      glides[DAMPING] += glides[DAMPING + 1] * share;
      this.filters.glideFirst(glides, TANGENT, DAMPING);
    }
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
    this.onset[0] = 0;
    this.onset[1] = 1;
    this.states.copyWithin(this.row, other.row, other.row + NOTE_STATE);
    this.comeIn(seconds);
  }

  /** Writes its grains, if it has any: see `Engine.readGrains`. */
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
    const { numbers, first, now, targets, generator } = this;
    let sum = this.amplitude * 0;
    for (let i = first; i < first + VOICE_BYTES / 8; i++) sum += numbers[i] * 0;
    for (let place = 0; place < VALUES; place++) sum += (now[place] + targets[place]) * 0;
    if (generator.values !== null)
      for (let i = 0; i < generator.values.now.length; i++)
        sum += (generator.values.now[i] + generator.values.targets[i]) * 0;
    return sum === 0;
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
    const { generator, engineRate } = this;
    if (!this.settled) this.approach(smoothing, frames);
    if (generator.values !== null) generator.values.advance(smoothing, frames);
    if (this.ticksLeft > 0) this.glide(frames);
    // What ends while it still sounds is faded over its last frames instead of being cut.
    if (generator.endsWithin(frames)) this.fadeOver(Math.max(frames, generator.left[0]));
    if (generator.stands || (this.released && this.hasLastedTooLong(frames))) this.dismiss();
    this.envelope.advance(this.shape, frames, engineRate);
    if (this.fadeStep > 0) this.fade = Math.max(0, this.fade - this.fadeStep * frames);
    if (this.onset[0] > 0) this.decayOnset(frames);
    this.comesIn += frames;
    const risen = this.comesIn < this.fadeIn[0] ? this.comesIn / this.fadeIn[0] : 1;
    this.nextAmplitude = heard ? this.envelope.value * this.now[GAIN] * this.fade * this.onset[1] * risen : 0;
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

  /** The onset goes back to the level of the note, in a straight line of dB. */
  private decayOnset(frames: number): void {
    const { onset, strikeValues } = this;
    onset[0] -= frames / this.engineRate;
    onset[1] = onset[0] > 0 ? 10 ** ((strikeValues[ONSET] * onset[0]) / strikeValues[ONSET_TIME] / 20) : 1;
  }

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
    const { panGains, numbers, generator } = this;
    const at = this.first + PAN_GAIN;
    setPan(panGains, this.now, PAN, generator.channels);
    numbers[at] = panGains.ll;
    numbers[at + 1] = panGains.lr;
    numbers[at + 2] = panGains.rl;
    numbers[at + 3] = panGains.rr;
  }

  /**
   * Takes the values a share of the way to their targets, and all of it once next to nothing is left. Those of the loop
   * are read when it comes round.
   */
  private approach(smoothing: Float64Array, frames: number): void {
    const { now, targets } = this;
    const led = this.ledNow();
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
  private setFilters(atStart: boolean, quickly = false): void {
    const { now, filters, engineRate } = this;
    if (filters.needsFirst(now)) {
      if (filters.isLowPass && !filters.firstIsIn && !atStart) this.primeLowPass();
      else filters.setFirst(now, engineRate, quickly);
    }
    filters.setOthers(now, engineRate);
  }
}

/** Room for what is being worked out. */
const worked = new Float64Array(3);
/**
 * Places of what glides, each before what it goes in a tick: pitch as a ratio, cutoff, Q; the gain's way alone, and the
 * four gains of the pan.
 */
const RATIO = 0,
  TANGENT = 2,
  DAMPING = 4,
  GAINS_STEP = 6,
  PANS = 7,
  GLIDES = 11;
const HIGHEST_KEY = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);
const FILTER_BITS = (1 << CUTOFF_KEY) | (1 << Q);
/** What is led; all else goes a share of its way in each span. */
const LED_BITS = (1 << GAIN) | (1 << PAN) | (1 << SEMITONES) | FILTER_BITS;
const FILTERED_BITS = FILTER_BITS | (1 << LOW_CUT_KEY) | (1 << CUTOFF2_KEY) | (1 << Q2) | (1 << DRIVE) | (1 << TILT);
/** Frames in which a filter as open as one that comes in has forgotten how it began. */
const PRIMING = 24;
/** The values that move smoothly, and what is left of the way when they have arrived. */
const SMOOTHED = TILT + 1,
  SMOOTHED_BITS = (1 << SMOOTHED) - 1;
const ENOUGH = Float64Array.of(1e-6, 1e-4, 1e-4, 1e-2, 1e-3, 1e-2, 1e-2, 1e-3, 1e-2, 1e-3);
