import { tunedBy, type TunedKeys } from '../../../music/tunings';
import { levelsFor } from '../../../dsp/sample';
import { paramOf, soundsOf } from '../../../rig/defaults';
import { fromNormal, toNormal, type LayerParameterId } from '../../../rig/parameters';
import { LAYER_PARAMETERS } from '../../../rig/layerParameters';
import type { Layer, Patch, Sample, Sound, Zone, ZoneLoop } from '../../../rig/schema';
import { kindOf, type CompiledSound } from './kinds';
import { parseSource } from '../../../space/source';
import { FADE_SHAPES } from '../../../space/window';
import { EDGES, type SampleRequest, type ZoneColumns } from '../program';
import { windowSetOf } from './windows';

/** Engines mostly run at this many frames a second or more. */
export const LOWEST_ENGINE_RATE = 44100;

/** Semitones by which a tuning moves a zone up at the most, over its keys and as far as it is transposed. */
function tunedReach({ key, root, pitchPerKey }: Zone, tuned: TunedKeys | null, farthest: number): number {
  let most = 0;
  if (tuned === null) return most;
  const last = Math.max(Math.floor(key.high), farthest);
  for (let k = Math.min(Math.ceil(key.low), farthest); k <= last; k++)
    most = Math.max(most, (k - root + tunedBy(tuned, k)) * (pitchPerKey / 100));
  return most;
}

/**
 * The zones of all sounds in use, column by column, and the samples that they need. `voicingOf` gives the place of a
 * zone's own values among the voicings.
 */
export function columnsOf(
  sounds: readonly CompiledSound[],
  patch: Patch,
  {
    samples,
    rate = LOWEST_ENGINE_RATE,
    farBend,
    tuned,
  }: { samples: readonly Sample[]; rate?: number; farBend: number; tuned: readonly (TunedKeys | null)[] },
  voicingOf: (sound: CompiledSound, zone: number) => number,
  slotOf: ReadonlyMap<string, number>,
  specOf: ReadonlyMap<string, number>,
): { zones: ZoneColumns; samples: SampleRequest[]; firstZone: Map<string, number> } {
  const { layers } = patch;
  const count = sounds.reduce((sum, sound) => sum + sound.zones.length, 0);
  const lowestRate = Math.min(rate, LOWEST_ENGINE_RATE);
  const sampleOf = new Map(samples.map((sample) => [sample.id, sample]));
  const firstZone = new Map<string, number>();
  const zones: ZoneColumns = {
    count,
    sample: new Int32Array(count),
    kind: new Uint8Array(count),
    spec: new Int16Array(count).fill(-1),
    fadeIn: new Float32Array(count),
    fadeOut: new Float32Array(count),
    turned: new Int32Array(count).fill(-1),
    frames: new Float64Array(count),
    root: new Uint8Array(count),
    tune: new Float32Array(count),
    semitonesPerKey: new Float32Array(count),
    gainDb: new Float32Array(count),
    pan: new Float32Array(count),
    start: new Float64Array(count),
    end: new Float64Array(count),
    fullLength: new Uint8Array(count),
    edges: new Float32Array(count * EDGES),
    voicing: new Uint16Array(count),
    chokeGroup: new Float64Array(count).fill(-1),
    chokedBy: new Float64Array(count).fill(-1),
    chokedFast: new Uint8Array(count),
    loopStart: new Float64Array(count),
    loopEnd: new Float64Array(count),
    loopCrossfade: new Float64Array(count),
    loopUntilRelease: new Uint8Array(count),
    windowSet: new Int32Array(count).fill(-1),
    windowSets: [],
  };
  const requests: SampleRequest[] = [];
  const placeOf = new Map<string, number>();
  const place = (sampleId: string, reverse: boolean, laid: SampleRequest['loop'], levels: number): number => {
    const key =
      levels === 1 && !laid && !reverse
        ? sampleId
        : `${sampleId}${reverse ? ' reversed' : ''}${laid ? ` loop ${laid.start}-${laid.end}${laid.crossfade ? `~${laid.crossfade}` : ''}` : ''} ×${levels}`;
    let found = placeOf.get(key);
    if (found === undefined) {
      found = requests.push({ key, sampleId, loop: laid, reverse, levels }) - 1;
      placeOf.set(key, found);
    }
    return found;
  };
  const routesOf = (layer: Layer, id: LayerParameterId) =>
    patch.routes.filter((route) => route.on && route.target === `layer.${layer.id}.${id}`);
  let i = 0;
  for (const sound of sounds) {
    firstZone.set(sound.id, i);
    const kind = kindOf(sound);
    const users = layers.filter((layer) => soundsOf(layer).includes(sound.id));
    const movesLoops = users.some((layer) =>
      (['loopPosition', 'loopLength'] as const).some(
        (id) => paramOf(layer, id) !== LAYER_PARAMETERS[id].default || routesOf(layer, id).length > 0,
      ),
    );
    const turns = users.some((layer) => paramOf(layer, 'reversed') > 0 || routesOf(layer, 'reversed').length > 0);
    /** Semitones that tuning, vibrato and bend add at most. */
    const liftOf = (params: Sound['params']) =>
      Math.max(
        0,
        ...users.map(
          (layer) =>
            Math.max(0, reachOf(layer, 'tune', patch).high) / 100 +
            reachOf(layer, 'vibratoDepth', patch).high / 100 +
            Math.max(farBend, reachOf(layer, 'bendRange', patch, params).high),
        ),
      );
    /** Keys by which transposition takes a strike beyond the last key, on either side. */
    const beyond = Math.max(0, ...users.map((layer) => reachOf(layer, 'transpose', patch).high));
    const below = Math.max(0, ...users.map((layer) => -reachOf(layer, 'transpose', patch).low));
    const plainLift = liftOf({});
    sound.zones.forEach((zone, z) => {
      const sample = sampleOf.get(zone.sampleId);
      const frames = sample?.frames ?? Infinity;
      const end = Math.min(zone.end ?? frames, frames);
      // A zone that plays to its end whatever the key does would never end with a loop.
      const rings = zone.playback === 'full-length' || zone.trigger === 'release';
      // Grains go through a sample as they will, and know of no loop.
      const held = zone.loop && !rings && kind === 0 ? loopUntil(zone.loop, frames, end) : null;
      const loop = held && asRead(held, zone.reverse ? frames : 0);
      const living = loop !== null && (movesLoops || zone.loop!.until === 'release');
      const lift = zone.params.bendRange === undefined ? plainLift : liftOf(zone.params);
      const farthest =
        zone.pitchPerKey < 0
          ? zone.key.low - (zone.key.low <= 0 ? below : 0)
          : zone.key.high + (zone.key.high >= 127 ? beyond : 0);
      const reach = Math.max(
        0,
        (farthest - zone.root) * (zone.pitchPerKey / 100),
        ...users.map((layer) => tunedReach(zone, tuned[layers.indexOf(layer)], farthest)),
      );
      const levels = sample
        ? levelsFor(Math.max(0, reach + zone.tune / 100 + lift) / 12 + Math.log2(sample.rate / lowestRate))
        : 1;
      zones.kind[i] = kind;
      zones.spec[i] = specOf.get(sound.id) ?? -1;
      zones.fadeIn[i] = zone.fadeIn;
      zones.fadeOut[i] = zone.fadeOut;
      zones.sample[i] = zone.sampleId === '' ? -1 : place(zone.sampleId, zone.reverse, living ? null : loop, levels);
      if (turns && zone.sampleId !== '')
        zones.turned[i] = place(
          zone.sampleId,
          !zone.reverse,
          living || !held ? null : asRead(held, zone.reverse ? 0 : frames),
          levels,
        );
      zones.frames[i] = frames;
      zones.root[i] = zone.root;
      zones.tune[i] = zone.tune;
      zones.semitonesPerKey[i] = zone.pitchPerKey / 100;
      zones.gainDb[i] = zone.gain;
      zones.pan[i] = zone.pan;
      zones.start[i] = zone.reverse ? frames - end : zone.start;
      zones.end[i] = zone.reverse ? frames - zone.start : end;
      zones.fullLength[i] = rings ? 1 : 0;
      zones.voicing[i] = voicingOf(sound, z);
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

/**
 * A loop of a recording of `frames` frames in a zone that ends at `end`: nothing beyond the end is played, by the loop
 * either. Null where none is left.
 */
function loopUntil(loop: ZoneLoop, frames: number, end: number): ZoneLoop | null {
  if (loop.end > frames || loop.start >= end) return null;
  return loop.end <= end ? loop : { ...loop, end, crossfade: Math.min(loop.crossfade, end - loop.start) };
}

/**
 * A loop as the reader meets it: counted from the other end in a recording of `turned` frames that is turned round (0:
 * it is not).
 */
const asRead = (
  { start, end, crossfade }: ZoneLoop,
  turned: number,
): { start: number; end: number; crossfade: number } =>
  turned > 0 ? { start: turned - end, end: turned - start, crossfade } : { start, end, crossfade };

/** What a layer's own value of a parameter and its routes together can reach, in its unit. */
export function reachOf(
  layer: Layer,
  id: LayerParameterId,
  { routes }: Pick<Patch, 'routes'>,
  zone: Sound['params'] = {},
): { low: number; high: number } {
  const parameter = LAYER_PARAMETERS[id];
  const rest = toNormal(parameter, paramOf(layer, id, zone));
  let low = rest;
  let high = rest;
  for (const route of routes) {
    if (!route.on || route.target !== `layer.${layer.id}.${id}`) continue;
    // What goes to both sides of its middle moves both ways with either sign of its depth.
    const twoSided = [route.source, route.scaledBy].some(
      (source) => source !== undefined && (typeof source !== 'string' || parseSource(source)!.low < 0),
    );
    if (twoSided || route.depth > 0) high += Math.abs(route.depth);
    if (twoSided || route.depth < 0) low -= Math.abs(route.depth);
  }
  return { low: fromNormal(parameter, low), high: fromNormal(parameter, high) };
}
