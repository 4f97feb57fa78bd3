import { markAt, newEffect, newLayer, newMover, newPatch, newPool, newRoute } from '../../src/core/rig/defaults';
import type { EffectSpec, Layer, Mover, Patch, Route } from '../../src/core/rig/schema';
import { SOFTEST } from '../instruments/tools';
import { takeWithin, type Phrase } from './phrases';
import { PHOSPHOR, SYNTHS } from './sounds';

/** What a patch of the store is made from; everything else is the same for all of them. */
export interface Recipe {
  name: string;
  family: Family;
  tempo: number;
  notes: string;
  layers: readonly Layer[];
  /** Named by what one hears: where each starts, and what it moves how far. */
  macros: readonly (readonly [name: string, value: number, ...moves: Moves])[];
  wheel: Moves;
  pressure: Moves;
  /** How the strike moves what it does not move by itself. */
  velocity?: Moves;
  movers?: readonly Mover[];
  routes?: readonly Route[];
  groups?: Patch['groups'];
  /** Its space: the shared reverb, and how much goes there from each layer, or from those named. */
  space?: { params: EffectSpec['params']; level: number; from?: readonly string[]; more?: readonly EffectSpec[] };
  main?: readonly EffectSpec[];
  /** dB that bring its take to −21 LUFS: measured. */
  level: number;
  phrase: Phrase;
}
export type Move = readonly [target: string, depth: number];
type Moves = readonly Move[];

export const FAMILIES = [
  'struck keys',
  'plucked keys',
  'blown keys',
  'organs',
  'strings',
  'voices',
  'brass',
  'mallets',
  'basses',
  'leads',
  'pads',
  'kits',
  'textures',
] as const;
export type Family = (typeof FAMILIES)[number];

export const idOf = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]+/g, '-');

/** A layer of a sound, felt as an instrument of wood and wire is. */
export const layer = (
  n: number,
  id: string,
  soundId: string,
  name: string,
  params: Layer['params'],
  more: Partial<Layer> = {},
): Layer => {
  const made = newLayer(id, name, soundId, markAt(n));
  return { ...made, params, touch: { ...made.touch, outLow: SOFTEST }, ...more };
};

/** The same between two keys, or two velocities. */
export const within = (made: Layer, of: 'key' | 'velocity', low: number, high: number): Layer => ({
  ...made,
  windows: made.windows.map((window) => (window.source === of ? { ...window, low, high } : window)),
});

/** One at a time, going on to the next key. */
export const legato = (made: Layer, glide: number): Layer => ({
  ...made,
  path: { ...made.path, playing: 'legato' },
  params: { ...made.params, glide },
});

export const effect = (id: string, kind: string, params: EffectSpec['params'] = {}): EffectSpec => ({
  ...newEffect(id, kind),
  params,
});
export const through = (made: Layer, ...effects: EffectSpec[]): Layer => ({ ...made, effects });

/** A vibrato that strays, of each note: `onto` says what brings it. */
export const lfo = (number: number, name: string, params: Mover['params'], more: Partial<Mover> = {}): Mover => ({
  ...newMover('lfo', number, name),
  params,
  ...more,
});

/** Holds ten fingers at their hardest before the safety limiter has to. */
const held = (): EffectSpec => effect('held', 'limiter', { ceiling: -4.5 });

/** A layer with what its sound brings with it, and without the keys that no sample reaches from where it is moved to. */
function complete(made: Layer): Layer {
  const brought = [...SYNTHS, PHOSPHOR].find(({ id }) => id === made.soundId)?.params ?? {};
  const highest = 127 - Math.max(0, made.transpose);
  return {
    ...made,
    params: { ...brought, ...made.params },
    windows: made.windows.map((window) =>
      window.source === 'key' ? { ...window, high: Math.min(window.high, highest) } : window,
    ),
  };
}

export function patchOf(recipe: Recipe): Patch {
  const id = idOf(recipe.name);
  let n = 0;
  const routes = (source: Route['source'], moves: Moves): Route[] =>
    moves.map(([target, depth]) => newRoute(`r${++n}`, source, target, depth));
  const { space } = recipe;
  const from = space?.from ?? recipe.layers.map((each) => each.id);
  return {
    ...newPatch(id, recipe.name),
    tempo: recipe.tempo,
    notes: recipe.notes,
    takes: [takeWithin(recipe.phrase, recipe.tempo)],
    layers: recipe.layers.map(complete),
    groups: recipe.groups ?? [],
    macros: recipe.macros.map(([name, value], i) => ({ number: i + 1, name, value, style: 'strip' as const })),
    movers: [...(recipe.movers ?? [])],
    routes: [
      ...recipe.macros.flatMap(([, , ...moves], i) => routes(`macro.${i + 1}`, moves)),
      ...routes('cc.1', recipe.wheel),
      ...routes('channelPressure', recipe.pressure),
      ...routes('velocity', recipe.velocity ?? []),
      ...(recipe.routes ?? []),
    ],
    pools: space
      ? [
          newPool('space', 'Space', [
            effect('room', 'reverb', { predelay: 0.02, ...space.params }),
            ...(space.more ?? []),
          ]),
        ]
      : [],
    connections: space
      ? from.map((place) => ({
          id: `to-space-${place}`,
          kind: 'send' as const,
          from: place.includes('.') ? place : `layer.${place}`,
          to: 'pool.space',
          level: space.level,
          on: true,
          tap: 'after' as const,
        }))
      : [],
    main: { level: recipe.level, width: 100, effects: [...(recipe.main ?? []), held()] },
  };
}

/** What moves how much of a layer goes to the space. */
export const far = (layerId: string, depth: number): Move => [`connection.to-space-${layerId}.level`, depth];
