import { exp2, quarterSine, tangentAt } from '../../dsp/quick';
import { LONGEST_SPAN, PAN_GAINS } from '../../dsp/kernel/layout';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { setPan, type PanGains } from '../../dsp/pan';
import type { Generator } from './generators/generator';
import type { LayerState } from '../notes/layerState';
import { LEAD } from '../program/tick';
import { type VoiceFilters } from './voiceFilters';
import { CUTOFF_KEY, cutoffKeyOf, GAIN, PAN, Q, SEMITONES, TILT } from '../program/voiceValues';

/** Place of the gains of the pan in a voice's block. */
const PAN_GAIN = PAN_GAINS >> 3;

/** The voice that is led. */
interface Led {
  readonly now: Float64Array;
  readonly targets: Float64Array;
  readonly numbers: Float64Array;
  readonly first: number;
  readonly panGains: PanGains;
  readonly tangents: Float64Array;
  readonly filters: VoiceFilters;
  readonly generator: Generator;
  readonly layer: LayerState;
  readonly trembles: boolean;
  readonly follows: boolean;
  setFilters(atStart: boolean, quickly: boolean): void;
  unsettle(): void;
}

/** What of a voice moves by itself, and is led in straight lines from one look at it to the next. */
export class Leading {
  /** A bit for each place that is led, ticks that are left of the way. */
  private led = 0;
  ticksLeft = 0;
  /** How things stand, and how far they go in a tick. */
  readonly glides = new Float64Array(GLIDES);

  // What never changes in a voice is at hand here: it is read in every span.
  private readonly now: Float64Array;
  private readonly targets: Float64Array;
  private readonly numbers: Float64Array;
  private readonly first: number;
  private readonly filters: VoiceFilters;

  constructor(private readonly voice: Led) {
    this.now = voice.now;
    this.targets = voice.targets;
    this.numbers = voice.numbers;
    this.first = voice.first;
    this.filters = voice.filters;
  }

  /** A note begins: nothing is led yet. */
  start(): void {
    this.led = this.ticksLeft = 0;
  }

  /** It is louder or softer by a factor: so is what is left of the way. */
  scale(factor: number): void {
    this.glides[GAINS_STEP] *= factor;
  }

  /**
   * Sets what moves by itself on its way to its targets, which it reaches in {@link LEAD} ticks, in straight lines of
   * what the kernel works with. That is how often such things are looked at for a
   * voice: for hundreds of voices the exact functions would cost more than the sound.
   */
  lead(): void {
    const { glides, voice, now, targets, numbers } = this;
    const { generator } = voice;
    const { program } = voice.layer;
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
        setPan(voice.panGains, targets, PAN, 2);
        glides[PANS] = (voice.panGains.ll - numbers[at]) / LEAD;
        glides[PANS + 1] = (voice.panGains.lr - numbers[at + 1]) / LEAD;
        glides[PANS + 2] = (voice.panGains.rl - numbers[at + 2]) / LEAD;
        glides[PANS + 3] = (voice.panGains.rr - numbers[at + 3]) / LEAD;
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
      if (!wasOn) voice.setFilters(false, true);
      if (filters.firstIsIn && (led & ((1 << CUTOFF_KEY) | (1 << Q))) !== 0) {
        if (!wasOn || (this.led & FILTER_BITS) === 0) {
          glides[TANGENT] = wasOn ? before : HIGHEST_KEY;
          tangentAt(voice.tangents, glides, TANGENT);
          glides[DAMPING] = wasOn ? q : Math.SQRT1_2;
        }
        worked[0] = now[CUTOFF_KEY];
        tangentAt(voice.tangents, worked, 0);
        glides[TANGENT + 1] = (worked[0] - glides[TANGENT]) / LEAD;
        glides[DAMPING + 1] = (now[Q] - glides[DAMPING]) / LEAD;
      }
    }
    if (led & (1 << GAIN)) glides[GAINS_STEP] = (targets[GAIN] - now[GAIN]) / LEAD;
    this.led = led;
    this.ticksLeft = LEAD;
    // What is not led goes its way a share at a time.
    if ((program.movingBits & ~led & SMOOTHED_BITS) !== 0 || voice.follows) voice.unsettle();
  }

  /**
   * Which values go in straight lines to where they are led: what moves of pitch, gain and pan, and the cutoff of a
   * low-pass.
   */
  ledNow(): number {
    const { voice } = this;
    const { program } = voice.layer;
    let led = program.movingBits | (program.moves ? 1 << GAIN : 0) | (voice.trembles ? 1 << SEMITONES : 0);
    if (voice.follows) led |= 1 << CUTOFF_KEY;
    return led & (this.filters.isLowPass ? LED_BITS : LED_BITS & ~FILTER_BITS);
  }

  /** Takes what is led on by a span. */
  glide(frames: number): void {
    const { glides, led, voice, numbers, filters } = this;
    let share = frames / LONGEST_SPAN;
    if (share > this.ticksLeft) share = this.ticksLeft;
    this.ticksLeft -= share;
    if (led & (1 << GAIN)) this.now[GAIN] += glides[GAINS_STEP] * share;
    if (led & (1 << SEMITONES)) {
      glides[RATIO] += glides[RATIO + 1] * share;
      voice.generator.speed(glides, RATIO);
    }
    if (led & (1 << PAN)) {
      const at = this.first + PAN_GAIN;
      numbers[at] += glides[PANS] * share;
      numbers[at + 1] += glides[PANS + 1] * share;
      if (voice.generator.channels === 2) {
        numbers[at + 2] += glides[PANS + 2] * share;
        numbers[at + 3] += glides[PANS + 3] * share;
      }
    }
    if ((led & FILTER_BITS) !== 0 && filters.firstIsIn && (glides[TANGENT + 1] !== 0 || glides[DAMPING + 1] !== 0)) {
      glides[TANGENT] += glides[TANGENT + 1] * share;
      glides[DAMPING] += glides[DAMPING + 1] * share;
      filters.glideFirst(glides, TANGENT, DAMPING);
    }
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
export const HIGHEST_KEY = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);
export const FILTER_BITS = (1 << CUTOFF_KEY) | (1 << Q);
/** What is led; all else goes a share of its way in each span. */
const LED_BITS = (1 << GAIN) | (1 << PAN) | (1 << SEMITONES) | FILTER_BITS;

/** The values that move smoothly. */
export const SMOOTHED = TILT + 1;
const SMOOTHED_BITS = (1 << SMOOTHED) - 1;
