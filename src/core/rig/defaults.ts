import { parseSource, type SourceId } from '../space/source';
import { LAYER_PARAMETERS, type LayerParameterId, type ZoneParameterId } from './parameters';
import { MARK_COLOURS, MARK_SHAPES, RIG_VERSION, type Layer, type LayerWindow, type Mark, type Patch, type Rig, type Sound, type Zone, type ZoneLoop } from './schema';

/** A window that lets everything through: the whole range of its source, no fades. */
export function fullWindow(source: SourceId): LayerWindow {
  const found = parseSource(source);
  if (!found) throw new RangeError(`"${source}" names no source`);
  return { source, low: found.low, high: found.high, fadeIn: 0, fadeOut: 0, shape: 'sine', read: 'always' };
}

/** The n-th mark: colours and shapes go round together, so that neither alone tells two of the first eight apart; each round of eight pairs them otherwise, so that 64 differ. */
export const markAt = (n: number): Mark => ({ colour: MARK_COLOURS[n % 8], shape: MARK_SHAPES[(n + Math.floor(n / 8)) % 8] });

/** The first mark that no layer of the patch has: of a colour that none has, while there is one. */
export const freeMark = (patch: Patch): Mark => {
  const colours = new Set(patch.layers.map((layer) => layer.mark.colour));
  const pairs = new Set(patch.layers.map(({ mark }) => `${mark.colour} ${mark.shape}`));
  const all = Array.from({ length: MARK_COLOURS.length * MARK_SHAPES.length }, (_, n) => markAt(n));
  return all.find(({ colour }) => !colours.has(colour)) ?? all.find(({ colour, shape }) => !pairs.has(`${colour} ${shape}`)) ?? markAt(patch.layers.length);
};

/** A layer that plays a sound everywhere, with every parameter at its default. */
export const newLayer = (id: string, name: string, soundId: string, mark: Mark): Layer => ({
  id, name, mark, soundId, on: true,
  windows: [fullWindow('key'), fullWindow('velocity')],
  receive: { channel: 'any', bend: true, sustain: true, wheel: true, pressure: true, expression: true },
  transpose: 0,
  touch: { curve: 0, outLow: 1, outHigh: 127, fixed: null },
  params: {},
});

export const newPatch = (id: string, name: string): Patch => ({
  id, name, tempo: 120, notes: '', layers: [], macros: [], blends: [], routes: [], main: { level: 0 },
});

export const newRig = (id: string, name: string): Rig => ({
  format: 'wavicle-rig', version: RIG_VERSION, id, name, patches: [], sounds: [], samples: [], setlist: [], controllers: { keyLow: 21, keyHigh: 108 },
});

export const newSound = (id: string, name: string, zones: Sound['zones'] = []): Sound => ({ id, name, kind: 'multisample', alternation: 'in-turn', zones });

/** A zone that plays a whole sample on one key at every velocity. */
export const newZone = (sampleId: string, root: number): Zone => ({
  sampleId, root, tune: 0, pitchPerKey: 100, gain: 0, pan: 0,
  key: { low: root, high: root, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  velocity: { low: 1, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  windows: [], start: 0, end: null, reverse: false, loop: null, playback: 'while-held', trigger: 'attack', alternate: null, turns: null, choke: null, params: {},
});

/** A loop that repeats to the end of the note, as it is. */
export const plainLoop = (loop: { start: number; end: number } | null): ZoneLoop | null => loop && { start: loop.start, end: loop.end, crossfade: 0, until: 'end' };

/** The value of a layer's parameter in its unit; where the layer leaves it at its default, a zone's own value holds. */
export const paramOf = (layer: Pick<Layer, 'params'>, id: LayerParameterId, zone: Zone['params'] = {}): number =>
  layer.params[id] ?? zone[id as ZoneParameterId] ?? LAYER_PARAMETERS[id].default;

/** The layer's first window on a source. Every layer has one on key and one on velocity. */
export const windowOn = (layer: Layer, source: SourceId): LayerWindow | undefined => layer.windows.find((window) => window.source === source);

/** A patch in which the keys play one sound alone over its whole range, through the strip of the layer that plays it in another patch, if one does. */
export function soundPatch(sound: Sound, patch: Patch): Patch {
  const layer = patch.layers.find((candidate) => candidate.soundId === sound.id) ?? newLayer('alone', sound.name, sound.id, markAt(2));
  return { ...newPatch(`sound-${sound.id}`, sound.name), main: patch.main, layers: [{ ...layer, on: true, transpose: 0, windows: [fullWindow('key'), fullWindow('velocity')], receive: { ...layer.receive, channel: 'any' } }] };
}
