import { array, mixed, object } from 'yup';
import { list, shown, text } from './schemaFields';
import { MOST_ASIDE } from './limits';

/** What of the written format concerns findings: thresholds that were set, and findings that were set aside. */

const isThresholds = (value: unknown): boolean =>
  typeof value === 'object' &&
  value !== null &&
  !Array.isArray(value) &&
  Object.keys(value).length <= 200 &&
  Object.entries(value).every(
    ([id, x]) => /^[a-z0-9-]+\.[A-Za-z0-9]+$/.test(id) && typeof x === 'number' && Number.isFinite(x),
  );

const asideSchema = object({
  finding: text('By what a finding is known again: its rule and place.', 1000),
  reason: text('Why it is meant; empty: nobody said.', 400),
});

export const checksSchema = object({
  thresholds: mixed<Record<string, number>>()
    .required('is missing')
    .meta({ doc: 'Thresholds other than those that the rules have by themselves, as RULE.THRESHOLD, in their units.' })
    .test(
      'thresholds',
      (value, context) => isThresholds(value) || context.createError({ message: `${shown(value)} are no thresholds` }),
    ),
  aside: array(list(asideSchema))
    .required('is missing')
    .max(MOST_ASIDE, `has more than ${MOST_ASIDE} findings set aside`)
    .meta({ doc: 'Findings that are meant, and why.' }),
});
