import { array, mixed, object } from 'yup';

import { HIGHEST_A4_HZ, LOWEST_A4_HZ, MOST_DEGREES, TEMPERAMENT_IDS } from '../music/tunings';
import { flag, num, oneOf, shown, text, whole } from './schemaFields';

/** How a keyboard is tuned, in the written format. */

const isSlots = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= 2048 &&
  value.every((each) => each === null || (Number.isInteger(each) && each >= 0 && each <= 2048));

const mappingSchema = object({
  size: whole(0, 2048, 'Keys after which it repeats; 0: each key is the next degree.'),
  first: whole(0, 127, 'The first key that it is for.'),
  last: whole(0, 127, 'The last key that it is for.'),
  middle: whole(0, 127, 'The key of the first degree.'),
  reference: whole(0, 127, 'A key whose frequency is given.'),
  referenceHz: num(0.1, 100000, 'Its frequency in Hz.'),
  octave: whole(0, 2048, 'Degrees that are one round of the mapping.'),
  keys: mixed<readonly (number | null)[]>()
    .required('is missing')
    .meta({ doc: 'The degree of each key of a round; null: it is silent.' })
    .test(
      'keys',
      (value, context) => isSlots(value) || context.createError({ message: `${shown(value)} are no degrees` }),
    ),
});

export const tuningSchema = object({
  scale: oneOf(TEMPERAMENT_IDS, 'One that comes along, or "own": the degrees below.'),
  name: text('What one’s own is called.', 200),
  root: whole(0, 11, 'The key it is built on, 0 for C.'),
  degrees: array(num(-96000, 96000, 'Cents above the first degree.'))
    .required('is missing')
    .max(MOST_DEGREES, `has more than ${MOST_DEGREES} degrees`)
    .meta({ doc: 'Of one’s own: cents of each degree above the first, the last that of the octave.' }),
  mapping: mappingSchema
    .nullable()
    .defined('is missing')
    .meta({ doc: 'Of one’s own: which degree lies on which key; null: each key is the next, from middle C.' }),
  stretch: num(0, 200, 'Per cent of the curve by which octaves are stretched, as pianos are.'),
});

/** Of a patch or a layer; null: as the rig, or the patch. */
export const ownTuning = (of: string) =>
  tuningSchema
    .nullable()
    .defined('is missing')
    .meta({ doc: `Its own tuning; null: that of the ${of}.` });

export const staysEqualSchema = flag('True: it stays as it was recorded, whatever the rig is tuned to, as drums do.');

/** Of a patch; null: as the rig. */
export const ownPitch = num(LOWEST_A4_HZ, HIGHEST_A4_HZ, 'Its own concert pitch in Hz; null: that of the rig.')
  .nullable()
  .defined('is missing')
  .meta({ doc: 'Its own concert pitch in Hz; null: that of the rig.' });

export const pitchSchema = object({
  a4: num(LOWEST_A4_HZ, HIGHEST_A4_HZ, 'Concert pitch: the frequency of the A above middle C, in Hz.'),
  tuning: tuningSchema.required('is missing'),
});
