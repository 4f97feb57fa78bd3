import { CP } from './finding';
import { fullWindow, markAt, newGroup, newLayer, newPatch, newRig, newRoute, newSound, newZone } from '../rig/defaults';
import { setParam } from '../rig/edits/layers';
import { faultOf, readRig } from '../rig/read';
import type { Layer, LayerWindow, Patch, Rig, Sound } from '../rig/schema';
import { checkPatch, reasonOf, RULES, ruleOf } from './index';
import { keyOfFinding } from './finding';

const sample = { id: 'w', name: 'w.wav', rate: 48000, channels: 1 as const, frames: 1000 };
const wide = { ...newZone('w', 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } };
const rigOf = (patch: Patch, sounds: readonly Sound[] = [newSound('s', 'S', [wide])]): Rig => ({
  ...newRig('r', 'R'),
  samples: [sample],
  sounds: [...sounds],
  patches: [patch],
  setlists: [],
  setlist: null,
});
const onKeys = (id: string, low: number, high: number, more: Partial<Layer> = {}): Layer => ({
  ...newLayer(id, id, 's', markAt(0)),
  windows: [{ ...fullWindow('key'), low, high }, fullWindow('velocity')],
  ...more,
});
const patchOf = (layers: Layer[], more: Partial<Patch> = {}): Patch => ({ ...newPatch('p', 'P'), layers, ...more });
const found = (rig: Rig, rule: string) => checkPatch(rig, rig.patches[0]).filter((finding) => finding.rule === rule);
/** Takes an edit, and says what is still found by the same rule; the rig can be read afterwards. */
const mended = (rig: Rig, rule: string, at = 0) => {
  const next = found(rig, rule)[0].fixes[at].edit(rig);
  expect(faultOf(next)).toBeUndefined();
  expect(() => readRig(JSON.parse(JSON.stringify(next)))).not.toThrow();
  return found(next, rule);
};
const clean = rigOf(patchOf([onKeys('low', 0, 59), onKeys('high', 60, 127)]));

test('a split without a gap has nothing wrong, and every rule says why it matters', () => {
  // One sample over all keys is far from its root at both ends, and nothing else.
  expect(new Set(checkPatch(clean, clean.patches[0]).map(({ rule }) => rule))).toEqual(new Set(['stretched']));
  expect(checkPatch(rigOf(newPatch('p', 'P')), newPatch('p', 'P'))).toEqual([]);
  for (const rule of RULES) expect([rule.title, rule.why, rule.help].every((text) => text.length > 5)).toBe(true);
  expect(new Set(RULES.map(({ id }) => id)).size).toBe(RULES.length);
});

describe('dead keys', () => {
  test('a gap at a split is sure, told with its keys, and closed by either layer', () => {
    const rig = rigOf(patchOf([onKeys('low', 0, 55), onKeys('high', 60, 127)]));
    expect(found(rig, 'dead-keys')).toMatchObject([
      {
        grade: 'sure',
        where: { keys: [56, 59], layerIds: ['low', 'high'] },
        message: 'Between “low” and “high” nothing answers G♯3 to B3.',
        hear: { strikes: [{ key: 56 }] },
      },
    ]);
    expect(mended(rig, 'dead-keys', 0)).toEqual([]);
    expect(mended(rig, 'dead-keys', 1)).toEqual([]);
  });
  test('what lies beyond the controller, what the wheel brings in, and the keys around pads are no faults', () => {
    const narrow = {
      ...rigOf(patchOf([onKeys('a', 40, 80)])),
      controllers: { ...newRig('', '').controllers, keyLow: 40, keyHigh: 80 },
    };
    expect(found(narrow, 'dead-keys')).toEqual([]);
    const wheel: LayerWindow = {
      source: 'cc.1',
      low: 64,
      high: 127,
      fadeIn: 0,
      fadeOut: 0,
      shape: 'sine',
      read: 'always',
    };
    expect(
      found(
        rigOf(
          patchOf([
            onKeys('a', 0, 60),
            onKeys('b', 61, 127, { windows: [{ ...fullWindow('key'), low: 61 }, fullWindow('velocity'), wheel] }),
          ]),
        ),
        'dead-keys',
      ),
    ).toEqual([]);
    const pad = { ...newGroup('g', 'Drum', markAt(1)), windows: [{ ...fullWindow('key'), low: 36, high: 36 }] };
    expect(
      found(
        rigOf(patchOf([{ ...onKeys('drum', 0, 127), groupId: 'g' }, onKeys('reeds', 48, 127)], { groups: [pad] })),
        'dead-keys',
      ),
    ).toEqual([]);
  });
  test('the end of the keyboard is a matter of taste, and no edit is proposed that would not help', () => {
    const half = newSound('s', 'S', [{ ...wide, key: { ...wide.key, high: 71 } }]);
    const [finding] = found(rigOf(patchOf([onKeys('a', 0, 127)]), [half]), 'dead-keys');
    expect(finding).toMatchObject({ grade: 'taste', where: { keys: [72, 108] }, fixes: [] });
  });
});

describe('routes to nowhere', () => {
  const sweep = newRoute('r', 'hold.1', 'layer.a.cutoff', 0.5);
  test('a source of another patch, and a target that is gone, are sure, and taken away', () => {
    const rig = rigOf(
      patchOf([onKeys('a', 0, 127)], {
        routes: [
          sweep,
          newRoute('q', 'cc.1', 'layer.gone.pan', 0.5),
          newRoute('s', { formula: 'macro.3 * 0.5' }, 'layer.a.pan', 0.2),
          newRoute('t', 'velocity', 'layer.a.cutoff', 0.2),
        ],
      }),
    );
    expect(found(rig, 'loose-route').map(({ grade, message }) => [grade, message])).toEqual([
      ['sure', 'A route to layer.a.cutoff comes from hold.1, which this patch does not have.'],
      ['sure', 'A route from cc.1 goes to layer.gone.pan, which this patch does not have.'],
      ['sure', 'A route to layer.a.pan comes from macro.3, which this patch does not have.'],
    ]);
    expect(
      found(rig, 'loose-route')[0]
        .fixes[0].edit(rig)
        .patches[0].routes.map(({ id }) => id),
    ).toEqual(['q', 's', 't']);
  });
  test('what is there is none', () => expect(found(clean, 'loose-route')).toEqual([]));
});

describe('what can never sound', () => {
  test('a window outside the controller, a velocity that no zone has, and a transposition beyond the samples', () => {
    expect(found(rigOf(patchOf([onKeys('a', 0, 127), onKeys('b', 0, 15)])), 'never-sounds')).toMatchObject([
      { grade: 'sure', where: { layerIds: ['b'] } },
    ]);
    const soft = newSound('s', 'S', [{ ...wide, velocity: { ...wide.velocity, high: 40 } }]);
    expect(
      found(
        rigOf(
          patchOf([onKeys('a', 0, 127, { windows: [fullWindow('key'), { ...fullWindow('velocity'), low: 90 }] })]),
          [soft],
        ),
        'never-sounds',
      ),
    ).toHaveLength(1);
    const short = newSound('s', 'S', [{ ...wide, key: { ...wide.key, low: 60, high: 72 } }]);
    const far = rigOf(patchOf([onKeys('a', 60, 72, { transpose: 36 })]), [short]);
    expect(found(far, 'never-sounds')[0].message).toContain('transposition by 36');
    expect(mended(far, 'never-sounds')).toEqual([]);
  });
  test('what plays what others make, or is only muted, is left alone', () => {
    expect(found(rigOf(patchOf([onKeys('a', 0, 127), onKeys('b', 0, 127, { on: false })])), 'never-sounds')).toEqual(
      [],
    );
    const moved = patchOf([onKeys('a', 0, 10)], { routes: [newRoute('r', 'cc.1', 'layer.a.transpose', 0.5)] });
    expect(found(rigOf(moved), 'never-sounds')).toEqual([]);
  });
});

test('dynamics stacked on one another are found and shared out; alternates, blends of two and laid out ones are not', () => {
  const stacked = rigOf(patchOf([onKeys('a', 0, 127)]), [
    newSound('s', 'S', [wide, { ...wide }, { ...wide }, { ...wide }]),
  ]);
  expect(found(stacked, 'everything-at-once')).toMatchObject([{ where: { soundId: 's', zones: [0, 1, 2, 3] } }]);
  expect(mended(stacked, 'everything-at-once')).toEqual([]);
  expect(
    found(stacked, 'everything-at-once')[0]
      .fixes[0].edit(stacked)
      .sounds[0].zones.map(({ velocity }) => [velocity.low, velocity.high]),
  ).toEqual([
    [1, 32],
    [33, 64],
    [65, 95],
    [96, 127],
  ]);
  expect(
    found(
      rigOf(patchOf([onKeys('a', 0, 127)]), [
        newSound(
          's',
          'S',
          [1, 2, 3, 4].map((alternate) => ({ ...wide, alternate })),
        ),
      ]),
      'everything-at-once',
    ),
  ).toEqual([]);
  expect(
    found(rigOf(patchOf([onKeys('a', 0, 127)]), [newSound('s', 'S', [wide, { ...wide }])]), 'everything-at-once'),
  ).toEqual([]);
});

test('a macro that moves nothing is found; one of a route, a window or a scaled route is not', () => {
  const macro = { number: 1, name: 'Swell', value: 0, style: 'strip' as const };
  const idle = rigOf(patchOf([onKeys('a', 0, 127)], { macros: [macro] }));
  expect(found(idle, 'idle-macro')).toMatchObject([{ grade: 'sure', message: 'The macro “Swell” moves nothing.' }]);
  expect(mended(idle, 'idle-macro')).toEqual([]);
  for (const route of [
    newRoute('r', 'macro.1', 'layer.a.cutoff', 0.2),
    { ...newRoute('r', 'cc.1', 'layer.a.cutoff', 0.2), scaledBy: 'macro.1' },
  ])
    expect(found(rigOf(patchOf([onKeys('a', 0, 127)], { macros: [macro], routes: [route] })), 'idle-macro')).toEqual(
      [],
    );
  expect(
    found(
      rigOf(
        patchOf([onKeys('a', 0, 127)], {
          macros: [macro],
          routes: [{ ...newRoute('r', 'macro.1', 'layer.a.cutoff', 0.2), on: false }],
        }),
      ),
      'idle-macro',
    ),
  ).toHaveLength(1);
});

test('a wheel with two jobs is a matter of taste, and one of them is taken off', () => {
  const rig = rigOf(
    patchOf([onKeys('a', 0, 127)], {
      routes: [newRoute('v', 'cc.1', 'layer.a.vibratoDepth', 0.2), newRoute('c', 'cc.1', 'layer.a.cutoff', 0.2)],
    }),
  );
  expect(found(rig, 'two-jobs')).toMatchObject([{ grade: 'taste', where: { layerIds: ['a'] } }]);
  expect(mended(rig, 'two-jobs')).toEqual([]);
  expect(
    found(
      rigOf(patchOf([onKeys('a', 0, 127)], { routes: [newRoute('v', 'cc.1', 'layer.a.vibratoDepth', 0.2)] })),
      'two-jobs',
    ),
  ).toEqual([]);
});

test('findings of one place are told apart, and stand once each: two pedals with work of their own in one layer, several routes of one of them', () => {
  const routes = [
    newRoute('a', 'cc.1', 'layer.a.vibratoDepth', 0.2),
    newRoute('b', 'cc.1', 'layer.a.cutoff', 0.2),
    newRoute('c', 'cc.1', 'layer.a.resonance', 0.2),
    newRoute('d', 'cc.64', 'layer.a.cutoff', 0.2),
    newRoute('e', 'cc.7', 'layer.a.cutoff', 0.2),
    newRoute('f', 'cc.7', 'layer.a.pan', 0.2),
  ];
  const jobs = found(rigOf(patchOf([onKeys('a', 0, 127)], { routes })), 'two-jobs');
  expect(jobs.length).toBeGreaterThan(1);
  expect(new Set(jobs.map(keyOfFinding)).size).toBe(jobs.length);
  expect(new Set(jobs.map(({ message }) => message)).size).toBe(jobs.length);
});
test('what was set aside for all findings of a place, before they were told apart, stays aside', () => {
  const routes = [newRoute('a', 'cc.7', 'layer.a.cutoff', 0.2), newRoute('b', 'cc.64', 'layer.a.cutoff', 0.2)];
  const rig = rigOf(patchOf([onKeys('a', 0, 127)], { routes }));
  const jobs = found(rig, 'two-jobs');
  expect(jobs).toHaveLength(2);
  const aside = (finding: string): Rig => ({
    ...rig,
    checks: { ...rig.checks, aside: [{ finding, reason: 'meant' }] },
  });
  expect(jobs.map((job) => reasonOf(aside('two-jobs p a     '), job))).toEqual(['meant', 'meant']);
  expect(jobs.map((job) => reasonOf(aside(keyOfFinding(jobs[0])), job))).toEqual(['meant', undefined]);
});
test('notes that end within milliseconds are found; what plays to its own end is not', () => {
  const short = rigOf(patchOf([setParam(patchOf([onKeys('a', 0, 127)]), 'a', 'release', 0.005).layers[0]]));
  expect(found(short, 'short-release')).toMatchObject([
    { grade: 'taste', message: 'Notes of “a” end within 5 ms of the key.' },
  ]);
  expect(mended(short, 'short-release')).toEqual([]);
  expect(
    found(
      {
        ...short,
        sounds: short.sounds.map((sound) => ({
          ...sound,
          zones: sound.zones.map((zone) => ({ ...zone, playback: 'full-length' as const })),
        })),
      },
      'short-release',
    ),
  ).toEqual([]);
});

test('a port that the rig does not know is found, one that it knows is not', () => {
  const layer = onKeys('a', 0, 127, { receive: { ...onKeys('', 0, 1).receive, port: 'Keys 61' } });
  const rig = rigOf(patchOf([layer]));
  expect(found(rig, 'unknown-port')).toMatchObject([
    { grade: 'sure', message: expect.stringContaining('“Keys 61”') as unknown },
  ]);
  expect(mended(rig, 'unknown-port')).toEqual([]);
  expect(found({ ...rig, controllers: { ...rig.controllers, ports: ['Keys 61'] } }, 'unknown-port')).toEqual([]);
});

test('a sample far from its root is a matter of taste; one within seven semitones, or without pitch per key, is none', () => {
  const at = (more: object) =>
    rigOf(patchOf([onKeys('a', 48, 72)]), [newSound('s', 'S', [{ ...wide, root: 60, ...more }])]);
  expect(found(at({}), 'stretched')).toMatchObject([
    {
      grade: 'taste',
      where: { keys: [48, 52] },
      message: 'From C3 to E3 and from G♯4 to C5 every sample of “a” is more than 7 semitones from its own key.',
    },
  ]);
  expect(found(at({ pitchPerKey: 0 }), 'stretched')).toEqual([]);
  expect(found(at({ pitchPerKey: 50 }), 'stretched')).toEqual([]);
  expect(ruleOf('stretched').thresholds!.semitones.source).toBe(CP);
});

test('a bass under the pedal of a split is a matter of taste; one that does not hear it, or stands alone, is none', () => {
  const split = (bass: Partial<Layer> = {}) => rigOf(patchOf([onKeys('bass', 0, 52, bass), onKeys('keys', 53, 127)]));
  expect(found(split(), 'pedal-on-bass')).toMatchObject([{ where: { layerIds: ['bass'], keys: [0, 52] } }]);
  expect(mended(split(), 'pedal-on-bass')).toEqual([]);
  expect(found(split({ receive: { ...onKeys('', 0, 1).receive, sustain: false } }), 'pedal-on-bass')).toEqual([]);
  expect(found(rigOf(patchOf([onKeys('low', 0, 52)])), 'pedal-on-bass')).toEqual([]);
});

test('two controls of one macro, and one control of two, are told once for the rig; on other channels they are none of each other', () => {
  const bind = (control: string, target: string, channel = 0) => ({
    control,
    channel,
    port: 'any',
    coding: 'absolute' as const,
    target,
  });
  const withBindings = (...bindings: ReturnType<typeof bind>[]): Rig => ({
    ...clean,
    patches: [...clean.patches, { ...clean.patches[0], id: 'q' }],
    controllers: { ...clean.controllers, bindings },
  });
  const two = withBindings(bind('cc.20', 'macro.1'), bind('cc.21', 'macro.1'));
  expect(found(two, 'fought-over').map(({ message }) => message)).toEqual(['Both CC 20 and CC 21 move macro 1.']);
  expect(checkPatch(two, two.patches[1]).filter(({ rule }) => rule === 'fought-over')).toEqual([]);
  expect(mended(two, 'fought-over', 1)).toEqual([]);
  expect(found(withBindings(bind('cc.20', 'macro.1'), bind('cc.20', 'show.next')), 'fought-over')).toHaveLength(1);
  expect(found(withBindings(bind('cc.20', 'macro.1', 1), bind('cc.20', 'macro.2', 2)), 'fought-over')).toEqual([]);
  // Several pedals may turn the page.
  expect(found(withBindings(bind('cc.80', 'show.next'), bind('note.36', 'show.next')), 'fought-over')).toEqual([]);
});

test('a finding is known again by its rule and place, and comes before those that are less sure', () => {
  const rig = rigOf(
    patchOf([onKeys('low', 30, 55), onKeys('high', 60, 127)], {
      macros: [{ number: 2, name: '', value: 0, style: 'strip' }],
    }),
  );
  const all = checkPatch(rig, rig.patches[0]);
  expect(all.map(({ grade }) => grade)).toEqual([...all.map(({ grade }) => grade)].sort());
  expect(all.filter(({ grade }) => grade === 'sure')).toHaveLength(2);
  expect(new Set(all.map(keyOfFinding)).size).toBe(all.length);
  expect(ruleOf(all[0].rule).id).toBe(all[0].rule);
});
