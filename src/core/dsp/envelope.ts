/** Times in seconds; start level and sustain as amplitudes 0…1; curves −1…1, 0 as they are by nature. */
export interface EnvelopeShape {
  delay: number;
  startLevel: number;
  attack: number;
  hold: number;
  decay: number;
  sustain: number;
  release: number;
  attackCurve: number;
  decayCurve: number;
  releaseCurve: number;
}

const DELAY = 0,
  ATTACK = 1,
  HOLD = 2,
  DECAY = 3,
  RELEASE = 4,
  DONE = 5;
/** Time constants in a decay's length: after it 99.3 % of the way is gone. */
const DECAY_CONSTANTS = 5;
/** A release ends 60 dB down: ln(1000) time constants. */
const RELEASE_CONSTANTS = Math.log(1000);
/** Time constants in the most bent attack. */
const ATTACK_BEND = 6;
/** −100 dB: nobody hears the rest. */
const SILENT = 1e-5;

/**
 * Delay at nothing, attack as a straight line from the start level, hold at full level, decay and release as
 * exponentials. It is asked for its value at the end of each short span; the caller draws straight lines between.
 */
export class Envelope {
  value = 0;
  private stage = DONE;
  /** The last exponential and what it was of: spans are mostly alike. */
  private shareOf = 0;
  private share = 1;
  /** Time constants that pass in this span. */
  private constants = 0;

  /** Seconds left of the delay or the hold. */
  private waiting = 0;
  private releasedFrom = 1;

  start(shape: EnvelopeShape): void {
    this.value = shape.delay > 0 ? 0 : shape.startLevel;
    this.waiting = shape.delay;
    this.stage = shape.delay > 0 ? DELAY : ATTACK;
  }

  /** Stands where another one stands. */
  copy(other: Envelope): void {
    this.value = other.value;
    this.stage = other.stage;
    this.waiting = other.waiting;
    this.releasedFrom = other.releasedFrom;
  }

  release(): void {
    if (this.stage === DELAY) this.finish();
    else if (this.stage !== DONE && this.stage !== RELEASE) {
      this.stage = RELEASE;
      this.releasedFrom = this.value;
    }
  }

  /** On its way to full level, or waiting to set out. */
  get isRising(): boolean {
    return this.stage === DELAY || this.stage === ATTACK;
  }

  get isDone(): boolean {
    return this.stage === DONE;
  }

  /**
   * Moves {@link value} on by some frames. Whole numbers go in and nothing comes out: a fraction handed to or from a
   * function may be put on the heap.
   */
  advance(shape: EnvelopeShape, frames: number, rate: number): void {
    const seconds = frames / rate;
    switch (this.stage) {
      case DELAY:
        this.waiting -= seconds;
        if (this.waiting <= 0) {
          this.value = shape.startLevel;
          this.stage = ATTACK;
        }
        break;
      case ATTACK:
        if (shape.attackCurve === 0) this.value += ((1 - shape.startLevel) * seconds) / shape.attack;
        else {
          // (1 − e^(−κt)) / (1 − e^(−κ)) of the way.
          const k = ATTACK_BEND * shape.attackCurve;
          const beyond = shape.startLevel + (1 - shape.startLevel) / (1 - Math.exp(-k));
          this.value = beyond + (this.value - beyond) * Math.exp((-k * seconds) / shape.attack);
        }
        if (this.value >= 1 || shape.startLevel >= 1) {
          this.value = 1;
          this.waiting = shape.hold;
          this.stage = shape.hold > 0 ? HOLD : DECAY;
        }
        break;
      case HOLD:
        this.waiting -= seconds;
        if (this.waiting <= 0) this.stage = DECAY;
        break;
      case DECAY: {
        if (shape.decayCurve !== 0) {
          this.fall(shape.decayCurve, DECAY_CONSTANTS, seconds, shape.decay, 1 - shape.sustain, shape.sustain);
          if (this.value <= shape.sustain) this.value = shape.sustain;
          if (this.value < SILENT) this.finish();
          break;
        }
        const distance = this.value - shape.sustain;
        this.constants = (DECAY_CONSTANTS * seconds) / shape.decay;
        this.findShare();
        if (distance > SILENT || distance < -SILENT) this.value = shape.sustain + distance * this.share;
        else this.value = shape.sustain;
        if (this.value < SILENT) this.finish();
        break;
      }
      case RELEASE:
        if (shape.releaseCurve !== 0) {
          this.fall(shape.releaseCurve, RELEASE_CONSTANTS, seconds, shape.release, this.releasedFrom, 0);
          if (this.value < SILENT) this.finish();
          break;
        }
        this.constants = (RELEASE_CONSTANTS * seconds) / shape.release;
        this.findShare();
        this.value *= this.share;
        if (this.value < SILENT) this.finish();
        break;
    }
  }

  /**
   * A way down in a given time, by so many time constants: fewer, down to a straight line, or more. It ends where it
   * leads to, not near it.
   */
  private fall(curve: number, natural: number, seconds: number, lasts: number, way: number, to: number): void {
    const k = curve < 0 ? Math.max(0.02, natural * (1 + curve)) : natural * (1 + 2 * curve);
    const below = (way * Math.exp(-k)) / (1 - Math.exp(-k));
    this.value = to - below + (this.value - to + below) * Math.exp((-k * seconds) / lasts);
  }

  /** What an exponential leaves after its time constants. */
  private findShare(): void {
    if (this.constants === this.shareOf) return;
    this.shareOf = this.constants;
    this.share = Math.exp(-this.constants);
  }

  private finish(): void {
    this.value = 0;
    this.stage = DONE;
  }
}
