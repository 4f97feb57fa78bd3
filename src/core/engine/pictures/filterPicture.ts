import { CombPool } from '../../dsp/comb';
import { Kernel } from '../../dsp/kernel/kernel';
import { ALL_PAGES } from '../../dsp/kernel/synthLayout';
import { tangentsFor } from '../../dsp/quick';
import { responseAt } from '../../dsp/response';
import { paramOf } from '../../rig/defaults';
import { toNormal } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import type { Layer } from '../../rig/schema';
import { MOVED_PARAMETERS } from '../program/program';
import {
  COMB_DAMPING,
  FILTER2_KIND,
  FILTER_KIND,
  FILTER_PATHS,
  strikeRestsOf,
  TILT_PIVOT,
} from '../program/strikeValues';
import { VoiceFilters } from '../voice/voiceFilters';
import { CUTOFF2_KEY, CUTOFF_KEY, cutoffKeyOf, restsOf } from '../program/voiceValues';

const RATE = 48000;
let filters: VoiceFilters | null = null;
let combs: CombPool | null = null;

/**
 * What the filters of a layer let through at some frequencies, in dB, by the voice's own code: for a key and a
 * velocity, with the parameters where they rest. The part of an envelope that moves a filter
 * is left out.
 */
export function filterResponse(layer: Layer, frequencies: readonly number[], key = 60, velocity = 127): number[] {
  if (!filters) {
    const kernel = new Kernel(ALL_PAGES);
    filters = new VoiceFilters(kernel, kernel.voiceAt(0), tangentsFor(RATE));
    combs = new CombPool(kernel);
  }
  const strike = strikeRestsOf((id) => paramOf(layer, id));
  const now = restsOf(Float64Array.from(MOVED_PARAMETERS, (id) => toNormal(LAYER_PARAMETERS[id], paramOf(layer, id))));
  const highest = cutoffKeyOf(LAYER_PARAMETERS.cutoff.high);
  const held = (x: number) => Math.min(highest, Math.max(0, x));
  const tracked = (track: 'keyTrack' | 'keyTrack2', touch: 'velocityTrack' | 'velocityTrack2') =>
    (paramOf(layer, track) / 100) * (key + layer.transpose - 60) + (paramOf(layer, touch) * velocity) / 127;
  now[CUTOFF_KEY] = held(now[CUTOFF_KEY] + tracked('keyTrack', 'velocityTrack'));
  now[CUTOFF2_KEY] = held(now[CUTOFF2_KEY] + tracked('keyTrack2', 'velocityTrack2'));
  filters.begin(
    strike[FILTER_KIND],
    strike[FILTER2_KIND],
    strike[FILTER_PATHS] === 1,
    strike,
    COMB_DAMPING,
    TILT_PIVOT,
    combs,
  );
  if (filters.needsFirst(now)) filters.setFirst(now, RATE, false);
  filters.setOthers(now, RATE);
  const { picture } = filters;
  const found = frequencies.map((hz) => responseAt(picture, hz, RATE));
  filters.end();
  return found;
}
