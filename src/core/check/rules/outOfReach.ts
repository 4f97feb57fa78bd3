import { nameOfKey } from '../../music/noteNames';
import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { answers, isMoving, runsOf, strikesOfController, transposeOf } from '../answers';
import { quoted, strike, type Rule } from '../finding';

/** Keys that a transposition carries beyond the samples. */
export const outOfReach: Rule = {
  id: 'out-of-reach',
  shelf: 'keys',
  title: 'Transposed beyond the samples',
  why: 'The transposition makes the layer silent at one end of its range.',
  help: 'A transposition plays the samples of other keys. Where a layer would answer a key without its transposition and does not with it, the samples end too early. Scales, chords and routes on the transposition are left alone: what they play is only known when they play.',
  *find({ rig, patch }) {
    const velocities = strikesOfController(rig);
    for (const layer of patch.layers) {
      const moved = transposeOf(patch, layer);
      if (moved === 0 || isMoving(patch, layer)) continue;
      const still = { ...layer, transpose: layer.transpose - moved };
      const keys: number[] = [];
      let answered = false;
      for (let key = rig.controllers.keyLow; key <= rig.controllers.keyHigh; key++) {
        const now = answers(rig, patch, layer, key, velocities);
        answered ||= now;
        if (!now && answers(rig, patch, still, key, velocities)) keys.push(key);
      }
      // Where nothing at all is left, another rule says so.
      if (!answered || keys.length === 0) continue;
      const [low, high] = runsOf(keys)[0];
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [layer.id], keys: [low, high] },
        hear: strike(low, 100, { alone: [layer.id] }),
        message: `By ${moved > 0 ? `+${moved}` : moved} semitones ${quoted(layer)} loses ${keys.length === 1 ? `the key ${nameOfKey(low, 4)}` : `the keys from ${nameOfKey(low, 4)} to ${nameOfKey(high, 4)}`}: its samples end there.`,
        fixes: [12, 24, 36]
          .flatMap((octave) => {
            const less = layer.transpose - Math.sign(moved) * octave;
            return Math.abs(moved) >= octave &&
              keys.every((key) => answers(rig, patch, { ...layer, transpose: less }, key, velocities))
              ? [
                  {
                    label: `${octave === 12 ? 'An octave' : `${octave / 12} octaves`} ${moved > 0 ? 'lower' : 'higher'}`,
                    safe: false,
                    edit: (old: typeof rig) =>
                      updatePatch(old, patch.id, (value) =>
                        updateLayer(value, layer.id, (each) => ({ ...each, transpose: less })),
                      ),
                  },
                ]
              : [];
          })
          .slice(0, 1)
          .concat([
            {
              label: 'Without the transposition',
              safe: false,
              edit: (old: typeof rig) =>
                updatePatch(old, patch.id, (value) =>
                  updateLayer(value, layer.id, (each) => ({
                    ...each,
                    transpose: Math.max(-48, Math.min(48, each.transpose - moved)),
                  })),
                ),
            },
          ]),
      };
    }
  },
};
