import { namesOfFormula, parseFormula } from '../space/formula';
import { isMoverKind, labelOfSource, parseSource } from '../space/source';
import { effectKind } from '../effects';
import { connectionsOf, effectsIn, nameOfPlace } from './mix';
import { effectParam, groupParam, moverParam, poolParam, paramOf, soundsOf, xyParam } from './defaults';
import {
  fromNormal,
  parametersFor,
  parseTarget,
  SECTIONS,
  type SoundKindId,
  toNormal,
  type GroupParameterId,
  type LayerParameterId,
  type MainParameterId,
  type PoolParameterId,
  type Target,
  type TargetId,
  type XyParameterId,
} from './parameters';
import type { Layer, Patch, Route, Sound } from './schema';

/**
 * What a route reaches: from where its target is with the source at its lowest to where it is with it at its highest,
 * in the target's unit. A two-sided source goes to both sides of where the target rests.
 */
export interface Reach {
  from: number;
  to: number;
}

/**
 * Whether a route reads a source: as itself, by name in its formula, or as what scales it. `what` is an id, or the
 * beginning of ids that ends in a dot.
 */
export function readsSource(
  { source, scaledBy }: Pick<Route, 'source' | 'scaledBy'>,
  what: string,
  scales = true,
): boolean {
  const isIt = (id: string) => id === what || (what.endsWith('.') && id.startsWith(what));
  const names = typeof source === 'string' ? [source] : namesOfFormula(parseFormula(source.formula));
  return names.some(isIt) || (scales && scaledBy !== undefined && isIt(scaledBy));
}

/** What a route reads: its source or the sources that its formula names, and what scales it. */
export const sourcesOf = ({ source, scaledBy }: Pick<Route, 'source' | 'scaledBy'>): string[] => [
  ...(typeof source === 'string'
    ? [source]
    : namesOfFormula(parseFormula(source.formula)).filter((name) => parseSource(name))),
  ...(scaledBy ? [scaledBy] : []),
];

/**
 * Whether a patch has a source. What hands and notes do is always there; macros, pads, blends and movers are where
 * somebody made them.
 */
export function hasSource(patch: Pick<Patch, 'macros' | 'blends' | 'xyPads' | 'movers'>, id: string): boolean {
  const [kind, number] = id.split('.');
  const has = (list: readonly { number: number }[]) => list.some((each) => each.number === Number(number));
  if (kind === 'macro') return has(patch.macros);
  if (kind === 'blend') return has(patch.blends);
  if (kind === 'xy') return has(patch.xyPads);
  return !isMoverKind(kind) || has(patch.movers.filter((mover) => mover.kind === kind));
}

export const isTwoSided = (route: Pick<Route, 'source'>): boolean =>
  typeof route.source === 'string' && (parseSource(route.source)?.low ?? 0) < 0;

/** Where a target rests, in its unit; undefined where there is none such in the patch. */
export function restOfTarget(patch: Patch, id: TargetId): number | undefined {
  const target = parseTarget(id);
  if (!target) return undefined;
  switch (target.kind) {
    case 'layer': {
      const layer = patch.layers.find((candidate) => candidate.id === target.layerId);
      return layer && paramOf(layer, target.parameter.id as LayerParameterId);
    }
    case 'group': {
      const group = patch.groups.find((candidate) => candidate.id === target.groupId);
      return group && groupParam(group, target.parameter.id as GroupParameterId);
    }
    case 'main':
      return patch.main[target.parameter.id as MainParameterId];
    case 'pool': {
      const pool = patch.pools.find(({ id: poolId }) => poolId === target.id);
      return pool && poolParam(pool, target.parameter.id as PoolParameterId);
    }
    case 'connection':
      return connectionsOf(patch).find((connection) => connection.id === target.id)?.level;
    case 'knob':
      return patch.knobs.find(({ id: knobId }) => knobId === target.id)?.value;
    case 'effect': {
      const found = effectsIn(patch).find(({ effect }) => effect.id === target.id && effect.kind === target.effectKind);
      return found && effectParam(found.effect, target.parameter.id);
    }
    case 'macro':
    case 'blend':
      return (
        (target.kind === 'macro' ? patch.macros : patch.blends).find(({ number }) => number === target.number)?.value ??
        0
      );
    case 'xy': {
      const pad = patch.xyPads.find(({ number }) => number === target.number);
      return pad && xyParam(pad, target.parameter.id as XyParameterId);
    }
    default: {
      const mover = patch.movers.find(({ kind, number }) => kind === target.kind && number === target.number);
      return mover && moverParam(mover, target.parameter.id);
    }
  }
}

export function reachOfRoute(patch: Patch, route: Route): Reach | undefined {
  const target = parseTarget(route.target);
  const rest = restOfTarget(patch, route.target);
  if (!target || rest === undefined) return undefined;
  const base = toNormal(target.parameter, rest);
  const { depth } = route;
  const [low, high] = isTwoSided(route) ? [base - depth, base + depth] : [base, base + depth];
  const turned = route.polarity === 'inverted';
  return {
    from: fromNormal(target.parameter, turned ? high : low),
    to: fromNormal(target.parameter, turned ? low : high),
  };
}

/** Rest and depth that give a route a wanted reach, in the target's unit: the other view of the same thing. */
export function depthFor(
  route: Pick<Route, 'source' | 'polarity'>,
  { parameter }: Target,
  from: number,
  to: number,
): { rest: number; depth: number } {
  const a = toNormal(parameter, route.polarity === 'inverted' ? to : from);
  const b = toNormal(parameter, route.polarity === 'inverted' ? from : to);
  const twoSided = isTwoSided(route);
  return { rest: fromNormal(parameter, twoSided ? (a + b) / 2 : a), depth: twoSided ? (b - a) / 2 : b - a };
}

/**
 * What moves a layer without a route, because layers are built so. `takesOff` names the switch of what the layer hears
 * that ends it.
 */
export interface BuiltIn {
  source: string;
  does: string;
  takesOff: keyof Layer['receive'];
}
export const BUILT_IN: readonly BuiltIn[] = [
  { source: 'bend', does: 'moves the pitch', takesOff: 'bend' },
  { source: 'cc.7', does: 'moves the volume', takesOff: 'expression' },
  { source: 'cc.11', does: 'moves the volume', takesOff: 'expression' },
  { source: 'cc.64', does: 'holds the notes', takesOff: 'sustain' },
  { source: 'cc.66', does: 'holds the notes', takesOff: 'sostenuto' },
];

/**
 * What moves the layers of a patch without a route, by the switch that ends it: by which controls, and which layers
 * hear them.
 */
export interface BuiltInMove {
  takesOff: BuiltIn['takesOff'];
  sources: string[];
  does: string;
  hear: Layer[];
  not: Layer[];
}
export function builtInMoves({ layers }: Pick<Patch, 'layers'>): BuiltInMove[] {
  return [...new Set(BUILT_IN.map(({ takesOff }) => takesOff))].map((takesOff) => {
    const all = BUILT_IN.filter((each) => each.takesOff === takesOff);
    return {
      takesOff,
      sources: all.map(({ source }) => source),
      does: all[0].does,
      hear: layers.filter(({ receive }) => receive[takesOff]),
      not: layers.filter(({ receive }) => !receive[takesOff]),
    };
  });
}

/**
 * Two jobs of one control: what still moves a layer as it came, although the control was given other work there.
 * `routeId`: a route that can be taken off; else a switch of the layer.
 */
export interface SecondJob {
  layerId: string;
  source: string;
  does: string;
  other: string;
  routeId: string | null;
  takesOff: keyof Layer['receive'] | null;
}

/**
 * Every control that does what it always does in a layer beside the work that it was given there: vibrato on the wheel,
 * volume, pedals.
 */
export function secondJobs(patch: Patch): SecondJob[] {
  return patch.layers.flatMap((layer) => {
    const prefix = `layer.${layer.id}.`;
    const given = new Map<string, string>();
    for (const window of [...layer.windows, ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? [])])
      given.set(window.source, 'a window');
    for (const route of patch.routes) {
      if (!route.on || typeof route.source !== 'string' || route.target === `${prefix}vibratoDepth`) continue;
      const target = parseTarget(route.target);
      if (
        target &&
        (target.kind === 'group'
          ? target.groupId === layer.groupId
          : target.kind !== 'layer' || target.layerId === layer.id)
      )
        given.set(route.source, target.kind === 'layer' ? target.parameter.label : labelOfTarget(patch, route.target));
    }
    const jobs: SecondJob[] = [];
    const vibrato = patch.routes.find(
      (route) => route.on && route.source === 'cc.1' && route.target === `${prefix}vibratoDepth` && route.depth !== 0,
    );
    if (vibrato && given.has('cc.1') && layer.receive.wheel)
      jobs.push({
        layerId: layer.id,
        source: 'cc.1',
        does: 'moves the vibrato',
        other: given.get('cc.1')!,
        routeId: vibrato.id,
        takesOff: null,
      });
    for (const { source, does, takesOff } of BUILT_IN)
      if (given.has(source) && layer.receive[takesOff])
        jobs.push({ layerId: layer.id, source, does, other: given.get(source)!, routeId: null, takesOff });
    return jobs;
  });
}

/** What people call a target: `high cut of Bowed Wire`, `macro 2 Swell`, `rate of Breath`. */
export function labelOfTarget(patch: Patch, id: TargetId): string {
  const target = parseTarget(id);
  if (!target) return id;
  switch (target.kind) {
    case 'layer':
      return `${target.parameter.label} of ${patch.layers.find((layer) => layer.id === target.layerId)?.name ?? 'a layer that is gone'}`;
    case 'group':
      return `${target.parameter.label} of ${patch.groups.find((group) => group.id === target.groupId)?.name ?? 'a group that is gone'}`;
    case 'main':
      return target.parameter.id === 'level' ? target.parameter.label : `${target.parameter.label} of main`;
    case 'pool':
      return `${target.parameter.label} of ${nameOfPlace(patch, `pool.${target.id}`)}`;
    case 'connection': {
      const connection = connectionsOf(patch).find((candidate) => candidate.id === target.id);
      return connection
        ? `${target.parameter.label} from ${nameOfPlace(patch, connection.from)} to ${nameOfPlace(patch, connection.to)}`
        : 'level of a connection that is gone';
    }
    case 'knob':
      return patch.knobs.find(({ id: knobId }) => knobId === target.id)?.name ?? 'a value outside that is gone';
    case 'effect': {
      const found = effectsIn(patch).find(({ effect }) => effect.id === target.id);
      return `${target.parameter.label} of ${effectKind(target.effectKind).label} on ${found ? nameOfPlace(patch, found.place) : 'a place that is gone'}`;
    }
    case 'macro':
    case 'blend':
      return labelIn(patch, id);
    case 'xy':
      return `${target.parameter.label} of ${patch.xyPads.find(({ number }) => number === target.number)?.name ?? `XY pad ${target.number}`}`;
    default:
      return `${target.parameter.label} of ${labelIn(patch, `${target.kind}.${target.number}`)}`;
  }
}

/** What people call a source in a patch: by the name it has there, where it has one. */
export function labelIn(patch: Patch, id: string): string {
  const source = parseSource(id);
  if (!source) return id;
  const named = (name: string | undefined): string => name || labelOfSource(id);
  switch (source.kind) {
    case 'macro':
      return named(patch.macros.find(({ number }) => number === source.index)?.name);
    case 'blend':
      return named(patch.blends.find(({ number }) => number === source.index)?.name);
    case 'xyX':
    case 'xyY':
      return `${patch.xyPads.find(({ number }) => number === source.index)?.name ?? `XY pad ${source.index}`} ${source.kind === 'xyX' ? 'x' : 'y'}`;
    case 'xyAnchor': {
      const pad = patch.xyPads.find(({ number }) => number === source.index);
      return pad ? `${pad.name}: ${pad.anchors[source.part - 1]?.name ?? `anchor ${source.part}`}` : labelOfSource(id);
    }
    default:
      return named(patch.movers.find(({ kind, number }) => kind === source.kind && number === source.index)?.name);
  }
}

/** The kinds of sound that a layer may play. */
export const kindsOf = (
  layer: Pick<Layer, 'soundId' | 'list'>,
  sounds: readonly Pick<Sound, 'id' | 'kind'>[],
): SoundKindId[] => [
  ...new Set(soundsOf(layer).map((id) => sounds.find((sound) => sound.id === id)?.kind ?? 'multisample')),
];

/** Whether a layer of a patch hears what comes in from outside. */
export const usesInput = (patch: Pick<Patch, 'layers'>, sounds: readonly Pick<Sound, 'id' | 'kind'>[]): boolean =>
  patch.layers.some((layer) => kindsOf(layer, sounds).includes('input'));

/** Everything in a patch that a route can move, for choosing from. */
export function targetsIn(patch: Patch, sounds: readonly Pick<Sound, 'id' | 'kind'>[]): TargetId[] {
  return [
    ...patch.layers.flatMap((layer) =>
      parametersFor(kindsOf(layer, sounds)).map(({ id }) => `layer.${layer.id}.${id}`),
    ),
    ...patch.groups.flatMap((group) => Object.keys(SECTIONS.group).map((id) => `group.${group.id}.${id}`)),
    ...effectsIn(patch).flatMap(({ effect }) =>
      Object.keys(SECTIONS[effect.kind]).map((id) => `${effect.kind}.${effect.id}.${id}`),
    ),
    ...patch.pools.flatMap((pool) => Object.keys(SECTIONS.pool).map((id) => `pool.${pool.id}.${id}`)),
    ...connectionsOf(patch).map(({ id }) => `connection.${id}.level`),
    ...patch.knobs.map(({ id }) => `knob.${id}.value`),
    'main.level',
    'main.width',
    ...patch.macros.map(({ number }) => `macro.${number}`),
    ...patch.blends.map(({ number }) => `blend.${number}`),
    ...patch.xyPads.flatMap(({ number }) => Object.keys(SECTIONS.xy).map((id) => `xy.${number}.${id}`)),
    ...patch.movers.flatMap(({ kind, number }) => Object.keys(SECTIONS[kind]).map((id) => `${kind}.${number}.${id}`)),
  ];
}

/** Every source that exists in a patch, for choosing from: what hands do, macros, pads, blends, movers. */
export function sourcesIn(
  patch: Patch,
): { id: string; label: string; group: 'hands' | 'notes' | 'macros' | 'pads' | 'blends' | 'movers' }[] {
  const plain = (group: 'hands' | 'notes', ids: readonly string[]) =>
    ids.map((id) => ({ id, label: labelOfSource(id), group }));
  return [
    ...patch.macros.map(({ number }) => ({
      id: `macro.${number}`,
      label: labelIn(patch, `macro.${number}`),
      group: 'macros' as const,
    })),
    ...patch.movers.map(({ kind, number }) => ({
      id: `${kind}.${number}`,
      label: labelIn(patch, `${kind}.${number}`),
      group: 'movers' as const,
    })),
    ...patch.xyPads.flatMap(({ number, anchors }) =>
      ['x', 'y', ...anchors.map((_, i) => `anchor.${i + 1}`)].map((part) => ({
        id: `xy.${number}.${part}`,
        label: labelIn(patch, `xy.${number}.${part}`),
        group: 'pads' as const,
      })),
    ),
    ...patch.blends.map(({ number }) => ({
      id: `blend.${number}`,
      label: labelIn(patch, `blend.${number}`),
      group: 'blends' as const,
    })),
    ...plain('hands', [
      'cc.1',
      'bend',
      'channelPressure',
      'cc.2',
      'cc.4',
      'cc.7',
      'cc.11',
      'cc.64',
      'cc.66',
      'cc.67',
      'cc.74',
    ]),
    ...plain('notes', [
      'velocity',
      'key',
      'pressure',
      'slide',
      'releaseVelocity',
      'random.1',
      'random.2',
      'scatter.1',
      'scatter.2',
    ]),
  ];
}
