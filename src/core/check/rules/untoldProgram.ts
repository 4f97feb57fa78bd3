import { newMessage } from '../../rig/defaults';
import { setTold } from '../../rig/edits/outside';
import { updatePatch } from '../../rig/edits/layers';
import { quoted, type Rule } from '../finding';

/** An instrument outside that is played, and not told with what. */
export const untoldProgram: Rule = {
  id: 'untold-program',
  shelf: 'show',
  title: 'An instrument outside without its program',
  why: 'It plays on with the sound of the patch before, whatever that was.',
  help: 'Looks at instruments outside that want a program from every patch. Where a layer of the patch plays one, and on entering the patch tells it neither a program nor bytes of its own, it is named.',
  *find({ rig, patch }) {
    for (const instrument of rig.instruments) {
      const players = patch.layers.filter(({ path }) => path.instrument === instrument.id);
      const enter = patch.told.find(({ id }) => id === instrument.id)?.enter ?? [];
      const isTold = enter.some(({ kind }) => kind === 'program' || kind === 'bytes');
      if (!instrument.asks || isTold || players.length === 0) continue;
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: players.map(({ id }) => id), what: instrument.id },
        hear: null,
        message: `${quoted(instrument)} is played, and is not told its program when ${quoted(patch)} is entered.`,
        fixes: [
          {
            label: 'Tell it program 1',
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (each) =>
                setTold(each, instrument.id, 'enter', [newMessage('program'), ...enter]),
              ),
          },
        ],
      };
    }
  },
};
