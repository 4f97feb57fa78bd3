import type { PreparedSample } from '../core/dsp/sample';
import type { EngineEvent } from '../core/engine/event';
import type { PlayedProgram, Program } from '../core/engine/program';
import workletUrl from './engineProcessor?worker&url';
import { METER_LENGTH, PROCESSOR_NAME, type EngineProcessorOptions, type FromEngine, type ToEngine, type ToOneEngine } from './protocol';

/** Without what only the page needs: every object less is time less in the audio thread. */
const playedOf = ({ samples: _, ...played }: Program): PlayedProgram => played;

export type AudioState = 'off' | 'starting' | 'running' | 'failed';

/**
 * The engine in the browser: an AudioContext with one worklet. Whatever is said before it runs is kept and said then. Browsers let sound begin only after a
 * gesture, so `start` is called at the first one.
 */
export class AudioHost {
  state: AudioState = 'off';
  problem = '';
  /** See METER in the protocol. */
  meters: Float32Array = new Float32Array(METER_LENGTH);
  context: AudioContext | null = null;
  private node: AudioWorkletNode | null = null;
  private waiting: ToEngine[] = [];
  private serial = 0;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  async start(): Promise<void> {
    if (this.state === 'running' || this.state === 'starting') {
      if (this.context?.state === 'suspended') await this.context.resume();
      return;
    }
    this.change('starting');
    try {
      const context = new AudioContext({ latencyHint: 'interactive' });
      this.context = context;
      await context.audioWorklet.addModule(workletUrl);
      const shared = typeof SharedArrayBuffer === 'undefined' ? null : new SharedArrayBuffer(METER_LENGTH * 4);
      if (shared) this.meters = new Float32Array(shared);
      const processorOptions: EngineProcessorOptions = { seed: 1, maxVoices: 256, meters: shared };
      const node = new AudioWorkletNode(context, PROCESSOR_NAME, { numberOfInputs: 0, outputChannelCount: [2], processorOptions });
      node.port.onmessage = ({ data }: MessageEvent<FromEngine>) => {
        if (data.type === 'meters') this.meters = data.values;
        else if (data.type === 'failed') this.change('failed', data.message);
      };
      node.onprocessorerror = () => this.change('failed', 'the audio engine stopped; reload the page to start it again');
      node.connect(context.destination);
      this.node = node;
      for (const message of this.waiting) node.port.postMessage(message);
      this.waiting = [];
      await context.resume();
      this.change('running');
    } catch (error) {
      this.change('failed', `sound could not be started: ${error instanceof Error ? error.message : String(error)}`);
    }
  }

  /** Gives the serial by which the meters name the program once it plays. */
  setProgram(program: Program): number {
    if (!this.node) this.waiting = this.waiting.filter((message) => message.type !== 'program');
    this.say({ type: 'program', program: playedOf(program), serial: ++this.serial });
    return this.serial;
  }

  /** Puts one sound before the second engine and strikes a key of it, in place of what was auditioned before; the key is held for some seconds, or for good. */
  audition(program: Program, samples: { key: string; sample: PreparedSample }[], key: number, velocity: number, seconds?: number): void {
    if (!this.node || !this.context) return;
    const messages: ToOneEngine[] = [
      { type: 'event', event: { type: 'panic' } }, { type: 'program', program: playedOf(program), serial: 0 }, { type: 'keepSamples', keys: [] }, { type: 'samples', samples },
      { type: 'event', event: { type: 'noteOn', channel: 1, key, velocity } },
    ];
    if (seconds !== undefined) messages.push({ type: 'event', event: { type: 'noteOff', channel: 1, key, velocity: 64 }, time: this.context.currentTime + seconds });
    for (const message of messages) this.say({ type: 'audition', message });
  }

  stopAudition(): void {
    if (this.node) this.say({ type: 'audition', message: { type: 'event', event: { type: 'panic' } } });
  }

  addSamples(samples: { key: string; sample: PreparedSample }[]): void {
    this.say({ type: 'samples', samples });
  }

  keepSamples(keys: string[]): void {
    this.say({ type: 'keepSamples', keys });
  }

  /** For now, or for `time` in seconds of the audio context. Notes played before sound runs are dropped: nobody wants them later. */
  send(event: EngineEvent, time?: number): void {
    if (!this.node && (event.type === 'noteOn' || event.type === 'noteOff')) return;
    this.say({ type: 'event', event, time });
  }

  private say(message: ToEngine): void {
    if (this.node) this.node.port.postMessage(message);
    else this.waiting.push(message);
  }

  private change(state: AudioState, problem = ''): void {
    this.state = state;
    this.problem = problem;
    for (const listener of this.listeners) listener();
  }
}
