import { Chance } from '../dsp/chance';
import { Kernel } from '../dsp/kernel/kernel';
import { Limiter } from '../dsp/limiter';
import type { PreparedSample } from '../dsp/sample';
import { CC, gainOfVolumeController } from '../music/midi';
import { fromNormal, levelGain, MAIN_PARAMETERS } from '../rig/parameters';
import { aimVoice } from './aim';
import { Controllers } from './controllers';
import { Evaluator } from './evaluate';
import { EventQueue, isMeaningful, type EngineEvent } from './event';
import { LayerState, near, type Motion } from './layerState';
import { Notes } from './notes';
import type { PlayedProgram } from './program';
import { MOST_SPANS, RUN, TICK } from './tick';
import type { Voice } from './voice';
import { VoicePool } from './voicePool';

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

/**
 * Plays programs: events in, two channels out. The same code runs in the audio thread, in a worker and in Node, and gives the same bits for the same
 * seed and events, however the output is cut into blocks. `process` allocates nothing and throws nothing.
 */
export class Engine {
  readonly rate: number;
  /** Frames made so far. Between blocks they are fewer than those given out: output comes {@link TICK} frames after it could be made, so that an event for any frame yet to be given out finds it unmade. */
  frame = 0;
  /** Since they were last read: greatest sample of each channel, and the limiter's deepest gain. */
  peakLeft = 0;
  peakRight = 0;
  /** Voices that sounded in the last span, and the most there ever were. */
  voiceCount = 0;
  mostVoices = 0;
  readonly limiter: Limiter;
  readonly controllers = new Controllers();
  private readonly kernel = new Kernel();
  private readonly pool: VoicePool;
  private readonly voices: readonly Voice[];
  private readonly queue = new EventQueue();
  private readonly bank = new Map<string, PreparedSample>();
  /** The run made last, of which `taken` frames have left. */
  private readonly runLeft = new Float32Array(RUN);
  private readonly runRight = new Float32Array(RUN);
  private runFrames = TICK;
  private taken = 0;
  private program: PlayedProgram | null = null;
  private readonly notes: Notes;
  private evaluator: Evaluator | null = null;
  /** The layers of the program, in its order, then those of earlier patches that still sound. */
  private layers: LayerState[] = [];
  private soloed: readonly string[] = [];
  /** Whether a layer of the present patch is soloed; one of another patch, or deleted, silences nobody. */
  private soloing = false;
  /** Counts changes of anything that routes or windows look at. */
  private epoch = 0;
  private mainGain = NaN;
  private readonly motion: Motion = { spans: 0, frames: new Uint8Array(MOST_SPANS), smoothing: new Float64Array(TICK + 1), main: new Float64Array(MOST_SPANS + 1), target: 0.5 };

  constructor({ rate, maxVoices = MOST_VOICES, seed = 1 }: EngineOptions) {
    this.rate = rate;
    this.pool = new VoicePool(this.kernel, Math.min(MOST_VOICES, Math.max(1, maxVoices)), rate);
    this.voices = this.pool.all;
    this.notes = new Notes(this.controllers, this.pool, new Chance(seed), rate);
    this.limiter = new Limiter(rate);
    for (let n = 1; n <= TICK; n++) this.motion.smoothing[n] = 1 - Math.exp(-n / (SMOOTHING_SECONDS * rate));
  }

  /** Frames by which the output is later than the frames of its events. */
  get latency(): number {
    return TICK + this.limiter.delay;
  }

  /** Puts a sample where programs find it by the key of their request. A sample that arrives late is heard from the next strike on. */
  addSample(key: string, sample: PreparedSample): void {
    this.bank.set(key, sample);
    const place = this.program ? this.program.sampleKeys.indexOf(key) : -1;
    if (place >= 0) this.notes.samples[place] = sample;
  }

  /** Forgets samples that are not among `keys`; voices that play one go on to their end. */
  keepSamples(keys: ReadonlySet<string>): void {
    for (const key of this.bank.keys()) if (!keys.has(key)) this.bank.delete(key);
    this.findSamples();
  }

  private findSolo(): void {
    this.soloing = this.program !== null && this.program.layers.some((layer) => this.soloed.includes(layer.id));
  }

  private findSamples(): void {
    if (this.program) this.notes.samples = this.program.sampleKeys.map((key) => this.bank.get(key));
  }

  /**
   * Takes over a program. Of the same patch: held notes go on and follow the change, those of deleted layers fade. Of another patch: held notes go on as they were
   * until they are let go, and macros rest where the new patch puts them.
   */
  setProgram(program: PlayedProgram): void {
    const samePatch = this.program?.patchId === program.patchId;
    const before = this.layers;
    // What is silent by mute or solo stays so when nobody is left who could let it in.
    if (!samePatch) {
      for (const state of before) state.shut = this.isShut(state);
      for (const voice of this.voices) if (voice.active && voice.layer.shut) voice.dismiss(this.rate);
    }
    this.program = program;
    this.evaluator = new Evaluator(program, this.controllers);
    if (!samePatch) this.controllers.macros.fill(NaN);
    const evaluator = this.evaluator;
    const staying = program.layers.map((layer) => {
      const state = samePatch ? before.find((candidate) => candidate.evaluator && candidate.program.id === layer.id) : undefined;
      if (!state) return new LayerState(layer, evaluator);
      state.program = layer;
      state.evaluator = evaluator;
      return state;
    });
    const sounding = new Set(this.voices.filter((voice) => voice.active).map((voice) => voice.layer));
    const leaving = before.filter((state) => !staying.includes(state) && sounding.has(state));
    for (const state of leaving) {
      const deleted = samePatch && state.evaluator !== null;
      state.evaluator = null;
      if (deleted) for (const voice of this.voices) if (voice.active && voice.layer === state) voice.dismiss(this.rate);
    }
    this.layers = [...staying, ...leaving];
    this.notes.setProgram(program, this.layers);
    for (const voice of this.voices) if (voice.active) this.follow(voice);
    this.findSamples();
    this.findSolo();
    this.notes.letGoDeaf();
    this.epoch++;
  }

  /** A voice that goes on under a new program: its values follow its layer, its own windows stay as they were. */
  private follow(voice: Voice): void {
    voice.zoneWindows = null;
    if (!voice.layer.evaluator) return;
    const { voicings } = voice.layer.program;
    voice.voicing = voicings.find((voicing) => voicing.key === voice.voicing.key) ?? voicings[0];
  }

  /** Takes an event, for now or for a frame that was not given out yet, counted from the first that was; it is heard {@link latency} frames later. Nonsense is ignored; a full queue is emptied into the present, so that no note-off is lost. */
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
   * Makes the frames that are wanted, on to the next tick, or up to the next event. A run is made of spans, which begin and end at ticks and events alone: the sound depends on
   * them, and so on nothing but the events; how many of them make a run does not change it.
   */
  private makeRun(wanted: number): void {
    const { queue, motion, frame } = this;
    while (queue.nextFrame <= frame) this.apply(queue.take());
    const end = Math.min(queue.nextFrame, Math.ceil((frame + wanted) / TICK) * TICK, Math.floor((frame + RUN) / TICK) * TICK);
    motion.spans = 0;
    for (let from = frame; from < end; ) {
      const to = Math.min(end, from + TICK - (from % TICK));
      motion.frames[motion.spans++] = to - from;
      from = to;
    }
    this.runFrames = end - frame;
    this.taken = 0;
    this.renderRun(this.runLeft, this.runRight);
    this.frame = end;
  }

  /** Zones that answered since the program came, as places in it: the last few, and how many there were. */
  get answers(): Uint32Array {
    return this.notes.answers;
  }
  get answerCount(): number {
    return this.notes.answerCount;
  }

  /** Level of a layer since it was last asked, as the greatest sample; 0 for a layer that is not there. */
  takeLayerPeak(index: number): number {
    if (!this.program || index >= this.program.layers.length) return 0;
    const { peak } = this.layers[index];
    this.layers[index].peak = 0;
    return peak;
  }

  /** Whether anything sounds, or waits to. */
  get isBusy(): boolean {
    return this.voiceCount > 0 || this.queue.nextFrame !== Infinity;
  }

  takePeaks(): void {
    this.peakLeft = this.peakRight = 0;
    this.limiter.lowestGain = 1;
  }

  private renderRun(left: Float32Array, right: Float32Array): void {
    const { layers, voices, kernel, motion } = this;
    const { spans, frames, smoothing, main } = motion;
    for (let i = 0; i < this.runFrames; i++) left[i] = right[i] = 0;
    for (let l = 0; l < layers.length; l++) layers[l].voiceCount = 0;
    let count = 0;
    for (let v = 0; v < voices.length; v++) {
      const voice = voices[v];
      if (!voice.active) continue;
      count++;
      const { layer } = voice;
      layer.voices[layer.voiceCount++] = v;
    }
    if (count > this.mostVoices) this.mostVoices = count;
    const target = this.mainTarget();
    main[0] = Number.isNaN(this.mainGain) ? target : this.mainGain;
    for (let s = 0; s < spans; s++) main[s + 1] = near(main[s], target, smoothing[frames[s]]);
    this.mainGain = main[spans];
    this.voiceCount = 0;
    for (let l = 0; l < layers.length; l++) {
      const layer = layers[l];
      motion.target = this.gainTarget(layer);
      layer.approach(motion);
      if (layer.voiceCount > 0) kernel.clearBus();
      for (let v = 0; v < layer.voiceCount; v++) this.renderVoice(voices[layer.voices[v]]);
      layer.mixInto(kernel, left, right, motion);
    }
  }

  /** Takes a voice through the run, or to its end. */
  private renderVoice(voice: Voice): void {
    const { spans, frames, smoothing } = this.motion;
    if (voice.epoch !== this.epoch) {
      voice.epoch = this.epoch;
      aimVoice(voice, this.controllers);
    }
    for (let s = 0, at = 0; s < spans; at += frames[s++]) {
      if (!voice.active) return;
      voice.render(at, frames[s], this.rate, smoothing, voice.layer.isHeard(s));
    }
    this.voiceCount++;
  }

  /** Muted, or left out by a solo. Layers of earlier patches, which have no evaluator, are beyond both. */
  private isShut({ program, evaluator, shut }: LayerState): boolean {
    return shut || (evaluator !== null && (!program.on || (this.soloing && !this.soloed.includes(program.id))));
  }

  private gainTarget(layer: LayerState): number {
    const { program } = layer;
    const { cc } = this.controllers;
    if (this.isShut(layer)) return 0;
    if (!program.receive.expression) return 1;
    const row = program.channel * 128;
    return gainOfVolumeController(cc[row + CC.volume]) * gainOfVolumeController(cc[row + CC.expression]);
  }

  private mainTarget(): number {
    if (!this.program || !this.evaluator) return 1;
    const { baseNormal, routes } = this.program.main;
    if (routes.length > 0) this.evaluator.look(null, null);
    return levelGain(fromNormal(MAIN_PARAMETERS.level, this.evaluator.moved(baseNormal, routes)), MAIN_PARAMETERS.level.low);
  }

  private apply(event: EngineEvent): void {
    this.epoch++;
    switch (event.type) {
      case 'noteOn': this.notes.noteOn(event.channel, event.key, event.velocity); break;
      case 'noteOff': this.notes.noteOff(event.channel, event.key, event.velocity); break;
      case 'keyPressure': this.controllers.setKeyPressure(event.channel, event.key, event.pressure); break;
      case 'channelPressure': this.controllers.setChannelPressure(event.channel, event.pressure); break;
      case 'bend': this.controllers.setBend(event.channel, event.bend); break;
      case 'macro': this.controllers.macros[event.number] = event.value; break;
      case 'solo':
        this.soloed = event.layerIds;
        this.findSolo();
        break;
      case 'controller': this.notes.control(event.channel, event.controller, event.value); break;
      case 'panic':
        this.queue.clear();
        this.notes.panic();
        break;
    }
  }
}
