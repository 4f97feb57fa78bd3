import { EFFECTS, type Effect, type EffectContext, type EffectKind } from '../../effects';
import type { Parameter } from '../../space/parameter';
import type { Evaluator } from '../moving/evaluate';
import { areNumbers } from '../moving/numbers';
import { RUN } from '../program/tick';
import type { CompiledEffect } from '../program/compiledMix';

/** What an effect needs of the patch it is in. */
export interface SlotContext {
  rate: number;
  seed: number;
  time: Float64Array;
  key: Float64Array;
  tempo: Float64Array;
  faults: Faults;
}

/**
 * What had to be put to rest because it was no number: how often since it was last asked, and which it was last (an
 * effect's or a layer's id).
 */
export interface Faults {
  count: number;
  last: string;
}

/** Time in which an effect is switched, made anew, taken off or heard without. */
const FADE_SECONDS = 0.01;
/** What is softer than this counts as silence: −160 dB. */
const SILENCE = 1e-8;
/** Effects that go on by themselves for longer than this ring out when they are switched off. */
const RINGS_SECONDS = 0.1;
const PARAMETERS: readonly (readonly Parameter[])[] = EFFECTS.map((kind) => Object.values(kind.parameters));
/** Ranges and laws in columns: fields of objects of many shapes would be put on the heap when they are read. */
const LOWS = PARAMETERS.map((list) => Float64Array.from(list, ({ low }) => low));
const HIGHS = PARAMETERS.map((list) => Float64Array.from(list, ({ high }) => high));
const LAWS = PARAMETERS.map((list) =>
  Uint8Array.from(list, ({ law }) => (law === 'log' ? 1 : law === 'steps' ? 2 : 0)),
);
const REMAKES: readonly (readonly boolean[])[] = EFFECTS.map((kind) =>
  Object.keys(kind.parameters).map((id) => kind.remakes?.includes(id) === true),
);
const STEPPED: readonly (readonly boolean[])[] = PARAMETERS.map((list) => list.map(({ law }) => law === 'steps'));

/**
 * An effect in its place in a chain: brings its values there without zipper, mixes what it makes with what came in,
 * switches without a click, lets it sleep when it has nothing to say, and keeps both
 * ways equally late.
 */
export class EffectSlot {
  readonly id: string;
  readonly kind: EffectKind;
  compiled: CompiledEffect;
  effect: Effect;
  /** In another place of the order, or gone: it fades before the order changes. */
  leaving = false;
  /** An edit took it away: what it was compiled to speaks of a program that is gone, so nothing moves it any more. */
  orphaned = false;
  /** Heard as if it were not there. */
  without = false;
  /** In a shared effect: left out, nothing comes of it, where elsewhere what came in would go on. */
  isShared = false;
  /** What it adds is wanted apart. */
  readonly change: { left: Float32Array; right: Float32Array };
  wantsChange = false;
  asleep = true;
  readonly latency: number;
  /** On or off, and how much of what it makes is let through: each 0…1, on its way to where it should be. */
  private readonly fades = new Float64Array(2);
  readonly values: Float64Array;
  private readonly targets: Float64Array;
  private readonly dryLeft = new Float32Array(RUN);
  private readonly dryRight = new Float32Array(RUN);
  private readonly delayLeft: Float32Array;
  private readonly delayRight: Float32Array;
  private delayAt = 0;
  private readonly step: number;
  private quiet = 0;
  private tailFrames = 0;
  private fresh = true;
  private remaking = false;
  private dirty = true;

  constructor(
    compiled: CompiledEffect,
    private readonly context: SlotContext,
    readonly effectContext: EffectContext,
  ) {
    this.compiled = compiled;
    this.id = compiled.id;
    this.kind = EFFECTS[compiled.kind];
    this.effect = this.kind.make(effectContext);
    this.latency = this.kind.latency?.(context.rate) ?? 0;
    this.values = Float64Array.from(compiled.rests);
    this.targets = Float64Array.from(compiled.rests);
    this.delayLeft = new Float32Array(Math.max(1, this.latency));
    this.delayRight = new Float32Array(Math.max(1, this.latency));
    this.change = { left: new Float32Array(RUN), right: new Float32Array(RUN) };
    this.step = 1 / (FADE_SECONDS * context.rate);
  }

  /** Whether it may be taken out of its place: nothing of it is heard. */
  get isOut(): boolean {
    return this.fades[1] === 0 || this.asleep;
  }

  /** Comes in at another place, from nothing. */
  comeIn(): void {
    this.leaving = false;
    this.fades[0] = this.compiled.on ? 1 : 0;
    this.fades[1] = 0;
    // Sound may be on its way through this place: it must not wake up whole.
    this.asleep = false;
    this.quiet = 0;
  }

  /** It is in the chain from the start: nothing has to fade. */
  standStill(): void {
    this.fades[0] = this.compiled.on ? 1 : 0;
    this.fades[1] = 1;
  }

  /** Whether routes of the program that plays move it. */
  get isMoved(): boolean {
    return !this.orphaned && this.compiled.moved.length > 0;
  }

  /** Where routes take its values, by the readings that the evaluator has in view. */
  look(evaluator: Evaluator): void {
    const { compiled, targets } = this;
    const lows = LOWS[compiled.kind],
      highs = HIGHS[compiled.kind],
      laws = LAWS[compiled.kind];
    for (let m = 0; m < compiled.moved.length; m++) {
      const { parameter, routes } = compiled.moved[m];
      evaluator.move(compiled.bases, parameter, routes, targets);
      const normal = targets[parameter] < 0 ? 0 : targets[parameter] > 1 ? 1 : targets[parameter];
      const unit =
        laws[parameter] === 1
          ? lows[parameter] * (highs[parameter] / lows[parameter]) ** normal
          : lows[parameter] + (highs[parameter] - lows[parameter]) * normal;
      targets[parameter] = laws[parameter] === 2 ? Math.round(unit) : unit;
    }
  }

  /** An edit: the values that nothing moves have new resting places. */
  follow(compiled: CompiledEffect): void {
    this.compiled = compiled;
    for (let i = 0; i < this.targets.length; i++) this.targets[i] = compiled.rests[i];
    const { steps } = this.effectContext;
    for (let i = 0; i < steps.length; i++) steps[i] = i < compiled.steps.length ? compiled.steps[i] : 0;
    steps[steps.length - 1] = compiled.steps.length;
    this.dirty = true;
  }

  /** Nothing more of what it holds. */
  reset(): void {
    this.effect.reset();
    this.delayLeft.fill(0);
    this.delayRight.fill(0);
    this.asleep = true;
    this.quiet = 0;
  }

  /** Takes a span through it, in place; `share` by which values near their targets in so many frames. */
  process(left: Float32Array, right: Float32Array, from: number, to: number, smoothing: Float64Array): void {
    const { fades, compiled, effect, latency, step } = this;
    let peak = 0;
    for (let i = from; i < to; i++) {
      const l = left[i],
        r = right[i];
      if (l > peak) peak = l;
      else if (-l > peak) peak = -l;
      if (r > peak) peak = r;
      else if (-r > peak) peak = -r;
    }
    const wantsOn = compiled.on ? 1 : 0;
    // However it fell asleep and whatever was switched meanwhile: it wakes as it is meant to be now.
    if (this.asleep) {
      fades[0] = wantsOn;
      fades[1] = this.leaving || this.without ? 0 : 1;
      this.settle();
    }
    if (peak > SILENCE) {
      this.quiet = 0;
      this.asleep = false;
    } else if (this.asleep) {
      if (this.wantsChange) for (let i = from; i < to; i++) this.change.left[i] = this.change.right[i] = 0;
      return;
    } else this.quiet += to - from;
    if (this.tailChanged && this.quiet > 0) this.lookAtTail();
    this.approach(smoothing, to - from);
    const rings = this.tailFrames > RINGS_SECONDS * this.context.rate;
    if (fades[0] === 0 && wantsOn === 0 && (!rings || this.offFrames > this.tailFrames)) {
      // What is off and has rung out holds nothing, and costs nothing.
      if (!this.isClear) effect.reset();
      this.isClear = true;
      fades[1] = this.leaving || this.without ? 0 : 1;
      this.pass(left, right, from, to);
      if (this.wantsChange) for (let i = from; i < to; i++) this.change.left[i] = this.change.right[i] = 0;
      if (this.quiet > latency) this.asleep = true;
      return;
    }
    this.isClear = false;
    const { dryLeft, dryRight } = this;
    const onFrom = fades[0],
      keptFrom = fades[1];
    const frames = to - from;
    const on = nearer(onFrom, wantsOn, step * frames);
    const kept = nearer(keptFrom, this.leaving || this.without || this.remaking ? 0 : 1, step * frames);
    fades[0] = on;
    fades[1] = kept;
    // What is all of the effect's own needs nothing of what came in.
    const mix = this.values[0] / 100;
    const isAllWet =
      mix === 1 && onFrom === 1 && on === 1 && keptFrom === 1 && kept === 1 && !this.wantsChange && latency === 0;
    if (!isAllWet) {
      for (let i = from; i < to; i++) {
        dryLeft[i] = left[i];
        dryRight[i] = right[i];
      }
    }
    if (rings && (onFrom < 1 || on < 1)) {
      for (let i = from, x = onFrom; i < to; i++) {
        x += (on - onFrom) / frames;
        left[i] *= x;
        right[i] *= x;
      }
    }
    effect.process(left, right, from, to);
    if (!areNumbers(left, right, from, to)) this.heal(left, right, from, to);
    if (latency > 0) this.delayDry(from, to);
    let wet = mix * keptFrom * (rings ? 1 : onFrom);
    const spare = this.isShared && this.without;
    let dry = 1 - mix * (spare ? 1 : keptFrom) * onFrom;
    const wetStep = (mix * kept * (rings ? 1 : on) - wet) / frames;
    const dryStep = (1 - mix * (spare ? 1 : kept) * on - dry) / frames;
    if (wet !== 1 || wetStep !== 0 || dry !== 0 || dryStep !== 0) {
      for (let i = from; i < to; i++) {
        wet += wetStep;
        dry += dryStep;
        left[i] = left[i] * wet + dryLeft[i] * dry;
        right[i] = right[i] * wet + dryRight[i] * dry;
      }
    }
    if (this.wantsChange) {
      for (let i = from; i < to; i++) {
        this.change.left[i] = left[i] - dryLeft[i];
        this.change.right[i] = right[i] - dryRight[i];
      }
    }
    this.offFrames = on === 0 ? this.offFrames + frames : 0;
    if (this.remaking && kept === 0) this.remake();
    if (this.quiet > this.tailFrames + latency) this.reset();
  }
  private offFrames = 0;
  private isClear = true;

  /** Whether what comes out is or will be something. */
  get isAwake(): boolean {
    return !this.asleep;
  }

  /** Takes what came in on as it is, as late as the effect would make it. */
  private pass(left: Float32Array, right: Float32Array, from: number, to: number): void {
    if (this.latency === 0) return;
    for (let i = from; i < to; i++) {
      this.dryLeft[i] = left[i];
      this.dryRight[i] = right[i];
    }
    this.delayDry(from, to);
    for (let i = from; i < to; i++) {
      left[i] = this.dryLeft[i];
      right[i] = this.dryRight[i];
    }
  }

  private delayDry(from: number, to: number): void {
    const { dryLeft, dryRight, delayLeft, delayRight, latency } = this;
    for (let i = from; i < to; i++) {
      const l = delayLeft[this.delayAt],
        r = delayRight[this.delayAt];
      delayLeft[this.delayAt] = dryLeft[i];
      delayRight[this.delayAt] = dryRight[i];
      dryLeft[i] = l;
      dryRight[i] = r;
      if (++this.delayAt === latency) this.delayAt = 0;
    }
  }

  /**
   * What it made is no number: nothing of it is heard in this span, and it begins anew, so that one fault cannot stay
   * in it. What came in is looked at as well, because it may be what did it.
   */
  private heal(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { dryLeft, dryRight, values, targets, compiled } = this;
    const { faults } = this.context;
    faults.count++;
    faults.last = this.id;
    for (let i = 0; i < values.length; i++) {
      if (!Number.isFinite(targets[i])) targets[i] = compiled.rests[i];
      if (!Number.isFinite(values[i])) values[i] = targets[i];
    }
    this.effect.reset();
    this.aim();
    for (let i = from; i < to; i++) {
      left[i] = right[i] = 0;
      if (!Number.isFinite(dryLeft[i])) dryLeft[i] = 0;
      if (!Number.isFinite(dryRight[i])) dryRight[i] = 0;
    }
  }

  /** All values at once where they should be: nobody hears it. */
  private settle(): void {
    const { values, targets } = this;
    let same = !this.dirty && !this.fresh;
    for (let i = 0; i < values.length; i++) {
      if (values[i] !== targets[i]) same = false;
      values[i] = targets[i];
    }
    this.remaking = false;
    if (!same) this.aim();
  }

  private remake(): void {
    const { values, targets } = this;
    for (let i = 0; i < values.length; i++) if (REMAKES[this.compiled.kind][i]) values[i] = targets[i];
    this.remaking = false;
    this.aim();
  }

  private aim(): void {
    this.fresh = this.dirty = false;
    this.effect.aim(this.values);
    // How long it rings is only asked when it does: what functions give back in fractions is put on the heap.
    this.tailChanged = true;
    if (this.tailFrames === 0) this.lookAtTail();
  }
  private tailChanged = true;

  private lookAtTail(): void {
    this.tailChanged = false;
    this.tailFrames = (this.kind.tail ? this.kind.tail(this.values, this.context.tempo[0]) : 0.02) * this.context.rate;
  }

  private approach(smoothing: Float64Array, frames: number): void {
    const { values, targets, compiled } = this;
    const share = smoothing[frames];
    if (this.fresh) {
      this.settle();
      return;
    }
    const remakes = REMAKES[compiled.kind];
    const stepped = STEPPED[compiled.kind];
    let moved = this.dirty;
    for (let i = 0; i < values.length; i++) {
      const way = targets[i] - values[i];
      if (way === 0) continue;
      if (remakes[i]) {
        this.remaking = true;
        continue;
      }
      const near = stepped[i] || (way < 1e-5 && way > -1e-5);
      values[i] = near ? targets[i] : values[i] + way * share;
      moved = true;
    }
    if (moved) this.aim();
  }
}

const nearer = (now: number, target: number, step: number): number =>
  now < target ? Math.min(target, now + step) : Math.max(target, now - step);
