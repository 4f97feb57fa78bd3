import { Chance } from '../dsp/chance';
import { EffectRooms } from '../dsp/kernel/effectRooms';
import { Kernel } from '../dsp/kernel/kernel';
import { ALL_PAGES } from '../dsp/kernel/synthLayout';
import { Limiter } from '../dsp/limiter';
import type { Prepared } from '../dsp/prepared';
import { CC } from '../music/midi';
import { addressOf, Controllers } from './hands/controllers';
import { InputRing } from './hands/inputRing';
import { EventQueue, isMeaningful, type EngineEvent } from './hands/event';
import type { PlayedProgram } from './program/program';
import type { Stage } from './patch/stage';
import type { SoundingPatch } from './patch/soundingPatch';
import { LEAD, RUN, TICK } from './program/tick';
import { VoicePool } from './voice/voicePool';

import { Patches } from './patch/patches';
import { Outputs } from './mix/outputs';
import { Readings } from './readings';
import { Rendering, type Scope } from './rendering';
import { MOST_PAIRS } from '../rig/limits';

export type { Scope } from './rendering';

export interface EngineOptions {
  /** Frames in a second of output. */
  rate: number;
  /** Most voices that sound at once (1…256). */
  maxVoices?: number;
  seed?: number;
}

export const MOST_VOICES = 256;
/** Of what effects left, so much is wiped with each run. */
const WIPED_BYTES = 131072;

/**
 * Plays programs: events in, two channels out. The same code runs in the audio thread, in a worker and in Node, and
 * gives the same bits for the same
 * seed and events, however the output is cut into blocks. `process` allocates nothing and throws nothing.
 */
export class Engine {
  /** What it tells of itself. */
  readonly readings: Readings;
  private readonly patches: Patches;
  private readonly rendering: Rendering;

  readonly rate: number;
  /**
   * Frames made so far. Between blocks they are fewer than those given out: output comes {@link TICK} frames after it
   * could be made, so that an event for any frame yet to be given out finds it unmade.
   */
  frame = 0;
  /** Since they were last read: greatest sample of each channel, and the limiter's deepest gain. */
  peakLeft = 0;
  peakRight = 0;
  readonly limiter: Limiter;
  /** Of the pairs beside the first. */
  private readonly limiters: readonly Limiter[];
  readonly controllers = new Controllers();
  private readonly pool: VoicePool;
  private readonly rooms = new EffectRooms();
  /** What comes in from outside. */
  private readonly input = new InputRing();

  constructor({ rate, maxVoices = MOST_VOICES, seed = 1 }: EngineOptions) {
    this.rate = rate;
    const kernel = new Kernel(ALL_PAGES);
    this.pool = new VoicePool(kernel, Math.min(MOST_VOICES, Math.max(1, maxVoices)), rate, this.input);
    const stage: Stage = { pool: this.pool, rooms: this.rooms, chance: new Chance(seed), rate, seed, clock: this };
    this.patches = new Patches(this.controllers, stage);
    this.rendering = new Rendering(this.patches, kernel, this.pool, rate, this);
    this.readings = new Readings(this.patches, this.pool.all);
    this.limiter = new Limiter(rate);
    this.limiters = Array.from({ length: MOST_PAIRS - 1 }, () => new Limiter(rate));
  }

  private readonly queue = new EventQueue();
  /** The run made last, of which `taken` frames have left. */
  readonly outputs = new Outputs();
  private runFrames = TICK;
  private taken = 0;

  /** Frames by which the output is later than the frames of its events. */
  get latency(): number {
    return TICK + this.limiter.delay + (this.patches.present?.mix.latency ?? 0);
  }

  /**
   * Takes an event, for now or for a frame that was not given out yet, counted from the first that was; it is heard
   * {@link latency} frames later. Nonsense is ignored; a full queue is emptied into the present, so that no note-off is
   * lost.
   */
  handle(event: EngineEvent, atFrame = this.frame): void {
    if (!isMeaningful(event)) return;
    if (atFrame <= this.frame && this.queue.nextFrame > this.frame) {
      this.apply(event);
      return;
    }
    if (this.queue.isFull) this.apply(this.queue.take());
    this.queue.add(event, atFrame);
  }

  /**
   * Fills the first `frames` of both channels and of those beside, the pairs after the first, left and right in turn;
   * hears as many frames of what comes in. Where there are too few channels beside, what goes there is lost:
   * {@link Outputs.map} says where pairs go.
   */
  process(
    left: Float32Array,
    right: Float32Array,
    frames: number,
    beside: readonly Float32Array[] = NONE,
    inLeft: Float32Array | null = null,
    inRight: Float32Array | null = null,
  ): void {
    let done = 0;
    let heard = 0;
    while (done < frames) {
      if (done === heard) {
        const more = Math.min(frames - heard, InputRing.most);
        this.input.give(inLeft, inRight, heard, more);
        heard += more;
      }
      if (this.taken === this.runFrames) this.makeRun(heard - done);
      const count = Math.min(heard - done, this.runFrames - this.taken);
      take(this.outputs.left[0], this.taken, left, done, count);
      take(this.outputs.right[0], this.taken, right, done, count);
      for (let n = 0; n < beside.length; n++) {
        const { left: lefts, right: rights } = this.outputs;
        take(n % 2 === 0 ? lefts[1 + (n >> 1)] : rights[1 + (n >> 1)], this.taken, beside[n], done, count);
      }
      this.taken += count;
      done += count;
    }
    this.limiter.process(left, right, 0, frames);
    for (let n = 0; n + 1 < beside.length; n += 2) this.limiters[n >> 1].process(beside[n], beside[n + 1], 0, frames);
    // What is metered is the pair that main goes to.
    const first = 2 * this.outputs.to[0] - 2;
    const mainLeft = first >= 0 && first + 1 < beside.length ? beside[first] : left;
    const mainRight = first >= 0 && first + 1 < beside.length ? beside[first + 1] : right;
    for (let i = 0; i < frames; i++) {
      const l = Math.abs(mainLeft[i]);
      const r = Math.abs(mainRight[i]);
      if (l > this.peakLeft) this.peakLeft = l;
      if (r > this.peakRight) this.peakRight = r;
    }
  }

  /**
   * Makes the frames that are wanted, on to the next tick, or up to the next event. A run is made of spans, which begin
   * and end at ticks and events alone: the sound depends on
   * them, and so on nothing but the events; how many of them make a run does not change it.
   */
  private makeRun(wanted: number): void {
    const { queue, frame, patches } = this;
    const { ringing } = patches;
    const { motion, leadSpans } = this.rendering;
    this.rooms.wipe(WIPED_BYTES);
    while (queue.nextFrame <= frame) this.apply(queue.take());
    for (let r = 0; r < ringing.length; r++) if (ringing[r].endsAt <= frame) ringing[r].dismiss();
    patches.runPaths();
    // Where something listens to what is made, each span must be heard before the next.
    const longest = patches.follows || patches.isChanging ? TICK : RUN;
    let end = Math.min(
      queue.nextFrame,
      patches.nextPathFrame,
      Math.ceil((frame + wanted) / TICK) * TICK,
      Math.floor((frame + longest) / TICK) * TICK,
    );
    // What rings out for too long fades at a frame of its own, however the output is cut.
    for (let r = 0; r < ringing.length; r++)
      if (ringing[r].endsAt > frame && ringing[r].endsAt < end)
        end = Math.min(end, Math.ceil(ringing[r].endsAt / TICK) * TICK);
    motion.spans = 0;
    for (let from = frame; from < end;) {
      const to = Math.min(end, from + TICK - (from % TICK));
      motion.frames[motion.spans++] = to - from;
      from = to;
    }
    leadSpans.fill(-1);
    for (let s = 0, at = frame; s < motion.spans; at += motion.frames[s++])
      if (at % TICK === 0) leadSpans[(at / TICK) % LEAD] = s;
    this.runFrames = end - frame;
    this.taken = 0;
    this.rendering.renderRun(this.outputs, this.runFrames);
    this.frame = this.input.now = end;
  }

  /** Quarters that the transport goes in a frame. */
  get quartersPerFrame(): number {
    const { present } = this.patches;
    if (!present) return 0;
    return (Number.isNaN(present.tempo) ? present.program.tempo : present.tempo) / (60 * this.rate);
  }
  /**
   * Where the transport is in what is heard at the next frame to be given out: what was made, without what waits to be
   * given out and what the ways to the output take.
   */
  get quartersHeard(): number {
    const { present } = this.patches;
    if (!present) return NaN;
    const waiting = this.runFrames - this.taken + this.limiter.delay + present.mix.latency;
    return present.position - waiting * this.quartersPerFrame;
  }

  /** Whether anything sounds, or waits to. */
  get isBusy(): boolean {
    return (
      this.rendering.voiceCount > 0 ||
      this.patches.present?.mix.isAwake === true ||
      this.queue.nextFrame !== Infinity ||
      this.patches.nextPathFrame !== Infinity
    );
  }

  takePeaks(): void {
    this.peakLeft = this.peakRight = 0;
    this.limiter.lowestGain = 1;
  }

  private apply(event: EngineEvent): void {
    const { controllers, patches } = this;
    const { present, ringing } = patches;
    if (present) present.epoch++;
    const from = 'channel' in event ? addressOf(event.port ?? 0, event.channel) : 0;
    switch (event.type) {
      case 'noteOn':
        present?.notes.noteOn(from, event.key, event.velocity);
        break;
      case 'noteOff':
        for (let r = 0; r < ringing.length; r++) ringing[r].notes.noteOff(from, event.key, event.velocity);
        present?.notes.noteOff(from, event.key, event.velocity);
        break;
      case 'keyPressure':
        controllers.setKeyPressure(from, event.key, event.pressure);
        break;
      case 'channelPressure':
        controllers.setChannelPressure(from, event.pressure);
        break;
      case 'program':
        present?.notes.pick(from, event.program);
        break;
      case 'bend':
        controllers.setBend(from, event.bend);
        break;
      case 'macro':
        controllers.macros[event.number] = event.value;
        break;
      case 'strip':
        controllers.strips[event.number] = event.value;
        break;
      case 'xy':
        controllers.dots[2 * event.number] = event.x;
        controllers.dots[2 * event.number + 1] = event.y;
        controllers.letGo[event.number] = event.letGo ? 1 : 0;
        break;
      case 'rest':
        if (event.kind === 'macro') controllers.macros[event.number] = NaN;
        else controllers.dots[2 * event.number] = controllers.dots[2 * event.number + 1] = NaN;
        break;
      case 'position':
        present?.restart(event.quarters);
        break;
      case 'tempo':
        patches.setTempo(event.tempo);
        break;
      case 'zones':
        patches.setZones(event.port ?? 0, event.lower, event.upper, event.bendRange);
        break;
      case 'solo':
        patches.solo(event.layerIds);
        break;
      case 'restrike':
        present?.notes.restrike(event.layerId, event.goesOn === true);
        break;
      case 'controller':
        // Keys and pedals of a patch that rings out are still its own, and the volume is that of the whole.
        for (let r = 0; r < ringing.length; r++) {
          ringing[r].epoch++;
          if (event.controller === CC.resetControllers) {
            ringing[r].notes.control(from, CC.sustain, 0);
            ringing[r].notes.control(from, CC.sostenuto, 0);
          } else if (reachesAll(event.controller)) ringing[r].notes.control(from, event.controller, event.value);
        }
        if (present) present.notes.control(from, event.controller, event.value);
        else if (event.controller === CC.resetControllers) controllers.reset(from);
        else if (event.controller < 120) controllers.setController(from, event.controller, event.value);
        break;
      case 'without':
        patches.hearWithout(event);
        break;
      case 'listen':
        patches.listenTo(event.to);
        break;
      case 'voices':
        this.pool.allow(event.most ?? Infinity);
        break;
      case 'stand':
        present?.notes.stand();
        break;
      case 'panic':
        this.queue.clear();
        patches.panic();
        break;
    }
  }

  /** Voices that sounded in the last span, and the most there ever were. */
  get voiceCount(): number {
    return this.rendering.voiceCount;
  }
  get mostVoices(): number {
    return this.rendering.mostVoices;
  }

  /** How often something made no numbers and was put to rest, and what it was last: see {@link Rendering}. */
  get faultCount(): number {
    return this.rendering.faultCount;
  }
  get lastFault(): string {
    return this.rendering.lastFault;
  }

  /** The patch that plays, and how many ring out beside it. */
  get sounding(): SoundingPatch | null {
    return this.patches.present;
  }
  get ringingCount(): number {
    return this.patches.ringing.length;
  }

  /** Takes over a program: see {@link Patches.setProgram}. */
  setProgram(program: PlayedProgram): void {
    this.patches.setProgram(program);
  }

  /** Puts a sample where programs find it by the key of their request: see {@link Bank.add}. */
  addSample(key: string, sample: Prepared): void {
    this.patches.bank.add(key, sample);
  }

  /** Forgets samples that are not among `keys`; voices that play one go on to their end. */
  keepSamples(keys: ReadonlySet<string>): void {
    this.patches.bank.keep(keys);
  }

  /** Makes what other kinds of sound than samples need, before a program asks for it. */
  prepareKinds(): void {
    this.patches.bank.prepareKinds();
    this.rooms.prepare();
  }

  /** Lets what comes out of the places named be written to their rings: see {@link Rendering.watch}. */
  watch(scopes: Scope[]): void {
    this.rendering.watch(scopes);
  }
}

const NONE: readonly Float32Array[] = [];

function take(from: Float32Array, at: number, to: Float32Array, into: number, count: number): void {
  for (let i = 0; i < count; i++) to[into + i] = from[at + i];
}

const reachesAll = (controller: number): boolean =>
  controller === CC.sustain ||
  controller === CC.sostenuto ||
  controller === CC.volume ||
  controller === CC.expression ||
  controller >= CC.allSoundOff;
