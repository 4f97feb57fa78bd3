import type { Kernel } from '../../../dsp/kernel/kernel';
import { GATE_OFF_DB } from '../../../sounds/input/parameters';
import type { InputRing } from '../../hands/inputRing';
import type { Generator } from './generator';
import { OwnGlide } from './ownGlide';

/** Where it finds the values of its kind. */
export interface InputPlaces {
  gain: number;
  gate: number;
  side: number;
  count: number;
  whole: Uint8Array;
}

/** Seconds: how fast the gate opens and shuts, and how long it hears a level. Common practice, no source. */
const OPEN_SECONDS = 0.002,
  SHUT_SECONDS = 0.08,
  HEARS_SECONDS = 0.05;
/** Once open it stays so until the level is this factor below (3 dB), so that it does not chatter. */
const HYSTERESIS = 0.708;

/** What comes in from outside, as the sound of a voice: it has no pitch of its own and never ends. */
export class InputGenerator implements Generator {
  readonly channels = 2;
  readonly values: OwnGlide;
  readonly left = Float64Array.of(Infinity);
  readonly hasSide = false;
  readonly hasPast = false;
  readonly stands = false;
  readonly ownFrames = 0;
  /** The frame that is heard next; the level that was heard; how far the gate is open; whether it opens; gain. */
  private readonly state = new Float64Array(5);
  private readonly falls: number;
  private readonly opens: number;
  private readonly shuts: number;

  constructor(
    private readonly kernel: Kernel,
    private readonly ring: InputRing,
    private readonly places: InputPlaces,
    engineRate: number,
  ) {
    this.values = new OwnGlide(places.count, places.whole);
    this.falls = Math.exp(-1 / (HEARS_SECONDS * engineRate));
    this.opens = 1 - Math.exp(-1 / (OPEN_SECONDS * engineRate));
    this.shuts = 1 - Math.exp(-1 / (SHUT_SECONDS * engineRate));
  }

  /** Begins to hear with the frame that is made next. */
  begin(): void {
    this.values.begin();
    this.state[AT] = this.ring.now;
    this.state[LEVEL] = 0;
    this.state[OPEN] = this.values.now[this.places.gate] <= GATE_OFF_DB ? 1 : 0;
    this.state[OPENS] = 0;
    this.state[GAIN] = this.values.now[this.places.gain];
  }

  prepare(): void {}
  speed(): void {}

  make(frames: number): void {
    const { ring, kernel, state, values, places } = this;
    const { made, madeRight } = kernel;
    const side = values.now[places.side];
    const threshold = values.now[places.gate];
    const isGated = threshold > GATE_OFF_DB;
    const opensAt = isGated ? 10 ** (threshold / 20) : 0;
    const gainTo = values.now[places.gain];
    let gain = state[GAIN],
      level = state[LEVEL],
      open = state[OPEN],
      at = state[AT];
    let isOpening = state[OPENS] === 1;
    const step = (gainTo - gain) / frames;
    for (let i = 0; i < frames; i++, at++) {
      const there = at < ring.given;
      const l = there ? ring.left[at & ring.mask] : 0;
      const r = there ? ring.right[at & ring.mask] : 0;
      const inLeft = side === 2 ? r : l;
      const inRight = side === 1 ? l : r;
      const height = Math.max(inLeft < 0 ? -inLeft : inLeft, inRight < 0 ? -inRight : inRight);
      level = height > level ? height : level * this.falls;
      isOpening = !isGated || level >= (isOpening ? opensAt * HYSTERESIS : opensAt);
      open += ((isOpening ? 1 : 0) - open) * (isOpening ? this.opens : this.shuts);
      gain += step;
      made[i] = inLeft * gain * open;
      madeRight[i] = inRight * gain * open;
    }
    state[GAIN] = gainTo;
    state[LEVEL] = level;
    state[OPEN] = open;
    state[OPENS] = isOpening ? 1 : 0;
    state[AT] = at;
  }

  playWhole(): boolean {
    return false;
  }

  skip(frames: number): void {
    this.state[AT] += frames;
    this.state[GAIN] = this.values.now[this.places.gain];
  }

  endsWithin(): boolean {
    return false;
  }
  release(): void {}
  end(): void {}
}
const AT = 0,
  LEVEL = 1,
  OPEN = 2,
  OPENS = 3,
  GAIN = 4;
