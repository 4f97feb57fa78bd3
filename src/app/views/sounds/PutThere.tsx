import { hasZones } from '../../../core/rig/parameters';
import type { PutPlace } from '../../../core/rig/edits/put';
import { padsOf } from '../../../core/rig/edits/kit';
import { nameOfKey } from '../../../core/music/noteNames';
import type { Patch, Sound } from '../../../core/rig/schema';
import { useAppSelector } from '../../document/store';

/** A pad that is next in turn: the first free key from that of the bass drum on, above the pads that are there. */
const FIRST_PAD = 36;
const freePad = (patch: Patch): number => {
  const taken = new Set(padsOf(patch).map(({ key }) => key));
  for (let key = FIRST_PAD; key < 128; key++) if (!taken.has(key)) return key;
  return FIRST_PAD;
};

/** A place that Enter puts a file in, by its name in the list of places. */
export interface NamedPlace {
  id: string;
  label: string;
  words: string;
  place: PutPlace;
}

/**
 * Where single files can be put: layers of the patch, its pads and the next free one, and the chosen zones of the sound
 * that is open.
 */
export function usePlaces(patch: Patch, sound: Sound | undefined): NamedPlace[] {
  const middleC = useAppSelector((state) => state.settings.middleC);
  const selected = useAppSelector((state) => state.sounds.selected);
  const free = freePad(patch);
  return [
    {
      id: 'pad',
      label: `on the next free pad (${nameOfKey(free, middleC)})`,
      words: `is on the pad of ${nameOfKey(free, middleC)}`,
      place: { to: 'pad', patchId: patch.id, key: free },
    },
    ...padsOf(patch).map(({ key, group }): NamedPlace => ({
      id: `pad ${key}`,
      label: `on the pad ${group.name} (${nameOfKey(key, middleC)})`,
      words: `is on the pad ${group.name}`,
      place: { to: 'pad', patchId: patch.id, key },
    })),
    ...patch.layers.map((layer): NamedPlace => ({
      id: `layer ${layer.id}`,
      label: `in the layer ${layer.name}`,
      words: `plays in “${layer.name}” now`,
      place: { to: 'layer', patchId: patch.id, layerId: layer.id },
    })),
    ...(sound && !hasZones(sound.kind) ? [] : selected.slice(0, 1)).map((zone): NamedPlace => ({
      id: 'zone',
      label: `in the chosen zone of ${sound!.name}`,
      words: `is in the chosen zone of “${sound!.name}”`,
      place: { to: 'zone', soundId: sound!.id, zone },
    })),
  ];
}

/** Chooses where Enter puts the file that is heard. */
export function PutThere({
  places,
  chosen,
  onChoose,
}: {
  places: readonly NamedPlace[];
  chosen: string;
  onChoose: (id: string) => void;
}) {
  return (
    <label
      className="flex min-w-0 items-center gap-1.5 whitespace-nowrap"
      title="One file is put there as it is; the others stay, to be laid out or tried as well"
    >
      Enter puts it
      <select
        className="field min-w-0 max-w-48"
        aria-label="Enter puts the file"
        value={chosen}
        onChange={(event) => onChoose(event.target.value)}
      >
        <option value="">nowhere, it plays</option>
        {places.map(({ id, label }) => (
          <option key={id} value={id}>
            {label}
          </option>
        ))}
      </select>
    </label>
  );
}
