import { prepareSample, type PreparedSample } from '../core/dsp/sample';
import type { SampleRequest } from '../core/engine/program';
import { readWav } from '../core/formats/wav';

export interface PrepareJob { request: SampleRequest; bytes: ArrayBuffer }
export type PrepareResult = { key: string; sample: PreparedSample } | { key: string; problem: string };

/** Decodes WAV files and makes them ready for playing, away from the page. The result lies in shared memory where there is any. */
self.onmessage = ({ data: { id, job: { request, bytes } } }: MessageEvent<{ id: number; job: PrepareJob }>) => {
  let result: PrepareResult;
  try {
    result = { key: request.key, sample: prepareSample(readWav(new Uint8Array(bytes)).audio, request.loop, request.levels, request.reverse) };
  } catch (error) {
    result = { key: request.key, problem: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage({ id, result });
};
