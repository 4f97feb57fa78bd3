import { ZONE_FIELDS, zoneField } from '../../../core/rig/zoneFields';
import { fieldText, parseField, type TextContext } from './zoneText';

const context: TextContext = { middleC: 4, frameUnit: 'frames', rate: 44100, frames: 88200 };

test('every field’s text is read back as its number', () => {
  for (const field of ZONE_FIELDS) {
    for (const value of [field.low, 1, 12, 0.5, field.high].filter(
      (x) => x >= field.low && x <= field.high && (!field.whole || Number.isInteger(x)) && x < 1e6,
    )) {
      const read = parseField(field, fieldText(field, value, context), context, 'set');
      expect({
        id: field.id,
        value:
          Math.abs(read! - value) <= Math.max(0.06, Math.abs(value) * 0.006)
            ? 'the same'
            : `${value} came back as ${read}`,
      }).toEqual({ id: field.id, value: 'the same' });
    }
  }
});

test.each<[string, string, number | undefined]>([
  ['root', 'f#3', 54],
  ['root', '54', 54],
  ['root', 'Gb3', 54],
  ['gain', '−2,5 dB', -2.5],
  ['pan', '40 left', -0.4],
  ['pan', '25 r', 0.25],
  ['pan', 'centre', 0],
  ['pan', '-0.5', -0.5],
  ['params.cutoff', '2.5k', 2500],
  ['params.attack', '300 ms', 0.3],
  ['start', '0.5 s', 22050],
  ['start', '250 ms', 11025],
  ['start', '50 %', 44100],
  ['start', '1000', 1000],
  ['alternate', '', undefined],
])('%s: “%s” is %p', (id, typed, value) => expect(parseField(zoneField(id), typed, context, 'set')).toEqual(value));

test.each([
  ['root', 'H9'],
  ['gain', 'loud'],
  ['start', '--3'],
  ['pan', 'left'],
])('%s: “%s” cannot be read', (id, typed) => expect(parseField(zoneField(id), typed, context, 'set')).toBeNaN());

test('shifted and scaled values are numbers, not names', () => {
  expect(parseField(zoneField('root'), '+12', context, 'shift')).toBe(12);
  expect(parseField(zoneField('root'), '-1', context, 'shift')).toBe(-1);
  expect(parseField(zoneField('gain'), '×0.5', context, 'scale')).toBe(0.5);
  expect(parseField(zoneField('gain'), '50 %', context, 'scale')).toBe(0.5);
});

test('frames are told as frames, seconds or shares, and keys in the chosen octave', () => {
  const start = zoneField('start');
  expect(fieldText(start, 44100, context)).toBe('44100');
  expect(fieldText(start, 44100, { ...context, frameUnit: 'seconds' })).toBe('1 s');
  expect(fieldText(start, 44100, { ...context, frameUnit: 'percent' })).toBe('50 %');
  expect(parseField(start, '50', { ...context, frameUnit: 'percent' }, 'set')).toBe(44100);
  expect(parseField(start, '1', { ...context, frameUnit: 'seconds' }, 'set')).toBe(44100);
  expect(fieldText(zoneField('root'), 60, { ...context, middleC: 3 })).toBe('C3');
  expect(parseField(zoneField('root'), 'C3', { ...context, middleC: 3 }, 'set')).toBe(60);
  expect(fieldText(start, undefined, context)).toBe('');
});
