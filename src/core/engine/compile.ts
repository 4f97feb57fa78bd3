import { levelsFor } from '../dsp/sample';
import { paramOf } from '../rig/defaults';
import { fromNormal, LAYER_PARAMETERS, levelGain, MAIN_PARAMETERS, toNormal, type LayerParameterId } from '../rig/parameters';
import type { Layer, LayerWindow, Patch, Route, Sample, Sound, Touch, Zone, ZoneLoop } from '../rig/schema';
import { namesOfFormula, parseFormula } from '../space/formula';
import { topologicalOrder } from '../space/order';
import { parseSource, staysForNote, type SourceId } from '../space/source';
import { FADE_SHAPES } from '../space/window';
import { EDGES, MOVED_PARAMETERS, type CompiledRoute, type CompiledWindow, type Program, type ProgramLayer, type SampleRequest, type SourceSlot, type Voicing, type WindowSet, type ZoneColumns } from './program';
import { buildStrikeTable } from './strikeTable';
import { restsOf } from './voiceValues';

/** What compiling looks at besides the patch. */
export interface CompileContext {
  sounds: readonly Sound[];
  samples: readonly Sample[];
  /** The learned range of the controller, for formulas. */
  keyLow: number;
  keyHigh: number;
  /** Frames in a second of the engine's output; absent: {@link LOWEST_ENGINE_RATE} or more. */
  rate?: number;
}

/**
 * The program of a patch. Pure; throws a CycleError when routes move each other in a circle.
 * A layer whose sound is missing stays silent, it does not stop the others.
 */
export function compile(patch: Patch, context: CompileContext): Program {
  const soundById = new Map(context.sounds.map((sound) => [sound.id, sound]));
  const sounds = [...new Set(patch.layers.map((layer) => soundById.get(layer.soundId)).filter((sound) => sound !== undefined))];
  const slots = slotsOf(patch, sounds, context);
  const slotOf = new Map(slots.map((slot, i) => [slot.id, i]));
  const sets = new Map(sounds.map((sound) => [sound.id, valueSetsOf(sound)]));
  const layers = patch.layers.map((layer) => compileLayer(layer, soundById.get(layer.soundId), sets.get(layer.soundId)?.sets ?? [{}], patch, slotOf));
  const { zones, samples, firstZone } = columnsOf(sounds, patch, context, sets, slotOf);
  const tableOf = (trigger: Zone['trigger']) => buildStrikeTable(patch.layers.map((layer, i) => {
    const sound = soundById.get(layer.soundId);
    return { layer, touch: layers[i].touch, zones: sound?.zones ?? [], firstZone: sound ? firstZone.get(sound.id)! : 0 };
  }), trigger);
  const hasReleases = sounds.some((sound) => sound.zones.some((zone) => zone.trigger === 'release'));
  return {
    patchId: patch.id, name: patch.name, sources: slots, layers, table: tableOf('attack'), releaseTable: hasReleases ? tableOf('release') : null, zones, samples, sampleKeys: samples.map(({ key }) => key),
    sounds: sounds.map(({ id }) => ({ soundId: id, first: firstZone.get(id)! })),
    main: { baseNormal: toNormal(MAIN_PARAMETERS.level, patch.main.level), routes: routesTo(patch, 'main.level', slotOf) },
  };
}

const formulaKey = (formula: string): string => `= ${formula}`;
const slotIdOf = (source: Route['source']): string => (typeof source === 'string' ? source : formulaKey(source.formula));

/** Every source that windows, routes and formulas read, in topological order. */
function slotsOf(patch: Patch, sounds: readonly Sound[], { keyLow, keyHigh }: CompileContext): SourceSlot[] {
  const routes = patch.routes.filter((route) => route.on);
  const formulas = new Map<string, ReturnType<typeof parseFormula>>();
  const ids = new Set<SourceId>();
  for (const layer of patch.layers) for (const window of layer.windows) ids.add(window.source);
  for (const sound of sounds) for (const zone of sound.zones) for (const window of zone.windows) ids.add(window.source);
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

/** The different sets of values that a sound's zones have of their own, the empty one first, and which of them each zone has. */
function valueSetsOf(sound: Sound): { sets: Zone['params'][]; ofZone: number[] } {
  const places = new Map<string, number>([['', 0]]);
  const sets: Zone['params'][] = [{}];
  const ofZone = sound.zones.map(({ params }) => {
    if (isEmpty(params)) return 0;
    const key = keyOfValues(params);
    let place = places.get(key);
    if (place === undefined) {
      places.set(key, (place = sets.length));
      sets.push(params);
    }
    return place;
  });
  return { sets, ofZone };
}

const isEmpty = (params: Zone['params']): boolean => {
  for (const _ in params) return false;
  return true;
};

const keyOfValues = (params: Zone['params']): string => Object.entries(params).map(([id, value]) => `${id} ${value}`).sort().join(' ');

/** A window read at the strike only counts as such where its source would move on. */
function windowSetOf(windows: readonly LayerWindow[], slotOf: ReadonlyMap<string, number>): WindowSet {
  const set: WindowSet = { atStrike: [], followed: [] };
  for (const { source, read, ...range } of windows) {
    const fixed = staysForNote(parseSource(source)!.kind);
    const compiled: CompiledWindow = { ...range, source: slotOf.get(source)!, fixed };
    (read === 'at-strike' && !fixed ? set.atStrike : set.followed).push(compiled);
  }
  return set;
}

function compileLayer(layer: Layer, sound: Sound | undefined, sets: readonly Zone['params'][], patch: Patch, slotOf: ReadonlyMap<string, number>): ProgramLayer {
  return {
    id: layer.id, name: layer.name, on: layer.on,
    channel: layer.receive.channel === 'any' ? 0 : (layer.receive.channel as number),
    receive: layer.receive,
    transpose: layer.transpose,
    windows: windowSetOf(layer.windows, slotOf),
    routes: MOVED_PARAMETERS.map((id) => routesTo(patch, `layer.${layer.id}.${id}`, slotOf)),
    voicings: sets.map((set) => voicingOf(layer, set)),
    touch: touchTable(layer.touch),
    alternation: sound?.alternation ?? 'in-turn',
  };
}

function voicingOf(layer: Layer, set: Zone['params']): Voicing {
  const value = (id: LayerParameterId) => paramOf(layer, id, set);
  const share = value('velocityToLevel') / 100;
  const baseNormals = Float64Array.from(MOVED_PARAMETERS, (id) => toNormal(LAYER_PARAMETERS[id], value(id)));
  return {
    key: keyOfValues(set),
    baseNormals,
    rests: restsOf(baseNormals),
    envelope: {
      delay: value('delay'), startLevel: value('startLevel') / 100, attack: value('attack'), hold: value('hold'), decay: value('decay'), release: value('release'),
      sustain: levelGain(value('sustain'), LAYER_PARAMETERS.sustain.low),
    },
    keyTrack: value('keyTrack') / 100,
    velocityTrack: value('velocityTrack'),
    bendRange: value('bendRange'),
    velocityGain: Float32Array.from(touchTable(layer.touch), (velocity) => gainOfVelocity(velocity, share)),
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

/** Engines mostly run at this many frames a second or more. */
export const LOWEST_ENGINE_RATE = 44100;

function columnsOf(
  sounds: readonly Sound[], patch: Patch, { samples, rate = LOWEST_ENGINE_RATE }: CompileContext, sets: ReadonlyMap<string, { ofZone: number[] }>, slotOf: ReadonlyMap<string, number>,
): { zones: ZoneColumns; samples: SampleRequest[]; firstZone: Map<string, number> } {
  const { layers, routes } = patch;
  const count = sounds.reduce((sum, sound) => sum + sound.zones.length, 0);
  const lowestRate = Math.min(rate, LOWEST_ENGINE_RATE);
  const sampleOf = new Map(samples.map((sample) => [sample.id, sample]));
  const firstZone = new Map<string, number>();
  const zones: ZoneColumns = {
    count,
    sample: new Int32Array(count), root: new Uint8Array(count), tune: new Float32Array(count), semitonesPerKey: new Float32Array(count),
    gainDb: new Float32Array(count), pan: new Float32Array(count), start: new Float64Array(count),
    end: new Float64Array(count), fullLength: new Uint8Array(count), edges: new Float32Array(count * EDGES),
    voicing: new Uint16Array(count), chokeGroup: new Float64Array(count).fill(-1), chokedBy: new Float64Array(count).fill(-1), chokedFast: new Uint8Array(count),
    loopStart: new Float64Array(count), loopEnd: new Float64Array(count), loopCrossfade: new Float64Array(count), loopUntilRelease: new Uint8Array(count),
    windowSet: new Int32Array(count).fill(-1), windowSets: [],
  };
  const requests: SampleRequest[] = [];
  const placeOf = new Map<string, number>();
  let i = 0;
  for (const sound of sounds) {
    firstZone.set(sound.id, i);
    const users = layers.filter((layer) => layer.soundId === sound.id);
    const moves = users.some((layer) => movesLoops(layer, routes));
    const ofZone = sets.get(sound.id)!.ofZone;
    /** Semitones that tuning and bend add at most. */
    const liftOf = (params: Zone['params']) => Math.max(...users.map((layer) => highestTune(layer, patch) / 100 + paramOf(layer, 'bendRange', params)));
    /** Keys by which transposition takes a strike beyond the last key, on either side. */
    const beyond = Math.max(0, ...users.map((layer) => layer.transpose));
    const below = Math.max(0, ...users.map((layer) => -layer.transpose));
    const plainLift = liftOf({});
    sound.zones.forEach((zone, z) => {
      const sample = sampleOf.get(zone.sampleId);
      const frames = sample?.frames ?? Infinity;
      const end = Math.min(zone.end ?? frames, frames);
      // A zone that plays to its end whatever the key does would never end with a loop.
      const rings = zone.playback === 'full-length' || zone.trigger === 'release';
      const held = zone.loop && !rings ? loopUntil(zone.loop, frames, end) : null;
      const loop = held && asRead(held, zone.reverse ? frames : 0);
      const living = loop !== null && (moves || zone.loop!.until === 'release');
      const lift = zone.params.bendRange === undefined ? plainLift : liftOf(zone.params);
      const farthest = zone.pitchPerKey < 0 ? zone.key.low - (zone.key.low <= 0 ? below : 0) : zone.key.high + (zone.key.high >= 127 ? beyond : 0);
      const reach = Math.max(0, (farthest - zone.root) * (zone.pitchPerKey / 100));
      const levels = sample ? levelsFor(Math.max(0, reach + zone.tune / 100 + lift) / 12 + Math.log2(sample.rate / lowestRate)) : 1;
      const laid = living ? null : loop;
      const key = levels === 1 && !laid && !zone.reverse ? zone.sampleId
        : `${zone.sampleId}${zone.reverse ? ' reversed' : ''}${laid ? ` loop ${laid.start}-${laid.end}${laid.crossfade ? `~${laid.crossfade}` : ''}` : ''} ×${levels}`;
      let place = placeOf.get(key);
      if (place === undefined) {
        place = requests.push({ key, sampleId: zone.sampleId, loop: laid, reverse: zone.reverse, levels }) - 1;
        placeOf.set(key, place);
      }
      zones.sample[i] = place;
      zones.root[i] = zone.root;
      zones.tune[i] = zone.tune;
      zones.semitonesPerKey[i] = zone.pitchPerKey / 100;
      zones.gainDb[i] = zone.gain;
      zones.pan[i] = zone.pan;
      zones.start[i] = zone.reverse ? frames - end : zone.start;
      zones.end[i] = zone.reverse ? frames - zone.start : end;
      zones.fullLength[i] = rings ? 1 : 0;
      zones.voicing[i] = ofZone[z];
      if (zone.choke) {
        zones.chokeGroup[i] = zone.choke.group ?? -1;
        zones.chokedBy[i] = zone.choke.by ?? -1;
        zones.chokedFast[i] = zone.choke.fade === 'fast' ? 1 : 0;
      }
      if (living) {
        zones.loopStart[i] = loop.start;
        zones.loopEnd[i] = loop.end;
        zones.loopCrossfade[i] = loop.crossfade;
        zones.loopUntilRelease[i] = zone.loop!.until === 'release' ? 1 : 0;
      }
      if (zone.windows.length > 0) zones.windowSet[i] = zones.windowSets.push(windowSetOf(zone.windows, slotOf)) - 1;
      setEdge(zones.edges, i * EDGES, zone.key);
      setEdge(zones.edges, i * EDGES + 5, zone.velocity);
      i++;
    });
  }
  return { zones, samples: requests, firstZone };
}

function setEdge(edges: Float32Array, at: number, { low, high, fadeIn, fadeOut, shape }: Zone['key']): void {
  edges[at] = low;
  edges[at + 1] = high;
  edges[at + 2] = fadeIn;
  edges[at + 3] = fadeOut;
  edges[at + 4] = FADE_SHAPES.indexOf(shape);
}

/** A loop of a recording of `frames` frames in a zone that ends at `end`: nothing beyond the end is played, by the loop either. Null where none is left. */
function loopUntil(loop: ZoneLoop, frames: number, end: number): ZoneLoop | null {
  if (loop.end > frames || loop.start >= end) return null;
  return loop.end <= end ? loop : { ...loop, end, crossfade: Math.min(loop.crossfade, end - loop.start) };
}

/** A loop as the reader meets it: counted from the other end in a recording of `turned` frames that is turned round (0: it is not). */
const asRead = ({ start, end, crossfade }: ZoneLoop, turned: number): { start: number; end: number; crossfade: number } =>
  (turned > 0 ? { start: turned - end, end: turned - start, crossfade } : { start, end, crossfade });

/** Whether anything takes the loops of a layer's samples away from where they are. */
const movesLoops = (layer: Layer, routes: Patch['routes']): boolean => (['loopPosition', 'loopLength'] as const).some((id) =>
  paramOf(layer, id) !== LAYER_PARAMETERS[id].default || routes.some((route) => route.on && route.target === `layer.${layer.id}.${id}`));

/** The highest fine tune in cents that a layer's own value and its routes together can reach. */
function highestTune(layer: Layer, { routes }: Patch): number {
  let normal = toNormal(LAYER_PARAMETERS.tune, paramOf(layer, 'tune'));
  for (const route of routes) {
    if (!route.on || route.target !== `layer.${layer.id}.tune`) continue;
    // What goes to both sides of its middle lifts with either sign of its depth.
    const twoSided = [route.source, route.scaledBy].some((source) => source !== undefined && (typeof source !== 'string' || parseSource(source)!.low < 0));
    normal += twoSided ? Math.abs(route.depth) : Math.max(0, route.depth);
  }
  return Math.max(0, fromNormal(LAYER_PARAMETERS.tune, normal));
}
