import { Chance } from '../core/dsp/chance';
import { loopDelay } from '../core/measure/loopDelay';
import { askForInput, closeInput } from './audioInputs';
import processorUrl from './inputProcessor?worker&url';

const PROBE_SECONDS = 0.05,
  BEFORE_SECONDS = 0.15,
  LISTEN_SECONDS = 0.9,
  MOST_SECONDS = 0.5;

/**
 * The whole way from the output to the input of this machine in ms: a burst of noise is played and listened to. Rejects,
 * in words, where no input is permitted, or where the burst is not heard.
 */
export async function measureLoop(context: AudioContext): Promise<number> {
  const stream = await askForInput();
  const parts: AudioNode[] = [];
  try {
    await context.audioWorklet.addModule(processorUrl);
    const rate = context.sampleRate;
    const buffer = context.createBuffer(1, Math.round(PROBE_SECONDS * rate), rate);
    const chance = new Chance(1);
    buffer.getChannelData(0).forEach((_, i, data) => {
      data[i] = 0.4 * (2 * chance.share() - 1);
    });
    const probe = new AudioBufferSourceNode(context, { buffer });
    const microphone = context.createMediaStreamSource(stream);
    // What is sent and what is heard, side by side: no clock is asked.
    const both = context.createChannelMerger(2);
    const node = new AudioWorkletNode(context, 'wavicle-input', { numberOfInputs: 1, numberOfOutputs: 0 });
    parts.push(probe, microphone, both, node);
    microphone.connect(both, 0, 1);
    probe.connect(both, 0, 0);
    probe.connect(context.destination);
    both.connect(node);
    const chunks: Float32Array[] = [];
    node.port.onmessage = ({ data }: MessageEvent<Float32Array>) => chunks.push(data);
    probe.start(context.currentTime + BEFORE_SECONDS);
    await new Promise((resolve) => setTimeout(resolve, 1000 * (BEFORE_SECONDS + LISTEN_SECONDS)));
    const frames = chunks.flatMap((chunk) => [...chunk]);
    const side = (n: 0 | 1) => Float32Array.from({ length: frames.length >> 1 }, (_, i) => frames[2 * i + n]);
    const delay = loopDelay(side(0), side(1), Math.round(MOST_SECONDS * rate));
    if (delay === undefined)
      throw new Error(
        'the burst was not heard: put a cable from output to input, or the microphone before the loudspeaker',
      );
    return (1000 * delay) / rate;
  } finally {
    for (const part of parts) part.disconnect();
    closeInput(stream);
  }
}
