/** Times in seconds, sustain as an amplitude 0…1. */
export interface EnvelopeShape { attack: number; decay: number; sustain: number; release: number }

const ATTACK = 0, DECAY = 1, RELEASE = 2, DONE = 3;
/** Time constants in a decay's length: after it 99.3 % of the way is gone. */
const DECAY_CONSTANTS = 5;
/** A release ends 60 dB down: ln(1000) time constants. */
const RELEASE_CONSTANTS = Math.log(1000);
/** −100 dB: nobody hears the rest. */
const SILENT = 1e-5;

/** Attack as a straight line, decay and release as exponentials. It is asked for its value at the end of each short span; the caller draws straight lines between. */
export class Envelope {
  value = 0;
  private stage = DONE;
  /** The last exponential and what it was of: spans are mostly alike. */
  private shareOf = 0;
  private share = 1;

  start(): void {
    this.value = 0;
    this.stage = ATTACK;
  }

  release(): void {
    if (this.stage !== DONE) this.stage = RELEASE;
  }

  get isDone(): boolean {
    return this.stage === DONE;
  }

  /** Moves on by `seconds` and gives the value there. */
  advance(shape: EnvelopeShape, seconds: number): number {
    switch (this.stage) {
      case ATTACK:
        this.value += seconds / shape.attack;
        if (this.value >= 1) {
          this.value = 1;
          this.stage = DECAY;
        }
        break;
      case DECAY: {
        const distance = this.value - shape.sustain;
        if (distance > SILENT || distance < -SILENT) this.value = shape.sustain + distance * this.left((DECAY_CONSTANTS * seconds) / shape.decay);
        else this.value = shape.sustain;
        if (this.value < SILENT) this.finish();
        break;
      }
      case RELEASE:
        this.value *= this.left((RELEASE_CONSTANTS * seconds) / shape.release);
        if (this.value < SILENT) this.finish();
        break;
    }
    return this.value;
  }

  /** What an exponential leaves after some of its time constants. */
  private left(constants: number): number {
    if (constants !== this.shareOf) {
      this.shareOf = constants;
      this.share = Math.exp(-constants);
    }
    return this.share;
  }

  private finish(): void {
    this.value = 0;
    this.stage = DONE;
  }
}
