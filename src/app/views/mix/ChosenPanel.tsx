import { connectionsOf, effectsIn, nameOfPlace, placesIn } from '../../../core/rig/mix';
import type { Patch } from '../../../core/rig/schema';
import { useAppSelector } from '../../document/store';
import { ConnectionPanel } from './ConnectionPanel';
import { EffectPanel } from './EffectPanel';
import { PlacePanel } from './PlacePanel';

/** What is chosen in the mix, in numbers. */
export function ChosenPanel({ patch }: { patch: Patch }) {
  const chosen = useAppSelector((state) => state.choosing.mixChosen);
  const effect =
    chosen?.kind === 'effect' ? effectsIn(patch).find((found) => found.effect.id === chosen.id) : undefined;
  const connection =
    chosen?.kind === 'connection' ? connectionsOf(patch).find(({ id }) => id === chosen.id) : undefined;
  const place = chosen?.kind === 'place' && placesIn(patch).includes(chosen.id) ? chosen.id : 'main';
  const label = effect
    ? `Effect on ${nameOfPlace(patch, effect.place)}`
    : connection
      ? 'Connection'
      : nameOfPlace(patch, place);
  return (
    <aside
      aria-label={label}
      className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3 text-[13px] [scrollbar-width:thin]"
    >
      {effect ? (
        <EffectPanel key={effect.effect.id} patch={patch} effect={effect.effect} place={effect.place} />
      ) : connection ? (
        <ConnectionPanel patch={patch} connection={connection} />
      ) : (
        <PlacePanel key={place} patch={patch} place={place} />
      )}
    </aside>
  );
}
