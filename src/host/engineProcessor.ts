/// <reference path="./audioWorkletScope.d.ts" />
import { Engine } from '../core/engine/engine';
import { ANSWERS } from '../core/engine/tick';
import { MOST_READINGS } from '../core/effects';
import { METER, METER_LENGTH, METERED_CONNECTIONS, METERED_EFFECTS, METERED_LAYERS, METERED_PLACES, PROCESSOR_NAME, type EngineProcessorOptions, type ToEngine, type ToOneEngine } from './protocol';

/** Amplitude that a meter keeps from one block of 128 frames to the next: about 26 dB a second. */
const FALL = 0.992;
const BLOCKS_BETWEEN_MESSAGES = 12;
const BLOCK = 128;
const QUIET_BLOCKS = 8;
const AUDITION_VOICES = 32;

/** The engine in the audio thread. */
class EngineProcessor extends AudioWorkletProcessor {
  private readonly engine: Engine;
  private readonly audition: Engine;
  private readonly auditionLeft = new Float32Array(BLOCK);
  private readonly auditionRight = new Float32Array(BLOCK);
  /** Blocks since the audition last sounded: what its limiter still holds must come out. */
  private auditionQuiet = QUIET_BLOCKS;
  private serial = 0;
  private readonly meters: Float32Array;
  private readonly shared: boolean;
  private readonly scope: Float32Array | null;
  private blocks = 0;
  private busyMs = 0;
  private sinceMs = Date.now();

  constructor(options: { processorOptions: EngineProcessorOptions }) {
    super();
    const { seed, maxVoices, meters, scope } = options.processorOptions;
    this.scope = scope ? new Float32Array(scope) : null;
    this.engine = new Engine({ rate: sampleRate, seed, maxVoices });
    this.audition = new Engine({ rate: sampleRate, seed, maxVoices: AUDITION_VOICES });
    this.shared = meters !== null;
    this.meters = meters ? new Float32Array(meters) : new Float32Array(METER_LENGTH);
    this.meters[METER.limiter] = 1;
    this.port.onmessage = ({ data }: MessageEvent<ToEngine>) => {
      try {
        this.receive(data);
      } catch (error) {
        this.port.postMessage({ type: 'failed', message: String(error) });
      }
    };
  }

  private receive(message: ToEngine): void {
    if (message.type === 'echo') this.port.postMessage(message);
    else if (message.type === 'audition') this.pass(this.audition, message.message);
    else {
      if (message.type === 'program') this.serial = message.serial;
      this.pass(this.engine, message);
    }
  }

  private pass(engine: Engine, message: ToOneEngine): void {
    switch (message.type) {
      case 'program': engine.setProgram(message.program, new Map(message.memory)); break;
      case 'scope': engine.setScope(message.place, this.scope); break;
      case 'samples': for (const { key, sample } of message.samples) engine.addSample(key, sample); break;
      case 'keepSamples': engine.keepSamples(new Set(message.keys)); break;
      case 'event': {
        const frames = message.time === undefined ? 0 : Math.round((message.time - currentTime) * sampleRate);
        engine.handle(message.event, engine.frame + Math.max(0, frames));
        if (engine === this.audition) this.auditionQuiet = 0;
      }
    }
  }

  override process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const began = Date.now();
    const [left, right] = outputs[0];
    this.engine.process(left, right, left.length);
    this.addAudition(left, right);
    this.measure(began);
    return true;
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
    meters[METER.left] = Math.max(engine.peakLeft, meters[METER.left] * FALL);
    meters[METER.right] = Math.max(engine.peakRight, meters[METER.right] * FALL);
    meters[METER.voices] = engine.voiceCount;
    meters[METER.limiter] = Math.min(engine.limiter.lowestGain, 1 - (1 - meters[METER.limiter]) * FALL);
    for (let i = 0; i < METERED_LAYERS; i++) meters[METER.layers + i] = Math.max(engine.takeLayerPeak(i), meters[METER.layers + i] * FALL);
    engine.takePeaks();
    for (let i = 0; i < ANSWERS; i++) meters[METER.answers + i] = engine.answers[i];
    meters[METER.answerCount] = engine.answerCount;
    meters[METER.program] = this.serial;
    for (let i = 0; i < ANSWERS; i++) meters[METER.made + i] = engine.madeNotes[i];
    meters[METER.madeCount] = engine.madeCount;
    engine.readSteps(meters, METER.steps, METERED_LAYERS);
    engine.readMovement(meters, METER.movers, METER.pads, METER.position);
    for (let i = METER.places; i < METER.effects; i++) meters[i] *= FALL;
    engine.readMix(meters, METER.places, METERED_PLACES, METER.connections, METERED_CONNECTIONS, METER.effects, METERED_EFFECTS, MOST_READINGS);
    meters[METER.scopeAt] = engine.scopeAt;
    const now = Date.now();
    // The clock here counts whole milliseconds; over many blocks the rounding evens out.
    this.busyMs += now - began;
    if (now - this.sinceMs >= 500) {
      meters[METER.load] = this.busyMs / (now - this.sinceMs);
      this.busyMs = 0;
      this.sinceMs = now;
    }
    if (!this.shared && ++this.blocks % BLOCKS_BETWEEN_MESSAGES === 0) this.port.postMessage({ type: 'meters', values: meters });
  }
}

registerProcessor(PROCESSOR_NAME, EngineProcessor);
