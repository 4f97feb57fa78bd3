import { newEffect, newGroup, newPool, newRoute, markAt } from '../src/core/rig/defaults';
import { noteValue } from '../src/core/music/time';
import type { Connection, EffectSpec, Patch } from '../src/core/rig/schema';

/**
 * The place of every demo patch in a mix: effects on its layers, groups and main, what is sent to shared effects, and
 * the level that keeps all patches equally loud.
 */

let effects = 0;
const effect = (kind: string, params: Record<string, number> = {}, more: Partial<EffectSpec> = {}): EffectSpec => ({
  ...newEffect(`effect-${++effects}`, kind),
  params,
  ...more,
});
const send = (id: string, from: string, to: string, level: number, tap: Connection['tap'] = 'after'): Connection => ({
  id: `send-${id}`,
  kind: 'send',
  from,
  to,
  level,
  on: true,
  tap,
});
const dome = (params: Record<string, number> = {}) => ({
  ...newPool('dome', 'Dome', [
    effect('reverb', { kind: 1, size: 130, decay: 3.4, damping: 45, predelay: 0.025, ...params }),
  ]),
});
const chained = (patch: Patch, layerId: string, chain: EffectSpec[]): Patch => ({
  ...patch,
  layers: patch.layers.map((layer) => (layer.id === layerId ? { ...layer, effects: chain } : layer)),
});
const main = (patch: Patch, level: number, chain: EffectSpec[] = []): Patch => ({
  ...patch,
  main: { level, width: 100, effects: chain },
});

/** Ten fingers at their hardest are held before the safety limiter has to. */
const held = () => effect('limiter', { ceiling: -4.5 });

const MIXES: Readonly<Record<string, (patch: Patch) => Patch>> = {
  'low-water': (patch) => {
    const keys = chained(
      chained(patch, 'keys', [
        effect('equaliser', { kind1: 1, frequency1: 130, slope1: 1 }),
        effect('chorus', { mix: 22, depth: 0.0016 }),
      ]),
      'bass',
      [effect('compressor', { threshold: -24, ratio: 4, attack: 0.02, release: 0.18 })],
    );
    return main(
      { ...keys, pools: [dome({ decay: 1.8, size: 90 })], connections: [send('keys', 'layer.keys', 'pool.dome', -15)] },
      LEVELS['low-water'],
      [held()],
    );
  },
  'tern-colony': (patch) =>
    main(
      {
        ...patch,
        pools: [
          dome({ decay: 4.2 }),
          newPool('terns', 'Terns', [
            effect('echo', {
              mix: 100,
              note: noteValue('1/8 dotted'),
              feedback: 42,
              way: 1,
              lowCut: 300,
              highCut: 5200,
            }),
          ]),
        ],
        connections: [
          send('a', 'layer.keys', 'pool.dome', -16),
          send('b', 'layer.wire', 'pool.dome', -11),
          send('c', 'layer.keys', 'pool.terns', -20),
          send('d', 'pool.terns', 'pool.dome', -14),
        ],
      },
      LEVELS['tern-colony'],
    ),
  perigee: (patch) =>
    main(
      {
        ...chained(patch, 'bells', [effect('equaliser', { kind1: 1, frequency1: 180, slope1: 1 })]),
        pools: [dome({ decay: 4.8, duck: 9, return: 0.7 })],
        connections: [
          send('a', 'layer.keys', 'pool.dome', -17),
          send('b', 'layer.bells', 'pool.dome', -10),
          send('c', 'layer.wire', 'pool.dome', -12),
        ],
      },
      LEVELS.perigee,
      [held()],
    ),
  'slack-tide': (patch) =>
    main(
      {
        ...chained(patch, 'wire', [effect('phaser', { mix: 45, rate: 0.08, depth: 70 })]),
        pools: [dome({ kind: 4, size: 120, decay: 7, balance: 85 })],
        connections: [
          send('a', 'layer.reeds', 'pool.dome', -15),
          send('b', 'layer.wire', 'pool.dome', -13),
          send('c', 'layer.bells', 'pool.dome', -11),
          send('d', 'layer.felt', 'pool.dome', -17),
        ],
      },
      LEVELS['slack-tide'],
      [held()],
    ),
  'marsh-bells': (patch) =>
    main(
      {
        ...patch,
        pools: [dome({ decay: 3.8 })],
        connections: [send('a', 'layer.keys', 'pool.dome', -17), send('b', 'layer.bells', 'pool.dome', -12)],
      },
      LEVELS['marsh-bells'],
      [effect('tilt', { slope: -0.4 })],
    ),
  'lantern-row': (patch) =>
    main(
      {
        ...chained(patch, 'reeds', [effect('chorus', { mix: 30, depth: 0.0014, rate: 0.8 })]),
        pools: [
          newPool('shed', 'Shed', [effect('reverb', { kind: 0, size: 80, decay: 0.7, predelay: 0.004, balance: 45 })]),
        ],
        connections: [
          send('a', 'layer.reeds', 'pool.shed', -13),
          ...patch.groups.map((group, i) => send(`p${i}`, `group.${group.id}`, 'pool.shed', -17)),
        ],
      },
      LEVELS['lantern-row'],
    ),
  'first-light': (patch) =>
    main(
      {
        ...chained(patch, 'ground', [effect('compressor', { threshold: -26, ratio: 4, attack: 0.015, release: 0.15 })]),
        pools: [
          dome({ decay: 3 }),
          newPool('ripples', 'Ripples', [
            effect('echo', {
              mix: 100,
              note: noteValue('1/8 triplet'),
              feedback: 38,
              apart: 30,
              lowCut: 400,
              highCut: 6500,
            }),
          ]),
        ],
        connections: [
          send('a', 'layer.bells', 'pool.ripples', -10),
          send('b', 'layer.felt', 'pool.ripples', -18),
          send('c', 'layer.reeds', 'pool.dome', -13),
          send('d', 'layer.bells', 'pool.dome', -12),
        ],
      },
      LEVELS['first-light'],
    ),
  undertow: (patch) =>
    main(
      {
        ...chained(chained(patch, 'high', [effect('width', { width: 150, mono: 160 })]), 'low', [
          effect('notches', { mix: 60, depth: 7, rate: 0.1 }),
        ]),
        pools: [dome({ kind: 2, decay: 2.4 })],
        connections: [send('a', 'layer.low', 'pool.dome', -15), send('b', 'layer.high', 'pool.dome', -11)],
      },
      LEVELS.undertow,
    ),
};

/** dB of each patch's main that bring its take to −21 LUFS: measured. */
const LEVELS: Readonly<Record<string, number>> = {
  'low-water': 3.5,
  'tern-colony': -0.1,
  perigee: 2.8,
  'slack-tide': 2.6,
  'kelp-choir': 3.4,
  'marsh-bells': 2.1,
  'lantern-row': 0.5,
  'first-light': 2.4,
  undertow: 1.9,
};

export function withMix(patch: Patch): Patch {
  effects = 0;
  return MIXES[patch.id]?.(patch) ?? patch;
}

/** The shared chain of Kelp Choir: three layers in bands of their own, one group, its effects, one space that ducks. */
export function kelpMix(patch: Patch): Patch {
  effects = 0;
  const cut = (kind: 1 | 2, hz: number) =>
    effect('equaliser', { [`kind${kind}`]: kind, [`frequency${kind}`]: hz, [`slope${kind}`]: 3 });
  const layered = chained(
    chained(chained(patch, 'choir', [cut(1, 220), cut(2, 3800)]), 'ground', [cut(2, 420)]),
    'glint',
    [cut(1, 1800)],
  );
  const group = {
    ...newGroup('kelp', 'Kelp', markAt(5)),
    effects: [
      effect('equaliser', { kind3: 5, frequency3: 340, gain3: -2.5, q3: 0.8, kind8: 4, frequency8: 8000, gain8: 2 }),
      effect('compressor', { threshold: -24, ratio: 3, knee: 9, attack: 0.012, release: 0.14, makeup: 2 }),
      effect('width', { width: 125, mono: 140 }),
    ],
  };
  return main(
    {
      ...layered,
      layers: layered.layers.map((layer) => ({ ...layer, groupId: 'kelp' })),
      groups: [group],
      pools: [
        dome({ decay: 4.4, duck: 10, return: 0.6 }),
        newPool('drift', 'Drift', [
          effect('echo', { mix: 100, note: noteValue('1/4 dotted'), feedback: 36, way: 1, lowCut: 250, highCut: 4200 }),
        ]),
      ],
      connections: [
        send('a', 'group.kelp', 'pool.dome', -11),
        send('b', 'group.kelp', 'pool.drift', -19),
        send('c', 'pool.drift', 'pool.dome', -12),
      ],
      macros: [{ number: 1, name: 'Depth', value: 0.3, style: 'strip' }],
      routes: [
        ...patch.routes,
        newRoute('depth', 'macro.1', 'connection.send-a.level', 0.18),
        newRoute('depth-decay', 'macro.1', `reverb.${'effect-8'}.decay`, 0.12),
      ],
      front: ['reverb.effect-8.decay', 'connection.send-b.level'],
    },
    LEVELS['kelp-choir'],
    [held()],
  );
}
