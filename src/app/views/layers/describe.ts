import { nameOfKey, type MiddleC } from '../../../core/music/noteNames';
import { fullWindow, windowOn } from '../../../core/rig/defaults';
import type { Layer, Patch } from '../../../core/rig/schema';
import { labelIn } from '../../../core/rig/moves';
import { parseSource } from '../../../core/space/source';

/** Where a layer sounds, in a few words: `F♯3 and up · hard playing · with the wheel`. */
export function describeLayer(patch: Patch, layer: Layer, middleC: MiddleC): string {
  const key = windowOn(layer, 'key')!;
  const velocity = windowOn(layer, 'velocity')!;
  const parts: string[] = [];
  const name = (k: number) => nameOfKey(k, middleC);
  if (key.low > 0 && key.high < 127) parts.push(`${name(key.low)} to ${name(key.high)}`);
  else if (key.low > 0) parts.push(key.fadeIn > 0 ? `comes in from ${name(key.low)}` : `${name(key.low)} and up`);
  else if (key.high < 127) parts.push(key.fadeOut > 0 ? `goes out by ${name(key.high)}` : `up to ${name(key.high)}`);
  else parts.push('all keys');
  if (velocity.low > 1 && velocity.high < 127) parts.push(`velocity ${velocity.low} to ${velocity.high}`);
  else if (velocity.low > 1) parts.push('hard playing');
  else if (velocity.high < 127) parts.push('soft playing');
  for (const window of layer.windows) {
    if (window.source === 'key' || window.source === 'velocity') continue;
    const whole = fullWindow(window.source);
    if (window.low !== whole.low || window.high !== whole.high || window.fadeIn > 0 || window.fadeOut > 0)
      parts.push(broughtInBy(patch, window.source));
  }
  return parts.join(' · ');
}

/** By its name in the patch: `with wheel`, `with Swell`, `near Kelp on Drift`. */
function broughtInBy(patch: Patch, source: string): string {
  const name = labelIn(patch, source).replace(/ \(.*/, '');
  const [pad, anchor] = name.split(': ');
  return parseSource(source)?.kind === 'xyAnchor' && anchor ? `near ${anchor} on ${pad}` : `with ${name}`;
}
