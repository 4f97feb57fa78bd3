import { nameOfKey } from '../../music/noteNames';
import { isPad, runsOf, strikesOfController, transposeOf, zonesAt } from '../answers';
import { CP, quoted, strike, type Rule } from '../finding';

/** Keys on which a sample is played far from its own pitch. */
export const stretched: Rule = {
  id: 'stretched', shelf: 'keys', title: 'Stretched far', why: 'Far from its own key a sample changes its character: strikes smear or shorten, and voices of the body move with the pitch.',
  help: 'Counts the semitones between a key and the root of the zone that answers it, for every key that the layer plays on the controller. A stretch is often chosen, at the ends of the keyboard above all; then say so. Grains that keep their pitch, pads and zones without pitch per key are left alone.',
  thresholds: { semitones: { label: 'semitones from the root', unit: 'semitones', value: 7, low: 1, high: 48, source: CP } },
  *find({ rig, patch, threshold }) {
    const most = threshold('semitones');
    const velocities = strikesOfController(rig);
    for (const layer of patch.layers) {
      if (isPad(rig, patch, layer)) continue;
      const moved = transposeOf(patch, layer);
      const far: number[] = [];
      for (let key = rig.controllers.keyLow; key <= rig.controllers.keyHigh; key++) {
        const zones = velocities.flatMap((velocity) => zonesAt(rig, patch, layer, key, velocity) ?? []).filter(({ sound, zone }) => sound.kind === 'multisample' && zone.pitchPerKey !== 0);
        if (zones.length > 0 && zones.every(({ zone }) => Math.abs(((key + moved - zone.root) * zone.pitchPerKey) / 100) > most)) far.push(key);
      }
      for (const [low, high] of runsOf(far)) {
        yield {
          grade: 'taste', where: { patchId: patch.id, layerIds: [layer.id], keys: [low, high] }, hear: strike(Math.abs(low - 60) > Math.abs(high - 60) ? low : high, 100), fixes: [],
          message: `From ${nameOfKey(low, 4)} to ${nameOfKey(high, 4)} every sample of ${quoted(layer)} is more than ${most} semitones from its own key.`,
        };
      }
    }
  },
};
