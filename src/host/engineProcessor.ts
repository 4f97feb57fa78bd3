/// <reference path="./audioWorkletScope.d.ts" />
import { Click, type ClickSound } from '../core/engine/click';
import { Engine, type Scope } from '../core/engine/engine';
import { ANSWERS } from '../core/engine/program/tick';
import { MOST_READINGS } from '../core/effects';
import {
  GRAIN_NUMBERS,
  METER,
  METER_LENGTH,
  METER_KNOBS,
  METER_VOICES,
  METERED_GRAINS,
  METERED_CONNECTIONS,
  METERED_EFFECTS,
  METERED_LAYERS,
  METERED_PLACES,
  MOST_BESIDE,
  PROCESSOR_NAME,
  type EngineProcessorOptions,
  type ToEngine,
  type ToOneEngine,
} from './protocol';
import { Script, StepWriter } from './stepLog';

/** Amplitude that a meter keeps from one block of 128 frames to the next: about 26 dB a second. */
const FALL = 0.992;
const BLOCKS_BETWEEN_MESSAGES = 12;
const BLOCK = 128;
const QUIET_BLOCKS = 8;
const AUDITION_VOICES = 32;
const BESIDE_VOICES = 64;
/** Nothing leaves above this, however much plays along. */
const HIGHEST = 0.9886;
/** By how much the level rises or falls in a frame where it begins or ends to be heard: 5 ms at 48 kHz. */
const FADE = 1 / 240;

/** The engine in the audio thread. */
class EngineProcessor extends AudioWorkletProcessor {
  private readonly engine: Engine;
  private readonly audition: Engine;
  private readonly beside: readonly Engine[];
  private readonly besideGains = new Float64Array(MOST_BESIDE).fill(1);
  /** Blocks since each last sounded: what its limiter still holds must come out. */
  private readonly besideQuiet = new Float64Array(MOST_BESIDE).fill(QUIET_BLOCKS);
  private readonly besideNow = new Float64Array(MOST_BESIDE).fill(1);
  private readonly click = new Click(sampleRate);
  private clicks = false;
  /** Pair of channels of the click; −1: it is not heard. */
  private clickTo = -1;
  /** What engines that play along make for pairs beside the first. */
  private readonly besideMore: readonly Float32Array[];
  /** Channels beside the first pair, as the browser gives them. */
  private readonly more: Float32Array[];
  private readonly auditionLeft = new Float32Array(BLOCK);
  private readonly auditionRight = new Float32Array(BLOCK);
  /** Blocks since the audition last sounded: what its limiter still holds must come out. */
  private auditionQuiet = QUIET_BLOCKS;
  private serial = 0;
  private readonly meters: Float32Array;
  private readonly shared: boolean;
  /** What the page looks at; memory of its own where none can be shared: the levels are still measured. */
  private readonly scope: Scope;
  private blocks = 0;
  private busyMs = 0;
  private faultsTold = 0;
  private sinceMs = Date.now();
  private readonly log: StepWriter | null;
  /** Of one that follows; null: it leads. */
  private script: Script | null = null;
  /** How loud it is as a whole, and is to be: one that follows is not heard. */
  private loudness = 1;
  private loudnessTo = 1;

  constructor(options: { processorOptions: EngineProcessorOptions }) {
    super();
    const { seed, maxVoices, channels, meters, scope, log, follows } = options.processorOptions;
    this.log = log && new StepWriter(log, sampleRate);
    if (follows) {
      this.script = new Script();
      this.loudness = this.loudnessTo = 0;
    }
    this.besideMore = Array.from({ length: channels - 2 }, () => new Float32Array(BLOCK));
    this.more = [...this.besideMore];
    this.scope = { place: 'main', ring: scope ? new Float32Array(scope) : new Float32Array(2), at: 0 };
    this.engine = new Engine({ rate: sampleRate, seed, maxVoices });
    this.audition = new Engine({ rate: sampleRate, seed, maxVoices: AUDITION_VOICES });
    this.beside = Array.from(
      { length: MOST_BESIDE },
      (_, i) => new Engine({ rate: sampleRate, seed: seed + i + 1, maxVoices: BESIDE_VOICES }),
    );
    // Before any sound: no program that comes later has to make them.
    for (const engine of [this.engine, this.audition, ...this.beside]) engine.prepareKinds();
    this.shared = meters !== null;
    this.meters = meters ? new Float32Array(meters) : new Float32Array(METER_LENGTH);
    this.meters[METER.limiter] = 1;
    this.port.onmessage = ({ data }: MessageEvent<ToEngine>) => {
      this.ahead = 0;
      this.take(data);
      // Each message is counted, also one that could not be done: the page counts them as well.
      this.log?.hear(this.ahead);
    };
  }

  /** Does what a message says. One that cannot be done is told, and ends nothing. */
  private take(message: ToEngine): void {
    try {
      this.receive(message);
    } catch (error) {
      this.port.postMessage({ type: 'failed', message: String(error) });
    }
  }

  private receive(message: ToEngine): void {
    if (message.type === 'echo') this.port.postMessage(message);
    else if (message.type === 'told') this.script?.tell(message.at, message.ahead, message.message);
    else if (message.type === 'upTo') this.follow(message.blocks);
    else if (message.type === 'lead') this.lead();
    else if (message.type === 'hush') this.loudnessTo = 0;
    else if (message.type === 'end') this.ended = true;
    else if (message.type === 'beside') this.pass(this.beside[message.player - 1], message.message);
    else if (message.type === 'besideGain') this.besideGains[message.player - 1] = message.gain;
    else if (message.type === 'outputs') {
      for (const engine of [this.engine, ...this.beside]) engine.outputs.map(message.map);
      this.clickTo = message.click;
    } else if (message.type === 'click') this.setClick(message.sound);
    else if (message.type === 'scope') {
      if (message.place !== null) this.scope.place = message.place;
      this.engine.watch(message.place === null ? [] : [this.scope]);
    } else if (message.type === 'audition') this.pass(this.audition, message.message);
    else {
      if (message.type === 'program') this.serial = message.serial;
      this.pass(this.engine, message);
    }
  }

  private follow(blocks: number): void {
    if (this.script) this.script.upTo = blocks;
  }

  /** What it was told for blocks to come it still does at its time, but waits for nobody. */
  private lead(): void {
    this.leading = this.script;
    this.script = null;
    this.loudnessTo = 1;
  }
  private leading: Script | null = null;
  /** What the message that is being received was put off by, in frames; of one that was told, by what it is to be. */
  private ahead = 0;
  private toldAhead = -1;
  private readonly act = (message: ToEngine, ahead: number): void => {
    this.toldAhead = ahead;
    this.take(message);
    this.toldAhead = -1;
  };

  private setClick(sound: ClickSound | null): void {
    this.clicks = sound !== null;
    if (sound) this.click.set(sound);
    else this.click.rest();
  }

  private pass(engine: Engine, message: ToOneEngine): void {
    switch (message.type) {
      case 'program':
        engine.setProgram(message.program);
        break;
      case 'samples':
        for (const { key, sample } of message.samples) engine.addSample(key, sample);
        break;
      case 'keepSamples':
        engine.keepSamples(new Set(message.keys));
        break;
      case 'event': {
        const frames = message.time === undefined ? 0 : Math.round((message.time - currentTime) * sampleRate);
        // What comes out later for its effects is told earlier by as much, or the others later: all play together.
        const late = message.time === undefined ? 0 : this.latest() - engine.latency;
        const own = Math.max(0, frames + (engine === this.audition ? 0 : late));
        this.ahead = this.toldAhead < 0 ? own : this.toldAhead;
        engine.handle(message.event, engine.frame + this.ahead);
        if (engine === this.audition) this.auditionQuiet = 0;
        const player = this.beside.indexOf(engine);
        if (player >= 0) this.besideQuiet[player] = 0;
      }
    }
  }

  private ended = false;

  override process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    if (this.ended) return false;
    const began = Date.now();
    const channels = outputs[0];
    const left = channels[0],
      right = channels[1];
    const { more } = this;
    for (let n = 0; n < more.length; n++) more[n] = channels[n + 2];
    const heard = inputs[0] as Float32Array[] | undefined;
    const inLeft = heard && heard.length > 0 ? heard[0] : null;
    const inRight = heard && heard.length > 1 ? heard[1] : inLeft;
    if (this.script) {
      this.playAlong(left, right, more, this.script);
      this.measure(began);
      return true;
    }
    this.leading?.before(this.log?.blocks ?? 0, this.act);
    this.engine.process(left, right, left.length, more, inLeft, inRight);
    this.log?.add(left, right);
    this.addBeside(left, right, more);
    this.addAudition(left, right);
    this.addClick(channels);
    if (this.loudness !== 1 || this.loudnessTo !== 1) this.fade(channels);
    this.measure(began);
    return true;
  }

  /** As many blocks as are due, none of which is heard. */
  private playAlong(left: Float32Array, right: Float32Array, more: Float32Array[], script: Script): void {
    const { log } = this;
    if (!log) return;
    for (let due = script.blocksNow(log.blocks); due > 0; due--) {
      script.before(log.blocks, this.act);
      this.engine.process(left, right, left.length, more);
      log.add(left, right);
    }
    left.fill(0);
    right.fill(0);
    for (let n = 0; n < more.length; n++) more[n].fill(0);
  }

  private fade(channels: Float32Array[]): void {
    const step = this.loudnessTo > this.loudness ? FADE : -FADE;
    let end = this.loudness;
    for (let n = 0; n < channels.length; n++) {
      let gain = this.loudness;
      for (let i = 0; i < channels[n].length; i++) {
        channels[n][i] *= gain;
        gain = step > 0 ? Math.min(this.loudnessTo, gain + step) : Math.max(this.loudnessTo, gain + step);
      }
      end = gain;
    }
    this.loudness = end;
  }

  /** The click, where the transport is in what is heard. */
  private addClick(channels: Float32Array[]): void {
    const at = 2 * this.clickTo;
    if (!this.clicks || at < 0 || at + 1 >= channels.length) return;
    const { quartersPerFrame, quartersHeard } = this.engine;
    const frames = channels[at].length;
    this.click.process(
      channels[at],
      channels[at + 1],
      frames,
      quartersHeard - frames * quartersPerFrame,
      quartersPerFrame,
    );
    holdUnder(channels[at], channels[at + 1]);
  }

  /** Frames by which the latest of all engines is late. */
  private latest(): number {
    let most = this.engine.latency;
    for (let i = 0; i < this.beside.length; i++) most = Math.max(most, this.beside[i].latency);
    return most;
  }

  /** What plays along, each at its level. */
  private addBeside(left: Float32Array, right: Float32Array, more: readonly Float32Array[]): void {
    const { auditionLeft, auditionRight, besideGains, besideNow, besideMore } = this;
    if (left.length > BLOCK) return;
    let any = false;
    for (let n = 0; n < this.beside.length; n++) {
      const engine = this.beside[n];
      this.besideQuiet[n] = engine.isBusy ? 0 : this.besideQuiet[n] + 1;
      if (this.besideQuiet[n] > QUIET_BLOCKS) continue;
      any = true;
      engine.process(auditionLeft, auditionRight, left.length, besideMore);
      let gain = besideNow[n];
      const step = (besideGains[n] - gain) / left.length;
      for (let i = 0; i < left.length; i++) {
        gain += step;
        left[i] += auditionLeft[i] * gain;
        right[i] += auditionRight[i] * gain;
        for (let m = 0; m < more.length; m++) more[m][i] += besideMore[m][i] * gain;
      }
      besideNow[n] = besideGains[n];
    }
    if (!any) return;
    holdUnder(left, right);
    for (let m = 0; m + 1 < more.length; m += 2) holdUnder(more[m], more[m + 1]);
    for (let i = 0; i < left.length; i++) {
      this.engine.peakLeft = Math.max(this.engine.peakLeft, Math.abs(left[i]));
      this.engine.peakRight = Math.max(this.engine.peakRight, Math.abs(right[i]));
    }
  }

  private addAudition(left: Float32Array, right: Float32Array): void {
    const { audition, auditionLeft, auditionRight } = this;
    this.auditionQuiet = audition.isBusy ? 0 : this.auditionQuiet + 1;
    if (this.auditionQuiet > QUIET_BLOCKS || left.length > BLOCK) return;
    audition.process(auditionLeft, auditionRight, left.length);
    for (let i = 0; i < left.length; i++) {
      left[i] += auditionLeft[i];
      right[i] += auditionRight[i];
    }
    this.engine.peakLeft = Math.max(this.engine.peakLeft, audition.peakLeft);
    this.engine.peakRight = Math.max(this.engine.peakRight, audition.peakRight);
    audition.takePeaks();
  }

  private measure(began: number): void {
    const { engine, meters } = this;
    // What is heard: of an engine that is mute, nothing.
    meters[METER.left] = Math.max(engine.peakLeft * this.loudness, meters[METER.left] * FALL);
    meters[METER.right] = Math.max(engine.peakRight * this.loudness, meters[METER.right] * FALL);
    meters[METER.voices] = engine.voiceCount;
    meters[METER.limiter] = Math.min(engine.limiter.lowestGain, 1 - (1 - meters[METER.limiter]) * FALL);
    for (let i = 0; i < METERED_LAYERS; i++)
      meters[METER.layers + i] = Math.max(engine.readings.takeLayerPeak(i), meters[METER.layers + i] * FALL);
    engine.takePeaks();
    for (let i = 0; i < ANSWERS; i++) meters[METER.answers + i] = engine.readings.answers[i];
    meters[METER.answerCount] = engine.readings.answerCount;
    meters[METER.program] = this.serial;
    for (let i = 0; i < ANSWERS; i++) meters[METER.made + i] = engine.readings.madeNotes[i];
    meters[METER.madeCount] = engine.readings.madeCount;
    engine.readings.readSteps(meters, METER.steps, METERED_LAYERS);
    engine.readings.readMovement(meters, METER.movers, METER.pads, METER.position);
    for (let i = METER.places; i < METER.effects; i++) meters[i] *= FALL;
    engine.readings.readMix(
      meters,
      METER.places,
      METERED_PLACES,
      METER.connections,
      METERED_CONNECTIONS,
      METER.effects,
      METERED_EFFECTS,
      MOST_READINGS,
    );
    engine.readings.readPowers(meters, METER.powers, METERED_PLACES);
    meters[METER.grainCount] = engine.readings.readGrains(
      meters,
      METER.grains,
      METER.grains + METERED_GRAINS * GRAIN_NUMBERS,
    );
    engine.readings.readKnobs(meters, METER_KNOBS);
    engine.readings.readVoices(meters, METER_VOICES, METERED_LAYERS);
    meters[METER.strikeSeed] = engine.readings.strikeSeed;
    meters[METER.scopeAt] = this.scope.at;
    const now = Date.now();
    // The clock here counts whole milliseconds; over many blocks the rounding evens out.
    this.busyMs += now - began;
    if (now - this.sinceMs >= 500) {
      meters[METER.load] = this.busyMs / (now - this.sinceMs);
      this.busyMs = 0;
      // At most twice a second, and only where something is wrong.
      if (engine.faultCount !== this.faultsTold) this.port.postMessage({ type: 'fault', id: engine.lastFault });
      this.faultsTold = engine.faultCount;
      this.sinceMs = now;
    }
    if (!this.shared && ++this.blocks % BLOCKS_BETWEEN_MESSAGES === 0)
      this.port.postMessage({ type: 'meters', values: meters });
  }
}

function holdUnder(left: Float32Array, right: Float32Array): void {
  for (let i = 0; i < left.length; i++) {
    left[i] = Math.max(-HIGHEST, Math.min(HIGHEST, left[i]));
    right[i] = Math.max(-HIGHEST, Math.min(HIGHEST, right[i]));
  }
}

registerProcessor(PROCESSOR_NAME, EngineProcessor);
