import { askForInput, closeInput, STAND_IN_INPUT, standIn } from './audioInputs';
import processorUrl from './inputProcessor?worker&url';

/** The longest that is recorded. */
const MOST_SECONDS = 600;

/** Records an audio input as it comes. Rejects, in words, where it is not permitted. */
export class InputRecorder {
  level = 0;
  private context: AudioContext | null = null;
  private stream: MediaStream | null = null;
  private chunks: Float32Array[] = [];
  private frames = 0;

  get isRecording(): boolean {
    return this.context !== null;
  }

  get seconds(): number {
    return this.context ? this.frames / this.context.sampleRate : 0;
  }

  async start(input: string): Promise<void> {
    const context = new AudioContext();
    try {
      await context.audioWorklet.addModule(processorUrl);
      const node = new AudioWorkletNode(context, 'wavicle-input', { numberOfInputs: 1, numberOfOutputs: 0 });
      if (input === STAND_IN_INPUT.id) standIn(context).connect(node);
      else {
        this.stream = await askForInput(input);
        context.createMediaStreamSource(this.stream).connect(node);
      }
      this.chunks = [];
      this.frames = 0;
      node.port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
        if (this.frames > MOST_SECONDS * context.sampleRate) return;
        this.chunks.push(data);
        this.frames += data.length / 2;
        let most = 0;
        for (const x of data) most = Math.max(most, Math.abs(x));
        this.level = most;
      };
      await context.resume();
      this.context = context;
    } catch (error) {
      closeInput(this.stream);
      this.stream = null;
      await context.close().catch(() => undefined);
      throw error;
    }
  }

  /** Ends, and gives what was recorded: left and right in turn. */
  async stop(): Promise<{ rate: number; channels: 2; data: Float32Array<ArrayBuffer> }> {
    const { context, chunks } = this;
    const rate = context?.sampleRate ?? 48000;
    this.context = null;
    closeInput(this.stream);
    this.stream = null;
    await context?.close().catch(() => undefined);
    const data = new Float32Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0));
    let at = 0;
    for (const chunk of chunks) {
      data.set(chunk, at);
      at += chunk.length;
    }
    this.chunks = [];
    this.level = 0;
    return { rate, channels: 2, data };
  }
}
