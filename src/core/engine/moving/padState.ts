import { draw, PHASE, SEED, STATE_SIZE, VALUE } from '../../movers/mover';
import { stride, strollInto } from '../../movers/wander';
import { NaturalNeighbours } from '../../space/naturalNeighbours';
import type { CompiledPad } from '../program/program';

const SPEED = 0,
  RADIUS = 1,
  SPRING = 2;
/** After so many time constants a sprung dot has come home: 99 % of the way. */
const CONSTANTS = Math.log(100);

/** The dot of an XY pad in motion, and the shares of its anchors. Allocates nothing once made. */
export class PadState {
  /** x and y of the dot now, before routes; the shares belong to `dot`. */
  readonly own = new Float64Array(2);
  readonly dot = new Float64Array(2);
  /** Its parameters in their units: speed, radius, spring. */
  readonly values: Float64Array;
  readonly shares: Float64Array;
  private readonly neighbours: NaturalNeighbours;
  private readonly walk = new Float64Array(2 * STATE_SIZE);
  private seconds = 0;
  private known = false;

  constructor(
    private readonly pad: CompiledPad,
    seed: number,
  ) {
    this.values = Float64Array.from(pad.rests);
    this.neighbours = new NaturalNeighbours(pad.anchors);
    this.shares = this.neighbours.shares;
    this.own[0] = pad.x;
    this.own[1] = pad.y;
    for (let axis = 0; axis < 2; axis++) {
      const at = axis * STATE_SIZE;
      this.walk[at + SEED] = seed + 77 * axis;
      draw(this.walk, at);
      // It sets out from its rest.
      stride(this.walk, at);
    }
  }

  /** Goes on as another did. */
  takeOver(other: PadState): void {
    this.walk.set(other.walk);
    this.seconds = other.seconds;
    this.own.set(other.own);
  }

  /** Where the path is, in seconds. */
  restart(): void {
    this.seconds = 0;
  }

  /** Moves the dot on by a span; `hand` holds x and y at `at`, NaN where no hand has moved it. */
  advance(hand: Float64Array, at: number, letGo: boolean, time: Float64Array): void {
    const { pad, own } = this;
    const seconds = time[0];
    const byHand = hand[at] === hand[at];
    switch (pad.motion) {
      case 'wander':
        for (let axis = 0; axis < 2; axis++) {
          const row = axis * STATE_SIZE;
          const { walk } = this;
          const before = Math.floor(walk[row + PHASE]);
          walk[row + PHASE] += seconds * this.values[SPEED];
          if (Math.floor(walk[row + PHASE]) !== before) stride(walk, row);
          strollInto(walk, row);
          own[axis] = (byHand ? hand[at + axis] : axis === 0 ? pad.x : pad.y) + walk[row + VALUE] * this.values[RADIUS];
        }
        break;
      case 'path':
        this.seconds += seconds;
        if (byHand && !letGo) this.follow(hand, at);
        else this.alongPath();
        break;
      case 'spring':
        if (byHand && !letGo) this.follow(hand, at);
        else {
          const share = 1 - Math.exp((-CONSTANTS * seconds) / this.values[SPRING]);
          own[0] += (pad.x - own[0]) * share;
          own[1] += (pad.y - own[1]) * share;
        }
        break;
      default:
        if (byHand) this.follow(hand, at);
        else {
          own[0] = pad.x;
          own[1] = pad.y;
        }
    }
  }

  private follow(hand: Float64Array, at: number): void {
    this.own[0] = hand[at];
    this.own[1] = hand[at + 1];
  }

  private alongPath(): void {
    const { path } = this.pad;
    const last = path.length - 3;
    const length = path[last];
    const now = length > 0 ? this.seconds % length : 0;
    let i = 0;
    while (i < last - 3 && path[i + 3] <= now) i += 3;
    const span = path[i + 3] - path[i];
    const t = span > 0 ? Math.min(1, Math.max(0, (now - path[i]) / span)) : 1;
    this.own[0] = path[i + 1] + (path[i + 4] - path[i + 1]) * t;
    this.own[1] = path[i + 2] + (path[i + 5] - path[i + 2]) * t;
  }

  /** Works the shares out again where the dot has moved. */
  shareOut(x: Float64Array, atX: number, atY: number): void {
    const { dot } = this;
    if (this.known && dot[0] === x[atX] && dot[1] === x[atY]) return;
    dot[0] = x[atX];
    dot[1] = x[atY];
    this.known = true;
    this.neighbours.shareOut(dot, 0);
  }
}
