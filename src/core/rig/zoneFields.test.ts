import fc from 'fast-check';
import { newZone } from './defaults';
import { zoneSchema, type Zone } from './schema';
import { changeField, ZONE_FIELDS, zoneField } from './zoneFields';

const looped: Zone = { ...newZone('w', 60), loop: { start: 100, end: 900, crossfade: 0, until: 'end' } };
/** Whether the file format takes a zone. */
const isValid = (zone: Zone): boolean => {
  zoneSchema.validateSync(zone, { strict: true });
  return (
    zone.key.fadeIn <= zone.key.high - zone.key.low && zone.velocity.fadeOut <= zone.velocity.high - zone.velocity.low
  );
};

test('every field has an id of its own, and gives what was set', () => {
  expect(new Set(ZONE_FIELDS.map((field) => field.id)).size).toBe(ZONE_FIELDS.length);
  for (const field of ZONE_FIELDS) {
    // A value inside the range of every field.
    const value =
      field.unit === 'frames'
        ? 500
        : field.id.endsWith('fadeIn') || field.id.endsWith('fadeOut')
          ? 0
          : Math.min(field.high, Math.max(field.low, 1));
    const zone = field.set({ ...looped, key: { ...looped.key, low: 0, high: 127 } }, value);
    expect({ id: field.id, value: field.get(zone) }).toEqual({ id: field.id, value });
    expect(isValid(zone)).toBe(true);
  }
});

test('whatever is typed, in whatever order, the zone stays one that the file format takes', () => {
  const step = fc.tuple(
    fc.constantFrom(...ZONE_FIELDS),
    fc.constantFrom('set' as const, 'shift' as const, 'scale' as const),
    fc.option(fc.double({ min: -5000, max: 5000, noNaN: true }), { nil: undefined }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 25 }), fc.boolean(), (steps, hasLoop) => {
      let zone: Zone = hasLoop ? looped : newZone('w', 60);
      for (const [field, how, by] of steps) zone = changeField(zone, field, how, by);
      expect(isValid(zone)).toBe(true);
    }),
    { numRuns: 200 },
  );
});

test('values are held within their range and rounded where they are whole', () => {
  expect(zoneField('root').set(looped, 300).root).toBe(127);
  expect(zoneField('root').set(looped, 59.6).root).toBe(60);
  expect(zoneField('pan').set(looped, -7).pan).toBe(-1);
  expect(zoneField('velocity.low').set(looped, 0).velocity.low).toBe(1);
  expect(zoneField('gain').set(looped, 0.25).gain).toBe(0.25);
});

test('an edge pushed past the other takes it along', () => {
  const zone = { ...looped, key: { ...looped.key, low: 40, high: 50 } };
  expect(zoneField('key.low').set(zone, 60).key).toMatchObject({ low: 60, high: 60 });
  expect(zoneField('key.high').set(zone, 30).key).toMatchObject({ low: 30, high: 30 });
  expect(zoneField('loop.start').set(looped, 2000).loop).toMatchObject({ start: 2000, end: 2001 });
  expect(zoneField('loop.end').set(looped, 50).loop).toMatchObject({ start: 49, end: 50 });
});

test('what can be absent goes away when nothing is set', () => {
  const full: Zone = {
    ...looped,
    alternate: 2,
    end: 500,
    choke: { group: 1, by: null, fade: 'fast' },
    params: { attack: 1 },
  };
  expect(zoneField('alternate').set(full, undefined).alternate).toBeNull();
  // Shown and typed from 1.
  expect(zoneField('alternate').get(full)).toBe(3);
  expect([0, 1, 4].map((turn) => zoneField('alternate').set(full, turn).alternate)).toEqual([0, 0, 3]);
  expect(zoneField('end').set(full, undefined).end).toBeNull();
  expect(zoneField('choke.group').set(full, undefined).choke).toBeNull();
  expect(zoneField('choke.by').set(full, 3).choke).toEqual({ group: 1, by: 3, fade: 'fast' });
  expect(zoneField('params.attack').set(full, undefined).params).toEqual({});
  expect(zoneField('root').set(full, undefined)).toBe(full);
  expect(zoneField('loop.start').set({ ...full, loop: null }, 5).loop).toBeNull();
});

test('shifting and scaling leave alone what is not there', () => {
  expect(changeField(looped, zoneField('gain'), 'shift', -3).gain).toBe(-3);
  expect(changeField({ ...looped, tune: 20 }, zoneField('tune'), 'scale', 0.5).tune).toBe(10);
  expect(changeField(looped, zoneField('params.cutoff'), 'shift', 100)).toBe(looped);
  expect(changeField(looped, zoneField('alternate'), 'scale', 2)).toBe(looped);
});
