import { setParam, updatePatch } from '../../rig/edits/layers';
import { paramOf } from '../../rig/defaults';
import { CP, quoted, told, type Rule } from '../finding';

/** What loses itself when both sides are summed. */
export const vanishesInMono: Rule = {
  id: 'vanishes-in-mono',
  shelf: 'show',
  title: 'Gone in mono',
  why: 'Many halls are mono, and so is the monitor: what is only the difference of both sides is not heard there.',
  help: 'Sums both sides of each layer, and of the take, and compares the power. Two sides that are strangers lose 3 dB; more than that is lost where they are opposites of one another.',
  thresholds: { db: { label: 'most that may be lost', unit: 'dB', value: 6, low: 3.1, high: 40, source: CP } },
  *find({ patch, threshold, heard }) {
    for (const { layerId, key, velocity, lostDb } of heard?.mono ?? []) {
      const layer = patch.layers.find(({ id }) => id === layerId);
      if (!layer || -lostDb <= threshold('db')) continue;
      const width = Math.round(paramOf(layer, 'width') / 2);
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layerId] },
        hear: { strikes: [{ key, velocity }], alone: [layerId] },
        message: `In mono ${quoted(layer)} loses ${told(-lostDb)} dB.`,
        fixes: [
          {
            label: `Bring its width down to ${width} %`,
            safe: false,
            edit: (old) => updatePatch(old, patch.id, (value) => setParam(value, layerId, 'width', width)),
          },
        ],
      };
    }
    const lost = heard?.take?.monoDb;
    if (lost !== null && lost !== undefined && -lost > threshold('db')) {
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [] },
        hear: null,
        message: `Summed to mono, “${patch.name}” loses ${told(-lost)} dB on its take.`,
        fixes: [
          {
            label: 'Bring the width of the whole to 50 %',
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (value) => ({
                ...value,
                main: { ...value.main, width: Math.min(value.main.width, 50) },
              })),
          },
        ],
      };
    }
  },
};
