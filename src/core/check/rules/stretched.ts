import { nameOfKey } from '../../music/noteNames';
import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { isPad, runsOf, strikesOfController, transposeOf, zonesAt } from '../answers';
import { CP, quoted, type Rule } from '../finding';

/** Keys on which a sample is played far from its own pitch. */
export const stretched: Rule = {
  id: 'stretched',
  shelf: 'keys',
  title: 'Stretched far',
  why: 'Far from its own key a sample changes its character: strikes smear or shorten, and voices of the body move with the pitch.',
  help: 'Counts the semitones between a key and the root of the zone that answers it, for every key that the layer plays on the controller. A stretch is often chosen, at the ends of the keyboard above all; then say so. Grains that keep their pitch, pads and zones without pitch per key are left alone.',
  thresholds: {
    semitones: { label: 'semitones from the root', unit: 'semitones', value: 7, low: 1, high: 48, source: CP },
  },
  *find({ rig, patch, threshold }) {
    const most = threshold('semitones');
    const velocities = strikesOfController(rig);
    for (const layer of patch.layers) {
      if (isPad(rig, patch, layer)) continue;
      const moved = transposeOf(patch, layer);
      const far: number[] = [];
      for (let key = rig.controllers.keyLow; key <= rig.controllers.keyHigh; key++) {
        const zones = velocities
          .flatMap((velocity) => zonesAt(rig, patch, layer, key, velocity) ?? [])
          .filter(({ sound, zone }) => sound.kind === 'multisample' && zone.pitchPerKey !== 0);
        if (
          zones.length > 0 &&
          zones.every(({ zone }) => Math.abs(((key + moved - zone.root) * zone.pitchPerKey) / 100) > most)
        )
          far.push(key);
      }
      const runs = runsOf(far);
      if (runs.length === 0) continue;
      const said = runs
        .map(([low, high]) =>
          low === high ? `on ${nameOfKey(low, 4)}` : `from ${nameOfKey(low, 4)} to ${nameOfKey(high, 4)}`,
        )
        .join(' and ');
      const [low, high] = runs[0];
      // Only what lies at the ends of the layer can be left out.
      const first = runs.find(([from]) => from === rig.controllers.keyLow)?.[1];
      const last = runs.find(([, to]) => to === rig.controllers.keyHigh)?.[0];
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [layer.id], keys: [low, high] },
        hear: {
          strikes: runs
            .slice(0, 2)
            .map(([from, to]) => ({ key: Math.abs(from - 60) > Math.abs(to - 60) ? from : to, velocity: 100 })),
          alone: [layer.id],
        },
        message: `${said[0].toUpperCase()}${said.slice(1)} every sample of ${quoted(layer)} is more than ${most} semitones from its own key.`,
        fixes:
          first === undefined && last === undefined
            ? []
            : [
                {
                  label: `End “${layer.name}” where its samples are near`,
                  safe: false,
                  edit: (old) =>
                    updatePatch(old, patch.id, (value) =>
                      updateLayer(value, layer.id, (each) => ({
                        ...each,
                        windows: each.windows.map((window) =>
                          window.source !== 'key'
                            ? window
                            : {
                                ...window,
                                low:
                                  first === undefined
                                    ? window.low
                                    : Math.max(window.low, Math.min(first + 1, window.high)),
                                high:
                                  last === undefined
                                    ? window.high
                                    : Math.min(window.high, Math.max(last - 1, window.low)),
                              },
                        ),
                      })),
                    ),
                },
              ],
      };
    }
  },
};
