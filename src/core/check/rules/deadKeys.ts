import { nameOfKey } from '../../music/noteNames';
import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { answers, isPad, runsOf, strikesOfController } from '../answers';
import { quoted, strike, type Rule } from '../finding';

/** Keys of the controller that no layer answers, with sounding keys on either side or at the end of the keyboard. */
export const deadKeys: Rule = {
  id: 'dead-keys',
  shelf: 'keys',
  title: 'Dead keys',
  why: 'A key that stays silent in the middle of a phrase sounds like a mistake of the player.',
  help: 'Looks at every key between the lowest and the highest of the controller, at soft and hard strikes, whatever wheels and macros do. Around pads dead keys are meant: nothing is said where the sounding keys beside a gap are pads. A patch that uses the lower or upper part of the keyboard alone is said once, as a matter of taste.',
  *find({ rig, patch }) {
    const { keyLow, keyHigh } = rig.controllers;
    const velocities = strikesOfController(rig);
    const heard = Array.from({ length: keyHigh - keyLow + 1 }, (_, n) =>
      patch.layers.filter((layer) => answers(rig, patch, layer, keyLow + n, velocities)),
    );
    if (patch.layers.length === 0 || heard.every((layers) => layers.length === 0)) return;
    for (const [low, high] of runsOf(heard.flatMap((layers, n) => (layers.length === 0 ? [keyLow + n] : [])))) {
      const below = heard[low - 1 - keyLow] ?? [];
      const above = heard[high + 1 - keyLow] ?? [];
      const beside = [...below, ...above];
      if (beside.some((layer) => isPad(rig, patch, layer))) continue;
      const gap = below.length > 0 && above.length > 0;
      const keys = low === high ? nameOfKey(low, 4) : `${nameOfKey(low, 4)} to ${nameOfKey(high, 4)}`;
      const fixes = [below[0], above[0]].flatMap((layer, way) =>
        layer
          ? [
              {
                label: `${quoted(layer)} reaches ${way === 0 ? 'up' : 'down'} to ${nameOfKey(way === 0 ? high : low, 4)}`,
                safe: false,
                edit: (old: typeof rig) =>
                  updatePatch(old, patch.id, (value) =>
                    updateLayer(value, layer.id, (each) => ({
                      ...each,
                      windows: each.windows.map((window) =>
                        window.source !== 'key'
                          ? window
                          : way === 0
                            ? { ...window, high: Math.max(window.high, high) }
                            : { ...window, low: Math.min(window.low, low) },
                      ),
                    })),
                  ),
              },
            ]
          : [],
      );
      yield {
        grade: gap ? 'sure' : 'taste',
        where: { patchId: patch.id, layerIds: beside.map(({ id }) => id), keys: [low, high] },
        hear: strike(low, 100),
        message: gap
          ? `Between ${quoted(below[0])} and ${quoted(above[0])} nothing answers ${keys}.`
          : `At the ${below.length > 0 ? 'upper' : 'lower'} end of the controller nothing answers ${keys}.`,
        // Where the samples end, a wider window would not help.
        fixes: fixes.filter(({ edit }) => {
          const mended = edit(rig);
          const now = mended.patches.find(({ id }) => id === patch.id)!;
          return now.layers.some((layer) => answers(mended, now, layer, low, velocities));
        }),
      };
    }
  },
};
