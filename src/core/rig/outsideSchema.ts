import { array, object } from 'yup';
import { bytesOfText } from '../music/outside';
import { flag, id, list, num, oneOf, text, whole } from './schemaFields';
import { LONGEST_PAUSE, MESSAGE_KINDS, MOST_MESSAGES } from './limits';

/** Instruments outside, in the written format: where they are, what they are told, which of their values are moved. */

export const instrumentSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  output: text('Name of the MIDI output that it hangs on; empty: none is chosen yet.'),
  channel: whole(1, 16, 'The channel it plays on.'),
  clock: flag('True: its output gets MIDI clock, start, stop and song position.'),
  asks: flag('True: it wants to be told its program in every patch that plays it; a check looks after that.'),
});

const messageSchema = object({
  kind: oneOf(MESSAGE_KINDS, 'What sort of message it is.'),
  number: whole(
    0,
    16383,
    'The program from 0 to 127, the controller from 0 to 127, or the number of a parameter (NRPN).',
  ),
  value: whole(-1, 16383, 'The bank of a program (−1: none is told), or the value of a controller or a parameter.'),
  bytes: text('Of bytes: two hexadecimal digits each, as F0 7D 01 F7.', 800).test('bytes', (value, context) => {
    const found = bytesOfText(value ?? '');
    return !('problem' in found) || context.createError({ message: found.problem });
  }),
  pause: num(0, LONGEST_PAUSE, 'Milliseconds that pass after it before the next one.'),
});

export const toldSchema = object({
  id: id('The instrument that is told.'),
  enter: array(list(messageSchema))
    .required('is missing')
    .max(MOST_MESSAGES, `has more than ${MOST_MESSAGES} messages`)
    .meta({ doc: 'What it is told when the patch is entered, in order.' }),
  leave: array(list(messageSchema))
    .required('is missing')
    .max(MOST_MESSAGES, `has more than ${MOST_MESSAGES} messages`)
    .meta({ doc: 'What it is told when the patch is left, before the next one is entered.' }),
});

export const knobSchema = object({
  id: id('Never changes.'),
  instrumentId: id('The instrument that it belongs to.'),
  name: text('What people call it.'),
  controller: whole(0, 127, 'The CC that it is there.'),
  value: num(0, 127, 'Where it rests; told when the patch is entered.'),
});
