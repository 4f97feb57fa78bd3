import { labelOfSource } from '../space/source';
import { LAYER_PARAMETERS, type LayerParameterId } from './parameters';
import type { Layer, Patch, Rig, Sound } from './schema';

/** What is different between two states of a rig, in a few words, and where it is seen. */
export interface Difference { what: string; place: Place }
export type Place = { view: 'control'; patchId: string; source: string | null } | { view: 'layers'; patchId: string; layerIds: string[] } | { view: 'sounds'; soundId: string; zones: number[] } | { view: 'rig' };

interface Named { id: string; name: string }
const quoted = ({ name }: { name: string }): string => `“${name.length > 40 ? `${name.slice(0, 39)}…` : name}”`;

/** Items that came, went or changed between two lists, by id; those that are the same object have not. */
function compared<T extends Named>(before: readonly T[], after: readonly T[]) {
  const old = new Map(before.map((item) => [item.id, item]));
  const ids = new Set(after.map(({ id }) => id));
  return {
    came: after.filter(({ id }) => !old.has(id)), went: before.filter(({ id }) => !ids.has(id)),
    changed: after.flatMap((item) => { const earlier = old.get(item.id); return earlier && earlier !== item ? [[earlier, item] as const] : []; }),
  };
}

const listed = (items: readonly { name: string }[]): string => (items.length > 2 ? `${items.length} of them` : items.map(quoted).join(' and '));

/** The first difference that a person would name. Undefined where the states are the same. */
export function differenceOf(before: Rig, after: Rig): Difference | undefined {
  if (before === after) return undefined;
  const sounds = compared(before.sounds, after.sounds);
  const patches = compared(before.patches, after.patches);
  if (patches.came.length > 0) return { what: `the new patch ${listed(patches.came)}`, place: { view: 'layers', patchId: patches.came[0].id, layerIds: [] } };
  if (patches.went.length > 0) return { what: `the end of the patch ${listed(patches.went)}`, place: { view: 'rig' } };
  if (sounds.came.length > 0) return { what: `the new sound ${listed(sounds.came)}`, place: { view: 'sounds', soundId: sounds.came[0].id, zones: [] } };
  if (sounds.went.length > 0) return { what: `the end of the sound ${listed(sounds.went)}`, place: { view: 'rig' } };
  if (patches.changed.length > 0) return inPatch(...patches.changed[0]);
  if (sounds.changed.length > 0) return inSound(...sounds.changed[0]);
  if (before.name !== after.name) return { what: 'the name of the rig', place: { view: 'rig' } };
  if (before.controllers !== after.controllers) return { what: 'the range of the controller', place: { view: 'rig' } };
  return { what: 'the order of the rig', place: { view: 'rig' } };
}

function inPatch(before: Patch, after: Patch): Difference {
  const at = (what: string, ...layerIds: string[]): Difference => ({ what, place: { view: 'layers', patchId: after.id, layerIds } });
  const layers = compared(before.layers, after.layers);
  if (layers.came.length > 0) return at(`the new layer ${listed(layers.came)}`, ...layers.came.map(({ id }) => id));
  if (layers.went.length > 0) return at(`the end of the layer ${listed(layers.went)}`);
  if (before.name !== after.name) return at(`the name of the patch, ${quoted(before)} before`);
  const inControl = (what: string, source: string | null = null): Difference => ({ what, place: { view: 'control', patchId: after.id, source } });
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
    return inControl(changed ? `${what} ${changed.number} ${quoted(changed)}` : `the order of the ${what}s`, changed ? idOf(changed) : null);
  }
  if (layers.changed.length > 1) return at(`${common(layers.changed)} of ${listed(layers.changed.map(([, layer]) => layer))}`, ...layers.changed.map(([, { id }]) => id));
  if (layers.changed.length === 1) return at(inLayer(...layers.changed[0]), layers.changed[0][1].id);
  if (before.routes !== after.routes) return inControl('what moves what');
  if (before.main !== after.main) return at('the main level');
  if (before.layers !== after.layers) return at('the order of the layers');
  if (before.tempo !== after.tempo) return at('the tempo');
  return at(`a change of the patch ${quoted(after)}`);
}

const common = (pairs: readonly (readonly [Layer, Layer])[]): string => {
  const words = new Set(pairs.map(([before, after]) => partOf(before, after)));
  return words.size === 1 ? [...words][0] : 'a change';
};

const inLayer = (before: Layer, after: Layer): string => (before.name !== after.name ? `the name of a layer, ${quoted(before)} before` : `${partOf(before, after)} of ${quoted(after)}`);

function partOf(before: Layer, after: Layer): string {
  if (before.on !== after.on) return after.on ? 'the end of muting' : 'the muting';
  if (before.soundId !== after.soundId) return 'the sound';
  if (before.transpose !== after.transpose) return 'the transposition';
  if (before.mark !== after.mark) return 'the mark';
  if (before.windows !== after.windows) {
    const window = after.windows.find((each) => !before.windows.includes(each)) ?? before.windows.find((each) => !after.windows.includes(each));
    return window ? `the window on ${labelOfSource(window.source)}` : 'the windows';
  }
  if (before.params !== after.params) {
    const ids = (Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter((id) => before.params[id] !== after.params[id]);
    return ids.length === 1 ? `the ${LAYER_PARAMETERS[ids[0]].label}` : 'some values';
  }
  if (before.receive !== after.receive) return 'what is heard';
  return before.touch !== after.touch ? 'the touch' : 'a change';
}

function inSound(before: Sound, after: Sound): Difference {
  const changed = after.zones.flatMap((zone, i) => (before.zones[i] === zone ? [] : [i]));
  const at = (what: string, zones: number[] = []): Difference => ({ what, place: { view: 'sounds', soundId: after.id, zones } });
  if (before.name !== after.name) return at(`the name of the sound, ${quoted(before)} before`);
  const count = after.zones.length - before.zones.length;
  const counted = (n: number) => `${n} ${n === 1 ? 'zone' : 'zones'}`;
  if (count > 0) return at(`${counted(count)} more in ${quoted(after)}`, changed);
  if (count < 0) return at(`the end of ${counted(-count)} of ${quoted(after)}`);
  if (changed.length > 0) return at(`a change of ${counted(changed.length)} of ${quoted(after)}`, changed);
  return at(`how alternates of ${quoted(after)} take turns`);
}
