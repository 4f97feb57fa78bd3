import { setParam, updatePatch } from '../../rig/edits/layers';
import { paramOf } from '../../rig/defaults';
import { soundsIn } from '../answers';
import { CP, quoted, told, type Rule } from '../finding';

const MENDED_S = 0.05;

/** Notes that are cut off. */
export const shortRelease: Rule = {
  id: 'short-release',
  shelf: 'strikes',
  title: 'Notes that are cut off',
  why: 'A release of a few milliseconds ends a note in the middle of its wave: every key that is let go ticks.',
  help: 'Looks at the release of layers whose notes end when the key is let go. Sounds that play to their own end, such as drums, are left alone.',
  thresholds: { ms: { label: 'shortest release', unit: 'ms', value: 15, low: 5, high: 500, source: CP } },
  *find({ rig, patch, threshold }) {
    for (const layer of patch.layers) {
      const release = 1000 * paramOf(layer, 'release');
      const sounds = soundsIn(rig, layer);
      const playOn =
        sounds.length > 0 &&
        sounds.every(
          ({ kind, zones }) => kind === 'multisample' && zones.every(({ playback }) => playback === 'full-length'),
        );
      if (
        release >= threshold('ms') ||
        playOn ||
        !layer.on ||
        patch.routes.some(({ target }) => target === `layer.${layer.id}.release`)
      )
        continue;
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [layer.id] },
        hear: null,
        message: `Notes of ${quoted(layer)} end within ${told(release)} ms of the key.`,
        fixes: [
          {
            label: `Let them fade over ${told(1000 * MENDED_S)} ms`,
            safe: false,
            edit: (old) => updatePatch(old, patch.id, (value) => setParam(value, layer.id, 'release', MENDED_S)),
          },
        ],
      };
    }
  },
};
