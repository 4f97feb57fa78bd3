import type { Sample } from '../rig/schema';
import type { BroughtSound } from './bringIn';
import { shortened } from './folder';
import { readSoundFont } from './soundFont';

/**
 * The presets of a SoundFont as sounds, and the WAV file of each sample by its id. `hash` gives the hexadecimal SHA-256
 * of a file. Throws a FileError.
 */
export async function bringSoundFont(
  bytes: Uint8Array,
  hash: (bytes: Uint8Array) => Promise<string> | string,
): Promise<{ sounds: BroughtSound[]; wavs: Map<string, Uint8Array> }> {
  const { presets, samples } = readSoundFont(bytes);
  const wavs = new Map<string, Uint8Array>();
  const made = await Promise.all(
    samples.map(async ({ name, audio, wav }): Promise<Sample> => {
      const id = await hash(wav);
      wavs.set(id, wav);
      return {
        id,
        name: shortened(name),
        rate: audio.rate,
        channels: audio.channels,
        frames: audio.data.length / audio.channels,
      };
    }),
  );
  const sounds = presets.map(({ name, zones, notCarried }): BroughtSound => {
    const used = new Map(zones.map(({ sample }) => [made[sample].id, made[sample]]));
    return {
      name: shortened(name),
      zones: zones.map(({ sample, zone }) => ({ ...zone, sampleId: made[sample].id })),
      samples: [...used.values()],
      notCarried,
      warnings: zones.length === 0 ? [`the preset “${name}” has no zone that sounds`] : [],
    };
  });
  return { sounds, wavs };
}
