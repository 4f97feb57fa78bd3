import type { CombLine, CombPool } from '../../dsp/comb';
import { DRIVE_LAST, DRIVE_LAST_RIGHT, DRIVE_SIZE, saturate, setDrive } from '../../dsp/drive';
import { fillSection, setSection, setTilt, type Section, type SectionKind } from '../../dsp/filter';
import { BAND_24, COMB_FEEDBACK, COMB_FORWARD, HIGH_24, LOW_12, LOW_24, NOTCH_24, OFF } from '../../space/filterKinds';
import type { FilterPicture } from '../../dsp/response';
import type { Kernel } from '../../dsp/kernel/kernel';
import {
  COEFFICIENTS,
  FIRST,
  LOW_CUT,
  MADE,
  SECOND,
  SECTION_BYTES,
  SIDE,
  TILT as TILT_AT,
} from '../../dsp/kernel/layout';
import { tangentAt } from '../../dsp/quick';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { CUTOFF2_KEY, CUTOFF_KEY, cutoffKeyOf, DRIVE, LOW_CUT_KEY, Q, Q2, TILT } from '../program/voiceValues';

/** From 20 kHz up the low-pass is open, at 20 Hz the low cut. */
const OPEN_KEY = cutoffKeyOf(20000);
const OPEN_Q = 0.75;
const CLOSED_KEY = 0.05;
/**
 * Q of the two sections of a Butterworth filter of fourth order (common tables; 1 / (2·cos(π/8)) and 1 /
 * (2·cos(3π/8))), as shares of one of second order.
 */
const FLAT = Math.SQRT1_2;
const GENTLE = 1 / (2 * Math.cos(Math.PI / 8));
const SHARP = 1 / (2 * Math.cos((3 * Math.PI) / 8)) / FLAT;
const FIRST_BITS = 3 << FIRST,
  SECOND_BITS = 3 << SECOND,
  REST_BITS = ~(FIRST_BITS | SECOND_BITS);
const LOW_CUT_BIT = 1 << LOW_CUT,
  TILT_BITS = 7 << TILT_AT;
const { resonance } = LAYER_PARAMETERS;
const RESONANCE_SPAN = Math.log(resonance.high / resonance.low);
/** The most that a comb sends back. */
const MOST_SHARE = 0.985;

const SECTION_KINDS: readonly SectionKind[] = [
  'low',
  'low',
  'low',
  'high',
  'high',
  'band',
  'band',
  'notch',
  'notch',
  'peak',
  'low',
  'low',
];
const isDouble = (kind: number): boolean =>
  kind === LOW_24 || kind === HIGH_24 || kind === BAND_24 || kind === NOTCH_24;
const isComb = (kind: number): boolean => kind === COMB_FORWARD || kind === COMB_FEEDBACK;

/**
 * What a voice's sound goes through between generator and amplitude: two filters, in a row or side by side, drive
 * between them, tilt, and a low cut.
 */
export class VoiceFilters {
  /** The kernel's sections that are in, a bit for each. */
  sections = 0;
  /** Something of it is not the kernel's alone. */
  isLong = false;
  kind = LOW_12;
  kind2 = OFF;
  private sideBySide = false;
  private driven = false;
  private readonly drive = new Float64Array(DRIVE_SIZE);
  private comb: CombLine | null = null;
  private comb2: CombLine | null = null;
  private damping = 0;
  private pivot = 800;
  private readonly numbers: Float64Array;

  constructor(
    private readonly kernel: Kernel,
    private readonly block: number,
    private readonly tangents: Float64Array,
  ) {
    this.numbers = kernel.numbers;
  }

  /** Begins for a new note; {@link damping} 0…1, {@link pivot} in Hz. */
  begin(
    kind: number,
    kind2: number,
    sideBySide: boolean,
    strikeValues: Float64Array,
    dampingAt: number,
    pivotAt: number,
    combs: CombPool | null,
  ): void {
    this.end();
    this.sections = 0;
    this.kind = kind;
    this.kind2 = kind2;
    this.sideBySide = sideBySide && kind2 !== OFF && kind !== OFF;
    this.damping = strikeValues[dampingAt];
    this.pivot = strikeValues[pivotAt];
    this.driven = false;
    this.drive.fill(0);
    if (isComb(kind)) this.comb = combs ? combs.take() : null;
    if (isComb(kind2)) this.comb2 = combs ? combs.take() : null;
    this.isLong = this.sideBySide || this.comb !== null || this.comb2 !== null;
  }

  /** Gives back what was lent. */
  end(): void {
    if (this.comb) this.comb.taken = false;
    if (this.comb2) this.comb2.taken = false;
    this.comb = this.comb2 = null;
  }

  /** Whether both filters hear the sound, each on its own. */
  get isSideBySide(): boolean {
    return this.sideBySide;
  }

  /** Whether the first filter is a low-pass, which stays out of the way while it is open. */
  get isLowPass(): boolean {
    return this.kind === LOW_12 || this.kind === LOW_24;
  }

  get firstIsIn(): boolean {
    return (this.sections & FIRST_BITS) !== 0 || this.comb !== null;
  }

  /** Whether the first filter is needed: one that was comes in for the rest of the note. */
  needsFirst(now: Float64Array): boolean {
    if (this.kind === OFF) return false;
    return this.firstIsIn || !this.isLowPass || now[CUTOFF_KEY] < OPEN_KEY || now[Q] > OPEN_Q;
  }

  /** Sets the first filter to be open, as one that is about to be primed. */
  openFirst(rate: number): void {
    worked[0] = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);
    worked[1] = FLAT;
    this.set(FIRST, this.kind, rate, false);
  }

  setFirst(now: Float64Array, rate: number, quickly: boolean): void {
    worked[0] = now[CUTOFF_KEY];
    worked[1] = now[Q];
    if (this.comb) this.setComb(this.comb, rate);
    else if (!isComb(this.kind)) this.set(FIRST, this.kind, rate, quickly);
  }

  /** The first filter, a low-pass, from what is known of it: tangent and Q, in `values`. */
  glideFirst(values: Float64Array, tangent: number, q: number): void {
    worked[1] = values[q];
    section.g = values[tangent];
    this.fill(FIRST, this.kind);
  }

  /** Everything after the first filter. */
  setOthers(now: Float64Array, rate: number): void {
    const { numbers, block } = this;
    if (this.kind2 !== OFF) {
      worked[0] = now[CUTOFF2_KEY];
      worked[1] = now[Q2];
      if (this.comb2) this.setComb(this.comb2, rate);
      else if (!isComb(this.kind2)) this.set(SECOND, this.kind2, rate, false);
    }
    if ((this.sections & LOW_CUT_BIT) !== 0 || now[LOW_CUT_KEY] > CLOSED_KEY) {
      this.sections |= LOW_CUT_BIT;
      section.cutoffHz = 20 * 2 ** (now[LOW_CUT_KEY] / 12);
      section.q = FLAT;
      setSection(numbers, (block + COEFFICIENTS + LOW_CUT * SECTION_BYTES) >> 3, 'high', section, rate);
    }
    if ((this.sections & TILT_BITS) !== 0 || now[TILT] !== 0) {
      this.sections |= TILT_BITS;
      setTilt(
        numbers,
        (block + COEFFICIENTS + TILT_AT * SECTION_BYTES) >> 3,
        SECTION_BYTES >> 3,
        now,
        TILT,
        this.pivot,
        rate,
      );
    }
    if (this.driven || now[DRIVE] > 0) {
      this.driven = this.isLong = true;
      setDrive(this.drive, now, DRIVE);
    }
  }

  /** Sets a filter to `worked`: its key above 20 Hz and its Q. */
  private set(at: number, kind: number, rate: number, quickly: boolean): void {
    if (quickly) {
      tangentAt(this.tangents, worked, 0);
      section.g = worked[0];
    } else {
      section.cutoffHz = 20 * 2 ** (worked[0] / 12);
      section.g = Math.tan((Math.PI * Math.min(section.cutoffHz, 0.49 * rate)) / rate);
    }
    this.fill(at, kind);
  }

  private fill(at: number, kind: number): void {
    const { numbers } = this;
    const from = (this.block + COEFFICIENTS + at * SECTION_BYTES) >> 3;
    const q = worked[1];
    this.sections |= 1 << at;
    const double = isDouble(kind);
    const graded = kind === LOW_24 || kind === HIGH_24;
    section.q = graded ? GENTLE : q;
    fillSection(numbers, from, SECTION_KINDS[kind], section);
    if (!double) return;
    this.sections |= 2 << at;
    section.q = graded ? SHARP * q : q;
    fillSection(numbers, from + (SECTION_BYTES >> 3), SECTION_KINDS[kind], section);
  }

  /** Where the teeth stand, and by the resonance how deep they are. */
  private setComb(comb: CombLine, rate: number): void {
    const depth = MOST_SHARE * Math.sqrt(Math.max(0, Math.log(worked[1] / resonance.low) / RESONANCE_SPAN));
    const kind = comb === this.comb ? this.kind : this.kind2;
    const { combed } = this;
    combed[0] = rate / (20 * 2 ** (worked[0] / 12));
    combed[1] = depth;
    combed[2] = 0.9 * this.damping;
    combed[3] = kind === COMB_FORWARD ? 1 / (1 + depth) : Math.sqrt(1 - depth * depth);
    comb.set(combed);
  }
  private readonly combed = new Float64Array(4);

  /** For pictures: everything that its response follows from. */
  get picture(): FilterPicture {
    const of = (comb: CombLine | null, kind: number) => comb && { feedback: kind === COMB_FEEDBACK, ...comb.settings };
    return {
      numbers: this.numbers,
      block: this.block,
      sections: this.sections,
      sideBySide: this.sideBySide,
      combs: [of(this.comb, this.kind), of(this.comb2, this.kind2)],
    };
  }

  /**
   * Takes what was made on its way where the kernel alone does not; what the generator has for the second filter alone,
   * and past the filters, joins it there.
   */
  process(stereo: number, frames: number, hasSide: boolean, hasPast: boolean): void {
    const { kernel, block, sections } = this;
    const { loops, made, madeRight, side, sideRight, past, pastRight } = kernel;
    if (this.sideBySide && !hasSide) {
      for (let i = 0; i < frames; i++) {
        side[i] = made[i];
        sideRight[i] = madeRight[i];
      }
    }
    const first = sections & FIRST_BITS;
    if (first) loops.filter(block, stereo, MADE, frames, first);
    if (this.comb) this.comb.process(stereo, MADE, frames, this.kind === COMB_FEEDBACK);
    if (this.driven) {
      saturate(made, frames, this.drive, DRIVE_LAST);
      if (stereo) saturate(madeRight, frames, this.drive, DRIVE_LAST_RIGHT);
    }
    const second = sections & SECOND_BITS;
    if (this.sideBySide) {
      if (second) loops.filter(block, stereo, SIDE, frames, second);
      if (this.comb2) this.comb2.process(stereo, SIDE, frames, this.kind2 === COMB_FEEDBACK);
      for (let i = 0; i < frames; i++) {
        made[i] += side[i];
        madeRight[i] += sideRight[i];
      }
    } else {
      if (hasSide) {
        for (let i = 0; i < frames; i++) {
          made[i] += side[i];
          madeRight[i] += sideRight[i];
        }
      }
      if (second) loops.filter(block, stereo, MADE, frames, second);
      if (this.comb2) this.comb2.process(stereo, MADE, frames, this.kind2 === COMB_FEEDBACK);
    }
    if (hasPast) {
      for (let i = 0; i < frames; i++) {
        made[i] += past[i];
        madeRight[i] += pastRight[i];
      }
    }
    const rest = sections & REST_BITS;
    if (rest) loops.filter(block, stereo, MADE, frames, rest);
  }
}

/**
 * What is asked of a filter next. An object, and an array, because a fraction handed to a function may be put on the
 * heap.
 */
const section: Section = { cutoffHz: 1000, q: FLAT, g: 0 };
const worked = new Float64Array(2);
