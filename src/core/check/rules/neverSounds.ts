import { deleteLayer, updatePatch } from '../../rig/edits/layers';
import { isMoving, strikesOfController, transposeOf, zonesAt } from '../answers';
import { quoted, type Rule } from '../finding';

/** Layers that no strike of the controller can reach. */
export const neverSounds: Rule = {
  id: 'never-sounds',
  shelf: 'keys',
  title: 'Can never sound',
  why: 'A layer that no strike reaches costs care and memory, and was surely meant to be heard.',
  help: 'A layer is silent for good where its windows leave no key or velocity of the controller, where its sound has no zone there, or where its transposition carries every key beyond the samples. Layers whose keys are made by a scale, a chord, an arpeggio or a route are left alone, for what they play is only known when they play.',
  *find({ rig, patch }) {
    const { keyLow, keyHigh } = rig.controllers;
    const velocities = [
      ...new Set([...strikesOfController(rig), ...Array.from({ length: 16 }, (_, n) => Math.max(1, n * 8 + 7))]),
    ].filter((velocity) => velocity >= rig.controllers.velocityLow && velocity <= rig.controllers.velocityHigh);
    for (const layer of patch.layers) {
      if (isMoving(patch, layer)) continue;
      let reached = false;
      for (let key = keyLow; key <= keyHigh && !reached; key++)
        reached = velocities.some((velocity) => zonesAt(rig, patch, layer, key, velocity) !== undefined);
      if (reached) continue;
      const moved = transposeOf(patch, layer);
      const untransposed =
        moved !== 0 &&
        Array.from({ length: keyHigh - keyLow + 1 }, (_, n) => keyLow + n).some((key) =>
          velocities.some(
            (velocity) =>
              zonesAt(rig, patch, { ...layer, transpose: layer.transpose - moved }, key, velocity) !== undefined,
          ),
        );
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [layer.id] },
        hear: null,
        message: untransposed
          ? `The transposition by ${moved} semitones carries every key of ${quoted(layer)} beyond its samples.`
          : `No strike of the controller can reach ${quoted(layer)}: its windows, or the zones of its sound, leave nothing.`,
        fixes: [
          ...(untransposed
            ? [
                {
                  label: 'Take the transposition back',
                  safe: true,
                  edit: (old: typeof rig) =>
                    updatePatch(old, patch.id, (value) => ({
                      ...value,
                      layers: value.layers.map((each) =>
                        each.id === layer.id
                          ? { ...each, transpose: Math.max(-48, Math.min(48, each.transpose - moved)) }
                          : each,
                      ),
                    })),
                },
              ]
            : []),
          {
            label: `Remove ${quoted(layer)}`,
            safe: false,
            edit: (old: typeof rig) => updatePatch(old, patch.id, (value) => deleteLayer(value, layer.id)),
          },
        ],
      };
    }
  },
};
