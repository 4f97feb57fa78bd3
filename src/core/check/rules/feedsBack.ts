import { setParam, updatePatch } from '../../rig/edits/layers';
import { paramOf, soundsOf } from '../../rig/defaults';
import { GATE_OFF_DB } from '../../sounds/input/parameters';
import { CP, quoted, told, type Rule } from '../finding';

/** An input that would come in again through the loudspeakers. */
export const feedsBack: Rule = {
  id: 'feeds-back',
  shelf: 'show',
  title: 'An input that feeds back',
  why: 'What the loudspeaker plays comes in again, and grows until something stops it.',
  help: 'Looks at layers that hear an input: where one is lifted by more than the threshold in all, without a gate; and where an input fed back on this machine and was muted.',
  thresholds: {
    lift: { label: 'lift without a gate', unit: 'dB', value: 6, low: 0, high: 30, source: CP },
  },
  *find({ rig, patch, threshold, fedBackAt }) {
    const inputs = new Set(rig.sounds.filter(({ kind }) => kind === 'input').map(({ id }) => id));
    for (const layer of patch.layers) {
      if (!layer.on || !soundsOf(layer).some((id) => inputs.has(id))) continue;
      const lift = paramOf(layer, 'level') + paramOf(layer, 'inputGain');
      const isOpen = paramOf(layer, 'inputGate') <= GATE_OFF_DB;
      const fixes = [
        {
          label: 'A gate at −45 dB',
          safe: false,
          edit: (old: typeof rig) => updatePatch(old, patch.id, (each) => setParam(each, layer.id, 'inputGate', -45)),
        },
        {
          label: '6 dB softer',
          safe: false,
          edit: (old: typeof rig) =>
            updatePatch(old, patch.id, (each) =>
              setParam(each, layer.id, 'inputGain', paramOf(layer, 'inputGain') - 6),
            ),
        },
      ];
      const where = { patchId: patch.id, layerIds: [layer.id] };
      if (fedBackAt > 0)
        yield {
          grade: 'measured',
          where: { ...where, what: 'heard' },
          hear: null,
          message: `The input fed back at ${told(fedBackAt)} Hz while ${quoted(layer)} heard it.`,
          fixes,
        };
      else if (isOpen && lift > threshold('lift'))
        yield {
          grade: 'taste',
          where,
          hear: null,
          message: `${quoted(layer)} lifts its input by ${told(lift)} dB, without a gate.`,
          fixes,
        };
    }
  },
};
