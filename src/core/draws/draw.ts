import { Chance } from '../dsp/chance';
import { kindsOf, restOfTarget } from '../rig/moves';
import { effectsIn } from '../rig/mix';
import { setRest } from '../rig/edits/moves';
import { updateLayer } from '../rig/edits/layers';
import { changePath } from '../rig/edits/paths';
import {
  fromNormal,
  GROUP_PARAMETERS,
  parametersFor,
  parseTarget,
  SECTIONS,
  toNormal,
  type Parameter,
  type TargetId,
} from '../rig/parameters';
import type { Layer, NotePath, Patch, Sound } from '../rig/schema';
import { MOST_CHANGES } from '../rig/limits';

/**
 * Draws of chance over the parameters of a patch: what is open is drawn anew within the part of each parameter's range
 * in which music is mostly made, as far as is asked; what is locked stays. The same seed gives
 * the same draw. Pure functions.
 */

/**
 * What can be drawn: a target, or what of a layer has no number: `layer.ID.pattern`, `layer.ID.harmony`,
 * `layer.ID.sound`.
 */
export type Drawable = TargetId;
/** The value before and after: a number in the target's unit, or of what has none its text. */
export type Change = readonly [what: Drawable, before: number | string, after: number | string];

export interface DrawOptions {
  /** 0…1 of each parameter's own musical range. */
  amount: number;
  seed: number;
  /** Ids of the sounds among which a layer may choose; absent: those of its own list. */
  sounds?: readonly string[];
}

/** The part of a parameter's range in which it is drawn, as shares of it. */
export function musicalRange(parameter: Parameter): [low: number, high: number] {
  const { sense } = parameter;
  return sense ? [toNormal(parameter, sense[0]), toNormal(parameter, sense[1])] : [0, 1];
}

/**
 * Where a draw of some amount may take a value that stands at `normal`: the whole musical range at 1, nowhere else at
 * 0.
 */
export function openRange(parameter: Parameter, normal: number, amount: number): [low: number, high: number] {
  const [low, high] = musicalRange(parameter);
  return [normal - amount * Math.max(0, normal - low), normal + amount * Math.max(0, high - normal)];
}

/** A drawn value in the parameter's unit. */
export function drawValue(parameter: Parameter, now: number, amount: number, chance: Chance): number {
  const normal = toNormal(parameter, now);
  const [low, high] = openRange(parameter, normal, amount);
  const share = chance.share();
  if (amount === 0 || high <= low) return now;
  if (parameter.law === 'steps') {
    const first = Math.ceil(fromNormalExact(parameter, low) - 1e-9),
      last = Math.floor(fromNormalExact(parameter, high) + 1e-9);
    return last <= first ? now : first + Math.min(last - first, Math.floor(share * (last - first + 1)));
  }
  return Number(fromNormal(parameter, low + share * (high - low)).toPrecision(6));
}
const fromNormalExact = ({ low, high }: Parameter, normal: number): number => low + (high - low) * normal;

/**
 * Parameters that draws leave alone wherever they are: how loud things are is for hands and ears, and so is what a note
 * is tuned to.
 */
const NEVER = new Set([
  'level',
  'transpose',
  'tune',
  'bendRange',
  'velocityToLevel',
  'choice',
  'touch',
  'reversed',
  'output',
  'width',
  'grainMost',
  'grainBy',
  'keyTrack',
]);

/** Everything that may be drawn of a layer: its parameters by the kind of its sound, and what of it has no number. */
export function drawablesOf(layer: Layer, sounds: readonly Pick<Sound, 'id' | 'kind'>[]): Drawable[] {
  const own = parametersFor(kindsOf(layer, sounds)).filter(({ id, reach }) => reach === 'note' && !NEVER.has(id));
  return [
    ...own
      .filter(({ id }) => !id.startsWith('arp') || layer.path.arpeggio.on)
      .map(({ id }) => `layer.${layer.id}.${id}`),
    ...(layer.path.arpeggio.on ? [`layer.${layer.id}.pattern`] : []),
    ...(layer.path.chord.on ? [`layer.${layer.id}.harmony`] : []),
    `layer.${layer.id}.sound`,
    ...layer.effects.flatMap((effect) =>
      Object.keys(SECTIONS[effect.kind]).map((id) => `${effect.kind}.${effect.id}.${id}`),
    ),
  ];
}

/**
 * What is drawn: everything, a group with its members, a layer, one section of it or one value, by the beginnings of
 * their names.
 */
export function drawablesIn(
  patch: Patch,
  scope: readonly string[],
  sounds: readonly Pick<Sound, 'id' | 'kind'>[],
): Drawable[] {
  const groups = patch.groups.flatMap((group) => [
    ...Object.keys(GROUP_PARAMETERS)
      .filter((id) => !NEVER.has(id))
      .map((id) => `group.${group.id}.${id}`),
    ...group.effects.flatMap((effect) =>
      Object.keys(SECTIONS[effect.kind]).map((id) => `${effect.kind}.${effect.id}.${id}`),
    ),
  ]);
  const all = [
    ...patch.layers.flatMap((layer) => drawablesOf(layer, sounds)),
    ...groups,
    ...patch.movers.flatMap(({ kind, number }) => Object.keys(SECTIONS[kind]).map((id) => `${kind}.${number}.${id}`)),
  ];
  if (scope.length === 0) return all;
  const places = new Map(effectsIn(patch).map(({ place, effect }) => [effect.id, place]));
  const members = new Map(
    patch.groups.map(({ id }) => [
      `group.${id}`,
      patch.layers.filter(({ groupId }) => groupId === id).map((layer) => `layer.${layer.id}`),
    ]),
  );
  const wanted = scope.flatMap((each) => [each, ...(members.get(each) ?? [])]);
  const inScope = (target: string): boolean =>
    wanted.some(
      (each) => target === each || target.startsWith(`${each}.`) || places.get(target.split('.')[1]) === each,
    );
  // A value that is asked for by its own name is drawn even where draws leave it alone by themselves.
  return [
    ...new Set([
      ...all.filter(inScope),
      ...scope.filter((each) => parseTarget(each) && restOfTarget(patch, each) !== undefined),
    ]),
  ];
}

export const isLocked = (patch: Pick<Patch, 'locks'>, what: Drawable): boolean =>
  patch.locks.some((lock) => what === lock || what.startsWith(`${lock}.`));

/** Locks something, or lets it go. */
export const setLock = (patch: Patch, what: string, on: boolean): Patch => ({
  ...patch,
  locks: on ? [...patch.locks.filter((lock) => lock !== what), what] : patch.locks.filter((lock) => lock !== what),
});

/** The value of something that can be drawn; undefined where there is no such thing. */
export function valueOfDrawable(patch: Patch, what: Drawable): number | string | undefined {
  const [kind, layerId, part] = what.split('.');
  const layer = kind === 'layer' ? patch.layers.find(({ id }) => id === layerId) : undefined;
  if (layer && part === 'pattern') return JSON.stringify(layer.path.arpeggio.pattern);
  if (layer && part === 'harmony') return JSON.stringify(layer.path.chord.notes);
  if (layer && part === 'sound') return layer.soundId;
  return restOfTarget(patch, what);
}

/** Puts a value where it belongs. What cannot be there leaves the patch as it is. */
export function putDrawable(patch: Patch, what: Drawable, value: number | string): Patch {
  const [, layerId, part] = what.split('.');
  if (typeof value === 'number') return setRest(patch, what, value);
  const onPath = (change: (path: NotePath) => NotePath) => changePath(patch, layerId, change);
  if (part === 'sound')
    return updateLayer(patch, layerId, (layer) => (layer.soundId === value ? layer : { ...layer, soundId: value }));
  try {
    const read: unknown = JSON.parse(value);
    if (!Array.isArray(read)) return patch;
    if (part === 'pattern')
      return onPath((path) => ({
        ...path,
        arpeggio: { ...path.arpeggio, pattern: read as NotePath['arpeggio']['pattern'] },
      }));
    if (part === 'harmony') return onPath((path) => ({ ...path, chord: { ...path.chord, notes: read as number[] } }));
  } catch {
    // What is no text of such a thing changes nothing.
  }
  return patch;
}

/**
 * Draws anew what is open. Gives the patch and what changed; a layer's sound only among `sounds`, or those of its own
 * list.
 */
export function draw(
  patch: Patch,
  open: readonly Drawable[],
  { amount, seed, sounds }: DrawOptions,
): { patch: Patch; changes: Change[] } {
  const changes: Change[] = [];
  let next = patch;
  for (const what of open) {
    // Each thing has chance of its own, so that a lock on one changes nothing of the others.
    const chance = new Chance(mixed(seed ^ hash(what)));
    if (isLocked(patch, what) || changes.length === MOST_CHANGES) continue;
    const before = valueOfDrawable(next, what);
    if (before === undefined) continue;
    const after = drawn(next, what, before, amount, chance, sounds);
    if (after === before) continue;
    const put = putDrawable(next, what, after);
    if (put === next) continue;
    next = put;
    changes.push([what, before, valueOfDrawable(next, what)!]);
  }
  return { patch: next, changes };
}

function drawn(
  patch: Patch,
  what: Drawable,
  before: number | string,
  amount: number,
  chance: Chance,
  sounds: readonly string[] | undefined,
): number | string {
  if (typeof before === 'number') return drawValue(parseTarget(what)!.parameter, before, amount, chance);
  const [, layerId, part] = what.split('.');
  const layer = patch.layers.find(({ id }) => id === layerId)!;
  if (part === 'sound') {
    const among = sounds ?? layer.list;
    return among.length === 0 || chance.share() >= amount ? before : among[chance.below(among.length)];
  }
  if (part === 'pattern') return JSON.stringify(drawPattern(layer.path.arpeggio.pattern, amount, chance));
  return JSON.stringify(drawHarmony(layer.path.chord.notes, amount, chance));
}

/** Each step is drawn anew with a likelihood: notes, ties and rests, how strong, in which octave, how likely. */
function drawPattern(
  pattern: NotePath['arpeggio']['pattern'],
  amount: number,
  chance: Chance,
): NotePath['arpeggio']['pattern'] {
  return pattern.map((step, i) => {
    const [anew, kind, strength, octave, likely] = [
      chance.share(),
      chance.share(),
      chance.share(),
      chance.share(),
      chance.share(),
    ];
    if (anew >= amount) return step;
    // The first step is a note: a pattern that is silent throughout is none.
    const made = i === 0 || kind < 0.66 ? ('note' as const) : kind < 0.8 ? ('tie' as const) : ('rest' as const);
    return {
      kind: made,
      velocity: [0.6, 0.8, 1, 1, 1.25][Math.floor(strength * 5)],
      octave: octave < 0.72 ? 0 : octave < 0.9 ? 1 : -1,
      chance: likely < 0.8 ? 1 : 0.5,
    };
  });
}

/** Notes of a chord that are drawn anew, each at an interval of its own. */
function drawHarmony(notes: readonly number[], amount: number, chance: Chance): number[] {
  const INTERVALS = [3, 4, 5, 7, 8, 9, 10, 12, 14, 15, 16, -5, -12];
  const made = notes.map((note) => {
    const [anew, which] = [chance.share(), chance.below(INTERVALS.length)];
    return anew < amount ? INTERVALS[which] : note;
  });
  return [...new Set(made)];
}

function hash(text: string): number {
  let x = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) x = Math.imul(x ^ text.charCodeAt(i), 0x01000193);
  return x;
}

/**
 * Spreads every bit over all (the finalizer of MurmurHash3, public domain): the generator is linear, and seeds side by
 * side would draw alike.
 */
function mixed(x: number): number {
  x = Math.imul(x ^ (x >>> 16), 0x85ebca6b);
  x = Math.imul(x ^ (x >>> 13), 0xc2b2ae35);
  return x ^ (x >>> 16);
}

/**
 * How many combinations there are of what is open and has a number of choices, and how many values move freely besides.
 */
export function combinationsOf(
  patch: Patch,
  open: readonly Drawable[],
  { amount, sounds }: Pick<DrawOptions, 'amount' | 'sounds'>,
): { combinations: number; free: number } {
  let combinations = 1;
  let free = 0;
  for (const what of open) {
    if (isLocked(patch, what)) continue;
    const value = valueOfDrawable(patch, what);
    if (value === undefined) continue;
    if (typeof value === 'number') {
      const { parameter } = parseTarget(what)!;
      const [low, high] = openRange(parameter, toNormal(parameter, value), amount);
      if (parameter.law === 'steps')
        combinations *= Math.max(
          1,
          Math.floor(fromNormalExact(parameter, high) + 1e-9) - Math.ceil(fromNormalExact(parameter, low) - 1e-9) + 1,
        );
      else if (high > low) free++;
      continue;
    }
    const [, layerId, part] = what.split('.');
    const layer = patch.layers.find(({ id }) => id === layerId)!;
    if (part === 'sound') combinations *= amount > 0 ? Math.max(1, (sounds ?? layer.list).length) : 1;
    else if (amount > 0)
      combinations *=
        part === 'pattern' ? 60 ** layer.path.arpeggio.pattern.length : 13 ** layer.path.chord.notes.length;
  }
  return { combinations, free };
}
