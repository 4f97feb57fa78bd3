import { expose } from 'comlink';
import type { Prepared } from '../core/dsp/prepared';
import type { SampleRequest } from '../core/engine/program/program';
import { prepare } from '../core/formats/prepare';

export interface PrepareJob {
  request: SampleRequest;
  bytes: ArrayBuffer;
}
export type PrepareResult = { key: string; sample: Prepared } | { key: string; problem: string };

/** Decodes WAV files and makes them ready for playing. The result lies in shared memory where there is any. */
function prepareJob({ request, bytes }: PrepareJob): PrepareResult {
  try {
    return { key: request.key, sample: prepare(request, new Uint8Array(bytes)) };
  } catch (error) {
    return { key: request.key, problem: error instanceof Error ? error.message : String(error) };
  }
}

const api = { prepare: prepareJob };
export type PrepareApi = typeof api;
expose(api);
