import { nameOfKey } from '../../music/noteNames';
import { samplesIn, soundsOf } from '../../rig/defaults';
import { deleteZonesOf } from '../../rig/edits/zones';
import { parseSource } from '../../space/source';
import type { Layer, Patch, Rig } from '../../rig/schema';
import { isMoving, transposeOf, windowsOn, within } from '../answers';
import { quoted, type Rule } from '../finding';

/** Whether any of 0…127 that passes lies in a range, asked often: of each number how many up to it pass. */
function anyOf(passes: (x: number) => boolean): (low: number, high: number) => boolean {
  const upTo = [0];
  for (let x = 0; x < 128; x++) upTo.push(upTo[x] + (passes(x) ? 1 : 0));
  return (low, high) => upTo[Math.min(128, Math.floor(high) + 1)] - upTo[Math.max(0, Math.ceil(low))] > 0;
}

/** The keys, as its samples are told of them, and velocities at which strikes of the controller reach a layer. */
function reachOf(
  rig: Rig,
  patch: Patch,
  layer: Layer,
): { keys: ReturnType<typeof anyOf>; velocities: ReturnType<typeof anyOf> } {
  const { keyLow, keyHigh, velocityLow, velocityHigh } = rig.controllers;
  const [keyWindows, velocityWindows] = [windowsOn(patch, layer, 'key'), windowsOn(patch, layer, 'velocity')];
  const by = transposeOf(patch, layer);
  return {
    keys: anyOf((played) => played - by >= keyLow && played - by <= keyHigh && within(keyWindows, played - by)),
    velocities: anyOf(
      (velocity) => velocity >= velocityLow && velocity <= velocityHigh && within(velocityWindows, velocity),
    ),
  };
}

/** Zones that no strike of the controller reaches in any patch. */
export const silentZones: Rule = {
  id: 'silent-zones',
  shelf: 'keys',
  title: 'Zones that can never sound',
  why: 'They take memory and time to load, and whoever put them there meant them to be heard.',
  help: 'A zone is silent for good where no layer of any patch that plays its sound reaches its keys and velocities: behind the windows of the layers, beyond the softest or hardest strike of the controller, or behind a window of its own that its controller cannot reach. Layers that make notes of their own may reach anything.',
  *find({ rig, patch }) {
    const { keyLow, keyHigh, velocityLow, velocityHigh } = rig.controllers;
    for (const soundId of new Set(patch.layers.flatMap(soundsOf))) {
      const sound = rig.sounds.find(({ id }) => id === soundId);
      if (!sound || sound.kind !== 'multisample' || sound.zones.length === 0) continue;
      const users = rig.patches.flatMap((each) =>
        each.layers.flatMap((layer) => (soundsOf(layer).includes(soundId) ? [{ each, layer }] : [])),
      );
      // Said once, in the first patch that plays the sound.
      if (users[0].each.id !== patch.id || users.some(({ each, layer }) => isMoving(each, layer))) continue;
      const reaches = users.map(({ each, layer }) => reachOf(rig, each, layer));
      const reached = (place: number) => {
        const { key, velocity } = sound.zones[place];
        return reaches.some(
          ({ keys, velocities }) => keys(key.low, key.high) && velocities(velocity.low, velocity.high),
        );
      };
      const closed = (place: number) =>
        sound.zones[place].windows.some(({ source, low, high }) => {
          const of = parseSource(source);
          return !!of && (high < of.low || low > of.high);
        });
      const silent = sound.zones.flatMap((zone, place) =>
        zone.trigger === 'attack' && (!reached(place) || closed(place)) ? [place] : [],
      );
      // Samples that reach beyond a small controller are no fault: another one will have the keys.
      const inside = silent.filter((place) => {
        const { key, velocity } = sound.zones[place];
        return key.high >= keyLow && key.low <= keyHigh && velocity.high >= velocityLow && velocity.low <= velocityHigh;
      });
      if (inside.length === 0 || inside.length === sound.zones.length) continue;
      const first = sound.zones[inside[0]];
      const inUse = new Set(samplesIn({ ...sound, zones: sound.zones.filter((_, place) => !inside.includes(place)) }));
      yield {
        grade: 'taste',
        where: {
          patchId: patch.id,
          layerIds: users.filter(({ each }) => each.id === patch.id).map(({ layer }) => layer.id),
          soundId,
          zones: inside,
        },
        hear: null,
        message: `${inside.length === 1 ? 'One zone' : `${inside.length} zones`} of ${quoted(sound)} can never sound, the first around ${nameOfKey(first.root, 4)}: no layer’s windows reach ${inside.length === 1 ? 'it' : 'them'}.`,
        fixes: [
          {
            label: `Remove ${inside.length === 1 ? 'it' : 'them'} from the sound${inside.some((place) => !inUse.has(sound.zones[place].sampleId)) ? ', with the recordings that nothing else plays' : ''}`,
            safe: false,
            edit: (old) => deleteZonesOf(old, soundId, new Set(inside)),
          },
        ],
      };
    }
  },
};
