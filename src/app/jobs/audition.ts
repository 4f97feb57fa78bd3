import { compile } from '../../core/engine/program/compile';
import { needsNoFile } from '../../core/sounds/synth/tableIds';
import { loudnessGainDb } from '../../core/measure/level';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../core/rig/defaults';
import type { BroughtSound } from '../../core/formats/bringIn';
import { answersNearMiddleC } from '../../core/rig/answering';
import type { Layer, Sample, Zone } from '../../core/rig/schema';
import { soundLab } from '../document/soundLab';
import { session } from '../sound/session';

let auditioned = 0;

/**
 * Plays a sample beside whatever sounds, at the common loudness, through a layer's strip or dry. Nothing in place is
 * touched: a second engine does it. Gives what
 * is wrong, if anything.
 */
export async function audition(sample: Sample, key: number, layer: Layer | null): Promise<string | undefined> {
  const mine = ++auditioned;
  try {
    const levels = await soundLab.levels(sample.id);
    if (mine !== auditioned) return undefined;
    const zone = { ...newZone(sample.id, key), gain: loudnessGainDb(levels), playback: 'full-length' as const };
    const strip = layer ?? newLayer('audition', 'audition', 'audition', markAt(0));
    const heard: Layer = {
      ...strip,
      soundId: 'audition',
      on: true,
      transpose: 0,
      windows: newLayer('', '', '', strip.mark).windows,
      receive: { ...strip.receive, channel: 'any' },
      touch: { curve: 0, outLow: 1, outHigh: 127, fixed: null },
    };
    return await strike(mine, heard, [zone], [sample], key, 127);
  } catch (error) {
    return `“${sample.name}”: ${(error as Error).message}`;
  }
}

/** Plays one note of a whole sound that is not in the rig yet, in the same way and at the same loudness. */
export async function auditionSound({
  name,
  zones,
  samples,
}: Pick<BroughtSound, 'name' | 'zones' | 'samples'>): Promise<string | undefined> {
  const mine = ++auditioned;
  try {
    const answers = answersNearMiddleC(zones, SOUND_VELOCITY);
    if (!answers) return `“${name}” answers no key`;
    // The first of the samples gives the measure; what is mixed with it stays as it stands to it.
    const [first] = answers.zones;
    const gain = loudnessGainDb(await soundLab.levels(first.sampleId)) - first.gain;
    if (mine !== auditioned) return undefined;
    const heard = answers.zones.map((zone) => ({ ...zone, gain: Math.max(-96, Math.min(48, zone.gain + gain)) }));
    return await strike(
      mine,
      newLayer('audition', 'audition', 'audition', markAt(0)),
      heard,
      samples,
      answers.key,
      SOUND_VELOCITY,
      SOUND_SECONDS,
    );
  } catch (error) {
    return `“${name}”: ${(error as Error).message}`;
  }
}

const SOUND_VELOCITY = 100;
const SOUND_SECONDS = 1.5;

async function strike(
  mine: number,
  layer: Layer,
  zones: Zone[],
  samples: readonly Sample[],
  key: number,
  velocity: number,
  seconds?: number,
): Promise<string | undefined> {
  const program = compile(
    { ...newPatch('audition', 'audition'), layers: [layer] },
    { sounds: [newSound('audition', 'audition', zones)], samples, keyLow: 0, keyHigh: 127 },
  );
  const prepared = await Promise.all(
    program.samples.map(async (request) => {
      const bytes = needsNoFile(request) ? new Uint8Array() : await session.wavOf(request.sampleId);
      return bytes
        ? session.samples.prepare({ request, bytes: bytes.slice().buffer })
        : { problem: 'is missing from this browser' };
    }),
  );
  if (mine !== auditioned) return undefined;
  const good = prepared.flatMap((result) => ('problem' in result ? [] : [result]));
  if (good.length === 0)
    return `“${samples.find(({ id }) => id === program.samples[0]?.sampleId)?.name ?? 'it'}” cannot be played: it is missing from this browser, or damaged`;
  session.audio.audition(program, good, key, velocity, seconds);
  return undefined;
}

export function stopAudition(): void {
  auditioned++;
  session.audio.stopAudition();
}
