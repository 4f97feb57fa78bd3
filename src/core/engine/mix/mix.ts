import { KEYS } from '../../music/pitch';
import { tunedBy } from '../../music/tunings';
import { AT_QUARTERS, QUARTERS_PER_FRAME } from '../../effects/effect';
import type { EffectRooms } from '../../dsp/kernel/effectRooms';
import type { Kernel } from '../../dsp/kernel/kernel';
import type { PreparedSample } from '../../dsp/sample';
import { POSITION, SPAN_QUARTERS, TIME_SIZE } from '../../movers/mover';
import { unitInPlace } from '../../space/parameter';
import { CONNECTION_PARAMETERS, levelGain } from '../../rig/parameters';
import { stripOf } from '../program/compile/mix';
import type { Evaluator } from '../moving/evaluate';
import { near, type LayerState, type Motion } from '../notes/layerState';
import { MOST_SPANS } from '../program/tick';
import { BALANCE, LEVEL, STRIP, WIDTH, type CompiledMix } from '../program/compiledMix';
import type { Faults } from './effectSlot';
import { MixLayout } from './layout';
import { ListeningIn, type Listening } from './listeningIn';
import { MixMeters } from './meters';
import { drainPairs, type Outputs } from './outputs';
import type { PlaceState } from './places';

export type { Listening } from './listeningIn';

const CONNECTION = CONNECTION_PARAMETERS.level;

/**
 * How the sound of a patch flows: from its layers through effects and strips, along connections, into groups, shared
 * effects and main. What an edit leaves as it was keeps its state; what an edit takes away
 * fades first. Allocates nothing while it plays.
 */
export class Mix {
  readonly meters: MixMeters;
  private readonly layout: MixLayout;
  private readonly ears: ListeningIn;
  readonly time = new Float64Array(2);
  readonly cents = new Float64Array(KEYS);
  readonly faults: Faults = { count: 0, last: '' };
  /** Quarters a minute. */
  readonly tempo = Float64Array.of(120);
  /** Gain that makes up for what is left out: now, and where it is going. */
  private readonly makeup = Float64Array.of(1, 1);
  private readonly scratch = new Float64Array(STRIP.length);
  private readonly lines = new Float64Array(MOST_SPANS + 1);
  /** All fades, for good or until it is empty. */
  private readonly hush = Float64Array.of(1, 1);

  constructor(
    compiled: CompiledMix,
    private readonly rate: number,
    seed: number,
    readonly rooms: EffectRooms,
    impulses: ReadonlyMap<string, PreparedSample>,
  ) {
    this.layout = new MixLayout(rate, seed, this, impulses);
    this.ears = new ListeningIn(this.layout);
    this.meters = new MixMeters(this.layout, rate);
    this.setProgram(compiled, true);
  }

  /** Frames by which main is later than the layers. */
  get latency(): number {
    return this.layout.latency;
  }

  /** By layer, the factor that its notes take over from strips with this program: see {@link MixLayout}. */
  get handOver(): Float64Array {
    return this.layout.handOver;
  }

  /** An edit. What stays keeps its state by its id. */
  setProgram(compiled: CompiledMix, isNew = false): void {
    this.layout.take(compiled, isNew);
    this.ears.find();
  }

  /** The memory in which its effects work, added to a set. */
  findRooms(into: Set<Float32Array>): void {
    this.layout.findRooms(into);
  }

  /** What has no recording yet, when one has come. */
  findImpulses(impulses: ReadonlyMap<string, PreparedSample>): void {
    this.layout.findImpulses(impulses);
  }

  /** Puts one thing alone before the ears; null: everything. */
  listenTo(listening: Listening | null): void {
    this.ears.listenTo(listening);
  }

  /** Everything stands at once where it should: what it was on its way from is no number. */
  stand(): void {
    this.layout.stand();
    this.makeup[0] = this.makeup[1];
  }

  /** Nothing but layers that flow into main as they are: the engine adds them up by itself. */
  get isPlain(): boolean {
    return (
      this.layout.compiled.plain &&
      !this.meters.isLookedInto &&
      !this.ears.monitor &&
      this.ears.share[0] === 0 &&
      this.layout.places.length === this.layout.compiled.places.length &&
      this.makeup[0] === 1 &&
      this.makeup[1] === 1 &&
      this.hush[0] === 1 &&
      this.hush[1] === 1 &&
      !this.keepsSlots
    );
  }
  private get keepsSlots(): boolean {
    for (let p = 0; p < this.layout.places.length; p++) if (this.layout.places[p].slots.length > 0) return true;
    return false;
  }

  /**
   * Leaves effects, connections or all effects (`*`) out, with a gain that makes up for it; nothing: all is as it is.
   */
  hearWithout(ids: readonly string[], gainDb: number): void {
    this.ears.without = ids;
    this.makeup[1] = 10 ** (gainDb / 20);
    this.ears.find();
  }

  /** Ends all that sounds here in a few milliseconds; `forGood`: nothing comes after. */
  silence(forGood: boolean): void {
    this.hush[1] = 0;
    this.ends = forGood;
  }
  private ends = false;

  /**
   * Whether something here comes or goes: what ends then ends with a run, so that runs must end at every tick for it to
   * be the same however the output is cut.
   */
  get isChanging(): boolean {
    const { hush, makeup } = this;
    const { places, connections } = this.layout;
    if (hush[0] !== 1 || hush[1] !== 1 || makeup[0] !== makeup[1]) return true;
    for (let p = 0; p < places.length; p++)
      if (places[p].isLeaving || places[p].next || places[p].lift !== 1) return true;
    for (let c = 0; c < connections.length; c++) if (connections[c].isLeaving) return true;
    return false;
  }

  /** Whether anything still rings here. */
  get isAwake(): boolean {
    if (this.ends && this.hush[0] === 0) return false;
    for (let p = 0; p < this.layout.places.length; p++) if (this.layout.places[p].isAwake) return true;
    return false;
  }

  /** Every voice of a layer has been made: its sound, as the kernel's bus has it, flows in. */
  feed(layer: LayerState, index: number, { bus, busRight }: Kernel, frames: number): void {
    const place = this.layout.byLayer[index];
    if (!place) return;
    if (!Number.isNaN(layer.lastKey)) place.key[0] = layer.lastKey + tunedBy(layer.program.tuned, layer.lastKey);
    if (layer.voiceCount === 0) return;
    place.fed = true;
    const { left, right } = place;
    for (let i = 0; i < frames; i++) {
      left[i] = bus[i];
      right[i] = busRight[i];
    }
  }

  /**
   * Takes a run from the layers to main and to pairs of outputs, and adds it to those. Main's level is in `motion`, and each layer's own
   * gain in its state.
   */
  run(
    layers: readonly LayerState[],
    evaluator: Evaluator,
    motion: Motion,
    readsRows: boolean,
    looks: boolean,
    times: Float64Array,
    outputs: Outputs,
  ): void {
    const { spans, frames, smoothing, main: mainLine } = motion;
    let total = 0;
    for (let s = 0; s < spans; s++) total += frames[s];
    for (let p = 0; p < this.layout.places.length; p++) {
      const place = this.layout.places[p];
      const { slots } = place;
      const ownsGain = place.compiled.layer >= 0 && !place.isLeaving;
      const awake = place.isAwake;
      place.sounds = place.fed || awake;
      if (place.lift !== 1 && place.sounds) {
        for (let i = 0; i < total; i++) {
          place.left[i] *= place.lift;
          place.right[i] *= place.lift;
        }
      }
      if (place.sounds || place.next) {
        for (let s = 0, at = 0; s < spans; at += frames[s++]) {
          if (readsRows) evaluator.readRow(s + 1);
          const looksNow = readsRows || (looks && s === 0);
          this.time[AT_QUARTERS] = times[s * TIME_SIZE + POSITION] - times[s * TIME_SIZE + SPAN_QUARTERS];
          this.time[QUARTERS_PER_FRAME] = times[s * TIME_SIZE + SPAN_QUARTERS] / frames[s];
          for (let n = 0; n < slots.length; n++) {
            if (looksNow && slots[n].isMoved) slots[n].look(evaluator);
            slots[n].process(place.left, place.right, at, at + frames[s], smoothing);
          }
        }
        if (place.next && this.isOut(place)) this.layout.reorder(place, false);
      } else if (looks || readsRows)
        for (let n = 0; n < slots.length; n++)
          if (slots[n].isMoved) {
            if (readsRows) evaluator.readRow(spans);
            slots[n].look(evaluator);
          }
      this.strip(
        place,
        ownsGain ? layers[place.compiled.layer] : null,
        evaluator,
        motion,
        readsRows,
        looks,
        total,
        place === this.layout.main ? mainLine : null,
      );
      if (this.meters.isLookedInto) this.meters.weigh(place, total);
      this.flow(place, evaluator, motion, readsRows, looks, total);
      this.layout.endLift(place);
      if (place.fed || awake) {
        for (let i = 0; i < total; i++) place.left[i] = place.right[i] = 0;
        place.fed = false;
      }
    }
    this.drain(outputs, total);
    this.layout.forget();
  }
  private isOut(place: PlaceState): boolean {
    for (let n = 0; n < place.slots.length; n++) if (place.slots[n].leaving && !place.slots[n].isOut) return false;
    return true;
  }

  /** Level, balance and width, each in straight lines through the spans; `layer`: mute, solo and volume with them. */
  private strip(
    place: PlaceState,
    layer: LayerState | null,
    evaluator: Evaluator,
    motion: Motion,
    readsRows: boolean,
    looks: boolean,
    total: number,
    mainLine: Float64Array | null,
  ): void {
    const { spans, frames, smoothing } = motion;
    const { now, targets, compiled, left, right, outLeft, outRight, lift } = place;
    let peakLeft = 0,
      peakRight = 0;
    if (!place.sounds && place.hasSounded) {
      // Whoever listens to it hears that it has ended.
      outLeft.fill(0);
      outRight.fill(0);
    }
    place.hasSounded = place.sounds;
    const strip = compiled.moved.length > 0 && !place.isLeaving ? stripOf(compiled.id) : null;
    for (let s = 0, i = 0; s < spans; s++) {
      if (strip && (readsRows || (looks && s === 0))) {
        if (readsRows) evaluator.readRow(s + 1);
        for (let m = 0; m < compiled.moved.length; m++) {
          const { parameter, routes } = compiled.moved[m];
          evaluator.move(compiled.bases, parameter, routes, this.scratch);
          unitInPlace(strip[parameter]!, this.scratch, parameter);
          targets[parameter] = this.scratch[parameter];
          if (parameter === LEVEL) targets[LEVEL] = !compiled.on ? 0 : levelGain(targets[LEVEL], strip[LEVEL]!.low);
          else if (parameter === WIDTH) targets[WIDTH] /= 100;
        }
      }
      if (Number.isNaN(now[LEVEL])) for (let k = 0; k < STRIP.length; k++) now[k] = targets[k];
      const share = smoothing[frames[s]];
      const level0 = now[LEVEL],
        balance0 = now[BALANCE],
        width0 = now[WIDTH];
      for (let k = 0; k < STRIP.length; k++) now[k] = near(now[k], targets[k], share);
      if (!place.sounds) {
        i += frames[s];
        continue;
      }
      const level1 = mainLine ? mainLine[s + 1] : now[LEVEL];
      const g0 = ((mainLine ? mainLine[s] : level0) * (layer ? layer.gainAt(s) : 1)) / lift;
      const g1 = (level1 * (layer ? layer.gainAt(s + 1) : 1)) / lift;
      const l0 = g0 * (balance0 > 0 ? 1 - balance0 : 1),
        r0 = g0 * (balance0 < 0 ? 1 + balance0 : 1);
      const l1 = g1 * (now[BALANCE] > 0 ? 1 - now[BALANCE] : 1),
        r1 = g1 * (now[BALANCE] < 0 ? 1 + now[BALANCE] : 1);
      let gl = l0,
        gr = r0,
        width = width0;
      const ls = (l1 - l0) / frames[s],
        rs = (r1 - r0) / frames[s],
        ws = (now[WIDTH] - width0) / frames[s];
      const wide = width0 !== 1 || ws !== 0;
      for (const end = i + frames[s]; i < end; i++) {
        gl += ls;
        gr += rs;
        let l = left[i],
          r = right[i];
        if (wide) {
          width += ws;
          const middle = 0.5 * (l + r),
            side = 0.5 * (l - r) * width;
          l = middle + side;
          r = middle - side;
        }
        l *= gl;
        r *= gr;
        outLeft[i] = l;
        outRight[i] = r;
        if (l > peakLeft) peakLeft = l;
        else if (-l > peakLeft) peakLeft = -l;
        if (r > peakRight) peakRight = r;
        else if (-r > peakRight) peakRight = -r;
      }
    }
    if (peakLeft > place.peakLeft) place.peakLeft = peakLeft;
    if (peakRight > place.peakRight) place.peakRight = peakRight;
    if (layer) {
      layer.level = Math.max(peakLeft, peakRight);
      if (layer.level > layer.peak) layer.peak = layer.level;
    }
    if (this.ears.isHeard(place)) this.ears.hear(outLeft, outRight, total, place.sounds, 1);
    for (let n = 0; n < place.slots.length; n++)
      if (this.ears.isHeard(place.slots[n]))
        this.ears.hear(place.slots[n].change.left, place.slots[n].change.right, total, place.sounds, now[LEVEL]);
  }

  /** What leaves a place flows on. */
  private flow(
    place: PlaceState,
    evaluator: Evaluator,
    motion: Motion,
    readsRows: boolean,
    looks: boolean,
    total: number,
  ): void {
    const { spans, frames, smoothing } = motion;
    const { lines } = this;
    for (let c = 0; c < this.layout.connections.length; c++) {
      const connection = this.layout.connections[c];
      if (connection.from !== place) continue;
      const { now, targets, compiled, to } = connection;
      lines[0] = Number.isNaN(now[0]) ? NaN : now[0];
      for (let s = 0; s < spans; s++) {
        if (compiled.moved.length > 0 && !connection.isLeaving && (readsRows || (looks && s === 0))) {
          if (readsRows) evaluator.readRow(s + 1);
          evaluator.move(compiled.bases, 0, compiled.moved[0].routes, this.scratch);
          unitInPlace(CONNECTION, this.scratch, 0);
          targets[0] = compiled.on ? levelGain(this.scratch[0], CONNECTION.low) : 0;
        }
        const target = connection.isLeaving || this.ears.leavesOut(compiled.id) ? 0 : targets[0];
        if (Number.isNaN(lines[0])) lines[0] = target;
        lines[s + 1] = near(lines[s], target, smoothing[frames[s]]);
      }
      now[0] = lines[spans];
      const late = connection.delayLeft.length;
      if (!place.sounds) {
        if (connection.empty >= late) continue;
        connection.empty += total;
      } else connection.empty = 0;
      const fromLeft = compiled.before ? place.left : place.outLeft;
      const fromRight = compiled.before ? place.right : place.outRight;
      const monitored = this.ears.isHeard(connection);
      let peak = 0;
      to.fed = true;
      for (let s = 0, i = 0; s < spans; s++) {
        let gain = lines[s];
        const step = (lines[s + 1] - gain) / frames[s];
        if (late === 0 && !monitored) {
          // Mostly nothing is late and nobody listens in.
          const { left, right } = to;
          for (const end = i + frames[s]; i < end; i++) {
            gain += step;
            const l = fromLeft[i] * gain,
              r = fromRight[i] * gain;
            left[i] += l;
            right[i] += r;
            const height = Math.max(Math.abs(l), Math.abs(r));
            if (height > peak) peak = height;
          }
          continue;
        }
        for (const end = i + frames[s]; i < end; i++) {
          gain += step;
          let l = place.sounds ? fromLeft[i] * gain : 0;
          let r = place.sounds ? fromRight[i] * gain : 0;
          if (late > 0) {
            const at = connection.delayAt;
            const heldLeft = connection.delayLeft[at],
              heldRight = connection.delayRight[at];
            connection.delayLeft[at] = l;
            connection.delayRight[at] = r;
            connection.delayAt = at + 1 === late ? 0 : at + 1;
            l = heldLeft;
            r = heldRight;
          }
          if (l > peak) peak = l;
          else if (-l > peak) peak = -l;
          if (r > peak) peak = r;
          else if (-r > peak) peak = -r;
          to.left[i] += l;
          to.right[i] += r;
          if (monitored) {
            this.ears.left[i] = l;
            this.ears.right[i] = r;
          }
        }
      }
      if (peak > connection.peak) connection.peak = peak;
    }
  }

  /** Main, or what is heard in its place, goes out. */
  private drain(outputs: Outputs, total: number): void {
    const { makeup, hush, ears } = this;
    const { main } = this.layout;
    drainPairs(this.layout.places, outputs, hush, 1 / (0.01 * this.rate), total);
    const left = outputs.left[outputs.to[0]],
      right = outputs.right[outputs.to[0]];
    const step = 1 / (0.01 * this.rate);
    let share = ears.share[0];
    const wanted = ears.monitor ? 1 : 0;
    let gain = makeup[0];
    let quiet = hush[0];
    for (let i = 0; i < total; i++) {
      share = wanted > share ? Math.min(1, share + step) : Math.max(wanted, share - step);
      gain += (makeup[1] - gain) * 4 * step;
      quiet = hush[1] > quiet ? Math.min(1, quiet + step) : Math.max(hush[1], quiet - step);
      const main1 = (1 - share) * quiet * gain;
      const other = share * quiet;
      left[i] += (main.sounds ? main.outLeft[i] * main1 : 0) + (share > 0 ? this.ears.left[i] * other : 0);
      right[i] += (main.sounds ? main.outRight[i] * main1 : 0) + (share > 0 ? this.ears.right[i] * other : 0);
    }
    ears.share[0] = share;
    if (share === 0 && !ears.monitor) ears.heard = null;
    makeup[0] = Math.abs(makeup[1] - gain) < 1e-6 ? makeup[1] : gain;
    hush[0] = quiet;
    if (quiet === 0 && hush[1] === 0 && !this.ends) {
      for (let p = 0; p < this.layout.places.length; p++)
        for (let n = 0; n < this.layout.places[p].slots.length; n++) this.layout.places[p].slots[n].reset();
      hush[1] = 1;
    }
    for (let i = 0; i < total; i++) this.ears.left[i] = this.ears.right[i] = 0;
  }

  /** What comes out of a place or of an effect in the run just made; null where there is none such. */
  placeNamed(id: string): { outLeft: Float32Array; outRight: Float32Array; sounds: boolean } | null {
    for (let p = 0; p < this.layout.places.length; p++)
      if (this.layout.places[p].compiled.id === id && !this.layout.places[p].isLeaving) return this.layout.places[p];
    return null;
  }
}
