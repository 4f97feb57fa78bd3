/**
 * Patches of everything at once, made by chance from the registry itself, so that what is added later is tried as well;
 * and what is done to them: notes, pedals, hands, edits, changes of patch. For tests of
 * what no part can be tried for alone.
 */
import { draw, drawablesIn } from '../../src/core/draws/draw';
import { Chance } from '../../src/core/dsp/chance';
import type { Audio } from '../../src/core/dsp/sample';
import { EFFECTS } from '../../src/core/effects';
import { compile } from '../../src/core/engine/program/compile';
import type { EngineEvent } from '../../src/core/engine/hands/event';
import type { Program } from '../../src/core/engine/program/program';
import { MOVERS } from '../../src/core/movers';
import {
  fullWindow,
  markAt,
  newEffect,
  newGroup,
  newLayer,
  newMover,
  newPatch,
  newPool,
  newInstrument,
  newRig,
  newRoute,
  newSound,
  newZone,
  plainLoop,
} from '../../src/core/rig/defaults';
import { withoutLoose } from '../../src/core/rig/mix';
import { sourcesIn, targetsIn } from '../../src/core/rig/moves';
import { fromNormal, parametersFor } from '../../src/core/rig/parameters';
import type { EffectSpec, Layer, Patch, Rig, Route, Sound } from '../../src/core/rig/schema';
import { CURVE_NAMES } from '../../src/core/space/curve';
import { RATE } from './engine';

const FRAMES = RATE;
/** A decaying chord with some noise, in both channels. */
export const RECORDING: Audio = {
  rate: RATE,
  channels: 2,
  data: Float32Array.from({ length: 2 * FRAMES }, (_, i) => {
    const t = (i >> 1) / RATE;
    const side = i & 1;
    return (
      0.4 * Math.exp(-2 * t) * (Math.sin(2 * Math.PI * 220 * t + side) + 0.5 * Math.sin(2 * Math.PI * 557 * t)) +
      0.02 * Math.sin(i * i * 0.7)
    );
  }),
};
export const IMPULSE: Audio = {
  rate: RATE,
  channels: 2,
  data: Float32Array.from({ length: 9600 }, (_, i) => Math.exp(-i / 1500) * Math.sin(i * i * 0.31)),
};
export const SAMPLES = [
  { id: 'w', name: 'w', rate: RATE, channels: 2 as const, frames: FRAMES },
  { id: 'impulse', name: 'impulse', rate: RATE, channels: 2 as const, frames: IMPULSE.data.length / 2 },
];

const everywhere = { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const };
const zone = { ...newZone('w', 60), key: everywhere };
/** A sound of every kind, and two of the usual one. */
export const SOUNDS: readonly Sound[] = [
  newSound('multisample', 'multisample', [
    { ...zone, velocity: { ...zone.velocity, high: 80 }, loop: plainLoop({ start: 12000, end: 30000 }) },
    {
      ...zone,
      root: 72,
      velocity: { ...zone.velocity, low: 60, fadeIn: 20 },
      start: 100,
      loop: { start: 2000, end: 2700, crossfade: 200, until: 'release' },
    },
    { ...zone, root: 48, trigger: 'release' as const, gain: -12 },
  ]),
  {
    ...newSound('full', 'full', [{ ...zone, playback: 'full-length', reverse: true, fadeIn: 0.01 }]),
    alternation: 'random',
  },
  { ...newSound('synth', 'synth'), kind: 'synth' },
  { ...newSound('grains', 'grains', [zone]), kind: 'grains' },
  { ...newSound('input', 'input'), kind: 'input' },
];
/** Pairs of outputs: what main goes to, and another. */
const PAIRS = ['hall', 'phones'] as const;

export const anyOf = <T>(list: readonly T[], chance: Chance): T => list[chance.below(list.length)];

function anyEffect(id: string, chance: Chance, layers: readonly string[]): EffectSpec {
  const kind = anyOf(EFFECTS, chance);
  const params = Object.fromEntries(
    Object.values(kind.parameters)
      .filter(() => chance.share() < 0.6)
      .map((parameter) => [parameter.id, fromNormal(parameter, edgy(chance))]),
  );
  return {
    ...newEffect(id, kind.id),
    params,
    on: chance.share() < 0.85,
    steps: kind.steps ? Array.from({ length: kind.steps }, () => Math.round(chance.share() * 100) / 100) : [],
    listens: kind.listens && chance.share() < 0.5 ? anyOf(layers, chance) : null,
    sampleId: kind.impulse ? 'impulse' : null,
  };
}
/** 0…1, the ends more often than they come by chance. */
const edgy = (chance: Chance): number => {
  const x = chance.share() * 1.2 - 0.1;
  return x < 0 ? 0 : x > 1 ? 1 : x;
};

function anyLayer(id: string, n: number, chance: Chance, groups: readonly string[]): Layer {
  const sound = anyOf(SOUNDS, chance);
  const layer = newLayer(id, id, sound.id, markAt(n));
  const params = Object.fromEntries(
    parametersFor([sound.kind])
      .filter(() => chance.share() < 0.25)
      .map((parameter) => [parameter.id, fromNormal(parameter, edgy(chance))]),
  );
  // Two have places of their own.
  const { transpose = 0, touch = 0, ...rest } = params;
  const window = { ...fullWindow(anyOf(['cc.1', 'macro.1', 'xy.1.x', 'velocity', 'lfo.1'], chance)), fadeIn: 0.3 };
  return {
    ...layer,
    params: { ...rest, level: -14 - 10 * chance.share() },
    transpose,
    touch: { ...layer.touch, curve: touch },
    list: chance.share() < 0.2 ? ['multisample', 'synth', 'grains'] : [],
    morph: chance.share() < 0.5,
    windows: chance.share() < 0.3 && window.source !== 'lfo.1' ? [...layer.windows, window] : layer.windows,
    groupId: groups.length > 0 && chance.share() < 0.5 ? anyOf(groups, chance) : null,
    path: {
      ...layer.path,
      arpeggio: { ...layer.path.arpeggio, on: chance.share() < 0.15 },
      chord: { ...layer.path.chord, on: chance.share() < 0.15, notes: [4, 7] },
    },
  };
}

function anySends(layerIds: readonly string[], to: string, share: number, chance: Chance): Patch['connections'] {
  return layerIds
    .filter(() => chance.share() < share)
    .map((layerId) => ({
      id: `c${layerId}${to.replace('.', '')}`,
      kind: 'send',
      from: `layer.${layerId}`,
      to,
      level: -12 + 12 * chance.share(),
      on: true,
      tap: anyOf(['before', 'after'] as const, chance),
    }));
}

/** The program of a patch, or undefined where its routes or its mix go round in a circle. */
export function programOf(patch: Patch, rate = RATE): Program | undefined {
  try {
    return compile(patch, {
      sounds: [...SOUNDS],
      samples: SAMPLES,
      keyLow: 21,
      keyHigh: 108,
      rate,
      pairs: PAIRS,
    });
  } catch {
    return undefined;
  }
}

/** A rig that has what these patches need. */
export const rigWith = (patches: readonly Patch[]): Rig => {
  const rig = newRig('rig', 'rig');
  return {
    ...rig,
    patches: [...patches],
    sounds: [...SOUNDS],
    samples: [...SAMPLES],
    pairs: PAIRS.map((id) => ({ id, name: id })),
    instruments: [newInstrument('loft', 'loft')],
  };
};

/** A patch by chance: what it has, and what moves it. */
export function anyPatch(seed: number, id = 'p'): Patch {
  const chance = new Chance(1 + seed * 7919);
  const times = (most: number) => chance.below(most + 1);
  const groupIds = Array.from({ length: times(2) }, (_, n) => `g${n}`);
  const layerIds = Array.from({ length: 1 + times(4) }, (_, n) => `l${n}`);
  let made = 0;
  const chain = (most: number) => Array.from({ length: times(most) }, () => anyEffect(`e${made++}`, chance, layerIds));
  const layers = layerIds.map((layerId, n) => ({ ...anyLayer(layerId, n, chance, groupIds), effects: chain(2) }));
  const pools = Array.from({ length: times(2) }, (_, n) => newPool(`p${n}`, `p${n}`, chain(2)));
  const movers = Array.from({ length: times(5) }, (_, n) => {
    const { id: kind, parameters } = anyOf(MOVERS, chance);
    const mover = newMover(kind, n + 1, `m${n}`);
    const params = Object.fromEntries(
      Object.values(parameters)
        .filter(() => chance.share() < 0.5)
        .map((parameter) => [parameter.id, fromNormal(parameter, edgy(chance))]),
    );
    return {
      ...mover,
      reach: chance.share() < 0.5 && kind !== 'follower' ? ('note' as const) : mover.reach,
      follows: kind === 'follower' ? anyOf(layerIds, chance) : mover.follows,
      params: { ...mover.params, ...params },
    };
  });
  const plain = newPatch(id, id);
  let patch: Patch = {
    ...plain,
    tempo: 60 + chance.below(140),
    layers,
    groups: groupIds.map((groupId, n) => ({ ...newGroup(groupId, groupId, markAt(n)), effects: chain(2) })),
    pools,
    movers,
    macros: [1, 2].map((number) => ({ number, name: `${number}`, value: chance.share(), style: 'strip' as const })),
    blends: [{ number: 1, name: 'b', value: chance.share() }],
    xyPads: [
      {
        number: 1,
        name: 'pad',
        x: chance.share(),
        y: chance.share(),
        motion: anyOf(['hand', 'wander', 'spring'] as const, chance),
        anchors: [
          { name: 'a', x: 0, y: 0, layerId: layerIds[0] },
          { name: 'b', x: 1, y: 1, layerId: null },
        ],
        path: [],
        params: {},
      },
    ],
    connections: [
      ...pools.flatMap((pool) => anySends(layerIds, `pool.${pool.id}`, 0.5, chance)),
      ...anySends(layerIds, `pair.${PAIRS[1]}`, 0.15, chance),
    ],
    main: { ...plain.main, level: -6, effects: chain(2) },
    knobs: [1, 2].map((n) => ({ id: `k${n}`, instrumentId: 'loft', name: `k${n}`, controller: n, value: 40 * n })),
  };
  if (chance.share() < 0.5)
    patch = draw(patch, drawablesIn(patch, [], SOUNDS), {
      amount: 0.5 * chance.share(),
      seed: chance.below(1e6),
    }).patch;
  if (!programOf(patch))
    patch = {
      ...patch,
      layers: patch.layers.map((layer) => ({
        ...layer,
        effects: layer.effects.map((effect) => ({ ...effect, listens: null })),
      })),
    };
  return withRoutes(patch, 2 + times(12), chance);
}

/** Routes by chance, as far as they do not go round in a circle. */
function withRoutes(patch: Patch, most: number, chance: Chance): Patch {
  let next = patch;
  const sources = sourcesIn(patch).map(({ id }) => id);
  const targets = targetsIn(patch, SOUNDS);
  for (let n = 0; n < most; n++) {
    const route: Route = {
      ...newRoute(
        `r${n}x${chance.below(1e6)}`,
        anyOf(sources, chance),
        anyOf(targets, chance),
        Math.round((2 * chance.share() - 1) * 100) / 100,
      ),
      curve: anyOf(CURVE_NAMES, chance),
      polarity: anyOf(['as-is', 'inverted'] as const, chance),
      scaledBy: chance.share() < 0.15 ? 'macro.2' : undefined,
    };
    const tried = { ...next, routes: [...next.routes, route] };
    if (programOf(tried)) next = tried;
  }
  return next;
}

/** What stood for something that was taken away goes with it, as where hands edit: the format takes nothing else. */
function withoutGone(patch: Patch): Patch {
  const { layers, xyPads } = patch;
  const isThere = (id: string | null) => layers.some((layer) => layer.id === id);
  const followed = {
    ...patch,
    movers: patch.movers.map((mover) =>
      mover.kind === 'follower' && !isThere(mover.follows) ? { ...mover, follows: 'main' } : mover,
    ),
    xyPads: xyPads.map((pad) => ({
      ...pad,
      anchors: pad.anchors.map((anchor) => ({ ...anchor, layerId: isThere(anchor.layerId) ? anchor.layerId : null })),
    })),
  };
  const targets = new Set(targetsIn(followed, SOUNDS));
  return withoutLoose({ ...followed, routes: followed.routes.filter(({ target }) => targets.has(target)) });
}

/** Something of a patch edited by chance: most often taken away. */
export function edited(patch: Patch, chance: Chance): Patch {
  const drop = <T>(list: readonly T[]): T[] => {
    const at = chance.below(Math.max(1, list.length));
    return list.filter((_, n) => n !== at);
  };
  const edits: (() => Patch)[] = [
    () => ({ ...patch, main: { ...patch.main, effects: drop(patch.main.effects) } }),
    () => ({ ...patch, layers: patch.layers.map((layer) => ({ ...layer, effects: drop(layer.effects) })) }),
    () => ({ ...patch, pools: drop(patch.pools) }),
    () => ({ ...patch, knobs: drop(patch.knobs) }),
    () => ({
      ...patch,
      groups: drop(patch.groups),
      layers: patch.layers.map((layer) => ({ ...layer, groupId: null })),
    }),
    () => (patch.layers.length > 1 ? { ...patch, layers: drop(patch.layers) } : patch),
    () => ({ ...patch, movers: drop(patch.movers) }),
    () => ({ ...patch, routes: drop(patch.routes) }),
    () => ({ ...patch, xyPads: [], macros: drop(patch.macros) }),
    () => ({ ...patch, connections: drop(patch.connections) }),
    () => ({
      ...patch,
      main: {
        ...patch.main,
        effects: [...patch.main.effects]
          .reverse()
          .slice(0, 11)
          .concat(
            anyEffect(
              `x${chance.below(1e6)}`,
              chance,
              patch.layers.map(({ id }) => id),
            ),
          ),
      },
    }),
    () => ({
      ...patch,
      layers: patch.layers.map((layer) => ({ ...layer, on: chance.share() < 0.7, soundId: anyOf(SOUNDS, chance).id })),
    }),
    () => withRoutes(patch, 2, chance),
    () => ({
      ...patch,
      layers: patch.layers.map((layer) => ({
        ...layer,
        effects: layer.effects.map((effect) => ({ ...effect, on: !effect.on })),
      })),
    }),
  ];
  const next = withoutGone(anyOf(edits, chance)());
  return programOf(next) ? next : patch;
}

export type Act = { at: number } & ({ event: EngineEvent } | { program: Program });

/**
 * What is done in so many frames: mostly notes and hands, now and then an edit or a change of patch. Edits come between
 * blocks, events whenever they like. `edits`: how many of the edits that chance would make are made, 0 to 1.
 */
export function anyActs(
  patch: Patch,
  other: Patch,
  frames: number,
  chance: Chance,
  { count = 40, edits = 1, rate = RATE } = {},
): Act[] {
  let now = patch;
  const acts: Act[] = [{ at: 0, event: { type: 'noteOn', channel: 1, key: 60, velocity: 90 } }];
  const at = Array.from({ length: count }, () => Math.floor(chance.share() * frames * 0.9)).sort((a, b) => a - b);
  for (const frame of at) {
    const dice = chance.share();
    const key = 36 + chance.below(48);
    const add = (event: EngineEvent) => {
      acts.push({ at: frame, event });
    };
    if (dice < 0.35) add({ type: 'noteOn', channel: 1, key, velocity: 1 + chance.below(127) });
    else if (dice < 0.5) add({ type: 'noteOff', channel: 1, key, velocity: 64 });
    else if (dice < 0.62)
      add({
        type: 'controller',
        channel: 1,
        controller: anyOf([1, 2, 7, 11, 64, 66, 74], chance),
        value: chance.below(128),
      });
    else if (dice < 0.7) add({ type: 'macro', number: 1 + chance.below(2), value: chance.share() });
    else if (dice < 0.74) add({ type: 'bend', channel: 1, bend: 2 * chance.share() - 1 });
    else if (dice < 0.78)
      add({ type: 'xy', number: 1, x: chance.share(), y: chance.share(), letGo: chance.share() < 0.5 });
    else if (dice < 0.81) add({ type: 'channelPressure', channel: 1, pressure: chance.below(128) });
    else if (dice < 0.83)
      add({ type: 'without', ids: chance.share() < 0.5 ? ['*'] : [], gainDb: 6 * chance.share() - 3 });
    else if (dice < 0.84) add({ type: 'panic' });
    else if (dice < 0.85) add({ type: 'tempo', tempo: 60 + chance.below(120) });
    else if (edits < 1 && chance.share() >= edits) add({ type: 'noteOff', channel: 1, key, velocity: 64 });
    else {
      now = dice < 0.96 ? edited(now, chance) : now.id === patch.id ? other : patch;
      acts.push({ at: frame, program: programOf(now, rate)! });
    }
  }
  return acts;
}
