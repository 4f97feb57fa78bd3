import { setInstrument } from '../../rig/edits/outside';
import { updatePatch } from '../../rig/edits/layers';
import { quoted, type Rule } from '../finding';

/** Layers that play an instrument outside to which no way leads. */
export const outputAway: Rule = {
  id: 'output-away',
  shelf: 'show',
  title: 'An output that is not there',
  why: 'What is sent to an output that is not there is heard by nobody.',
  help: 'Looks for layers that play an instrument outside for which no output is chosen; and, where the machine is known on which the rig plays, for those whose output is not there now.',
  *find({ rig, patch, outputs }) {
    for (const instrument of rig.instruments) {
      const { id, output } = instrument;
      const players = patch.layers.filter(({ path }) => path.instrument === id);
      const isAway = outputs !== undefined && !outputs.has(output);
      if (players.length === 0 || (output !== '' && !isAway)) continue;
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: players.map((layer) => layer.id), what: id },
        hear: null,
        message:
          output === ''
            ? `${quoted(instrument)} is played, and no output is chosen for it.`
            : `${quoted(instrument)} is played, and its output “${output}” is not there.`,
        fixes: [
          {
            label: players.length === 1 ? 'The layer plays its own sound' : 'The layers play their own sounds',
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (each) =>
                players.reduce((left, layer) => setInstrument(left, layer.id, null), each),
              ),
          },
        ],
      };
    }
  },
};
