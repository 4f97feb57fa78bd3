import { updatePatch } from '../../rig/edits/layers';
import { CP, told, type Rule } from '../finding';

/** A take on which the limiter works. */
export const limitedTake: Rule = {
  id: 'limited-take',
  shelf: 'strikes',
  title: 'The limiter works on the take',
  why: 'The limiter is there for accidents; when it works on what is always played, the patch is too loud.',
  help: 'Plays the patch’s own take (or chords and a scale where it has none) and looks how far the limiter turns down.',
  thresholds: { db: { label: 'most that is turned down', unit: 'dB', value: 1, low: 0.1, high: 12, source: CP } },
  *find({ patch, threshold, heard }) {
    const take = heard?.take;
    if (!take || -take.limiterDb <= threshold('db')) return;
    const by = Math.ceil((-take.limiterDb + 0.2) * 10) / 10;
    yield {
      grade: 'measured',
      where: { patchId: patch.id, layerIds: [] },
      hear: null,
      message: `On its take the limiter turns “${patch.name}” down by up to ${told(-take.limiterDb)} dB.`,
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
