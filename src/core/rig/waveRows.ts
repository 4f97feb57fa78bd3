import { WAVES_SHAPE } from '../sounds/synth/parameters';
import { soundsOf } from './defaults';
import { LAYER_PARAMETERS, type LayerParameterId } from './parameters';
import type { Patch, Sound } from './schema';

/** Which of a synth's oscillators can read its row of waves in a patch: by their shape in a layer that plays it (the layer's own, or that of the sound), or because a route may move the shape there. */
export const rowsPlayed = (patch: Pick<Patch, 'layers' | 'routes'>, sound: Sound): boolean[] => sound.waves.map((_, n) => {
  const id = `osc${n + 1}Shape` as LayerParameterId;
  return patch.layers.some((layer) => soundsOf(layer).includes(sound.id) && ((layer.params[id] ?? sound.params[id] ?? LAYER_PARAMETERS[id].default) === WAVES_SHAPE || patch.routes.some(({ target }) => target === `layer.${layer.id}.${id}`)));
});
