import type { Draws } from '../notes/draws';
import { B, draw, DRAW, PHASE, SEED, STATE_SIZE, VALUE } from '../../movers/mover';
import { stride, strollInto } from '../../movers/wander';
import { DRIFT, DRIFT_TIME, VIBRATO_ONSET, VIBRATO_RATE } from '../program/strikeValues';
import { SEMITONES, VIBRATO } from '../program/voiceValues';

/** The voice whose pitch sways. */
interface Swayed {
  readonly strikeValues: Float64Array;
  readonly targets: Float64Array;
  /** Pitch it is heading for without what sways. */
  readonly stillSemitones: Float64Array;
  /** Seconds that have gone by, in the first place. */
  readonly waited: Float64Array;
  zoneSemitones: number;
}

/** What makes the pitch of a voice sway: its vibrato, a glide from another pitch, its drift. */
export class Sway {
  /** Of a glide: semitones left of the way, and how many go by in a second. */
  readonly gliding = new Float64Array(2);
  /** Of the drift: a walk of its own, as wandering movers have it. */
  private readonly drifting = new Float64Array(STATE_SIZE);
  /** Of the vibrato: where in its round it is, and seconds since the strike. */
  private round = 0;
  private seconds = 0;

  constructor(private readonly voice: Swayed) {}

  /** A note begins: its vibrato with it. */
  start(): void {
    this.round = this.seconds = 0;
  }

  /** Sways the pitch on by the time that has gone by; false where nothing is left that sways. */
  advance(): boolean {
    const { strikeValues, targets } = this.voice;
    const seconds = this.voice.waited[0];
    this.round += strikeValues[VIBRATO_RATE] * seconds;
    this.round -= Math.floor(this.round);
    this.seconds += seconds;
    const onset = strikeValues[VIBRATO_ONSET];
    const grown = this.seconds < onset ? this.seconds / onset : 1;
    targets[SEMITONES] = this.voice.stillSemitones[0] + targets[VIBRATO] * grown * Math.sin(2 * Math.PI * this.round);
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
    } else if (targets[VIBRATO] <= 0 && gliding[0] === 0) return false;
    return true;
  }

  /** Draws what a new voice has of its own, and forgets what another had. */
  begin(scatter: Draws): void {
    this.gliding[0] = 0;
    if (this.voice.strikeValues[DRIFT] === 0) return;
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
    gliding[0] = seconds > 0 ? gliding[0] + this.voice.zoneSemitones - zoneSemitones : 0;
    gliding[1] = seconds > 0 ? gliding[0] / seconds : 0;
    this.voice.zoneSemitones = zoneSemitones;
  }
}
