/** The names that exist in an AudioWorkletGlobalScope and that TypeScript's DOM library does not declare. */
declare abstract class AudioWorkletProcessor {
  readonly port: MessagePort;
  abstract process(
    inputs: Float32Array[][],
    outputs: Float32Array[][],
    parameters: Record<string, Float32Array>,
  ): boolean;
}
declare function registerProcessor(name: string, processor: new (options: never) => AudioWorkletProcessor): void;
declare const sampleRate: number;
declare const currentTime: number;
