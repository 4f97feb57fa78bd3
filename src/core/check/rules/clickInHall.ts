import { setClick } from '../../rig/edits/pairs';
import { quoted, type Rule } from '../finding';

/** A click that the audience would hear. */
export const clickInHall: Rule = {
  id: 'click-in-hall',
  shelf: 'show',
  title: 'The click goes to the hall',
  why: 'A click is for one ear of one player; an audience hears nothing else any more.',
  help: 'Looks whether the click goes to the first pair of outputs, where main goes as well, and may be heard on Stage. At home, with phones on the first pair, that may well be meant.',
  *find({ rig, patch }) {
    const { click, pairs } = rig;
    if (click.pair !== pairs[0].id || rig.patches[0]?.id !== patch.id) return;
    const other = pairs[1] as (typeof pairs)[number] | undefined;
    yield {
      grade: click.stage ? 'sure' : 'taste',
      where: { patchId: patch.id, layerIds: [], what: 'click' },
      hear: null,
      message: `The click goes to ${quoted(pairs[0])}, where main goes${click.stage ? ', and may be heard on Stage' : ''}.`,
      fixes: [
        ...(other
          ? [
              {
                label: `To ${quoted(other)}`,
                safe: false,
                edit: (old: typeof rig) => setClick(old, { pair: other.id }),
              },
            ]
          : []),
        { label: 'Nowhere', safe: false, edit: (old) => setClick(old, { pair: null }) },
      ],
    };
  },
};
