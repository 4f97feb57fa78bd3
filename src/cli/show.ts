import type { Rig } from '../core/rig/schema';
import { readArguments } from './arguments';
import { readRigFile } from './files';

/** `show RIG`: the outline of a rig. */
export function show(args: string[]): unknown {
  const { file } = readArguments(args, {}, 'RIG');
  return outline(readRigFile(file));
}

export function outline(rig: Rig): unknown {
  const soundName = new Map(rig.sounds.map((sound) => [sound.id, sound.name]));
  const sampleName = new Map(rig.samples.map((sample) => [sample.id, sample.name]));
  return {
    name: rig.name,
    patches: rig.patches.map((patch) => ({
      name: patch.name,
      layers: patch.layers.map((layer) => ({
        name: layer.name,
        sound: soundName.get(layer.soundId),
        windows: layer.windows,
      })),
    })),
    sounds: rig.sounds.map((sound) => ({
      name: sound.name,
      kind: sound.kind,
      zones: sound.zones.map((zone) => ({
        sample: sampleName.get(zone.sampleId),
        root: zone.root,
        key: [zone.key.low, zone.key.high],
        velocity: [zone.velocity.low, zone.velocity.high],
        ...(zone.alternate === null ? {} : { alternate: zone.alternate }),
      })),
    })),
  };
}
