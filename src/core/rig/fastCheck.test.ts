import { array, number, object, ref, string, type Schema } from 'yup';
import {
  markAt,
  newEffect,
  newEntry,
  newGroup,
  newLayer,
  newMover,
  newPatch,
  newRig,
  newRoute,
  newSetlist,
  newSound,
  newZone,
} from './defaults';
import { surelyPasses } from './fastCheck';
import { rigSchema, type Rig } from './schema';

/** A rig with one of everything. */
const rig = (): Rig => ({
  ...newRig('r', 'R'),
  samples: [{ id: 'w', name: 'w.wav', rate: 48000, channels: 1, frames: 1000 }],
  sounds: [newSound('s', 'S', [{ ...newZone('w', 60), loop: { start: 1, end: 9, crossfade: 0, until: 'end' } }])],
  patches: [
    {
      ...newPatch('p', 'P'),
      layers: [{ ...newLayer('a', 'A', 's', markAt(0)), effects: [newEffect('e', 'reverb')] }],
      groups: [newGroup('g', 'G', markAt(1))],
      movers: [newMover('lfo', 1, 'L')],
      xyPads: [{ number: 1, name: 'X', x: 0.5, y: 0.5, motion: 'hand', anchors: [], path: [], params: {} }],
      takes: [{ id: 't', name: 'T', quarters: 4, tempo: 90, parts: [] }],
      draws: [
        {
          id: 'd',
          name: '',
          starred: false,
          from: null,
          seed: 1,
          amount: 1,
          scope: 'all',
          changes: [['layer.a.pan', 0, 0.5]],
        },
      ],
      routes: [newRoute('r', 'cc.1', 'layer.a.cutoff', 0.2)],
      macros: [{ number: 1, name: 'M', value: 0, style: 'strip' }],
    },
  ],
  setlists: [{ ...newSetlist('show', 'Show'), entries: [newEntry('x', 'patch', ['p'])] }],
  setlist: 'show',
});
const ODD: readonly unknown[] = [
  undefined,
  null,
  true,
  -1,
  0,
  1.5,
  1e12,
  NaN,
  Infinity,
  '',
  'x y',
  'a'.repeat(5000),
  [],
  {},
  [1],
  ['x'],
  { constructor: 1 },
];
const passesYup = (schema: Schema, value: unknown): boolean => schema.isValidSync(value, { strict: true });

/** Each place of a value, with the value that has something else there. */
function* changed(value: unknown, path = ''): Generator<{ path: string; make: (odd: unknown) => unknown }> {
  if (typeof value !== 'object' || value === null) return;
  for (const key of Object.keys(value)) {
    const put = (odd: unknown): unknown =>
      Array.isArray(value)
        ? value.map((each: unknown, i) => (String(i) === key ? odd : each))
        : { ...value, [key]: odd };
    yield { path: `${path}.${key}`, make: put };
    for (const deeper of changed((value as Record<string, unknown>)[key], `${path}.${key}`))
      yield { path: deeper.path, make: (odd) => put(deeper.make(odd)) };
  }
}

test('every place of a rig, with whatever may stand there, passes where validation says so, and nowhere else', () => {
  const whole = rig();
  expect(passesYup(rigSchema, whole)).toBe(true);
  expect(surelyPasses(rigSchema, whole)).toBe(true);
  let [passed, refused] = [0, 0];
  const places = [...changed(whole)];
  expect(places.length).toBeGreaterThan(250);
  // Each place with a few of them, in turn.
  places.forEach(({ path, make }, n) => {
    for (let k = 0; k < 4; k++) {
      const odd = ODD[(n * 4 + k * 5) % ODD.length];
      const other = make(odd);
      const says = passesYup(rigSchema, other);
      if (surelyPasses(rigSchema, other) !== says)
        throw new Error(`${path} = ${JSON.stringify(odd)}: validation says ${says}`);
      if (says) passed++;
      else refused++;
    }
  });
  expect(passed).toBeGreaterThan(20);
  expect(refused).toBeGreaterThan(500);
});
test('what is not known is refused, and left to validation', () => {
  const whole = rig();
  expect(surelyPasses(rigSchema, { ...whole, more: 1 })).toBe(passesYup(rigSchema, { ...whole, more: 1 }));
  for (const value of ODD) expect(surelyPasses(rigSchema, value)).toBe(passesYup(rigSchema, value));
});
test('conditions and references are left to validation: no schema is taken for passed that was not understood', () => {
  const conditional = object({ a: number(), b: string().when('a', { is: 1, then: (schema) => schema.required() }) });
  expect(surelyPasses(conditional, { a: 2 })).toBe(false);
  expect(
    surelyPasses(object({ low: number(), high: number().min(ref('low') as unknown as number) }), { low: 1, high: 2 }),
  ).toBe(false);
  expect(surelyPasses(array(conditional), [{ a: 2 }])).toBe(false);
  expect(surelyPasses(array(number()), [1, 2])).toBe(true);
});
