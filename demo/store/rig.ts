import { newControllers, newRig } from '../../src/core/rig/defaults';
import { writeTake } from '../../src/core/formats/midiFile';
import type { Rig } from '../../src/core/rig/schema';
import { fogAcross } from '../instruments/fogSignal';
import { INSTRUMENTS } from '../instruments';
import { keeper, soundOf, type DemoRig, type Size } from '../rig';
import { KEYS } from './keys';
import { LONG } from './long';
import { LOW } from './low';
import { MOVING } from './moving';
import { phraseOf } from './phrases';
import { FAMILIES, idOf, patchOf, type Recipe } from './recipe';
import { grainsOf, SYNTHS } from './sounds';

const PLAYED = [
  'felt',
  'tines',
  'rope',
  'quill',
  'reeds',
  'drift',
  'lamp',
  'pipes',
  'wheels',
  'wire',
  'choir',
  'horn',
  'hull',
] as const;

/** All patches of the store, family by family. */
export const RECIPES: readonly Recipe[] = FAMILIES.flatMap((family) =>
  [...KEYS, ...LONG, ...LOW, ...MOVING].filter((recipe) => recipe.family === family),
);

/**
 * The rig Harbour Store: patches to play from the first evening on, with all its samples, the same bits every time.
 * `hash` gives the hexadecimal SHA-256 of a file.
 */
export function storeRig(hash: (bytes: Uint8Array) => string, size: Size = 'whole'): DemoRig {
  const kept = keeper(hash);
  const sounds = [
    ...PLAYED.map((each) => soundOf(INSTRUMENTS[each], kept, size)),
    ...SYNTHS,
    grainsOf(kept.keep(fogAcross())),
  ];
  const rig: Rig = {
    ...newRig('harbour-store', 'Harbour Store'),
    patches: RECIPES.map(patchOf),
    sounds,
    samples: kept.samples,
    controllers: newControllers(),
  };
  return { rig, wavs: kept.wavs };
}

/** The takes of the store, by file name; a patch finds its own by its id. */
export const storeTakes = (): Map<string, Uint8Array> =>
  new Map(
    RECIPES.map(({ name, phrase, tempo }) => {
      const made = phraseOf(name, phrase, tempo);
      return [`${idOf(name)}.mid`, writeTake(made.take, made.tempo)] as const;
    }),
  );

/** The families in their order, with the ids of their patches. */
export const families = (): { name: string; patches: string[] }[] =>
  FAMILIES.map((family) => ({
    name: family,
    patches: RECIPES.filter((recipe) => recipe.family === family).map(({ name }) => idOf(name)),
  }));
