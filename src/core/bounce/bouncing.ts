import type { Prepared } from '../dsp/prepared';
import { compile, contextOf } from '../engine/program/compile';
import { Engine } from '../engine/engine';
import { playTake } from '../engine/offline/playTake';
import type { SampleRequest } from '../engine/program/program';
import { prepare } from '../formats/prepare';
import { needsNoFile } from '../sounds/synth/tableIds';
import { loudnessNow } from '../measure/loudness';
import type { Rig } from '../rig/schema';
import { bounceStrike, programOfTarget, samplesFor } from './bounce';
import { strikesOf, targetsOf, withBounced, type Bounced, type BounceSettings } from './plan';

/**
 * What tests of bouncing share: a bounce from beginning to end, and how a strike of a patch compares with that of
 * another.
 */

export const RATE = 48000;
/**
 * A name by content: FNV-1a over the bytes, twice with different beginnings. Good enough for a handful of recordings.
 */
const hash = (bytes: Uint8Array): Promise<string> =>
  Promise.resolve(
    [0x811c9dc5, 0x01000193]
      .map((seed) =>
        bytes
          .reduce((sum, byte) => Math.imul(sum ^ byte, 16777619) >>> 0, seed)
          .toString(16)
          .padStart(8, '0'),
      )
      .join(''),
  );
export const settings = (more: Partial<BounceSettings> = {}): BounceSettings => ({
  what: { kind: 'patch' },
  keys: [57, 69, 81],
  low: 48,
  high: 90,
  velocities: [64, 127],
  alternates: 1,
  seconds: 0.6,
  longestTail: 4,
  stereo: true,
  loop: false,
  effects: true,
  rebuild: false,
  set: {},
  ...more,
});

/** The first patch of a rig bounced, and every file that there is then. */
export async function bounce(
  rig: Rig,
  chosen: BounceSettings,
  files: ReadonlyMap<string, Uint8Array>,
): Promise<{ rig: Rig; wavs: Map<string, Uint8Array> }> {
  const patch = rig.patches[0];
  const ready = preparing(files);
  const targets = targetsOf(patch, chosen);
  const programs = targets.map((target) => programOfTarget(rig, target));
  const samples = programs.map((program) => samplesFor(program, ready));
  const all = new Map(files);
  const bounced: Bounced[] = [];
  for (const strike of strikesOf(targets, chosen)) {
    const made = await bounceStrike(
      programs[strike.target],
      samples[strike.target],
      targets[strike.target],
      chosen,
      strike,
      hash,
    );
    all.set(made.bounced.sample.id, made.wav);
    bounced.push(made.bounced);
  }
  const next = withBounced(rig, patch, chosen, targets, bounced, {
    patchId: 'bounced',
    soundIds: targets.map((_, n) => `bounced-${n}`),
    layerId: 'only',
  });
  return { rig: next, wavs: all };
}
function preparing(files: ReadonlyMap<string, Uint8Array>): (request: SampleRequest) => Prepared | undefined {
  const made = new Map<string, Prepared>();
  return (request) => {
    if (!made.has(request.key))
      made.set(request.key, prepare(request, needsNoFile(request) ? undefined : files.get(request.sampleId)!));
    return made.get(request.key);
  };
}
/** A strike through the engine, with everything. */
export function played(
  rig: Rig,
  patchId: string,
  files: ReadonlyMap<string, Uint8Array>,
  key: number,
  velocity: number,
  seconds = 0.6,
  tail = 0.4,
): Float32Array[] {
  const patch = rig.patches.find(({ id }) => id === patchId)!;
  const program = compile(patch, contextOf(rig, RATE));
  const engine = new Engine({ rate: RATE });
  for (const { key: name, sample } of samplesFor(program, preparing(files))) engine.addSample(name, sample);
  engine.setProgram(program);
  const { left, right } = playTake(
    engine,
    {
      seconds,
      events: [
        { at: 0, event: { type: 'noteOn', channel: 1, key, velocity } },
        { at: seconds, event: { type: 'noteOff', channel: 1, key, velocity: 64 } },
      ],
    },
    tail,
  );
  return [left, right];
}
/** Loudness while the key is held. */
export const levelOf = (sides: readonly Float32Array[]) =>
  loudnessNow(
    sides.map((side) => side.subarray(0, 0.55 * RATE)),
    RATE,
    0.5,
  );
/** Power of the difference against the power of the first, in dB, over the first `seconds`. */
export function differenceDb(a: readonly Float32Array[], b: readonly Float32Array[], seconds: number): number {
  let own = 0;
  let off = 0;
  for (let side = 0; side < 2; side++)
    for (let i = 0; i < seconds * RATE; i++) {
      own += a[side][i] ** 2;
      off += (a[side][i] - b[side][i]) ** 2;
    }
  return 10 * Math.log10((off + 1e-20) / own);
}
