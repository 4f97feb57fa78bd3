import { patternOf } from '../music/arpeggios';
import { noteValue } from '../music/time';
import { newPatch } from './defaults';
import { nameOfKey } from '../music/noteNames';
import { kitOf } from './edits/kit';
import { addLayer, setParam, setTranspose, updateLayer } from './edits/layers';
import { connect, keyFormula } from './edits/moves';
import { blendLayers, spreadOverPad } from './edits/pads';
import { bringIn, crossfadeByVelocity, splitLayersAt } from './edits/windows';
import type { Patch, Sound } from './schema';

/** A patch to begin with: how many sounds it wants, and what it makes of them. */
export interface Template {
  id: string;
  name: string;
  help: string;
  sounds: number;
  make: (patch: Patch, ids: readonly string[], sounds: readonly Sound[], newId: () => string) => Patch;
}

const template = (id: string, name: string, sounds: number, help: string, make: Template['make']): Template => ({
  id,
  name,
  help,
  sounds,
  make,
});

/** Patches of ours to begin with. `ids` are those of the layers, in order. */
export const TEMPLATES: readonly Template[] = [
  template('one', 'One layer', 1, 'A sound on all keys.', (patch) => patch),
  template('split', 'Split', 2, 'One below the F sharp below middle C, one from there on.', (patch, [low, high]) =>
    splitLayersAt(patch, low, high, 54, 0),
  ),
  template(
    'soft-split',
    'Crossfade by key',
    2,
    'One below, one above, both in an octave around middle C.',
    (patch, [low, high]) => splitLayersAt(patch, low, high, 60, 12),
  ),
  template(
    'dynamics',
    'Crossfade by velocity',
    2,
    'Soft strikes play one, hard ones the other.',
    (patch, [soft, hard]) => crossfadeByVelocity(patch, soft, hard, 80, 40),
  ),
  template(
    'stack',
    'Stack',
    3,
    'Three at once: one in the middle, two to the sides a little apart in pitch.',
    (patch, [middle, left, right]) =>
      (
        [
          [middle, 0, 0, 0],
          [left, -0.6, -7, -6],
          [right, 0.6, 7, -6],
        ] as const
      ).reduce(
        (made, [id, pan, tune, level]) =>
          setParam(setParam(setParam(made, id, 'pan', pan), id, 'tune', tune), id, 'level', level),
        patch,
      ),
  ),
  template(
    'octaves',
    'Octave on the wheel',
    2,
    'The second comes in an octave up with the wheel, which moves no vibrato.',
    (patch, [first, second]) => {
      const made = bringIn(setTranspose(patch, second, 12), second, 'cc.1', 0, 100);
      return {
        ...made,
        routes: made.routes.filter((route) => route.source !== 'cc.1' || !route.target.startsWith(`layer.${first}.`)),
      };
    },
  ),
  template(
    'blend',
    'Blend',
    2,
    'On one line by key: low keys the first, high keys the second.',
    (patch, [first, second]) =>
      connect(blendLayers(patch, [first, second], 'Blend')!.patch, { formula: keyFormula(null) }, 'blend.1', 0.5),
  ),
  template(
    'pad',
    'XY pad',
    4,
    'Four around a pad: its dot sets how much of each is heard.',
    (patch, ids) => spreadOverPad(patch, ids, 'Four')!.patch,
  ),
  template(
    'arpeggio',
    'Arpeggio split',
    2,
    'The left hand drives an arpeggio, the right plays over it.',
    (patch, [low, high]) => {
      const split = splitLayersAt(patch, low, high, 60, 0);
      const driven = updateLayer(split, low, (layer) => ({
        ...layer,
        path: {
          ...layer.path,
          arpeggio: { ...layer.path.arpeggio, on: true, order: 'up-down', pattern: patternOf('X-ox') },
        },
      }));
      return setParam(driven, low, 'arpRate', noteValue('1/8'));
    },
  ),
  template(
    'kit',
    'Kit of pads',
    1,
    'A pad for each key on which a sound has something; more are filled by dropping files on them.',
    (patch, [id], sounds, newId) => {
      const [drums] = [...sounds].sort((a, b) => Number(b.tags.includes('kit')) - Number(a.tags.includes('kit')));
      const played = updateLayer(patch, id, (layer) => ({ ...layer, soundId: drums.id, name: drums.name }));
      // A sound with more keys than there may be pads stays one layer.
      return kitOf(played, id, drums, (key) => `${drums.name} ${nameOfKey(key)}`, newId);
    },
  ),
  template('mono', 'Lead', 1, 'One note at a time that slides where keys overlap.', (patch, [id]) =>
    setParam(
      updateLayer(patch, id, (layer) => ({ ...layer, path: { ...layer.path, playing: 'legato' } })),
      id,
      'glide',
      0.08,
    ),
  ),
];

/**
 * A patch by a template, with sounds in the order given; those that are too few are used again. Undefined without any
 * sound.
 */
export function patchBy(
  { make, sounds: count, name }: Template,
  id: string,
  sounds: readonly Sound[],
  newId: () => string,
): Patch | undefined {
  if (sounds.length === 0) return undefined;
  const ids = Array.from({ length: count }, newId);
  const layers = ids.reduce(
    (patch, layerId, i) => {
      const sound = sounds[i % sounds.length];
      return addLayer(patch, layerId, sound.name, sound.id);
    },
    newPatch(id, name),
  );
  return make(
    ids.reduce((patch, layerId) => setParam(patch, layerId, 'level', -3), layers),
    ids,
    sounds,
    newId,
  );
}
