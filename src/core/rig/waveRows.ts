import { WAVES_SHAPE } from '../sounds/synth/parameters';
import { soundsOf } from './defaults';
import { type LayerParameterId } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import type { Patch, Sound, Waves } from './schema';

/**
 * Which of a synth's oscillators can read its row of waves in a patch: by their shape in a layer that plays it (the
 * layer's own, or that of the sound), or because a route may move the shape there.
 */
export const rowsPlayed = (patch: Pick<Patch, 'layers' | 'routes'>, sound: Sound): boolean[] =>
  sound.waves.map((_, n) => {
    const id = `osc${n + 1}Shape` as LayerParameterId;
    return patch.layers.some(
      (layer) =>
        soundsOf(layer).includes(sound.id) &&
        ((layer.params[id] ?? sound.params[id] ?? LAYER_PARAMETERS[id].default) === WAVES_SHAPE ||
          patch.routes.some(({ target }) => target === `layer.${layer.id}.${id}`)),
    );
  });

/**
 * All rows of waves that the synths of a patch can read, each sound with its own, in the order in which the patch asks
 * for them.
 */
export const rowsOfPatch = (
  patch: Pick<Patch, 'layers' | 'routes'>,
  sounds: readonly Sound[],
): { sound: Sound; row: Waves }[] => {
  const ids = new Set(patch.layers.flatMap(soundsOf));
  return [...ids]
    .flatMap((id) => sounds.filter((sound) => sound.id === id && sound.kind === 'synth'))
    .flatMap((sound) => {
      const played = rowsPlayed(patch, sound);
      return sound.waves.flatMap((row, n) => (played[n] ? [{ sound, row }] : []));
    });
};
