import { updatePatch } from '../../rig/edits/layers';
import { CP, told, type Rule } from '../finding';

/** Ten fingers at full velocity that the limiter has to hold back too far. */
export const tenFingers: Rule = {
  id: 'ten-fingers',
  shelf: 'strikes',
  title: 'Ten fingers are too loud',
  why: 'Where the limiter works that hard, the loudest moment of the evening pumps and loses its attack.',
  help: 'Plays ten keys at once, as hard as the controller can, with all effects, and looks how far the limiter at the end of the engine must turn down to stay below full scale.',
  thresholds: { db: { label: 'most that is turned down', unit: 'dB', value: 6, low: 0.5, high: 30, source: CP } },
  *find({ patch, threshold, heard }) {
    const chord = heard?.chord;
    if (!chord || -chord.limiterDb <= threshold('db')) return;
    const by = Math.ceil(-chord.limiterDb - threshold('db') + 0.5);
    yield {
      grade: 'measured',
      where: { patchId: patch.id, layerIds: [], keys: [chord.keys[0], chord.keys[chord.keys.length - 1]] },
      hear: { strikes: chord.keys.map((key) => ({ key, velocity: 127 })), together: true },
      message: `Ten fingers at full velocity need ${told(-chord.limiterDb)} dB of limiting.`,
      fixes: [
        {
          label: `Lower the patch by ${by} dB`,
          safe: false,
          edit: (old) =>
            updatePatch(old, patch.id, (value) => ({
              ...value,
              main: { ...value.main, level: Math.max(-60, value.main.level - by) },
            })),
        },
      ],
    };
  },
};
