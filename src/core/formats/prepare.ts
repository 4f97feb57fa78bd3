import type { Prepared } from '../dsp/prepared';
import { prepareSample } from '../dsp/sample';
import type { SampleRequest } from '../engine/program/program';
import { needsNoFile } from '../sounds/synth/tableIds';
import { makeWaves } from '../sounds/synth/tables';
import { readWav } from './wav';

/**
 * Makes what a program asks for ready for playing; `wav` is the file of the recording, absent where none is needed.
 * Throws a FormatError for a file that cannot be read.
 */
export function prepare(request: SampleRequest, wav?: Uint8Array): Prepared {
  if (needsNoFile(request)) return makeWaves(request.waves!, [], 1);
  const { audio } = readWav(wav!);
  return request.waves
    ? makeWaves(request.waves, audio.data, audio.channels)
    : prepareSample(audio, request.loop, request.levels, request.reverse);
}
