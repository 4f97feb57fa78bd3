import { levelsFor } from '../dsp/sample';
import { ratioOfSemitones } from '../music/pitch';
import { paramOf } from '../rig/defaults';
import { fromNormal, LAYER_PARAMETERS, levelGain, MAIN_PARAMETERS, parseTarget, toNormal } from '../rig/parameters';
import type { Layer, Patch, Route, Sample, Sound, Touch } from '../rig/schema';
import { namesOfFormula, parseFormula } from '../space/formula';
import { topologicalOrder } from '../space/order';
import { parseSource, type SourceId } from '../space/source';
import { FADE_SHAPES } from '../space/window';
import { EDGES, MOVED_PARAMETERS, type CompiledRoute, type Program, type ProgramLayer, type SampleRequest, type SourceSlot, type ZoneColumns } from './program';
import { buildStrikeTable } from './strikeTable';

/** What compiling looks at besides the patch. */
export interface CompileContext {
  sounds: readonly Sound[];
  samples: readonly Sample[];
  /** The learned range of the controller, for formulas. */
  keyLow: number;
  keyHigh: number;
}

/**
 * The program of a patch. Pure; throws a CycleError when routes move each other in a circle.
 * A layer whose sound is missing stays silent, it does not stop the others.
 */
export function compile(patch: Patch, context: CompileContext): Program {
  const soundById = new Map(context.sounds.map((sound) => [sound.id, sound]));
  const sounds = [...new Set(patch.layers.map((layer) => soundById.get(layer.soundId)).filter((sound) => sound !== undefined))];
  const slots = slotsOf(patch, context);
  const slotOf = new Map(slots.map((slot, i) => [slot.id, i]));
  const layers = patch.layers.map((layer) => compileLayer(layer, soundById.get(layer.soundId), patch, slotOf));
  const { zones, samples, firstZone } = columnsOf(sounds, patch.layers, context.samples);
  const table = buildStrikeTable(patch.layers.map((layer, i) => {
    const sound = soundById.get(layer.soundId);
    return { layer, touch: layers[i].touch, zones: sound?.zones ?? [], firstZone: sound ? firstZone.get(sound.id)! : 0 };
  }));
  return {
    patchId: patch.id, name: patch.name, sources: slots, layers, table, zones, samples,
    main: { baseNormal: toNormal(MAIN_PARAMETERS.level, patch.main.level), routes: routesTo(patch, 'main.level', slotOf) },
  };
}

const formulaKey = (formula: string): string => `= ${formula}`;
const slotIdOf = (source: Route['source']): string => (typeof source === 'string' ? source : formulaKey(source.formula));

/** Every source that windows, routes and formulas read, in topological order. */
function slotsOf(patch: Patch, { keyLow, keyHigh }: CompileContext): SourceSlot[] {
  const routes = patch.routes.filter((route) => route.on);
  const formulas = new Map<string, ReturnType<typeof parseFormula>>();
  const ids = new Set<SourceId>();
  for (const layer of patch.layers) for (const window of layer.windows) ids.add(window.source);
  for (const route of routes) {
    if (typeof route.source !== 'string') formulas.set(formulaKey(route.source.formula), parseFormula(route.source.formula));
    ids.add(slotIdOf(route.source));
    if (route.scaledBy) ids.add(route.scaledBy);
  }
  const moversOf = (id: string): string[] => {
    const formula = formulas.get(id);
    if (formula) return namesOfFormula(formula).filter((name) => parseSource(name));
    return routes.filter((route) => route.target === id).flatMap((route) => [slotIdOf(route.source), ...(route.scaledBy ? [route.scaledBy] : [])]);
  };
  const order = topologicalOrder([...ids, ...routes.map((route) => route.target).filter((id) => parseSource(id))], moversOf);
  const slotOf = new Map(order.map((id, i) => [id, i]));
  return order.map((id): SourceSlot => {
    const formula = formulas.get(id);
    if (formula) {
      const steps = formula.map((step) => (step.op !== 'name' || parseSource(step.name) ? step : { op: 'number' as const, value: step.name === 'keyLow' ? keyLow : keyHigh }));
      return { id, kind: 'formula', index: 0, low: 0, high: 1, base: 0, routes: [], formula: steps };
    }
    const { kind, index, low, high, rest } = parseSource(id)!;
    const share = (kind === 'macro' ? patch.macros : kind === 'blend' ? patch.blends : []).find((entry) => entry.number === index);
    return { id, kind, index, low, high, base: share?.value ?? rest, routes: routesTo(patch, id, slotOf), formula: null };
  });
}

function routesTo(patch: Patch, target: string, slotOf: ReadonlyMap<string, number>): CompiledRoute[] {
  return patch.routes.filter((route) => route.on && route.target === target).map((route) => ({
    source: slotOf.get(slotIdOf(route.source))!,
    depth: route.depth,
    curve: route.curve as CompiledRoute['curve'],
    inverted: route.polarity === 'inverted',
    scaledBy: route.scaledBy ? slotOf.get(route.scaledBy)! : -1,
  }));
}

function compileLayer(layer: Layer, sound: Sound | undefined, patch: Patch, slotOf: ReadonlyMap<string, number>): ProgramLayer {
  const touch = touchTable(layer.touch);
  const share = paramOf(layer, 'velocityToLevel') / 100;
  const sustain = paramOf(layer, 'sustain');
  return {
    id: layer.id, name: layer.name, on: layer.on,
    channel: layer.receive.channel === 'any' ? 0 : (layer.receive.channel as number),
    receive: layer.receive,
    transpose: layer.transpose,
    windows: layer.windows.map((window) => ({ ...window, source: slotOf.get(window.source)!, ofNote: parseSource(window.source)!.reach === 'note' })),
    baseNormals: MOVED_PARAMETERS.map((id) => toNormal(LAYER_PARAMETERS[id], paramOf(layer, id))),
    routes: MOVED_PARAMETERS.map((id) => routesTo(patch, parseTarget(`layer.${layer.id}.${id}`) ? `layer.${layer.id}.${id}` : '', slotOf)),
    envelope: {
      attack: paramOf(layer, 'attack'), decay: paramOf(layer, 'decay'), release: paramOf(layer, 'release'),
      sustain: levelGain(sustain, LAYER_PARAMETERS.sustain.low),
    },
    keyTrack: paramOf(layer, 'keyTrack') / 100,
    velocityTrack: paramOf(layer, 'velocityTrack'),
    bendRange: paramOf(layer, 'bendRange'),
    touch,
    velocityGain: Float32Array.from(touch, (velocity) => gainOfVelocity(velocity, share)),
    alternation: sound?.alternation ?? 'in-turn',
  };
}

/**
 * Level of a strike: 20·log10((velocity/127)²) dB at share 1 (SFZ v1, amp_veltrack 100), in proportion of the dB below that.
 * `velocity` 0…127, `share` 0…1.
 */
export const gainOfVelocity = (velocity: number, share: number): number => (velocity / 127) ** (2 * share);

/** The velocity a layer feels for each velocity as struck (index 0 is unused). */
export function touchTable({ curve, outLow, outHigh, fixed }: Touch): Uint8Array {
  const exponent = 2 ** (-2 * curve);
  return Uint8Array.from({ length: 128 }, (_, velocity) =>
    velocity === 0 ? 0 : (fixed ?? Math.round(outLow + (outHigh - outLow) * ((velocity - 1) / 126) ** exponent)));
}

/** Engines run at this many frames a second or more. */
const LOWEST_ENGINE_RATE = 44100;

function columnsOf(sounds: readonly Sound[], layers: readonly Layer[], samples: readonly Sample[]): { zones: ZoneColumns; samples: SampleRequest[]; firstZone: Map<string, number> } {
  const all = sounds.flatMap((sound) => sound.zones);
  const sampleOf = new Map(samples.map((sample) => [sample.id, sample]));
  const firstZone = new Map<string, number>();
  const lifts: number[] = [];
  let next = 0;
  for (const sound of sounds) {
    firstZone.set(sound.id, next);
    next += sound.zones.length;
    const users = layers.filter((layer) => layer.soundId === sound.id);
    lifts.push(Math.max(...users.map((layer) => (highestTune(layer) / 100) + paramOf(layer, 'bendRange'))));
  }
  const zones: ZoneColumns = {
    count: all.length,
    sample: new Int32Array(all.length), root: new Uint8Array(all.length), tune: new Float32Array(all.length),
    gainDb: new Float32Array(all.length), pan: new Float32Array(all.length), start: new Float64Array(all.length),
    end: new Float64Array(all.length), fullLength: new Uint8Array(all.length), edges: new Float32Array(all.length * EDGES),
  };
  const requests = new Map<string, SampleRequest & { place: number }>();
  let s = 0;
  all.forEach((zone, i) => {
    while (s < sounds.length - 1 && i >= firstZone.get(sounds[s + 1].id)!) s++;
    const highest = zone.key.high - zone.root + zone.tune / 100 + lifts[s];
    const sample = sampleOf.get(zone.sampleId);
    const levels = levelsFor((ratioOfSemitones(Math.max(0, highest)) * (sample?.rate ?? 0)) / LOWEST_ENGINE_RATE);
    const key = levels === 1 && !zone.loop && !zone.reverse ? zone.sampleId : `${zone.sampleId}${zone.reverse ? ' reversed' : ''}${zone.loop ? ` loop ${zone.loop.start}-${zone.loop.end}` : ''} ×${levels}`;
    let request = requests.get(key);
    if (!request) requests.set(key, (request = { key, sampleId: zone.sampleId, loop: zone.loop, reverse: zone.reverse, levels, place: requests.size }));
    const frames = sample?.frames ?? Infinity;
    const end = Math.min(zone.end ?? frames, frames);
    zones.sample[i] = request.place;
    zones.root[i] = zone.root;
    zones.tune[i] = zone.tune;
    zones.gainDb[i] = zone.gain;
    zones.pan[i] = zone.pan;
    zones.start[i] = zone.reverse ? frames - end : zone.start;
    zones.end[i] = zone.reverse ? frames - zone.start : end;
    zones.fullLength[i] = zone.playback === 'full-length' ? 1 : 0;
    [zone.key, zone.velocity].forEach((edge, e) => zones.edges.set([edge.low, edge.high, edge.fadeIn, edge.fadeOut, FADE_SHAPES.indexOf(edge.shape)], i * EDGES + e * 5));
  });
  return { zones, samples: [...requests.values()].map(({ place: _, ...request }) => request), firstZone };
}

/** The highest fine tune a layer's own value and its routes can reach; routes may take it anywhere, but most layers have none. */
const highestTune = (layer: Layer): number => Math.max(0, fromNormal(LAYER_PARAMETERS.tune, toNormal(LAYER_PARAMETERS.tune, paramOf(layer, 'tune'))));
