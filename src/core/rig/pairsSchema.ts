import { array, object } from 'yup';
import { flag, id, list, num, oneOf, text, whole } from './schemaFields';
import { MOST_PAIRS } from './limits';

/** Where sound leaves the rig, in the written format: pairs of outputs, and the click. */

const pairSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
});

export const pairsSchema = array(list(pairSchema))
  .required('is missing')
  .min(1, 'has no pair')
  .max(MOST_PAIRS, `has more than ${MOST_PAIRS} pairs`)
  .meta({ doc: 'Pairs of outputs by name, the one that main goes to first. Each machine maps them to its channels.' });

export const clickSchema = object({
  pair: id('The pair that it goes to.')
    .nullable()
    .defined('is missing')
    .meta({ doc: 'The pair that it goes to; null: none was chosen, and it cannot be heard.' }),
  level: num(-60, 6, 'dB; the lowest value is silence.'),
  beats: whole(1, 16, 'Beats of a bar: the first of them is accented.'),
  subdivision: whole(1, 4, 'Clicks in a beat.'),
  sound: oneOf(['wood', 'tone'], 'A short knock, or a short tone.'),
  stage: flag('True: it may be heard on Stage as well.'),
});
