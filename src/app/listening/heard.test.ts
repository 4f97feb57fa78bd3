import { keepDraw } from '../../core/draws/history';
import { markAt, newLayer, newMover, newPatch, newRig, newRoute, newSound, newZone } from '../../core/rig/defaults';
import { addPart, newPart } from '../../core/rig/edits/takes';
import type { Patch, Rig } from '../../core/rig/schema';
import { heard, NOTHING_ELSE, type Listening } from './heard';

const sounds = [newSound('s', 'S', [newZone('w', 60)]), newSound('other', 'Other', [newZone('w', 60)])];
const layers = [newLayer('a', 'A', 's', markAt(0)), newLayer('b', 'B', 'other', markAt(1))];
const plain: Patch = {
  ...newPatch('p', 'P'),
  layers,
  movers: [newMover('lfo', 1, 'L')],
  macros: [{ number: 1, name: 'M', value: 0, style: 'strip' }],
  routes: [newRoute('moved', 'macro.1', 'layer.a.pan', 0.5), newRoute('swayed', 'lfo.1', 'layer.b.pan', 0.5)],
};
const drawn = keepDraw(plain, [['layer.a.tune', 0, 25]], { id: 'draw', seed: 1, amount: 1, scope: 'a' });
/** As the document has it: the draw is kept, and not gone to. */
const patch: Patch = { ...plain, draws: drawn.draws };
const rig: Rig = { ...newRig('r', 'R'), sounds, patches: [patch] };
const take = addPart({ ...patch, takes: [{ ...emptyTake() }] }, 'take', {
  ...newPart('part', 'Part', 'patch'),
  moves: [[0, 'layer.b.level', 0.5]],
}).takes[0];
function emptyTake(): Patch['takes'][number] {
  return { id: 'take', name: 'Take', tempo: 120, quarters: 16, parts: [] };
}
const mendedRig: Rig = { ...rig, patches: [{ ...patch, name: 'mended' }] };

/** Each state alone, and what tells that it is heard. */
const states: Record<string, [Partial<Listening>, (now: { rig: Rig; patch: Patch }) => boolean]> = {
  draw: [
    { drawTrial: { patchId: 'p', first: null, second: 'draw', share: 1 } },
    ({ patch: now }) => now.layers.find(({ id }) => id === 'a')?.params.tune === 25,
  ],
  sound: [{ sound: sounds[0] }, ({ patch: now }) => now.layers.length === 1 && now.id !== 'p'],
  alone: [{ alone: 'lfo.1' }, ({ patch: now }) => now.routes.some(({ id, on }) => id === 'moved' && !on)],
  without: [{ leftOut: ['lfo.1'] }, ({ patch: now }) => now.movers.some(({ on }) => !on)],
  take: [{ take }, ({ patch: now }) => now.routes.some(({ source }) => source === 'strip.1')],
  cuts: [
    { mixTrial: { patchId: 'p', cuts: [{ layerId: 'a', kind: 'low cut', hz: 200 }] } },
    ({ patch: now }) => now.layers.some(({ effects }) => effects.length > 0),
  ],
  trim: [{ trimDb: -3 }, ({ patch: now }) => now.main.level === patch.main.level - 3],
  trying: [
    {
      trying: {
        patchId: 'p',
        at: { to: 'layer', layerId: 'a' },
        candidate: { key: 'k', name: 'Other', from: '', sound: sounds[1], samples: [] },
        levelDb: 0,
      },
    },
    ({ patch: now }) => now.layers.find(({ id }) => id === 'a')?.soundId === 'other',
  ],
  mended: [{ mended: { patchId: 'p', rig: mendedRig } }, (now) => now.rig === mendedRig && now.patch.name === 'mended'],
};
const names = Object.keys(states);

/** What is not heard while another one is: `mended` is heard alone; a sound alone has no mix and no moves of others. */
const hides: Record<string, string[]> = {
  mended: names.filter((name) => name !== 'mended'),
  sound: ['alone', 'without', 'take', 'cuts', 'trim', 'trying'],
  take: ['cuts', 'trim'],
  cuts: ['trim'],
};

test('as it is, the rig and the patch are the document’s own', () => {
  const now = heard(rig, patch, NOTHING_ELSE);
  expect(now.rig).toBe(rig);
  expect(now.patch).toBe(patch);
  for (const [, isHeard] of Object.values(states)) expect(isHeard(now)).toBe(false);
});

test.each(names)('%s alone is heard, and nothing else is', (name) => {
  const now = heard(rig, patch, { ...NOTHING_ELSE, ...states[name][0] });
  for (const other of names) expect({ other, is: states[other][1](now) }).toEqual({ other, is: other === name });
});

test.each(names.flatMap((first, i) => names.slice(i + 1).map((second) => [first, second])))(
  '%s with %s',
  (first, second) => {
    const now = heard(rig, patch, { ...NOTHING_ELSE, ...states[first][0], ...states[second][0] });
    for (const [one, other] of [
      [first, second],
      [second, first],
    ])
      expect({ one, is: states[one][1](now) }).toEqual({ one, is: !hides[other]?.includes(one) });
  },
);

test('what is meant for another patch, or for a layer that is gone, is not heard', () => {
  const elsewhere: Partial<Listening> = {
    drawTrial: { patchId: 'q', first: null, second: 'draw', share: 1 },
    mixTrial: { patchId: 'q', cuts: [{ layerId: 'a', kind: 'low cut', hz: 200 }] },
    trying: { ...states.trying[0].trying!, patchId: 'q' },
    mended: { patchId: 'q', rig: mendedRig },
  };
  expect(heard(rig, patch, { ...NOTHING_ELSE, ...elsewhere }).patch).toBe(patch);
  const gone = { ...states.trying[0].trying!, at: { to: 'layer' as const, layerId: 'gone' } };
  expect(heard(rig, patch, { ...NOTHING_ELSE, trying: gone }).patch).toBe(patch);
});

test('a trim never goes below silence', () => {
  const soft = { ...patch, main: { ...patch.main, level: -59 } };
  expect(heard(rig, soft, { ...NOTHING_ELSE, trimDb: -12 }).patch.main.level).toBe(-60);
});
