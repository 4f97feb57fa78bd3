import type { Prepared } from '../core/dsp/prepared';
import type { SampleRequest } from '../core/engine/program/program';
import { prepare } from '../core/formats/prepare';

export interface PrepareJob {
  request: SampleRequest;
  bytes: ArrayBuffer;
}
export type PrepareResult = { key: string; sample: Prepared } | { key: string; problem: string };

/**
 * Decodes WAV files and makes them ready for playing, away from the page. The result lies in shared memory where there
 * is any.
 */
self.onmessage = ({
  data: {
    id,
    job: { request, bytes },
  },
}: MessageEvent<{ id: number; job: PrepareJob }>) => {
  let result: PrepareResult;
  try {
    result = { key: request.key, sample: prepare(request, new Uint8Array(bytes)) };
  } catch (error) {
    result = { key: request.key, problem: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage({ id, result });
};
