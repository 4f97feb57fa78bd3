import { Chance } from '../dsp/chance';
import { Kernel } from '../dsp/kernel/kernel';
import { Limiter } from '../dsp/limiter';
import type { PreparedSample } from '../dsp/sample';
import { CC, gainOfVolumeController } from '../music/midi';
import { gainOfDb } from '../music/pitch';
import { fromNormal, levelGain, MAIN_PARAMETERS } from '../rig/parameters';
import { aimVoice } from './aim';
import { CHANNELS, Controllers } from './controllers';
import { Evaluator, hears, RANDOMS } from './evaluate';
import { EventQueue, isMeaningful, type EngineEvent } from './event';
import { LayerState, near, type Motion } from './layerState';
import type { Program } from './program';
import { gainOfZone, semitonesOfZone, Strikes } from './strike';
import { ANSWERS, TICK } from './tick';
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
  /** Frames made so far; up to a tick more than were taken, where blocks are not multiples of it. */
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
  private readonly chance: Chance;
  private readonly randoms = new Float64Array(RANDOMS);
  private readonly bank = new Map<string, PreparedSample>();
  /** The span made last, of which `spanTaken` frames have left. */
  private readonly spanLeft = new Float32Array(TICK);
  private readonly spanRight = new Float32Array(TICK);
  private spanFrames = 0;
  private spanTaken = 0;
  private readonly smoothing = new Float64Array(TICK + 1);
  private program: Program | null = null;
  private samples: (PreparedSample | undefined)[] = [];
  private strikes: Strikes | null = null;
  private releaseStrikes: Strikes | null = null;
  /** By channel and key: velocity of the last strike, and a bit for each layer whose pedal holds the note though its key is up. For release zones. */
  private readonly struck = new Uint8Array(CHANNELS * 128);
  private readonly held = new Int32Array(CHANNELS * 128);
  /** Zones that answered, as places in the program: the last {@link ANSWERS}, and how many there ever were. */
  readonly answers = new Uint32Array(ANSWERS);
  answerCount = 0;
  private evaluator: Evaluator | null = null;
  /** The layers of the program, in its order, then those of earlier patches that still sound. */
  private layers: LayerState[] = [];
  private soloed: readonly string[] = [];
  /** Whether a layer of the present patch is soloed; one of another patch, or deleted, silences nobody. */
  private soloing = false;
  /** Counts changes of anything that routes or windows look at. */
  private epoch = 0;
  private births = 0;
  private strikeCount = 0;
  private mainGain = NaN;
  private readonly motion: Motion = { share: 0.5, target: 0.5, mainFrom: 0.5, mainTo: 0.5 };

  constructor({ rate, maxVoices = MOST_VOICES, seed = 1 }: EngineOptions) {
    this.rate = rate;
    this.pool = new VoicePool(this.kernel, Math.min(MOST_VOICES, Math.max(1, maxVoices)), rate);
    this.voices = this.pool.all;
    this.chance = new Chance(seed);
    this.limiter = new Limiter(rate);
    for (let n = 1; n <= TICK; n++) this.smoothing[n] = 1 - Math.exp(-n / (SMOOTHING_SECONDS * rate));
  }

  /** Puts a sample where programs find it by the key of their request. A sample that arrives late is heard from the next strike on. */
  addSample(key: string, sample: PreparedSample): void {
    this.bank.set(key, sample);
    this.findSamples();
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
    this.samples = this.program ? this.program.samples.map((request) => this.bank.get(request.key)) : [];
  }

  /**
   * Takes over a program. Of the same patch: held notes go on and follow the change, those of deleted layers fade. Of another patch: held notes go on as they were
   * until they are let go, and macros rest where the new patch puts them.
   */
  setProgram(program: Program): void {
    const samePatch = this.program?.patchId === program.patchId;
    const before = this.layers;
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
    this.strikes = new Strikes(program.table, program.layers, this.chance);
    this.held.fill(0);
    this.releaseStrikes = program.releaseTable && new Strikes(program.releaseTable, program.layers, this.chance);
    for (const voice of this.voices) if (voice.active) this.follow(voice);
    this.findSamples();
    this.findSolo();
    for (const voice of this.voices) if (voice.active && voice.sustained && !voice.layer.program.receive.sustain) this.letGo(voice);
    this.epoch++;
  }

  /** A voice that goes on under a new program: its values follow its layer, its own windows stay as they were. */
  private follow(voice: Voice): void {
    voice.zoneWindows = null;
    if (!voice.layer.evaluator) return;
    const { voicings } = voice.layer.program;
    voice.voicing = voicings.find((voicing) => voicing.key === voice.voicing.key) ?? voicings[0];
  }

  /** Takes an event, for now or for a frame to come. Nonsense is ignored; a full queue is emptied into the present, so that no note-off is lost. */
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
      if (this.spanTaken === this.spanFrames) this.makeSpan();
      const count = Math.min(frames - done, this.spanFrames - this.spanTaken);
      for (let i = 0; i < count; i++) {
        left[done + i] = this.spanLeft[this.spanTaken + i];
        right[done + i] = this.spanRight[this.spanTaken + i];
      }
      this.spanTaken += count;
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

  /** Makes the frames up to the next tick or event. Spans begin and end there alone, so the sound does not depend on how it is cut into blocks. */
  private makeSpan(): void {
    while (this.queue.nextFrame <= this.frame) this.apply(this.queue.take());
    this.spanFrames = Math.min(TICK - (this.frame % TICK), this.queue.nextFrame - this.frame);
    this.spanTaken = 0;
    this.renderSpan(this.spanLeft, this.spanRight, this.spanFrames);
    this.frame += this.spanFrames;
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

  private renderSpan(left: Float32Array, right: Float32Array, frames: number): void {
    const { layers, voices, kernel, motion } = this;
    const share = this.smoothing[frames];
    for (let i = 0; i < frames; i++) left[i] = right[i] = 0;
    for (let l = 0; l < layers.length; l++) layers[l].voiceCount = 0;
    let count = 0;
    for (let v = 0; v < voices.length; v++) {
      const voice = voices[v];
      if (!voice.active) continue;
      count++;
      const { layer } = voice;
      layer.voices[layer.voiceCount++] = v;
    }
    this.voiceCount = count;
    if (count > this.mostVoices) this.mostVoices = count;
    const main = this.mainTarget();
    motion.share = share;
    motion.mainFrom = Number.isNaN(this.mainGain) ? main : this.mainGain;
    motion.mainTo = this.mainGain = near(motion.mainFrom, main, share);
    for (let l = 0; l < layers.length; l++) {
      const layer = layers[l];
      motion.target = this.gainTarget(layer);
      const heard = !(layer.gain === 0 && motion.target === 0);
      if (layer.voiceCount > 0) kernel.clearBus();
      for (let v = 0; v < layer.voiceCount; v++) {
        const voice = voices[layer.voices[v]];
        if (voice.epoch !== this.epoch) this.aim(voice);
        voice.render(frames, this.rate, this.smoothing, heard);
      }
      layer.mixInto(kernel, left, right, frames, motion);
    }
  }

  private gainTarget({ program, evaluator }: LayerState): number {
    const { cc } = this.controllers;
    if (evaluator && (!program.on || (this.soloing && !this.soloed.includes(program.id)))) return 0;
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

  /** Works out where a voice's parameters are heading. */
  private aim(voice: Voice): void {
    voice.epoch = this.epoch;
    aimVoice(voice, this.controllers);
  }

  private apply(event: EngineEvent): void {
    this.epoch++;
    switch (event.type) {
      case 'noteOn': this.noteOn(event.channel, event.key, event.velocity); break;
      case 'noteOff': this.noteOff(event.channel, event.key, event.velocity); break;
      case 'keyPressure': this.controllers.setKeyPressure(event.channel, event.key, event.pressure); break;
      case 'channelPressure': this.controllers.setChannelPressure(event.channel, event.pressure); break;
      case 'bend': this.controllers.setBend(event.channel, event.bend); break;
      case 'macro': this.controllers.macros[event.number] = event.value; break;
      case 'solo':
        this.soloed = event.layerIds;
        this.findSolo();
        break;
      case 'controller': this.control(event.channel, event.controller, event.value); break;
      case 'panic': this.panic(); break;
    }
  }

  private noteOn(channel: number, key: number, velocity: number): void {
    const { program, strikes } = this;
    if (!program || !strikes) return;
    this.struck[channel * 128 + key] = velocity;
    this.answer(strikes, channel, key, velocity, EVERY_LAYER);
  }

  /** Starts what answers a strike, or the end of a note, in the layers whose bits are set (those beyond the 32nd always count as set). */
  private answer(strikes: Strikes, channel: number, key: number, velocity: number, layerBits: number): void {
    for (let i = 0; i < RANDOMS; i++) this.randoms[i] = this.chance.share();
    strikes.strike(key, velocity);
    const strike = ++this.strikeCount;
    for (let i = 0; i < strikes.count; i++) {
      const layer = this.layers[strikes.layers[i]];
      const { program } = layer;
      if (program.channel !== 0 && program.channel !== channel) continue;
      if ((layerBits & bitOf(strikes.layers[i])) === 0 && strikes.layers[i] < 32) continue;
      this.startVoice(layer, strikes.zones[i], channel, key, velocity, strike);
    }
  }

  /** Bits of the layers whose sustain pedal is down. */
  private pedalBits(): number {
    const { program } = this;
    let bits = 0;
    for (let l = 0; program && l < program.layers.length && l < 32; l++) {
      const { receive, channel } = program.layers[l];
      if (receive.sustain && this.controllers.isDown(channel, CC.sustain)) bits |= bitOf(l);
    }
    return bits;
  }

  /** Notes whose keys are up end in the layers whose pedal has come up: their release zones answer. */
  private endHeldNotes(): void {
    const { releaseStrikes, held } = this;
    if (!releaseStrikes) return;
    const down = this.pedalBits();
    for (let at = 0; at < held.length; at++) {
      const ending = held[at] & ~down;
      if (ending === 0) continue;
      held[at] &= down;
      this.answer(releaseStrikes, at >> 7, at & 127, this.struck[at], ending);
    }
  }

  private startVoice(layer: LayerState, zone: number, channel: number, key: number, velocity: number, strike: number): void {
    const { zones } = this.program!;
    if (zones.chokeGroup[zone] >= 0) this.choke(layer, zones.chokeGroup[zone], strike);
    const sample = this.samples[zones.sample[zone]];
    if (!sample) return;
    const { program } = layer;
    const soundKey = Math.min(127, Math.max(0, key + program.transpose));
    const zoneGain = gainOfZone(zones, zone, soundKey, program.touch[velocity]) * gainOfDb(zones.gainDb[zone]);
    const voice = this.pool.take();
    voice.layer = layer;
    voice.voicing = program.voicings[zones.voicing[zone]];
    voice.channel = channel;
    voice.key = key;
    voice.velocity = velocity;
    voice.releaseVelocity = 64;
    voice.randoms.set(this.randoms);
    voice.zone = zone;
    voice.born = ++this.births;
    voice.strike = strike;
    voice.fullLength = zones.fullLength[zone] === 1;
    voice.chokedBy = zones.chokedBy[zone];
    voice.chokedFast = zones.chokedFast[zone] === 1;
    voice.zoneGain = zoneGain;
    voice.zoneWindows = zones.windows[zone];
    voice.zoneWindowsGain[0] = 1;
    voice.zonePan = zones.pan[zone];
    voice.zoneSemitones = semitonesOfZone(zones, zone, key + program.transpose);
    this.aim(voice);
    if (zoneGain === 0 || layer.evaluator!.gainOf(program.windows, true) === 0) return;
    if (voice.zoneWindows && layer.evaluator!.gainOf(voice.zoneWindows) === 0) return;
    voice.start(sample, zones.start[zone], zones.end[zone], this.rate);
    if (zones.loopEnd[zone] > 0) voice.loopWhileSounding(zones.loopStart[zone], zones.loopEnd[zone], zones.loopCrossfade[zone], zones.loopUntilRelease[zone] === 1);
    this.answers[this.answerCount++ % ANSWERS] = zone;
  }

  /** A strike of a choke group ends what this group ends in the same layer, but nothing of the strike itself. */
  private choke(layer: LayerState, group: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.chokedBy !== group || voice.strike === strike) continue;
      if (voice.chokedFast) voice.dismiss(this.rate);
      else voice.letEnd();
    }
  }

  private noteOff(channel: number, key: number, velocity: number): void {
    const at = channel * 128 + key;
    if (this.releaseStrikes && this.struck[at] > 0) {
      this.held[at] = this.pedalBits();
      this.answer(this.releaseStrikes, channel, key, this.struck[at], ~this.held[at]);
    }
    for (const voice of this.voices) {
      if (!voice.active || !voice.keyDown || voice.key !== key || voice.channel !== channel) continue;
      voice.releaseVelocity = velocity;
      this.liftKey(voice);
    }
  }

  private liftKey(voice: Voice): void {
    const { program } = voice.layer;
    voice.keyDown = false;
    voice.sustained = program.receive.sustain && this.controllers.isDown(program.channel, CC.sustain);
    this.letGo(voice, voice.sustained);
  }

  /** Releases a voice that neither its key nor a pedal holds. */
  private letGo(voice: Voice, sustained = false): void {
    voice.sustained = sustained;
    if (!voice.keyDown && !sustained && !voice.caught && !voice.released) voice.release();
  }

  private control(channel: number, controller: number, value: number): void {
    const { controllers } = this;
    switch (controller) {
      case CC.allSoundOff:
        for (const voice of this.voices) if (voice.active && voice.channel === channel) voice.dismiss(this.rate);
        break;
      case CC.allNotesOff:
        for (const voice of this.voices) if (voice.active && voice.channel === channel && voice.keyDown) this.liftKey(voice);
        break;
      case CC.resetControllers:
        controllers.reset(channel);
        this.liftPedals();
        break;
      default: {
        const catching = controller === CC.sostenuto && value >= 64 && !controllers.isDown(channel, CC.sostenuto);
        controllers.setController(channel, controller, value);
        if (catching) {
          for (const voice of this.voices) {
            if (voice.active && voice.keyDown && listens(voice, channel) && hears(voice.layer.program, controller)) voice.caught = true;
          }
        } else if (controller === CC.sustain || controller === CC.sostenuto) this.liftPedals();
      }
    }
  }

  /** Lets go what pedals held that are up by now. */
  private liftPedals(): void {
    this.endHeldNotes();
    for (const voice of this.voices) {
      if (!voice.active || (!voice.sustained && !voice.caught)) continue;
      const { channel } = voice.layer.program;
      if (!this.controllers.isDown(channel, CC.sostenuto)) voice.caught = false;
      this.letGo(voice, voice.sustained && this.controllers.isDown(channel, CC.sustain));
    }
  }

  private panic(): void {
    this.queue.clear();
    this.held.fill(0);
    for (let channel = 0; channel <= 16; channel++) this.controllers.reset(channel);
    for (const voice of this.voices) {
      if (!voice.active) continue;
      voice.keyDown = voice.sustained = voice.caught = false;
      voice.dismiss(this.rate);
    }
  }
}

const EVERY_LAYER = -1;
const bitOf = (layer: number): number => 1 << layer;

const listens = (voice: Voice, channel: number): boolean => voice.layer.program.channel === 0 || voice.layer.program.channel === channel;

