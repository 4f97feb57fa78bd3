import { updateSound } from '../../rig/edits/zones';
import { strikesOfController, zonesAt } from '../answers';
import { quoted, strike, type Rule } from '../finding';

/** Dynamics stacked on one another: several samples of one sound answer the same strike over its whole range. */
export const everythingAtOnce: Rule = {
  id: 'everything-at-once',
  shelf: 'strikes',
  title: 'Everything at once',
  why: 'All dynamics sounding together at every strike are loud, dull and the same however one plays.',
  help: 'Says so where three samples or more of one sound, none of them alternates, all answer every velocity of a key. It comes of recordings that were brought in without their velocities being laid out. The proposed edit shares the velocities out evenly, in the order in which the zones stand.',
  *find({ rig, patch }) {
    const velocities = strikesOfController(rig);
    for (const layer of patch.layers) {
      let found: { soundId: string; zones: number[]; key: number } | undefined;
      for (let key = rig.controllers.keyLow; key <= rig.controllers.keyHigh && !found; key++) {
        const everywhere = velocities
          .map((velocity) => zonesAt(rig, patch, layer, key, velocity) ?? [])
          .reduce((a, b) => a.filter(({ zone }) => b.some((other) => other.zone === zone)));
        const plain = everywhere.filter(
          ({ zone }) =>
            zone.alternate === null &&
            zone.windows.length === 0 &&
            zone.velocity.fadeIn === 0 &&
            zone.velocity.fadeOut === 0,
        );
        for (const soundId of new Set(plain.map(({ sound }) => sound.id))) {
          const list = plain.filter(({ sound }) => sound.id === soundId);
          if (list.length >= STACKED) found = { soundId, zones: list.map(({ at }) => at), key };
        }
      }
      if (!found) continue;
      const { soundId, zones, key } = found;
      const sound = rig.sounds.find(({ id }) => id === soundId)!;
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [layer.id], soundId, zones },
        hear: strike(key, 100),
        message: `${zones.length} samples of ${quoted(sound)} sound at once at every strike, for none of them has velocities of its own.`,
        fixes: [
          {
            label: 'Share the velocities out among them',
            safe: false,
            edit: (old) =>
              updateSound(old, soundId, (value) => ({
                ...value,
                zones: value.zones.map((zone, at) => {
                  const place = zones.indexOf(at);
                  const border = (n: number) => Math.round((127 * n) / zones.length);
                  return place < 0
                    ? zone
                    : { ...zone, velocity: { ...zone.velocity, low: border(place) + 1, high: border(place + 1) } };
                }),
              })),
          },
        ],
      };
    }
  },
};
/** So many samples at once are no blend of two any more. Common practice, no source. */
const STACKED = 3;
