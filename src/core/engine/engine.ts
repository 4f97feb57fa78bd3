import { Chance } from '../dsp/chance';
import { Kernel } from '../dsp/kernel/kernel';
import { SYNTH_PAGES } from '../dsp/kernel/synthLayout';
import { Limiter } from '../dsp/limiter';
import { isWaves, type Prepared } from '../dsp/prepared';
import type { PreparedSample } from '../dsp/sample';
import type { WaveSet } from '../dsp/waves';
import { SPAN_QUARTERS, SPAN_SECONDS } from '../movers/mover';
import { CC, gainOfVolumeController } from '../music/midi';
import { fromNormal, levelGain, MAIN_PARAMETERS } from '../rig/parameters';
import { aimMoving, aimVoice } from './voice/aim';
import { aimOwn, aimOwnMoving } from './voice/aimOwn';
import { addressOf, Controllers } from './hands/controllers';
import { EventQueue, isMeaningful, type EngineEvent } from './hands/event';
import { near, type LayerState, type Motion } from './notes/layerState';
import type { PlayedProgram } from './program/program';
import type { EffectMemory, Listening } from './mix/mix';
import type { Stage } from './patch/notes';
import { areNumbers } from './moving/numbers';
import { SoundingPatch } from './patch/soundingPatch';
import { ANSWERS, LEAD, MOST_SPANS, RUN, TICK } from './program/tick';
import type { Voice } from './voice/voice';
import { VoicePool } from './voice/voicePool';

/**
 * What comes out of a place of the mix (`layer.ID`, `group.ID`, `pool.ID`; `main` is what goes into the limiter),
 * written left and right in turn, round and round; `at` is where the next frame comes.
 */
export interface Scope {
  place: string;
  ring: Float32Array;
  at: number;
}

export interface EngineOptions {
  /** Frames in a second of output. */
  rate: number;
  /** Most voices that sound at once (1…256). */
  maxVoices?: number;
  seed?: number;
}

export const MOST_VOICES = 256;

/** Time constant with which every moved value nears its target. */
const SMOOTHING_SECONDS = 0.006;

/** So many patches ring out beside the one that plays; the oldest beyond them is let go, and faded after a while. */
const MOST_RINGING = 4;
const LAST_RING_SECONDS = 2;
/** However fast patches are changed, no more than these are kept. */
const MOST_KEPT = 12;

/**
 * Plays programs: events in, two channels out. The same code runs in the audio thread, in a worker and in Node, and
 * gives the same bits for the same
 * seed and events, however the output is cut into blocks. `process` allocates nothing and throws nothing.
 */
export class Engine {
  readonly rate: number;
  /**
   * Frames made so far. Between blocks they are fewer than those given out: output comes {@link TICK} frames after it
   * could be made, so that an event for any frame yet to be given out finds it unmade.
   */
  frame = 0;
  /** Since they were last read: greatest sample of each channel, and the limiter's deepest gain. */
  peakLeft = 0;
  peakRight = 0;
  /** Voices that sounded in the last span, and the most there ever were. */
  voiceCount = 0;
  mostVoices = 0;
  /**
   * What made no numbers and was put to rest: how often, and which it was last (the id of a layer or an effect, or
   * `main`).
   */
  faultCount = 0;
  lastFault = '';
  readonly limiter: Limiter;
  readonly controllers = new Controllers();
  private readonly kernel = new Kernel(SYNTH_PAGES);
  private readonly pool: VoicePool;
  private readonly voices: readonly Voice[];
  private readonly queue = new EventQueue();
  private readonly bank = new Map<string, PreparedSample>();
  /** The run made last, of which `taken` frames have left. */
  private readonly runLeft = new Float32Array(RUN);
  private readonly runRight = new Float32Array(RUN);
  private runFrames = TICK;
  private taken = 0;
  /** The patch that plays, and those that ring out, the oldest first. */
  private present: SoundingPatch | null = null;
  private readonly ringing: SoundingPatch[] = [];
  private readonly stage: Stage;
  private tempo = NaN;
  /** Ports at which a controller has said itself what zones it has. */
  private readonly saidZones = new Set<number>();
  private soloed: readonly string[] = [];
  /** Whether a layer of the present patch is soloed; one of another patch, or deleted, silences nobody. */
  private soloing = false;
  /** What is left out of the mix for comparing, and what is heard of it alone. */
  private without: { ids: readonly string[]; gainDb: number } = { ids: [], gainDb: 0 };
  private listening: Listening | null = null;
  private readonly noAnswers = new Uint32Array(ANSWERS);
  private readonly target = new Float64Array(1);
  /** By turn: the span of the run in which the voices whose turn it is are led; −1: none is. */
  private readonly leadSpans = new Int8Array(LEAD);
  private readonly motion: Motion = {
    spans: 0,
    frames: new Uint8Array(MOST_SPANS),
    smoothing: new Float64Array(TICK + 1),
    main: new Float64Array(MOST_SPANS + 1),
    target: 0.5,
  };

  constructor({ rate, maxVoices = MOST_VOICES, seed = 1 }: EngineOptions) {
    this.rate = rate;
    this.pool = new VoicePool(this.kernel, Math.min(MOST_VOICES, Math.max(1, maxVoices)), rate);
    this.voices = this.pool.all;
    this.stage = { pool: this.pool, chance: new Chance(seed), rate, seed, clock: this };
    this.limiter = new Limiter(rate);
    for (let n = 1; n <= TICK; n++) this.motion.smoothing[n] = 1 - Math.exp(-n / (SMOOTHING_SECONDS * rate));
  }

  /** Frames by which the output is later than the frames of its events. */
  get latency(): number {
    return TICK + this.limiter.delay + (this.present?.mix.latency ?? 0);
  }

  /**
   * Puts a sample where programs find it by the key of their request. A sample that arrives late is heard from the next
   * strike on.
   */
  addSample(key: string, sample: Prepared): void {
    if (isWaves(sample)) {
      this.waves.set(key, sample);
      // Laid down as soon as they come, while there is room: a change of patch then copies nothing.
      if (this.needsWaves(key)) this.holdWaves(this.present!.program);
      else if (this.pool.synth) this.pool.synth.hold(key, sample);
      return;
    }
    this.bank.set(key, sample);
    if (key.startsWith('impulse ')) this.present?.mix.findImpulses(this.bank);
    this.present?.addSample(key, sample);
  }

  private readonly waves = new Map<string, WaveSet>();

  private needsWaves(key: string): boolean {
    return this.present !== null && this.present.program.waveKeys.includes(key);
  }

  /** Makes what other kinds of sound than samples need, before a program asks for it. */
  prepareKinds(): void {
    this.pool.prepareKinds();
  }

  /** The waves of a program come to where oscillators read them; those that nobody plays any more leave. */
  private holdWaves(program: PlayedProgram): void {
    if (program.specs.length === 0 && !this.pool.synth) return;
    const synth = this.pool.prepareKinds();
    const kept = new Set(program.waveKeys);
    for (const patch of this.ringing) for (const key of patch.program.waveKeys) kept.add(key);
    // What a voice reads stays, whatever its layer plays from now on.
    const isWanted = (key: string, set: WaveSet) => kept.has(key) || this.voices.some((voice) => voice.playsWaves(set));
    for (const key of program.waveKeys) {
      const set = this.waves.get(key);
      if (set) synth.hold(key, set, isWanted);
    }
  }

  /** Forgets samples that are not among `keys`; voices that play one go on to their end. */
  keepSamples(keys: ReadonlySet<string>): void {
    for (const key of this.bank.keys()) if (!keys.has(key)) this.bank.delete(key);
    for (const key of this.waves.keys()) if (!keys.has(key)) this.waves.delete(key);
    this.present?.findSamples(this.bank);
  }

  private findSolo(): void {
    this.soloing = this.present !== null && this.present.program.layers.some((layer) => this.soloed.includes(layer.id));
  }

  /**
   * Takes over a program. Of the same patch: held notes go on and follow the change, those of deleted layers fade,
   * movers go on. Of another patch: the old one rings out, moving as it did, until its
   * notes are let go, and macros and dots rest where the new patch puts them.
   */
  setProgram(program: PlayedProgram, memory: EffectMemory = new Map()): void {
    const { present } = this;
    if (present && present.program.patchId === program.patchId) present.follow(program, memory);
    else {
      if (present) this.letRing(present);
      this.controllers.macros.fill(NaN);
      this.controllers.dots.fill(NaN);
      this.controllers.letGo.fill(0);
      this.present = new SoundingPatch(program, this.controllers, this.stage, this.bank, memory);
      this.present.setTempo(this.tempo);
    }
    for (let port = 0; port <= program.mpe.ports; port++)
      if (!this.saidZones.has(port))
        this.controllers.setZones(port, program.mpe.lower, program.mpe.upper, program.mpe.bendRange);
    if (program.combs) this.pool.prepareCombs();
    this.holdWaves(program);
    this.present!.findSamples(this.bank);
    this.present!.mix.hearWithout(this.without.ids, this.without.gainDb);
    this.present!.mix.listenTo(this.listening);
    this.watch(this.scopes);
    this.findSolo();
  }

  private letRing(patch: SoundingPatch): void {
    // What is silent by mute or solo stays so when nobody is left who could let it in.
    for (const layer of patch.layers) layer.shut = this.isShut(layer);
    for (const voice of this.voices)
      if (voice.active && voice.layer.patch === patch && voice.layer.shut) voice.dismiss();
    patch.ringOut();
    this.ringing.push(patch);
    this.forgetSilent();
    const beyond = this.ringing.length - MOST_RINGING;
    for (let i = 0; i < beyond; i++) {
      if (this.ringing[i].endsAt === Infinity) this.ringing[i].letGo(this.frame + LAST_RING_SECONDS * this.rate);
      if (i < this.ringing.length - MOST_KEPT) this.ringing[i].endsAt = 0;
    }
  }

  /** Patches that have rung out are dropped. */
  private forgetSilent(): void {
    const { ringing } = this;
    let kept = 0;
    for (let i = 0; i < ringing.length; i++) {
      if (ringing[i].isSounding) ringing[kept++] = ringing[i];
    }
    while (ringing.length > kept) ringing.pop();
  }

  /** Patches that ring out beside the one that plays. */
  get ringingCount(): number {
    return this.ringing.length;
  }

  /** The patch that plays. */
  get sounding(): SoundingPatch | null {
    return this.present;
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

  /** Fills the first `frames` of both channels. */
  process(left: Float32Array, right: Float32Array, frames: number): void {
    let done = 0;
    while (done < frames) {
      if (this.taken === this.runFrames) this.makeRun(frames - done);
      const count = Math.min(frames - done, this.runFrames - this.taken);
      for (let i = 0; i < count; i++) {
        left[done + i] = this.runLeft[this.taken + i];
        right[done + i] = this.runRight[this.taken + i];
      }
      this.taken += count;
      done += count;
    }
    this.limiter.process(left, right, 0, frames);
    for (let i = 0; i < frames; i++) {
      const l = Math.abs(left[i]);
      const r = Math.abs(right[i]);
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
    const { queue, motion, frame } = this;
    while (queue.nextFrame <= frame) this.apply(queue.take());
    for (let r = 0; r < this.ringing.length; r++) if (this.ringing[r].endsAt <= frame) this.ringing[r].dismiss();
    this.runPaths();
    // Where something listens to what is made, each span must be heard before the next.
    const longest = this.follows || this.isChanging ? TICK : RUN;
    let end = Math.min(
      queue.nextFrame,
      this.nextPathFrame,
      Math.ceil((frame + wanted) / TICK) * TICK,
      Math.floor((frame + longest) / TICK) * TICK,
    );
    // What rings out for too long fades at a frame of its own, however the output is cut.
    for (let r = 0; r < this.ringing.length; r++)
      if (this.ringing[r].endsAt > frame && this.ringing[r].endsAt < end)
        end = Math.min(end, Math.ceil(this.ringing[r].endsAt / TICK) * TICK);
    motion.spans = 0;
    for (let from = frame; from < end;) {
      const to = Math.min(end, from + TICK - (from % TICK));
      motion.frames[motion.spans++] = to - from;
      from = to;
    }
    this.leadSpans.fill(-1);
    for (let s = 0, at = frame; s < motion.spans; at += motion.frames[s++])
      if (at % TICK === 0) this.leadSpans[(at / TICK) % LEAD] = s;
    this.runFrames = end - frame;
    this.taken = 0;
    this.renderRun(this.runLeft, this.runRight);
    this.frame = end;
  }

  /** What paths make of themselves at this frame: arpeggios, strums, and the ends of their notes. */
  private runPaths(): void {
    const { present, ringing } = this;
    if (present && present.notes.nextPathFrame <= this.frame) {
      present.notes.runPaths();
    }
    for (let r = 0; r < ringing.length; r++)
      if (ringing[r].notes.nextPathFrame <= this.frame) ringing[r].notes.runPaths();
  }

  private get nextPathFrame(): number {
    let next = this.present ? this.present.notes.nextPathFrame : Infinity;
    for (let r = 0; r < this.ringing.length; r++) next = Math.min(next, this.ringing[r].notes.nextPathFrame);
    return next;
  }

  /** Notes that paths made, as {@link Notes.madeNotes} has them, and how many there were. */
  get madeNotes(): Uint32Array {
    return this.present ? this.present.notes.madeNotes : this.noAnswers;
  }
  /** The frames at which they were made. */
  get madeFrames(): Float64Array | null {
    return this.present ? this.present.notes.madeFrames : null;
  }
  get madeCount(): number {
    return this.present ? this.present.notes.madeCount : 0;
  }

  /** Seed of the chances of the last strike: a layer that keeps it has the same at every strike. */
  get strikeSeed(): number {
    return this.present ? this.present.notes.lastSeed : 0;
  }

  /** Zones that answered since the program came, as places in it: the last few, and how many there were. */
  get answers(): Uint32Array {
    return this.present ? this.present.notes.answers : this.noAnswers;
  }
  get answerCount(): number {
    return this.present ? this.present.notes.answerCount : 0;
  }

  /** Voices of each layer of the present patch in the last run. */
  readVoices(into: Float32Array, at: number, most: number): void {
    for (let l = 0; l < most; l++)
      into[at + l] = this.present && l < this.present.layers.length ? this.present.layers[l].voiceCount : 0;
  }

  /** Level of a layer since it was last asked, as the greatest sample; 0 for a layer that is not there. */
  takeLayerPeak(index: number): number {
    const { present } = this;
    if (!present || index >= present.program.layers.length) return 0;
    const { peak } = present.layers[index];
    present.layers[index].peak = 0;
    return peak;
  }

  /**
   * Where everything is that moves by itself, for pictures: value and rounds of each mover from `movers` on, x and y of
   * each dot from `pads` on, position and tempo from `transport` on.
   */
  readMovement(into: Float32Array, movers: number, pads: number, transport: number): void {
    const { present } = this;
    if (!present) return;
    const { evaluator, program } = present;
    let newest: Voice | null = null;
    for (let v = 0; v < this.voices.length; v++) {
      const voice = this.voices[v];
      if (voice.active && voice.layer.patch === present && (!newest || voice.born > newest.born)) newest = voice;
    }
    for (let m = 0; m < program.movers.length; m++) {
      if (program.movers[m].ofNote && !newest) continue;
      into[movers + 2 * m] = program.movers[m].ofNote ? evaluator.noteValue(newest!, m) : evaluator.moverValue(m);
      into[movers + 2 * m + 1] = program.movers[m].ofNote ? evaluator.notePhase(newest!, m) : evaluator.moverPhase(m);
    }
    for (let p = 0; p < program.pads.length; p++) {
      into[pads + 2 * p] = evaluator.pads[p].dot[0];
      into[pads + 2 * p + 1] = evaluator.pads[p].dot[1];
    }
    into[transport] = present.position;
    into[transport + 1] = Number.isNaN(present.tempo) ? program.tempo : present.tempo;
  }

  /**
   * Where grains are that sound now, for pictures: from `at` on, for each one its voice (a number that stays while the
   * note does), key, place in its recording as a share, and height; as many as fit before
   * `end`. Gives how many.
   */
  readGrains(into: Float32Array, at: number, end: number): number {
    let to = at;
    for (let v = 0; v < this.voices.length; v++) {
      const voice = this.voices[v];
      if (voice.active) to = voice.showGrains(into, to, end);
    }
    return (to - at) / 4;
  }

  /** By layer, from a place on: the step at which its arpeggio is; −1: it does not run. */
  readSteps(into: Float32Array, at: number, count: number): void {
    const { present } = this;
    for (let l = 0; l < count; l++)
      into[at + l] = present && l < present.program.layers.length ? (present.layers[l].path?.stepNow ?? -1) : -1;
  }

  /** Whether anything sounds, or waits to. */
  get isBusy(): boolean {
    return (
      this.voiceCount > 0 ||
      this.present?.mix.isAwake === true ||
      this.queue.nextFrame !== Infinity ||
      this.nextPathFrame !== Infinity
    );
  }

  takePeaks(): void {
    this.peakLeft = this.peakRight = 0;
    this.limiter.lowestGain = 1;
  }

  /** Whether the mix of a patch that sounds is changing: see {@link Mix.isChanging}. */
  private get isChanging(): boolean {
    if (this.present?.mix.isChanging) return true;
    for (let r = 0; r < this.ringing.length; r++) if (this.ringing[r].mix.isChanging) return true;
    return false;
  }

  /** Whether a patch that sounds listens to what is made. */
  private get follows(): boolean {
    if (this.present?.program.follows) return true;
    for (let r = 0; r < this.ringing.length; r++) if (this.ringing[r].program.follows) return true;
    return false;
  }

  private renderRun(left: Float32Array, right: Float32Array): void {
    const { voices } = this;
    for (let i = 0; i < this.runFrames; i++) left[i] = right[i] = 0;
    if (this.present) clearCounts(this.present);
    for (let r = 0; r < this.ringing.length; r++) clearCounts(this.ringing[r]);
    let count = 0;
    for (let v = 0; v < voices.length; v++) {
      const voice = voices[v];
      if (!voice.active) continue;
      count++;
      const { layer } = voice;
      layer.voices[layer.voiceCount++] = v;
    }
    if (count > this.mostVoices) this.mostVoices = count;
    this.voiceCount = 0;
    if (this.present) this.renderPatch(this.present, left, right);
    for (let r = 0; r < this.ringing.length; r++) this.renderPatch(this.ringing[r], left, right);
    if (this.ringing.length > 0) this.forgetSilent();
    for (let s = 0; s < this.scopes.length; s++) this.show(this.scopes[s], left, right);
    if (!areNumbers(left, right, 0, this.runFrames)) {
      // Neither a voice nor an effect: then what stands between them.
      for (let i = 0; i < this.runFrames; i++) left[i] = right[i] = 0;
      if (this.present) this.present.stand();
      for (let r = 0; r < this.ringing.length; r++) this.ringing[r].stand();
      this.tellFault('main');
    }
    if (this.present?.program.follows) this.listen(this.present, left, right);
    for (let r = 0; r < this.ringing.length; r++)
      if (this.ringing[r].program.follows) this.listen(this.ringing[r], left, right);
  }

  /**
   * What the voices of a layer made is no number: nothing of it is heard in this run, and those that did it end. Where
   * none can be told from the others, all of them do.
   */
  private heal(layer: LayerState): void {
    const { kernel, voices } = this;
    kernel.clearBus();
    let found = false;
    for (let v = 0; v < layer.voiceCount; v++) {
      const voice = voices[layer.voices[v]];
      if (!voice.active || voice.isSound) continue;
      voice.cut();
      found = true;
    }
    if (!found)
      for (let v = 0; v < layer.voiceCount; v++) if (voices[layer.voices[v]].active) voices[layer.voices[v]].cut();
    this.tellFault(layer.program.id);
  }

  private tellFault(id: string): void {
    this.faultCount++;
    this.lastFault = id;
  }

  private renderPatch(patch: SoundingPatch, left: Float32Array, right: Float32Array): void {
    const { kernel, motion, voices } = this;
    const { spans, frames, smoothing, main } = motion;
    const { evaluator, layers, program, mix } = patch;
    patch.advance(spans, frames);
    const plain = mix.isPlain;
    const moves = program.shared.length > 0 && program.main.routes.length > 0;
    this.aimMain(patch, moves ? 1 : 0);
    main[0] = Number.isNaN(patch.mainGain) ? this.target[0] : patch.mainGain;
    for (let s = 0; s < spans; s++) {
      if (moves && s > 0) this.aimMain(patch, s + 1);
      main[s + 1] = near(main[s], this.target[0], smoothing[frames[s]]);
    }
    patch.mainGain = main[spans];
    for (let l = 0; l < layers.length; l++) {
      const layer = layers[l];
      motion.target = this.gainTarget(layer);
      layer.approach(motion);
      if (layer.voiceCount > 0) {
        kernel.clearBus();
        const itMoves = layer.program.moves;
        if (!layer.deleted && (itMoves || layer.epoch !== patch.epoch)) {
          for (let s = 0; s < (itMoves ? spans : 1); s++) evaluator.lookLayer(s + 1, layer.program);
          layer.epoch = patch.epoch;
        }
        for (let v = 0; v < layer.voiceCount; v++) this.renderVoice(voices[layer.voices[v]], patch, itMoves);
        if (!areNumbers(kernel.bus, kernel.busRight, 0, this.runFrames)) this.heal(layer);
      }
      // What an edit took away goes out as it is, until it has ended.
      if (plain || layer.deleted) layer.mixInto(kernel, left, right, motion);
      else mix.feed(layer, l, kernel, this.runFrames);
    }
    if (!plain) {
      const readsRows = program.shared.length > 0;
      const looks = patch.mixEpoch !== patch.epoch;
      if (looks && !readsRows) evaluator.look(null, null);
      patch.mixEpoch = patch.epoch;
      mix.run(layers, evaluator, motion, readsRows, looks, patch.times, left, right);
      if (mix.faults.count > 0) {
        this.tellFault(mix.faults.last);
        mix.faults.count = 0;
      }
    }
    if (program.shared.length > 0) evaluator.carryOver(spans);
  }

  /**
   * Lets the mix be seen: every place has its level, and what comes out of the places named is written to their rings.
   * Empty: nobody looks.
   */
  watch(scopes: Scope[]): void {
    this.scopes = scopes;
    if (this.present) this.present.mix.isLookedInto = scopes.length > 0;
  }
  private scopes: Scope[] = [];

  private show(scope: Scope, left: Float32Array, right: Float32Array): void {
    const { ring } = scope;
    const place = scope.place === 'main' ? null : (this.present?.mix.placeNamed(scope.place) ?? null);
    const silent = scope.place !== 'main' && !place?.sounds;
    const fromLeft = place ? place.outLeft : left;
    const fromRight = place ? place.outRight : right;
    let at = scope.at;
    for (let i = 0; i < this.runFrames; i++) {
      ring[at] = silent ? 0 : fromLeft[i];
      ring[at + 1] = silent ? 0 : fromRight[i];
      at = at + 2 >= ring.length ? 0 : at + 2;
    }
    scope.at = at;
  }

  /** Levels of places and connections, and what effects tell of themselves: see `Mix`. */
  readMix(
    into: Float32Array,
    placesAt: number,
    mostPlaces: number,
    connectionsAt: number,
    mostConnections: number,
    effectsAt: number,
    mostEffects: number,
    stride: number,
  ): void {
    if (!this.present) return;
    this.present.mix.readLevels(into, placesAt, mostPlaces, connectionsAt, mostConnections);
    this.present.mix.readEffects(into, effectsAt, mostEffects, stride);
  }

  /** Loudness of the places of the mix: see `Mix`. */
  readPowers(into: Float32Array, at: number, most: number): void {
    this.present?.mix.readPowers(into, at, most);
  }

  /** Takes a voice through the run, or to its end. */
  private renderVoice(voice: Voice, patch: SoundingPatch, itMoves: boolean): void {
    const { spans, frames, smoothing } = this.motion;
    const { layer } = voice;
    const { evaluator } = patch;
    const follows = !layer.deleted;
    if (follows && voice.epoch !== patch.epoch) {
      voice.epoch = patch.epoch;
      evaluator.lookNote(1, layer.program, voice);
      aimVoice(voice, evaluator, patch.controllers);
      aimOwn(voice, evaluator);
    }
    // Each voice in its turn, so that the work is spread evenly.
    const leadSpan = this.leadSpans[voice.n & (LEAD - 1)];
    for (let s = 0, at = 0; s < spans; at += frames[s++]) {
      if (!voice.active) return;
      if (s === leadSpan && (itMoves || voice.trembles || voice.follows))
        this.leadVoice(voice, patch, s, at, itMoves && follows);
      voice.render(at, frames[s], smoothing, layer.isHeard(s));
    }
    this.voiceCount++;
  }

  /** Looks at what moves a voice, and sets it on its way there. */
  private leadVoice(voice: Voice, patch: SoundingPatch, s: number, at: number, itMoves: boolean): void {
    voice.waited[0] = (this.frame + at + this.motion.frames[s] - voice.waited[1]) / this.rate;
    voice.waited[1] = this.frame + at + this.motion.frames[s];
    if (itMoves) {
      const { evaluator } = patch;
      patch.setTime(s);
      evaluator.time[SPAN_QUARTERS] *= voice.waited[0] / evaluator.time[SPAN_SECONDS];
      evaluator.time[SPAN_SECONDS] = voice.waited[0];
      evaluator.advanceNote(s + 1, voice.layer.program, voice);
      aimMoving(voice, evaluator);
      aimOwnMoving(voice, evaluator);
    }
    if (voice.trembles) voice.tremble();
    if (voice.follows) voice.followEnvelope();
    voice.lead();
  }

  /** What followers hear in the next span: each layer of the patch, and the whole. */
  private listen({ layers, program, evaluator }: SoundingPatch, left: Float32Array, right: Float32Array): void {
    const { levels } = evaluator;
    for (let l = 0; l < program.layers.length; l++) levels[l] = layers[l].level;
    let peak = 0;
    for (let i = 0; i < this.runFrames; i++) peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
    levels[levels.length - 1] = peak;
  }

  /** Muted, or left out by a solo. Layers of earlier patches, and deleted ones, are beyond both. */
  private isShut({ program, deleted, shut, patch }: LayerState): boolean {
    return (
      shut || (!deleted && !patch.ringsOut && (!program.on || (this.soloing && !this.soloed.includes(program.id))))
    );
  }

  private gainTarget(layer: LayerState): number {
    const { program, patch } = layer;
    const { cc } = patch.controllers;
    if (this.isShut(layer)) return 0;
    if (!program.receive.expression) return 1;
    const row = program.channel * 128;
    return gainOfVolumeController(cc[row + CC.volume]) * gainOfVolumeController(cc[row + CC.expression]);
  }

  /**
   * Where the main level of a patch is heading, by its readings at the end of a span; without anything that moves by
   * itself, by what the hands do now.
   */
  private aimMain({ program, evaluator }: SoundingPatch, row: number): void {
    const { baseNormal, routes } = program.main;
    if (routes.length > 0) {
      if (program.shared.length > 0) evaluator.readRow(row);
      else evaluator.look(null, null);
    }
    this.target[0] = levelGain(
      fromNormal(MAIN_PARAMETERS.level, evaluator.moved(baseNormal, routes)),
      MAIN_PARAMETERS.level.low,
    );
  }

  private apply(event: EngineEvent): void {
    const { present, ringing, controllers } = this;
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
        this.tempo = event.tempo ?? NaN;
        present?.setTempo(this.tempo);
        break;
      case 'zones':
        this.saidZones.add(event.port ?? 0);
        controllers.setZones(event.port ?? 0, event.lower, event.upper, event.bendRange);
        break;
      case 'solo':
        this.soloed = event.layerIds;
        this.findSolo();
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
        this.without = event;
        present?.mix.hearWithout(event.ids, event.gainDb);
        break;
      case 'listen':
        this.listening = event.to;
        present?.mix.listenTo(event.to);
        break;
      case 'voices':
        this.pool.allow(event.most ?? Infinity);
        break;
      case 'panic':
        this.queue.clear();
        for (let r = 0; r < ringing.length; r++) {
          ringing[r].notes.panic();
          ringing[r].mix.silence(true);
        }
        present?.notes.panic();
        present?.mix.silence(false);
        break;
    }
  }
}

function clearCounts({ layers }: SoundingPatch): void {
  for (let l = 0; l < layers.length; l++) layers[l].voiceCount = 0;
}

const reachesAll = (controller: number): boolean =>
  controller === CC.sustain ||
  controller === CC.sostenuto ||
  controller === CC.volume ||
  controller === CC.expression ||
  controller >= CC.allSoundOff;
