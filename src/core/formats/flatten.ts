import { groupParam, paramOf, soundsOf } from '../rig/defaults';
import { ZONE_PARAMETERS, type LayerParameterId, type ZoneParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { Layer, LayerWindow, Patch, Rig, Sound, Zone } from '../rig/schema';
import { newSound } from '../rig/defaults';
import { feltVelocity, gainOfVelocity } from '../engine/program/touch';
import { gainOfWindow } from '../space/window';
import type { NotCarried } from './sfzRead';

/**
 * A patch as one sound, as far as zones can say what its layers do: windows, transposition, levels, pan, envelopes and
 * filters go into the zones; what they cannot say is listed. For formats that know no layers. Throws an Error where a
 * layer plays what the engine makes.
 */
export function flattened(rig: Rig, patch: Patch): { sound: Sound; notCarried: NotCarried[] } {
  const lost = new Map<string, number>();
  const lose = (what: string, count = 1) => {
    if (count > 0) lost.set(what, (lost.get(what) ?? 0) + count);
  };
  const zones: Zone[] = [];
  let round = 0;
  for (const layer of patch.layers) {
    const group = patch.groups.find(({ id }) => id === layer.groupId);
    if (!layer.on || group?.on === false) continue;
    const ids = soundsOf(layer);
    if (ids.length > 1) lose(`the choice among ${ids.length} sounds of “${layer.name}” (the first is written)`);
    const sound = rig.sounds.find(({ id }) => id === ids[0]);
    if (!sound) continue;
    if (sound.kind !== 'multisample')
      throw new Error(`“${layer.name}” plays “${sound.name}”, which the engine makes; bounce it first`);
    const windows = [...layer.windows, ...(group?.windows ?? [])];
    const moved = layer.transpose + (group ? groupParam(group, 'transpose') : 0);
    const level = paramOf(layer, 'level') + (group ? groupParam(group, 'level') : 0) + patch.main.level;
    const pan = Math.max(-1, Math.min(1, paramOf(layer, 'pan') + (group ? groupParam(group, 'pan') : 0)));
    for (const zone of sound.zones) {
      for (const band of bandsOf(zone, sound, layer)) {
        const made = zoneIn(band, sound, layer, windows, moved, level, pan, round, lose);
        if (made) zones.push(made);
      }
    }
    // Alternates of one layer take no turns with those of another.
    round += 1 + Math.max(0, ...sound.zones.map(({ alternate }) => alternate ?? 0));
    const said = new Set<string>([...ZONE_PARAMETERS, 'level', 'pan', 'tune']);
    for (const id of Object.keys(layer.params))
      if (!said.has(id) && layer.params[id as LayerParameterId] !== LAYER_PARAMETERS[id as LayerParameterId].default)
        lose(`${LAYER_PARAMETERS[id as LayerParameterId].label} of “${layer.name}”`);
    const { path, effects } = layer;
    if (path.scale.on || path.chord.on || path.arpeggio.on || path.playing !== 'poly')
      lose(`what “${layer.name}” makes of the keys`);
    lose(`effects of “${layer.name}”`, effects.filter(({ on }) => on).length);
  }
  lose('shared effects', patch.pools.filter(({ on }) => on).length);
  lose(
    'effects of groups',
    patch.groups.reduce((sum, { effects }) => sum + effects.filter(({ on }) => on).length, 0),
  );
  lose('effects of the whole', patch.main.effects.filter(({ on }) => on).length);
  lose('routes', patch.routes.filter(({ on }) => on).length);
  return {
    sound: {
      ...newSound(patch.id, patch.name, zones),
      alternation: rig.sounds.find(({ id }) => id === patch.layers[0]?.soundId)?.alternation ?? 'in-turn',
    },
    notCarried: [...lost].map(([what, count]) => ({ what, count })),
  };
}

/**
 * A band of velocities that a touch is written in differs from it by no more than this, in dB; what is softer than the
 * other is silent.
 */
const BAND_DB = 0.75,
  SILENT_DB = -48;

/**
 * A zone as strikes reach it through the touch of its layer, for formats that know none: in bands of velocities as they
 * are struck, each as loud as the touch makes it in its middle. With no touch, the zone as it is.
 */
export function bandsOf(
  zone: Zone,
  sound: Pick<Sound, 'params'>,
  { touch, params }: Pick<Layer, 'touch' | 'params'>,
): Zone[] {
  const { curve, outLow, outHigh, fixed } = touch;
  if (fixed === null && curve === 0 && outLow === 1 && outHigh === 127) return [zone];
  const share =
    (params.velocityToLevel ??
      zone.params.velocityToLevel ??
      sound.params.velocityToLevel ??
      LAYER_PARAMETERS.velocityToLevel.default) / 100;
  const bands: { low: number; high: number; least: number; most: number }[] = [];
  for (let velocity = 1; velocity <= 127; velocity++) {
    const felt = fixed ?? feltVelocity(velocity, curve, outLow, outHigh);
    // What the format makes of the strike by itself is taken off again.
    const db =
      20 *
      Math.log10((gainOfWindow(zone.velocity, felt) * gainOfVelocity(felt, share)) / gainOfVelocity(velocity, share));
    if (!(db > SILENT_DB)) continue;
    const last = bands[bands.length - 1];
    if (last?.high === velocity - 1 && Math.max(last.most, db) - Math.min(last.least, db) <= 2 * BAND_DB)
      Object.assign(last, { high: velocity, least: Math.min(last.least, db), most: Math.max(last.most, db) });
    else bands.push({ low: velocity, high: velocity, least: db, most: db });
  }
  return bands.map(({ low, high, least, most }) => ({
    ...zone,
    velocity: { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' },
    gain: Math.max(-96, Math.min(48, zone.gain + (least + most) / 2)),
  }));
}

/** A zone as it is heard through its layer; undefined where the layer’s windows leave nothing of it. */
function zoneIn(
  zone: Zone,
  sound: Sound,
  layer: Layer,
  windows: readonly LayerWindow[],
  moved: number,
  level: number,
  pan: number,
  round: number,
  lose: (what: string) => void,
): Zone | undefined {
  let key: Zone['key'] = { ...zone.key, low: zone.key.low - moved, high: zone.key.high - moved };
  let velocity = zone.velocity;
  const others: LayerWindow[] = [...zone.windows];
  for (const window of windows) {
    if (window.source === 'key') key = narrowed(key, window, lose);
    else if (window.source === 'velocity') velocity = narrowed(velocity, window, lose);
    else others.push(window);
  }
  key = { ...key, low: Math.max(0, key.low), high: Math.min(127, key.high) };
  if (key.low > key.high || velocity.low > velocity.high) return undefined;
  const params: Partial<Record<ZoneParameterId, number>> = {};
  for (const id of ZONE_PARAMETERS) {
    // As in the engine: the layer's own where it has one, else the zone's, else that of the sound.
    const value = layer.params[id] ?? zone.params[id] ?? sound.params[id];
    if (value !== undefined && value !== LAYER_PARAMETERS[id].default) params[id] = value;
  }
  return {
    ...zone,
    key,
    velocity,
    windows: others,
    root: Math.max(0, Math.min(127, zone.root - moved)),
    tune: Math.max(-1200, Math.min(1200, zone.tune + paramOf(layer, 'tune'))),
    gain: Math.max(-96, Math.min(48, Math.round((zone.gain + level) * 100) / 100)),
    pan: zone.pan === 0 ? pan : zone.pan,
    alternate: zone.alternate === null ? null : zone.alternate + round,
    params: params as Zone['params'],
  };
}

/**
 * What two ranges share. A fade goes along with the border that it belongs to; where both have one at the same side,
 * the longer stays.
 */
function narrowed<E extends Zone['key']>(
  a: E,
  b: Pick<LayerWindow, 'low' | 'high' | 'fadeIn' | 'fadeOut' | 'shape'>,
  lose: (what: string) => void,
): E {
  const low = Math.max(a.low, b.low);
  const high = Math.min(a.high, b.high);
  const fadeIn = b.low >= a.low && b.fadeIn > 0 ? b.fadeIn : a.low >= b.low ? a.fadeIn : 0;
  const fadeOut = b.high <= a.high && b.fadeOut > 0 ? b.fadeOut : a.high <= b.high ? a.fadeOut : 0;
  // A fade that began outside of what is left of the zone is cut at its border.
  if (
    (b.fadeIn > 0 && b.low < a.low && b.low + b.fadeIn > a.low) ||
    (b.fadeOut > 0 && b.high > a.high && b.high - b.fadeOut < a.high)
  )
    lose('parts of fades that reach over several zones');
  return {
    ...a,
    low,
    high,
    fadeIn: Math.min(fadeIn, high - low),
    fadeOut: Math.min(fadeOut, high - low),
    shape: b.fadeIn > 0 || b.fadeOut > 0 ? b.shape : a.shape,
  };
}
