import { levelShow, middleLoudness, patchesOfShow } from '../loudness';
import { CP, quoted, told, type Rule } from '../finding';
import { updatePatch } from '../../rig/edits/layers';

/** A patch that is louder or softer than the show. */
export const unequalLoudness: Rule = {
  id: 'unequal-loudness',
  shelf: 'show',
  title: 'Louder or softer than the show',
  why: 'The mixing desk is set once: a patch that is louder than the others is louder in the hall.',
  help: 'Measures every patch of the setlist on its own take (ITU-R BS.1770) and compares it with the middle of all. A quiet song may be meant to be quiet; then set it aside.',
  thresholds: {
    lu: {
      label: 'greatest distance from the middle of the show',
      unit: 'LU',
      value: 1,
      low: 0.2,
      high: 12,
      source: `${CP}; EBU R 128 allows ±1 LU where ±0.5 cannot be kept (from memory)`,
    },
  },
  *find({ rig, patch, threshold, show }) {
    const middle = middleLoudness(rig, show);
    const lufs = show.get(patch.id)?.lufs;
    if (
      middle === undefined ||
      lufs === null ||
      lufs === undefined ||
      !patchesOfShow(rig).some(({ id }) => id === patch.id)
    )
      return;
    const off = lufs - middle;
    if (Math.abs(off) <= threshold('lu')) return;
    const level = Math.max(-60, Math.min(6, Math.round((patch.main.level - off) * 10) / 10));
    yield {
      grade: 'measured',
      where: { patchId: patch.id, layerIds: [] },
      hear: null,
      message: `${quoted(patch)} is ${told(Math.abs(off))} LU ${off > 0 ? 'louder' : 'softer'} than the middle of the show on its take.`,
      curve: {
        over: 'patch',
        unit: 'LUFS',
        points: patchesOfShow(rig).flatMap(({ id }, n) => {
          const each = show.get(id)?.lufs;
          return each === null || each === undefined ? [] : [[n + 1, each] as const];
        }),
        mark: patchesOfShow(rig).findIndex(({ id }) => id === patch.id) + 1,
      },
      fixes: [
        {
          label: `${off > 0 ? 'Lower' : 'Raise'} this patch by ${told(Math.abs(level - patch.main.level))} dB`,
          safe: true,
          edit: (old) => updatePatch(old, patch.id, (value) => ({ ...value, main: { ...value.main, level } })),
        },
        { label: 'Level the whole setlist', safe: false, edit: (old) => levelShow(old, show, 0.1) },
      ],
    };
  },
};
