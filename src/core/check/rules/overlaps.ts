import { nameOfKey } from '../../music/noteNames';
import { windowOn } from '../../rig/defaults';
import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { CP, named, strike, type Rule } from '../finding';
import { isRow } from '../roles';

/** Layers of a split that run over each other by a few keys, with hard borders. */
export const overlaps: Rule = {
  id: 'overlap',
  shelf: 'keys',
  title: 'An overlap at a split',
  why: 'On the few keys where both sides of a split sound, a note is suddenly twice as thick.',
  help: 'Two layers that share only a few keys at their borders, without a fade, most often overlap by mistake: a border was moved, and its neighbour was not. Layers that lie over one another on most of their keys are a stack, and fades are a crossfade; neither is meant here. Drums and effects are left alone.',
  thresholds: {
    keys: { label: 'most keys of an overlap that is not meant', unit: 'keys', value: 7, low: 1, high: 24, source: CP },
  },
  *find({ rig, patch, threshold }) {
    const most = threshold('keys');
    const layers = patch.layers.filter((layer) => layer.on && !isRow(rig, patch, layer));
    for (const lower of layers) {
      for (const upper of layers) {
        const a = windowOn(lower, 'key');
        const b = windowOn(upper, 'key');
        if (!a || !b || lower === upper || a.low >= b.low || a.high >= b.high || a.high < b.low) continue;
        const shared = Math.floor(a.high) - Math.ceil(b.low) + 1;
        const [va, vb] = [windowOn(lower, 'velocity'), windowOn(upper, 'velocity')];
        if (
          shared < 1 ||
          shared > most ||
          shared * 2 > Math.min(a.high - a.low, b.high - b.low) + 1 ||
          a.fadeOut > 0 ||
          b.fadeIn > 0
        )
          continue;
        if (va && vb && (va.high < vb.low || vb.high < va.low)) continue;
        const end = (layerId: string, edge: 'low' | 'high', at: number) => (old: typeof rig) =>
          updatePatch(old, patch.id, (value) =>
            updateLayer(value, layerId, (each) => ({
              ...each,
              windows: each.windows.map((window) => (window.source === 'key' ? { ...window, [edge]: at } : window)),
            })),
          );
        yield {
          grade: 'taste',
          where: { patchId: patch.id, layerIds: [lower.id, upper.id], keys: [Math.ceil(b.low), Math.floor(a.high)] },
          hear: strike(Math.ceil(b.low), 100),
          message: `${named([lower, upper])} share ${shared === 1 ? `the key ${nameOfKey(Math.ceil(b.low), 4)}` : `${shared} keys, ${nameOfKey(Math.ceil(b.low), 4)} to ${nameOfKey(Math.floor(a.high), 4)}`}, with hard borders on both sides.`,
          fixes: [
            {
              label: `“${lower.name}” ends below ${nameOfKey(Math.ceil(b.low), 4)}`,
              safe: false,
              edit: end(lower.id, 'high', Math.ceil(b.low) - 1),
            },
            {
              label: `“${upper.name}” begins above ${nameOfKey(Math.floor(a.high), 4)}`,
              safe: false,
              edit: end(upper.id, 'low', Math.floor(a.high) + 1),
            },
          ],
        };
      }
    }
  },
};
