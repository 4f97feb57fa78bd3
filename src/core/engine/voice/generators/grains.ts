import type { Kernel } from '../../../dsp/kernel/kernel';
import {
  GRAIN_AGE,
  GRAIN_BACKWARD,
  GRAIN_COUNT,
  GRAIN_FROM,
  GRAIN_LEFT,
  GRAIN_LENGTH,
  GRAIN_RIGHT,
  GRAIN_SHAPE,
  GRAIN_STEREO,
  MADE,
  READING,
  VOICE_BYTES,
  VOICES,
} from '../../../dsp/kernel/layout';
import { DRAWN_SHAPES, GRAIN_SHAPE_BYTES, GRAIN_SHAPES } from '../../../dsp/kernel/synthLayout';
import { exp2, quarterSine } from '../../../dsp/quick';
import { levelFor, type PreparedSample } from '../../../dsp/sample';
import { readSample } from '../../../dsp/sampleReader';
import type { Draws } from '../../notes/draws';
import { MOST_GRAINS } from '../../../sounds/grains/parameters';
import { SHAPE_NAMES, SHAPE_POINTS, shapePoints } from '../../../sounds/grains/shapes';
import type { Generator } from './generator';
import { OwnGlide } from './ownGlide';

/** Where the values of grains stand among their own. */
export interface GrainPlaces {
  position: number;
  positionScatter: number;
  rate: number;
  freeze: number;
  length: number;
  lengthScatter: number;
  density: number;
  overlap: number;
  timeScatter: number;
  pitch: number;
  pitchScatter: number;
  pan: number;
  panScatter: number;
  reversed: number;
  levelScatter: number;
  shape: number;
  by: number;
  most: number;
  follow: number;
  count: number;
  whole: Uint8Array;
}

/**
 * Numbers of a grain: where it is in frames of its level, and frames of it for one of output (below 0: backward),
 * frames of output since it began and that it lasts, gains left and right.
 */
const AT = 0,
  STEP = 1,
  AGE = 2,
  LENGTH = 3,
  LEFT = 4,
  RIGHT = 5,
  SIZE = 6;

/** What the shapes that come with the application look like; and the one that is drawn, of the sound that is played. */
export interface ShapeTable {
  points: Float32Array;
  power: number;
}
const SHAPES: readonly ShapeTable[] = SHAPE_NAMES.slice(0, -1).map((_, shape) => shapePoints(shape));
/** Puts the shapes that come with the application where the kernel finds them. */
export function layShapes(kernel: Kernel): void {
  SHAPES.forEach(({ points }, n) => kernel.floats.set(points, (GRAIN_SHAPES + n * GRAIN_SHAPE_BYTES) >> 2));
}
/** Mean square of a Hann window and its overlap at which grains have the level of their sample. */
const HANN_POWER = 3 / 8,
  UNIT_OVERLAP = 2;

const POSITION_AT = READING >> 3,
  STEP_AT = POSITION_AT + 1;

/** Plays a recording in grains: short pieces, each from its own place, at its own pitch and level. */
export class GrainGenerator implements Generator {
  readonly channels = 2;
  readonly values: OwnGlide;
  readonly left = new Float64Array(1);
  readonly hasSide = false;
  readonly hasPast = false;
  /** The grains that sound, each {@link SIZE} numbers, and which shape and copy of the recording each has. */
  private readonly grains = new Float64Array(MOST_GRAINS * SIZE);
  private readonly shapes = new Uint8Array(MOST_GRAINS);
  private readonly levels = new Uint8Array(MOST_GRAINS);
  private count = 0;
  /** How many grains have begun. */
  begun = 0;
  private sample!: PreparedSample;
  private most = MOST_GRAINS;
  private byOverlap = true;
  private follows = true;
  private once = false;
  private drawn: ShapeTable = SHAPES[2];
  private readonly seed = new Int32Array(1);
  /**
   * First frame and the one after the last; how far the position has come by itself; frames until the next grain; pitch
   * as a ratio; room for what is worked out.
   */
  private readonly range = new Float64Array(2);
  private readonly travelled = new Float64Array(1);
  private readonly until = new Float64Array(1);
  private readonly ratio = Float64Array.of(1);
  private readonly worked = new Float64Array(4);
  private readonly first: number;
  /** Where the shape that is drawn lies for this voice. */
  private readonly drawnAt: number;

  constructor(
    private readonly kernel: Kernel,
    private readonly block: number,
    private readonly places: GrainPlaces,
    private readonly engineRate: number,
  ) {
    this.values = new OwnGlide(places.count, places.whole);
    this.first = block >> 3;
    this.drawnAt = DRAWN_SHAPES + ((block - VOICES) / VOICE_BYTES) * GRAIN_SHAPE_BYTES;
  }

  /**
   * Begins with a recording from frame `start` to `end`; `backward`: the position goes the other way; `once`: it ends
   * where the recording does.
   */
  begin(
    sample: PreparedSample,
    start: number,
    end: number,
    strike: Float64Array,
    drawn: ShapeTable,
    once: boolean,
    scatter: Draws,
  ): void {
    const { places } = this;
    this.values.begin();
    this.sample = sample;
    this.range[0] = Math.max(0, start);
    this.range[1] = Math.max(this.range[0] + 1, Math.min(end, sample.levels[0].frames));
    this.most = Math.max(1, Math.min(MOST_GRAINS, strike[places.most]));
    this.byOverlap = strike[places.by] === 1;
    this.follows = strike[places.follow] === 1;
    this.once = once;
    this.drawn = drawn;
    this.kernel.floats.set(drawn.points, this.drawnAt >> 2);
    this.count = 0;
    this.travelled[0] = 0;
    this.until[0] = 0;
    this.seed[0] = 1 + scatter.below(0x7fff_fffe);
  }

  prepare(values: Float64Array, at: number): void {
    this.ratio[0] = values[at];
  }

  speed(values: Float64Array, at: number): void {
    this.ratio[0] = values[at];
  }

  readonly stands = false;
  readonly ownFrames = 0;

  release(): void {
    // Its envelope ends it.
  }

  end(): void {
    this.count = 0;
  }

  endsWithin(frames: number): boolean {
    if (!this.once || this.count > 0) return false;
    const length = this.range[1] - this.range[0];
    if (this.travelled[0] < length && this.travelled[0] > -length) return false;
    this.left[0] = frames;
    return true;
  }

  playWhole(): boolean {
    return false;
  }

  /**
   * A number 0…1, 1 excluded, into `worked[at]`: chance of its own, so that the same strike scatters alike whatever
   * else sounds.
   */
  private draw(at: number): void {
    let x = this.seed[0];
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.seed[0] = x;
    this.worked[at] = (x >>> 0) / 4294967296;
  }

  skip(frames: number): void {
    this.travel(frames);
    this.until[0] -= frames;
    if (this.until[0] < 0) this.until[0] = 0;
    this.count = 0;
  }

  private travel(frames: number): void {
    const { now } = this.values;
    const { places, travelled, range } = this;
    if (now[places.freeze] >= 0.5) return;
    travelled[0] += now[places.rate] * (this.sample.rate / this.engineRate) * frames;
    if (this.once) return;
    const length = range[1] - range[0];
    if (travelled[0] >= length) travelled[0] -= length;
    else if (travelled[0] < 0) travelled[0] += length;
  }

  make(frames: number): void {
    const { until, kernel } = this;
    const { made, madeRight, side, sideRight } = kernel;
    for (let i = 0; i < frames; i++) side[i] = sideRight[i] = 0;
    // Grains that begin in this span, each at its own moment between two frames.
    for (let guard = 0; until[0] < frames && guard < MOST_GRAINS; guard++) {
      this.beginGrain();
      this.wait();
    }
    if (until[0] < frames) until[0] = frames;
    until[0] -= frames;
    let kept = 0;
    for (let g = 0; g < this.count; g++) {
      this.play(g, frames);
      if (this.grains[g * SIZE + AGE] >= this.grains[g * SIZE + LENGTH]) continue;
      if (kept !== g) {
        for (let i = 0; i < SIZE; i++) this.grains[kept * SIZE + i] = this.grains[g * SIZE + i];
        this.shapes[kept] = this.shapes[g];
        this.levels[kept] = this.levels[g];
      }
      kept++;
    }
    this.count = kept;
    this.travel(frames);
    for (let i = 0; i < frames; i++) {
      made[i] = side[i];
      madeRight[i] = sideRight[i];
    }
  }

  /** Sets how long it is to the next grain. */
  private wait(): void {
    const { places, until, worked, engineRate } = this;
    const { now } = this.values;
    let frames = this.byOverlap
      ? (now[places.length] * engineRate) / now[places.overlap]
      : engineRate / now[places.density];
    if (now[places.timeScatter] > 0) {
      this.draw(0);
      frames *= 1 + now[places.timeScatter] * (2 * worked[0] - 1);
    }
    until[0] += frames < 4 ? 4 : frames;
  }

  private beginGrain(): void {
    const { grains, places, range, worked, sample, engineRate, until } = this;
    if (this.count >= this.most) return;
    if (this.once && (this.travelled[0] >= range[1] - range[0] || this.travelled[0] < 0)) return;
    const { now } = this.values;
    const at = this.count * SIZE;
    this.begun++;
    // Every grain draws the same number of times, so that an amount of 0 changes nothing of the others.
    this.draw(0);
    worked[1] = (2 * worked[0] - 1) * now[places.pitchScatter];
    worked[1] = (now[places.pitch] + worked[1]) / 1200;
    if (worked[1] === 0) worked[1] = 1;
    else exp2(worked, 1);
    const base = sample.rate / engineRate;
    let step = worked[1] * base * (this.follows ? this.ratio[0] : 1);
    this.draw(0);
    let length = now[places.length] * engineRate * (1 + now[places.lengthScatter] * (2 * worked[0] - 1));
    if (length < 8) length = 8;
    const span = range[1] - range[0];
    // Where it begins by itself, and before now as much as the moment lies between two frames.
    this.draw(0);
    const travelled = this.travelled[0] + (now[places.freeze] >= 0.5 ? 0 : now[places.rate] * base * until[0]);
    // What hands and chance set is held within the recording, so that its end is its end; what travels goes round.
    const reach = length * step;
    const last = reach < span ? 1 - reach / span : 0;
    let place = now[places.position] + now[places.positionScatter] * (2 * worked[0] - 1);
    place = place < 0 ? 0 : place > last && now[places.position] > 0 ? last : place;
    place += travelled / span;
    place -= Math.floor(place);
    let position = range[0] + place * span;
    this.draw(0);
    const backward = worked[0] < now[places.reversed];
    // A grain stays inside what is played, where it can.
    if (backward) {
      position += reach;
      if (position > range[1]) position = range[1];
      if (position - reach < range[0]) position = range[0] + reach < range[1] ? range[0] + reach : range[1];
    } else if (position + reach > range[1] && this.values.now[places.positionScatter] > 0)
      position = range[1] - reach > range[0] ? range[1] - reach : range[0];
    let level = 0;
    level = levelFor(sample, step);
    const { factor } = sample.levels[level];
    step /= factor;
    this.draw(0);
    let pan = now[places.pan] + now[places.panScatter] * (2 * worked[0] - 1);
    pan = pan < -1 ? -1 : pan > 1 ? 1 : pan;
    worked[2] = (1 - pan) / 2;
    worked[3] = (1 + pan) / 2;
    quarterSine(worked, 2);
    quarterSine(worked, 3);
    this.draw(0);
    worked[1] = (-now[places.levelScatter] * worked[0]) / 6.020599913279624;
    exp2(worked, 1);
    const shape = now[places.shape];
    this.shapes[this.count] = shape;
    const table = shape >= SHAPES.length ? this.drawn : SHAPES[shape];
    const overlap = this.byOverlap ? now[places.overlap] : now[places.length] * now[places.density];
    const crowd = (Math.min(overlap, this.most) * table.power) / (HANN_POWER * UNIT_OVERLAP);
    const gain = worked[1] / Math.sqrt(crowd > 1 ? crowd : 1);
    this.levels[this.count] = level;
    grains[at + AT] = position / factor;
    grains[at + STEP] = backward ? -step : step;
    grains[at + AGE] = -until[0];
    grains[at + LENGTH] = length;
    grains[at + LEFT] = gain * worked[2] * (sample.channels === 2 ? Math.SQRT2 : 1);
    grains[at + RIGHT] = gain * worked[3] * (sample.channels === 2 ? Math.SQRT2 : 1);
    this.count++;
  }

  /** Adds a grain's part of the span. */
  private play(g: number, frames: number): void {
    const { grains, kernel, sample, block, first } = this;
    const { numbers, words } = kernel;
    const at = g * SIZE;
    const age = grains[at + AGE];
    const length = grains[at + LENGTH];
    const step = grains[at + STEP];
    // The first frame that lies within the grain, and the one after the last.
    const from = age < 0 ? Math.ceil(-age) : 0;
    const to = Math.min(frames, Math.max(from, Math.ceil(length - age)));
    if (to > from) {
      const level = sample.levels[this.levels[g]];
      const begins = grains[at + AT] + step * (age + from);
      const backward = step < 0;
      const count = to - from;
      numbers[first + STEP_AT] = backward ? -step : step;
      let position = backward ? begins + step * (count - 1) : begins;
      if (position < 0) position = 0;
      numbers[first + POSITION_AT] = position < level.frames ? position : level.frames;
      readSample(level, sample.channels, kernel, block + READING, MADE, 0, count);
      const shape = this.shapes[g];
      words[GRAIN_COUNT >> 2] = count;
      words[GRAIN_FROM >> 2] = from;
      words[GRAIN_BACKWARD >> 2] = backward ? 1 : 0;
      words[GRAIN_STEREO >> 2] = sample.channels === 2 ? 1 : 0;
      words[GRAIN_SHAPE >> 2] = shape >= SHAPES.length ? this.drawnAt : GRAIN_SHAPES + shape * GRAIN_SHAPE_BYTES;
      numbers[GRAIN_AGE >> 3] = age + from;
      numbers[GRAIN_LENGTH >> 3] = length;
      numbers[GRAIN_LEFT >> 3] = grains[at + LEFT];
      numbers[GRAIN_RIGHT >> 3] = grains[at + RIGHT];
      kernel.loops.grain();
    }
    grains[at + AGE] = age + frames;
  }

  /**
   * Writes voice and key, and of each grain where it is, as a share of the recording, and how high it stands; as many
   * as fit before `end`. Gives the place after them.
   */
  show(into: Float32Array, at: number, end: number, voice: number, key: number): number {
    const { grains, sample } = this;
    let to = at;
    for (let g = 0; g < this.count && to + 4 <= end; g++) {
      const age = grains[g * SIZE + AGE];
      if (age < 0) continue;
      const { factor } = sample.levels[this.levels[g]];
      into[to] = voice;
      into[to + 1] = key;
      into[to + 2] = ((grains[g * SIZE + AT] + grains[g * SIZE + STEP] * age) * factor) / sample.levels[0].frames;
      const table = this.shapes[g] >= SHAPES.length ? this.drawn : SHAPES[this.shapes[g]];
      into[to + 3] =
        table.points[Math.min(SHAPE_POINTS, Math.max(0, ((age / grains[g * SIZE + LENGTH]) * SHAPE_POINTS) | 0))] *
        (grains[g * SIZE + LEFT] + grains[g * SIZE + RIGHT]) *
        0.5;
      to += 4;
    }
    return to;
  }
}
