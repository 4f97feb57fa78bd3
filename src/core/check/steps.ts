import { setParam, updatePatch } from '../rig/edits/layers';
import { paramOf } from '../rig/defaults';
import { updateSound, updateZones } from '../rig/edits/zones';
import type { Patch, Rig } from '../rig/schema';
import type { Fix } from './finding';
import type { StepHeard } from './heard';

/** What rules about steps between neighbours share. */

/** By how much the second is louder than the first, in LU; undefined where one is silent. */
export const riseOf = ({ soft, hard }: StepHeard): number | undefined => (soft.lufs === null || hard.lufs === null ? undefined : hard.lufs - soft.lufs);

/** Makes what is reached so many dB louder (softer below 0): the zones of one layer, or the layers that come in. */
export function louder(patch: Patch, step: StepHeard, db: number): Fix[] {
  const by = Math.round(db * 10) / 10;
  const word = `${by < 0 ? 'Lower' : 'Raise'} ${step.along === 'velocity' ? 'the harder' : 'the upper'} ${step.to ? (step.to.zones.length === 1 ? 'zone' : 'zones') : 'layer'} by ${Math.abs(by)} dB`;
  if (step.to) {
    const { soundId } = step.to;
    const zones = step.to.zones.filter((place) => !step.from!.zones.includes(place));
    return [{ label: word, safe: false, edit: (old: Rig) => updateSound(old, soundId, (sound) => updateZones(sound, new Set(zones), (zone) => ({ ...zone, gain: Math.max(-96, Math.min(48, zone.gain + by)) }))) }];
  }
  const ids = step.hard.layerIds.filter((id) => !step.soft.layerIds.includes(id));
  return [{ label: word, safe: false, edit: (old: Rig) => updatePatch(old, patch.id, (value) => ids.reduce((left, id) => { const layer = left.layers.find((each) => each.id === id); return layer ? setParam(left, id, 'level', Math.max(-60, Math.min(6, paramOf(layer, 'level') + by))) : left; }, value)) }];
}

/** Fades the zones on both sides of a border along velocities into one another, over so many velocities. */
export function crossing(step: StepHeard, over: number): Fix[] {
  if (!step.from || !step.to || step.along !== 'velocity') return [];
  const { soundId } = step.to;
  const border = step.soft.velocity;
  const left = step.from.zones.filter((place) => !step.to!.zones.includes(place));
  const come = step.to.zones.filter((place) => !step.from!.zones.includes(place));
  const half = over / 2;
  return [{ label: `Cross the two over ${over} velocities`, safe: false, edit: (old: Rig) => updateSound(old, soundId, (sound) => ({ ...sound, zones: sound.zones.map((zone, place) => {
    const { velocity } = zone;
    if (left.includes(place) && velocity.high === border) return { ...zone, velocity: { ...velocity, high: Math.min(127, border + half), fadeOut: Math.min(over, border + half - velocity.low) } };
    if (come.includes(place) && velocity.low === border + 1) return { ...zone, velocity: { ...velocity, low: Math.max(1, border + 1 - half), fadeIn: Math.min(over, velocity.high - border - 1 + half) } };
    return zone;
  }) })) }];
}
