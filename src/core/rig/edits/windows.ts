import { KEYS } from '../../music/pitch';
import { parseSource, type SourceId } from '../../space/source';
import { fullWindow, windowOn } from '../defaults';
import type { Layer, LayerWindow, Patch } from '../schema';
import { updateLayer } from './layers';

/**
 * Edits of windows: pure functions from patch to patch. Layers are named by id; an unknown one leaves the patch as it
 * is.
 */

/**
 * Puts a window on a layer: takes the place of its first window on that source, or comes as a new one. Values are
 * brought inside the source's range, and into order.
 */
export function setWindow(patch: Patch, layerId: string, window: LayerWindow): Patch {
  if ([window.low, window.high, window.fadeIn, window.fadeOut].some(Number.isNaN)) return patch;
  const held = heldInside(window);
  return updateLayer(patch, layerId, (layer) => ({
    ...layer,
    windows: windowOn(layer, window.source) ? replaceFirst(layer.windows, held) : [...layer.windows, held],
  }));
}

/**
 * Takes a window away; those on key and velocity are opened to their whole range instead, for they are always there.
 */
export function removeWindow(patch: Patch, layerId: string, source: SourceId): Patch {
  if (source === 'key' || source === 'velocity') return setWindow(patch, layerId, fullWindow(source));
  return updateLayer(patch, layerId, (layer) => ({
    ...layer,
    windows: layer.windows.filter((window) => window.source !== source),
  }));
}

/**
 * Lower and upper layer side by side on the keys, `splitKey` the first key of the upper one, with no gap. With a fade
 * of N keys, N keys around the split sound both at
 * constant power; without, none does. The layers' outer borders stay where they are unless the split passes them.
 */
export function splitLayersAt(
  patch: Patch,
  lowerId: string,
  upperId: string,
  splitKey: number,
  fadeKeys: number,
): Patch {
  return divide(patch, lowerId, upperId, 'key', Math.min(KEYS - 1, Math.max(1, Math.round(splitKey))), fadeKeys);
}

/**
 * Soft strikes play one layer, hard ones the other, around velocity `middle`, both over a span of `fade` velocities at
 * constant power.
 */
export function crossfadeByVelocity(patch: Patch, softId: string, hardId: string, middle: number, fade: number): Patch {
  return divide(patch, softId, hardId, 'velocity', Math.min(127, Math.max(2, Math.round(middle))), fade);
}

function divide(
  patch: Patch,
  lowerId: string,
  upperId: string,
  source: 'key' | 'velocity',
  border: number,
  fade: number,
): Patch {
  if (lowerId === upperId || Number.isNaN(border) || Number.isNaN(fade)) return patch;
  const { low: least, high: most } = parseSource(source)!;
  const span = Math.max(0, Math.round(fade));
  // The gain is 0 at both ends of the overlap, so the steps between them that sound both are one fewer than its length.
  const from = Math.max(least, span === 0 ? border : border - 1 - Math.floor(span / 2));
  const to = Math.min(most, span === 0 ? border - 1 : border - 1 - Math.floor(span / 2) + span + 1);
  const length = span === 0 ? 0 : to - from;
  const lower = edgeOf(patch, lowerId, source);
  const upper = edgeOf(patch, upperId, source);
  if (!lower || !upper) return patch;
  const low = lower.low < to ? lower.low : least;
  const high = upper.high > from ? upper.high : most;
  const first = setWindow(patch, lowerId, {
    ...lower,
    low,
    high: to,
    fadeIn: low === lower.low ? Math.min(lower.fadeIn, Math.max(0, from - low)) : 0,
    fadeOut: length,
    shape: 'sine',
  });
  return setWindow(first, upperId, {
    ...upper,
    low: from,
    high,
    fadeIn: length,
    fadeOut: high === upper.high ? Math.min(upper.fadeOut, Math.max(0, high - to)) : 0,
    shape: 'sine',
  });
}

/**
 * A controller or macro brings a layer in: silent at the source's lowest value, full after `fade` of its units, and
 * from there on.
 */
export function bringIn(patch: Patch, layerId: string, source: SourceId, from: number, fade: number): Patch {
  const whole = fullWindow(source);
  return setWindow(patch, layerId, { ...whole, low: from, fadeIn: Math.min(fade, whole.high - from) });
}

const edgeOf = (patch: Patch, layerId: string, source: SourceId): LayerWindow | undefined => {
  const layer = patch.layers.find((candidate) => candidate.id === layerId);
  return layer && windowOn(layer, source);
};

const replaceFirst = (windows: Layer['windows'], window: LayerWindow): LayerWindow[] => {
  const at = windows.findIndex((candidate) => candidate.source === window.source);
  return windows.map((candidate, i) => (i === at ? window : candidate));
};

function heldInside(window: LayerWindow): LayerWindow {
  const source = parseSource(window.source);
  if (!source) throw new RangeError(`"${window.source}" names no source`);
  const hold = (x: number) => Math.min(source.high, Math.max(source.low, source.whole ? Math.round(x) : x));
  const [low, high] = [hold(window.low), hold(window.high)].sort((a, b) => a - b);
  const longest = source.high - source.low;
  const fade = (x: number) => Math.min(longest, Math.max(0, source.whole ? Math.round(x) : x));
  return { ...window, low, high, fadeIn: fade(window.fadeIn), fadeOut: fade(window.fadeOut) };
}

/** The middle of the keys of a layer. */
const middleKey = ({ windows }: Layer): number => {
  const key = windows.find(({ source }) => source === 'key');
  return key ? (key.low + key.high) / 2 : 64;
};

/**
 * Ids of the two layers that a split or a crossfade most likely means: two that are chosen together, else the selected
 * one and the one after it (the last one: before it); the one whose keys lie lower first, and the
 * upper of the list where they lie alike. There must be two.
 */
export function twoLayers(
  { layers }: Pick<Patch, 'layers'>,
  selectedId: string | null,
  chosenIds: readonly string[],
): [string, string] {
  const chosen = layers.filter(({ id }) => chosenIds.includes(id));
  const at = Math.max(
    0,
    layers.findIndex(({ id }) => id === selectedId),
  );
  const pair = chosen.length === 2 ? chosen : [layers[at], layers[at + 1] ?? layers[at - 1]];
  const [first, second] = [...pair].sort(
    (a, b) => middleKey(a) - middleKey(b) || layers.indexOf(a) - layers.indexOf(b),
  );
  return [first.id, second.id];
}
