import { nameOfKey } from '../../music/noteNames';
import { samplesIn, soundsOf } from '../../rig/defaults';
import { deleteZonesOf } from '../../rig/edits/zones';
import { parseSource } from '../../space/source';
import { isMoving, zonesAt } from '../answers';
import { quoted, type Rule } from '../finding';

/** Zones that no strike of the controller reaches in any patch. */
export const silentZones: Rule = {
  id: 'silent-zones', shelf: 'keys', title: 'Zones that can never sound', why: 'They take memory and time to load, and whoever put them there meant them to be heard.',
  help: 'A zone is silent for good where no layer of any patch that plays its sound reaches its keys and velocities: behind the windows of the layers, beyond the softest or hardest strike of the controller, or behind a window of its own that its controller cannot reach. Layers that make notes of their own may reach anything.',
  *find({ rig, patch }) {
    const { keyLow, keyHigh, velocityLow, velocityHigh } = rig.controllers;
    for (const soundId of new Set(patch.layers.flatMap(soundsOf))) {
      const sound = rig.sounds.find(({ id }) => id === soundId);
      if (!sound || sound.kind !== 'multisample' || sound.zones.length === 0) continue;
      const users = rig.patches.flatMap((each) => each.layers.flatMap((layer) => (soundsOf(layer).includes(soundId) ? [{ each, layer }] : [])));
      // Said once, in the first patch that plays the sound.
      if (users[0].each.id !== patch.id || users.some(({ each, layer }) => isMoving(each, layer))) continue;
      const reached = new Set<number>();
      for (const { each, layer } of users) {
        for (let key = keyLow; key <= keyHigh && reached.size < sound.zones.length; key++) {
          for (let velocity = velocityLow; velocity <= velocityHigh; velocity++) for (const found of zonesAt(rig, each, layer, key, velocity) ?? []) if (found.sound.id === soundId) reached.add(found.at);
        }
      }
      const closed = (place: number) => sound.zones[place].windows.some(({ source, low, high }) => { const of = parseSource(source); return !!of && (high < of.low || low > of.high); });
      const silent = sound.zones.flatMap((zone, place) => (zone.trigger === 'attack' && (!reached.has(place) || closed(place)) ? [place] : []));
      // Samples that reach beyond a small controller are no fault: another one will have the keys.
      const within = silent.filter((place) => { const { key, velocity } = sound.zones[place]; return key.high >= keyLow && key.low <= keyHigh && velocity.high >= velocityLow && velocity.low <= velocityHigh; });
      if (within.length === 0 || within.length === sound.zones.length) continue;
      const first = sound.zones[within[0]];
      const inUse = new Set(samplesIn({ ...sound, zones: sound.zones.filter((_, place) => !within.includes(place)) }));
      yield {
        grade: 'taste', where: { patchId: patch.id, layerIds: users.filter(({ each }) => each.id === patch.id).map(({ layer }) => layer.id), soundId, zones: within }, hear: null,
        message: `${within.length === 1 ? 'One zone' : `${within.length} zones`} of ${quoted(sound)} can never sound, the first around ${nameOfKey(first.root, 4)}: no layer’s windows reach ${within.length === 1 ? 'it' : 'them'}.`,
        fixes: [{ label: `Remove ${within.length === 1 ? 'it' : 'them'} from the sound${within.some((place) => !inUse.has(sound.zones[place].sampleId)) ? ', with the recordings that nothing else plays' : ''}`, safe: false, edit: (old) => deleteZonesOf(old, soundId, new Set(within)) }],
      };
    }
  },
};
