import type { Audio } from '../dsp/sample';
import type { Prepared } from '../dsp/prepared';
import { compile, contextOf } from '../engine/program/compile';
import type { Program, SampleRequest } from '../engine/program/program';
import { writeWav } from '../formats/wav';
import { newPitch } from '../rig/defaults';
import { saysNoTuning } from '../rig/edits/tuning';
import type { Rig } from '../rig/schema';
import { sampleName, type Bounced, type BounceSettings, type BounceStrike, type BounceTarget } from './plan';
import { BOUNCE_RATE, renderStrike } from './render';

/**
 * The program of a target. Throws where it cannot be compiled. It is recorded in equal semitones around 440 Hz, as all
 * recordings are taken to be: what the rig is tuned to comes when it is played.
 */
export const programOfTarget = (rig: Rig, { patch }: BounceTarget): Program =>
  compile(saysNoTuning(patch), contextOf({ ...rig, pitch: newPitch() }, BOUNCE_RATE));

/** Everything that a program plays, as far as it is at hand. */
export const samplesFor = (
  program: Program,
  prepared: (request: SampleRequest) => Prepared | undefined,
): { key: string; sample: Prepared }[] =>
  program.samples.flatMap((request) => {
    const sample = prepared(request);
    return sample ? [{ key: request.key, sample }] : [];
  });

/** A recording as a WAV file: 24 bits, or 32-bit float where it goes beyond full scale. */
export const wavOfBounce = (audio: Audio, peak: number): Uint8Array =>
  writeWav(audio, { encoding: peak > 1 ? 'float32' : 'pcm24' });

/** A strike rendered and made into a file; `hash` names it by its content. */
export async function bounceStrike(
  program: Program,
  samples: readonly { key: string; sample: Prepared }[],
  target: BounceTarget,
  settings: BounceSettings,
  strike: BounceStrike,
  hash: (bytes: Uint8Array) => Promise<string>,
): Promise<{ bounced: Bounced; wav: Uint8Array }> {
  const { audio, loop, peak } = renderStrike(program, samples, target, settings, strike);
  const wav = wavOfBounce(audio, peak);
  const id = await hash(wav);
  return {
    wav,
    bounced: {
      ...strike,
      loop,
      silent: peak < 1e-5,
      sample: {
        id,
        name: sampleName(target.name, strike, settings.alternates),
        rate: audio.rate,
        channels: audio.channels,
        frames: audio.data.length / audio.channels,
      },
    },
  };
}
