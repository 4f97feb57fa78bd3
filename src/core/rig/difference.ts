import { labelOfSource } from '../space/source';
import { effectKind } from '../effects';
import { connectionsOf, effectsIn, nameOfPlace } from './mix';
import { GROUP_PARAMETERS, MAIN_PARAMETERS, type LayerParameterId, type Parameter } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import type { Layer, Patch, PatchContent, Rig, Sound } from './schema';

/** What is different between two states of a rig, in a few words, and where it is seen. */
export interface Difference {
  what: string;
  place: Place;
}
export type Place =
  | { view: 'mix'; patchId: string; chosen: { kind: 'effect' | 'connection' | 'place'; id: string } | null }
  | { view: 'control'; patchId: string; source: string | null }
  | { view: 'layers'; patchId: string; layerIds: string[] }
  | { view: 'sounds'; soundId: string; zones: number[] }
  | { view: 'rig' };

interface Named {
  id: string;
  name: string;
}
const quoted = ({ name }: { name: string }): string => `“${name.length > 40 ? `${name.slice(0, 39)}…` : name}”`;

/** Items that came, went or changed between two lists, by id; those that are the same object have not. */
function compared<T extends Named>(before: readonly T[], after: readonly T[]) {
  const old = new Map(before.map((item) => [item.id, item]));
  const ids = new Set(after.map(({ id }) => id));
  return {
    came: after.filter(({ id }) => !old.has(id)),
    went: before.filter(({ id }) => !ids.has(id)),
    changed: after.flatMap((item) => {
      const earlier = old.get(item.id);
      return earlier && earlier !== item ? [[earlier, item] as const] : [];
    }),
  };
}

const listed = (items: readonly { name: string }[]): string =>
  items.length > 2 ? `${items.length} of them` : items.map(quoted).join(' and ');

/** The first difference that a person would name. Undefined where the states are the same. */
export function differenceOf(before: Rig, after: Rig): Difference | undefined {
  if (before === after) return undefined;
  const sounds = compared(before.sounds, after.sounds);
  const patches = compared(before.patches, after.patches);
  if (patches.came.length > 0)
    return {
      what: `the new patch ${listed(patches.came)}`,
      place: { view: 'layers', patchId: patches.came[0].id, layerIds: [] },
    };
  if (patches.went.length > 0) return { what: `the end of the patch ${listed(patches.went)}`, place: { view: 'rig' } };
  if (sounds.came.length > 0)
    return {
      what: `the new sound ${listed(sounds.came)}`,
      place: { view: 'sounds', soundId: sounds.came[0].id, zones: [] },
    };
  if (sounds.went.length > 0) return { what: `the end of the sound ${listed(sounds.went)}`, place: { view: 'rig' } };
  if (patches.changed.length > 0) return inPatch(...patches.changed[0]);
  if (sounds.changed.length > 0) return inSound(...sounds.changed[0]);
  if (before.name !== after.name) return { what: 'the name of the rig', place: { view: 'rig' } };
  if (before.controllers !== after.controllers) return { what: 'the range of the controller', place: { view: 'rig' } };
  if (before.pairs !== after.pairs) return { what: 'the pairs of outputs', place: { view: 'rig' } };
  if (before.click !== after.click) return { what: 'the click', place: { view: 'rig' } };
  if (before.pitch.a4 !== after.pitch.a4) return { what: 'concert pitch', place: { view: 'rig' } };
  const instruments = compared(before.instruments, after.instruments);
  if (instruments.came.length > 0)
    return { what: `the new instrument outside ${listed(instruments.came)}`, place: { view: 'rig' } };
  if (instruments.went.length > 0)
    return { what: `the end of the instrument outside ${listed(instruments.went)}`, place: { view: 'rig' } };
  if (instruments.changed.length > 0)
    return { what: `the instrument outside ${quoted(instruments.changed[0][1])}`, place: { view: 'rig' } };
  if (before.pitch !== after.pitch) return { what: 'the tuning of the rig', place: { view: 'rig' } };
  return { what: 'the order of the rig', place: { view: 'rig' } };
}

/** What has nothing in it that is worth a name of its own, and the view where it is seen. */
const WHOLES: readonly (readonly [keyof Patch, string, 'layers' | 'control'])[] = [
  ['knobs', 'a value of an instrument outside', 'control'],
  ['told', 'what instruments outside are told', 'control'],
  ['layers', 'the order of the layers', 'layers'],
  ['tempo', 'the tempo', 'layers'],
  ['a4', 'the concert pitch of the patch', 'layers'],
  ['tuning', 'the tuning of the patch', 'layers'],
];

function inPatch(before: Patch, after: Patch): Difference {
  const at = (what: string, ...layerIds: string[]): Difference => ({
    what,
    place: { view: 'layers', patchId: after.id, layerIds },
  });
  const layers = compared(before.layers, after.layers);
  if (before.version !== after.version || before.versions.length !== after.versions.length)
    return at(versionsChanged(before, after));
  if (layers.came.length > 0) return at(`the new layer ${listed(layers.came)}`, ...layers.came.map(({ id }) => id));
  if (layers.went.length > 0) return at(`the end of the layer ${listed(layers.went)}`);
  if (before.name !== after.name) return at(`the name of the patch, ${quoted(before)} before`);
  const groups = compared(before.groups, after.groups);
  const chains = groups.changed.length > 0 || before.routes !== after.routes ? inMix(before, after) : undefined;
  if (chains) return chains;
  if (groups.came.length > 0) return at(`the new group ${listed(groups.came)}`);
  if (groups.went.length > 0) return at(`the end of the group ${listed(groups.went)}`);
  if (groups.changed.length > 0) return at(`a change of the group ${quoted(groups.changed[0][1])}`);
  const inControl = (what: string, source: string | null = null): Difference => ({
    what,
    place: { view: 'control', patchId: after.id, source },
  });
  const lists = [
    ['macro', before.macros, after.macros, (each: { number: number }) => `macro.${each.number}`],
    ['mover', before.movers, after.movers, (each: { number: number; kind?: string }) => `${each.kind}.${each.number}`],
    ['XY pad', before.xyPads, after.xyPads, (each: { number: number }) => `xy.${each.number}`],
    ['blend', before.blends, after.blends, (each: { number: number }) => `blend.${each.number}`],
  ] as const;
  for (const [what, old, now, idOf] of lists) {
    if (old === now) continue;
    const came = now.find((each) => !old.some((other) => idOf(other) === idOf(each)));
    if (came) return inControl(`the new ${what} ${quoted(came)}`, idOf(came));
    const went = old.find((each) => !now.some((other) => idOf(other) === idOf(each)));
    if (went) return inControl(`the end of the ${what} ${quoted(went)}`);
    const changed = now.find((each) => !(old as readonly unknown[]).includes(each));
    return inControl(
      changed ? `${what} ${changed.number} ${quoted(changed)}` : `the order of the ${what}s`,
      changed ? idOf(changed) : null,
    );
  }
  const mixed = inMix(before, after);
  if (mixed) return mixed;
  if (layers.changed.length > 1)
    return at(
      `${common(layers.changed)} of ${listed(layers.changed.map(([, layer]) => layer))}`,
      ...layers.changed.map(([, { id }]) => id),
    );
  if (layers.changed.length === 1) return at(inLayer(...layers.changed[0]), layers.changed[0][1].id);
  if (before.routes !== after.routes) return inControl('what moves what');
  const whole = WHOLES.find(([part]) => before[part] !== after[part]);
  if (whole) return whole[2] === 'control' ? inControl(whole[1]) : at(whole[1]);
  return at(`a change of the patch ${quoted(after)}`);
}

/** What is different in the mix, in takes, and in what plays along; undefined where nothing is. */
function inMix(before: Patch, after: Patch): Difference | undefined {
  const at = (what: string, chosen: Extract<Place, { view: 'mix' }>['chosen'] = null): Difference => ({
    what,
    place: { view: 'mix', patchId: after.id, chosen },
  });
  const old = effectsIn(before),
    now = effectsIn(after);
  const nameOf = ({ effect, place }: (typeof now)[number], patch: Patch) =>
    `the ${effectKind(effect.kind).label} on ${quoted({ name: nameOfPlace(patch, place) })}`;
  const came = now.find(({ effect }) => !old.some((other) => other.effect.id === effect.id));
  if (came) return at(`${nameOf(came, after).replace('the ', 'a new ')}`, { kind: 'effect', id: came.effect.id });
  const went = old.find(({ effect }) => !now.some((other) => other.effect.id === effect.id));
  if (went) return at(`the end of ${nameOf(went, before)}`, { kind: 'place', id: went.place });
  const changed = now.find(({ effect }) => !old.some((other) => other.effect === effect));
  if (changed) {
    const earlier = old.find(({ effect }) => effect.id === changed.effect.id)!.effect;
    const { parameters } = effectKind(changed.effect.kind);
    const ids = Object.keys(parameters).filter((id) => earlier.params[id] !== changed.effect.params[id]);
    const part =
      earlier.on !== changed.effect.on
        ? changed.effect.on
          ? 'switching on'
          : 'switching off'
        : ids.length === 1
          ? parameters[ids[0]].label
          : 'a change';
    return at(`${part} of ${nameOf(changed, after)}`, { kind: 'effect', id: changed.effect.id });
  }
  const moved = now.find(({ place, effect }, i) => old[i]?.effect.id !== effect.id || old[i].place !== place);
  if (moved) return at(`the place of ${nameOf(moved, after)}`, { kind: 'effect', id: moved.effect.id });
  const pools = compared(before.pools, after.pools);
  if (pools.came.length > 0)
    return at(`the new shared effect ${listed(pools.came)}`, { kind: 'place', id: `pool.${pools.came[0].id}` });
  if (pools.went.length > 0) return at(`the end of the shared effect ${listed(pools.went)}`);
  if (pools.changed.length > 0)
    return at(`a change of the shared effect ${quoted(pools.changed[0][1])}`, {
      kind: 'place',
      id: `pool.${pools.changed[0][1].id}`,
    });
  if (before.connections !== after.connections) {
    const [was, is] = [connectionsOf(before), connectionsOf(after)];
    const other =
      is.find((each) => {
        const same = was.find(({ id }) => id === each.id);
        return !same || JSON.stringify(same) !== JSON.stringify(each);
      }) ?? was.find((each) => !is.some(({ id }) => id === each.id));
    if (other)
      return at(
        `the way from ${quoted({ name: nameOfPlace(after, other.from) })} to ${quoted({ name: nameOfPlace(after, other.to) })}`,
        is.some(({ id }) => id === other.id) ? { kind: 'connection', id: other.id } : null,
      );
  }
  if (before.main.level !== after.main.level) return at('the main level', { kind: 'place', id: 'main' });
  if (before.main.width !== after.main.width) return at('the width of main', { kind: 'place', id: 'main' });
  const takes = compared(before.takes, after.takes);
  if (takes.came.length > 0) return at(`the new take ${listed(takes.came)}`);
  if (takes.went.length > 0) return at(`the end of the take ${listed(takes.went)}`);
  if (takes.changed.length > 0) return at(`a change of the take ${quoted(takes.changed[0][1])}`);
  if (before.backing !== after.backing) return at('what plays along');
  return before.front !== after.front ? at('the strips on the front') : undefined;
}

function versionsChanged(before: Patch, after: Patch): string {
  const name = ({ versions, version }: Patch) => versions.find(({ id }) => id === version)?.name ?? '';
  if (before.versions.length < after.versions.length) return `version ${name(after)} to compare`;
  return before.versions.length > after.versions.length
    ? 'the end of a version'
    : `version ${name(after)} instead of ${name(before)}`;
}

const common = (pairs: readonly (readonly [Layer, Layer])[]): string => {
  const words = new Set(pairs.map(([before, after]) => partOf(before, after)));
  return words.size === 1 ? [...words][0] : 'a change';
};

const inLayer = (before: Layer, after: Layer): string =>
  before.name !== after.name
    ? `the name of a layer, ${quoted(before)} before`
    : `${partOf(before, after)} of ${quoted(after)}`;

function partOf(before: Layer, after: Layer): string {
  if (before.on !== after.on) return after.on ? 'the end of muting' : 'the muting';
  if (before.soundId !== after.soundId) return 'the sound';
  if (before.transpose !== after.transpose) return 'the transposition';
  if (before.mark !== after.mark) return 'the mark';
  if (before.windows !== after.windows) {
    const window =
      after.windows.find((each) => !before.windows.includes(each)) ??
      before.windows.find((each) => !after.windows.includes(each));
    return window ? `the window on ${labelOfSource(window.source)}` : 'the windows';
  }
  if (before.params !== after.params) {
    const ids = (Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter(
      (id) => before.params[id] !== after.params[id],
    );
    return ids.length === 1 ? `the ${LAYER_PARAMETERS[ids[0]].label}` : 'some values';
  }
  if (before.receive !== after.receive) return 'what is heard';
  if (before.path !== after.path)
    return before.path.arpeggio !== after.path.arpeggio
      ? 'the arpeggio'
      : before.path.scale !== after.path.scale
        ? 'the scale'
        : before.path.chord !== after.path.chord
          ? 'the chord'
          : 'the way of its notes';
  if (before.groupId !== after.groupId) return 'the group';
  return before.touch !== after.touch ? 'the touch' : 'a change';
}

function inSound(before: Sound, after: Sound): Difference {
  const changed = after.zones.flatMap((zone, i) => (before.zones[i] === zone ? [] : [i]));
  const at = (what: string, zones: number[] = []): Difference => ({
    what,
    place: { view: 'sounds', soundId: after.id, zones },
  });
  if (before.name !== after.name) return at(`the name of the sound, ${quoted(before)} before`);
  const count = after.zones.length - before.zones.length;
  const counted = (n: number) => `${n} ${n === 1 ? 'zone' : 'zones'}`;
  if (count > 0) return at(`${counted(count)} more in ${quoted(after)}`, changed);
  if (count < 0) return at(`the end of ${counted(-count)} of ${quoted(after)}`);
  if (changed.length > 0) return at(`a change of ${counted(changed.length)} of ${quoted(after)}`, changed);
  return at(`how alternates of ${quoted(after)} take turns`);
}

/** Says a parameter's value in words. */
export type Say = (parameter: Parameter, value: number) => string;

/**
 * Everything in which two states of a patch differ, a line each, from what was to what is: layers and groups that came
 * or went, what is otherwise in those that stayed, value by value, and what moves what.
 */
export function differencesOf(before: PatchContent, after: PatchContent, say: Say): string[] {
  const found: string[] = [];
  const both = <T extends { id: string; name: string }>(
    what: string,
    old: readonly T[],
    now: readonly T[],
    inside: (a: T, b: T) => void,
  ) => {
    const { came, went, changed } = compared(old, now);
    for (const each of came) found.push(`${what} ${quoted(each)} has come`);
    for (const each of went) found.push(`${what} ${quoted(each)} has gone`);
    for (const [a, b] of changed) inside(a, b);
  };
  const values = <Id extends string>(
    name: string,
    parameters: Readonly<Record<Id, Parameter>>,
    old: Partial<Record<Id, number>>,
    now: Partial<Record<Id, number>>,
  ) => {
    for (const id of Object.keys(parameters) as Id[]) {
      const parameter = parameters[id];
      const [a, b] = [old[id] ?? parameter.default, now[id] ?? parameter.default];
      if (a !== b) found.push(`${name}: ${parameter.label} ${say(parameter, a)} → ${say(parameter, b)}`);
    }
  };
  const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);
  both('the layer', before.layers, after.layers, (a, b) => {
    values(b.name, LAYER_PARAMETERS, a.params, b.params);
    if (a.transpose !== b.transpose) found.push(`${b.name}: transposition ${a.transpose} → ${b.transpose}`);
    if (a.soundId !== b.soundId || !same(a.list, b.list)) found.push(`${b.name}: another sound`);
    if (a.on !== b.on) found.push(`${b.name}: ${b.on ? 'no longer muted' : 'muted'}`);
    if (a.groupId !== b.groupId) found.push(`${b.name}: another group`);
    for (const [what, x, y] of [
      ['windows', a.windows, b.windows],
      ['touch', a.touch, b.touch],
      ['what it hears', a.receive, b.receive],
      ['scale', a.path.scale, b.path.scale],
      ['chord', a.path.chord, b.path.chord],
      ['arpeggio', a.path.arpeggio, b.path.arpeggio],
    ] as const)
      if (!same(x, y)) found.push(`${b.name}: other ${what}`);
    if (a.path.playing !== b.path.playing) found.push(`${b.name}: ${a.path.playing} → ${b.path.playing}`);
  });
  both('the group', before.groups, after.groups, (a, b) => {
    values(b.name, GROUP_PARAMETERS, a.params, b.params);
    if (!same(a.windows, b.windows)) found.push(`${b.name}: other windows`);
  });
  const placed = (patch: PatchContent) =>
    new Map(effectsIn(patch).map(({ place, effect }) => [effect.id, { place, effect }]));
  const [oldEffects, newEffects] = [placed(before), placed(after)];
  const nameOf = (patch: PatchContent, { place, effect }: { place: string; effect: { kind: string } }) =>
    `${effectKind(effect.kind).label} on ${quoted({ name: nameOfPlace(patch, place) })}`;
  for (const [id, each] of newEffects) if (!oldEffects.has(id)) found.push(`${nameOf(after, each)} has come`);
  for (const [id, each] of oldEffects) {
    const now = newEffects.get(id);
    if (!now) {
      found.push(`${nameOf(before, each)} has gone`);
      continue;
    }
    if (now.effect === each.effect && now.place === each.place) continue;
    if (now.place !== each.place)
      found.push(`${nameOf(before, each)} is on ${quoted({ name: nameOfPlace(after, now.place) })} now`);
    values(nameOf(after, now), effectKind(now.effect.kind).parameters, each.effect.params, now.effect.params);
    if (now.effect.on !== each.effect.on) found.push(`${nameOf(after, now)}: ${now.effect.on ? 'on' : 'off'}`);
    if (!same(now.effect.steps, each.effect.steps)) found.push(`${nameOf(after, now)}: other steps`);
    if (now.effect.listens !== each.effect.listens || now.effect.sampleId !== each.effect.sampleId)
      found.push(`${nameOf(after, now)}: works with something else`);
  }
  for (const [what, x, y] of [
    [
      'shared effects',
      before.pools.map(({ effects: _, ...pool }) => pool),
      after.pools.map(({ effects: _, ...pool }) => pool),
    ],
    ['ways of the sound', before.connections, after.connections],
    ['takes', before.takes, after.takes],
    ['what plays along', before.backing, after.backing],
  ] as const)
    if (!same(x, y)) found.push(`other ${what}`);
  if (before.main.level !== after.main.level)
    found.push(
      `main level ${say(MAIN_PARAMETERS.level, before.main.level)} → ${say(MAIN_PARAMETERS.level, after.main.level)}`,
    );
  if (before.tempo !== after.tempo) found.push(`tempo ${before.tempo} → ${after.tempo}`);
  for (const [what, x, y] of [
    ['macros', before.macros, after.macros],
    ['movers', before.movers, after.movers],
    ['XY pads', before.xyPads, after.xyPads],
    ['blends', before.blends, after.blends],
    ['routes', before.routes, after.routes],
    ['values of instruments outside', before.knobs, after.knobs],
    ['messages to instruments outside', before.told, after.told],
  ] as const)
    if (!same(x, y)) found.push(`other ${what}`);
  if (
    before.layers.length === after.layers.length &&
    before.layers.some((layer, i) => layer.id !== after.layers[i].id) &&
    before.layers.every((layer) => after.layers.some(({ id }) => id === layer.id))
  )
    found.push('another order of layers');
  return found;
}
