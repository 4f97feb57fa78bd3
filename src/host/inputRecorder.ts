import processorUrl from './inputProcessor?worker&url';

/** An input that can be recorded: a device of the computer, or the stand-in that ships with the application. */
export interface AudioInput {
  id: string;
  name: string;
}
export const STAND_IN_INPUT: AudioInput = { id: 'stand-in', name: 'stand-in: three knocks on a tin' };

/** What the browser gives when it is asked for any: the first time it asks the player. */
const UNNAMED_INPUT: AudioInput = { id: '', name: 'this computer’s input (the browser asks first)' };

/** The longest that is recorded. */
const MOST_SECONDS = 600;

/** The inputs there are, as far as the browser tells; names are told once the microphone was permitted. */
export async function audioInputs(): Promise<AudioInput[]> {
  const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  const inputs = devices.filter(({ kind }) => kind === 'audioinput');
  const named = inputs
    .filter(({ deviceId }) => deviceId !== '')
    .map(({ deviceId, label }, i) => ({ id: deviceId, name: label || `input ${i + 1}` }));
  // Before it was permitted, browsers tell that there is one, but neither which nor its name.
  return [...(named.length > 0 ? named : inputs.length > 0 ? [UNNAMED_INPUT] : []), STAND_IN_INPUT];
}

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
        if (!navigator.mediaDevices) throw new Error('this browser gives no audio input here');
        this.stream = await navigator.mediaDevices.getUserMedia({
          audio: {
            ...(input === '' ? {} : { deviceId: { exact: input } }),
            echoCancellation: false,
            noiseSuppression: false,
            autoGainControl: false,
          },
        });
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
      this.stream?.getTracks().forEach((track) => track.stop());
      this.stream = null;
      await context.close().catch(() => undefined);
      throw new Error(
        (error as Error).name === 'NotAllowedError'
          ? 'the browser did not permit the microphone: allow it in its site settings'
          : (error as Error).message,
      );
    }
  }

  /** Ends, and gives what was recorded: left and right in turn. */
  async stop(): Promise<{ rate: number; channels: 2; data: Float32Array<ArrayBuffer> }> {
    const { context, chunks } = this;
    const rate = context?.sampleRate ?? 48000;
    this.context = null;
    this.stream?.getTracks().forEach((track) => track.stop());
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

/** Knocks on a tin, a third of a second apart, over and over: for trying without a microphone. */
function standIn(context: AudioContext): AudioNode {
  const out = context.createGain();
  for (let i = 0; i < 60; i++) {
    const at = context.currentTime + 0.15 + i * 0.34;
    const tone = context.createOscillator();
    const shape = context.createGain();
    tone.frequency.value = [523, 659, 784][i % 3];
    shape.gain.setValueAtTime(0, at);
    shape.gain.linearRampToValueAtTime(0.7, at + 0.002);
    shape.gain.exponentialRampToValueAtTime(0.0005, at + 0.2);
    tone.connect(shape).connect(out);
    tone.start(at);
    tone.stop(at + 0.22);
  }
  return out;
}
