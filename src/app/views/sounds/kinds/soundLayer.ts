import { newLayer, soundsOf, markAt } from '../../../../core/rig/defaults';
import type { LayerParameterId } from '../../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../../core/rig/layerParameters';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { movedValue } from '../../../parts/moved';
import { useAppSelector } from '../../../document/store';

/**
 * The layer of the patch that plays a sound, the chosen one first; null where none does: then the sound's own values
 * are edited.
 */
export function useSoundLayer(patch: Patch, sound: Sound): Layer | null {
  const chosen = useAppSelector((state) => state.choosing.selectedLayerId);
  const playing = patch.layers.filter((layer) => soundsOf(layer).includes(sound.id));
  return playing.find(({ id }) => id === chosen) ?? playing[0] ?? null;
}

/** The layer, or one that has what the sound brings with it. */
export const layerOrSound = (layer: Layer | null, sound: Sound): Layer =>
  layer ?? { ...newLayer('alone', sound.name, sound.id, markAt(2)), params: sound.params };

/** The value of a parameter where it stands, and where routes take it now. */
export const valueOf = (layer: Layer | null, sound: Sound, id: LayerParameterId): number =>
  (layer ?? sound).params[id] ?? LAYER_PARAMETERS[id].default;
export const valueNow = (patch: Patch, layer: Layer | null, sound: Sound, id: LayerParameterId): number =>
  (layer ? movedValue(patch, `layer.${layer.id}.${id}`) : undefined) ?? valueOf(layer, sound, id);
