import { METER_LENGTH, type EngineProcessorOptions, type ToEngine } from '../src/host/protocol';

/** The audio thread's processor in Node, its surroundings stood in for: two channels of 48 kHz. */
export interface ProcessorHere {
  say: (message: ToEngine) => void;
  /** Makes a block. */
  run: () => readonly [Float32Array, Float32Array];
}

interface Made {
  port: { onmessage: (message: { data: ToEngine }) => void };
  process: (inputs: Float32Array[][], outputs: Float32Array[][]) => boolean;
}
let known: Promise<new (options: unknown) => Made> | undefined;

function load(): Promise<new (options: unknown) => Made> {
  known ??= (async () => {
    let found: (new (options: unknown) => Made) | undefined;
    Object.assign(globalThis, {
      sampleRate: 48000,
      currentTime: 0,
      AudioWorkletProcessor: class {
        port = { postMessage: () => undefined };
      },
      registerProcessor: (_name: string, processor: typeof found) => {
        found = processor;
      },
    });
    await import('../src/host/engineProcessor');
    return found!;
  })();
  return known;
}

export async function processorHere(options: Partial<EngineProcessorOptions>): Promise<ProcessorHere> {
  const Processor = await load();
  const processor = new Processor({
    processorOptions: {
      seed: 1,
      maxVoices: 64,
      channels: 2,
      meters: new SharedArrayBuffer(METER_LENGTH * 4),
      scope: null,
      log: null,
      follows: false,
      ...options,
    },
  });
  const channels = [new Float32Array(128), new Float32Array(128)] as const;
  return {
    say: (data) => processor.port.onmessage({ data }),
    run: () => {
      processor.process([], [[...channels]]);
      return channels;
    },
  };
}
