import { Ear } from 'lucide-react';
import { useEffect } from 'react';
import { createPortal } from 'react-dom';
import { useOutletContext, useParams } from 'react-router';
import { EFFECTS, effectKind, FAMILIES } from '../../../core/effects';
import { addEffect, addPool } from '../../../core/rig/edits/mix';
import { groupLayers } from '../../../core/rig/edits/groups';
import { effectsIn, nameOfPlace, type PlaceId } from '../../../core/rig/mix';
import type { Patch } from '../../../core/rig/schema';
import { Chooser, type Choice } from '../../parts/Chooser';
import { playing, takeOf } from '../../sound/playing';
import { session } from '../../sound/session';
import { editPatch, newId, notice, selectPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice, type MixChosen } from '../../hands/choosingSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { mixSlice } from './mixSlice';
import { Bands } from './Bands';
import { ChosenPanel } from './ChosenPanel';
import { River } from './River';
import { Strips } from './Strips';
import { TakeActions, TakeView } from './TakeView';
import { Without } from './Without';

/**
 * How the sound of a patch flows: as a river, or as a table of strips; what is chosen, in numbers; who is in whose
 * band.
 */
export function MixView() {
  const { patchId } = useParams();
  const dispatch = useAppDispatch();
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const mixAs = useAppSelector((state) => state.mix.mixAs);
  const mixListens = useAppSelector((state) => state.listening.mixListens);
  const mixChosen = useAppSelector((state) => state.choosing.mixChosen);
  const foot = useOutletContext<HTMLDivElement | null>();
  const looked = placeLookedAt(patch, mixChosen);
  useEffect(() => {
    session.audio.setScope(looked);
  }, [looked]);
  useEffect(
    () => () => {
      session.audio.setScope(null);
      session.ears.listenTo(null);
      session.ears.hearWithout([], 0);
    },
    [],
  );
  useEffect(() => {
    session.ears.listenTo(null);
    session.ears.hearWithout([], 0);
  }, [patchId]);
  useEffect(() => {
    if (!mixListens) session.ears.listenTo(null);
  }, [mixListens]);
  const own = takeOf(patch);
  useAppSelector((state) => state.listening.takes);
  if (mixAs === 'take' && own)
    return (
      <fieldset disabled={readOnly} className="h-full min-h-0 min-w-0">
        <TakeView patch={patch} take={own} />
        {foot && createPortal(<TakeActions />, foot)}
      </fieldset>
    );
  return (
    <fieldset disabled={readOnly} className="grid h-full min-w-0 grid-cols-[minmax(0,1fr)_calc(var(--right)-44px)]">
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(0,1fr)_168px]">
        <div className="relative grid min-h-0 min-w-0">
          {mixAs !== 'strips' ? <River patch={patch} /> : <Strips patch={patch} />}
          <div className="absolute top-3 right-3 z-20 flex gap-1.5">
            {mixAs !== 'strips' && (
              <button
                className="button bg-sheet px-2!"
                aria-pressed={mixListens}
                title="What the pointer is on is heard alone (L on a stretch)"
                onClick={() => dispatch(listeningSlice.actions.mixListensSet(!mixListens))}
              >
                <Ear size={14} /> point and listen
              </button>
            )}
            <div
              role="group"
              aria-label="The mix as"
              className="flex overflow-hidden rounded-full border-[1.2px] border-edge bg-sheet"
            >
              {(['river', 'strips', 'take'] as const).map((as) => (
                <button
                  key={as}
                  className="px-4 py-0.5 aria-pressed:bg-ink aria-pressed:text-paper"
                  aria-pressed={mixAs === as || (as === 'river' && mixAs === 'take')}
                  onClick={() => {
                    if (as === 'take') playing.adopt(patch);
                    dispatch(mixSlice.actions.mixAsSet(as));
                  }}
                >
                  {as === 'take' ? 'take and backing' : as}
                </button>
              ))}
            </div>
          </div>
        </div>
        <Bands patch={patch} />
      </div>
      <ChosenPanel patch={patch} />
      {foot && createPortal(<FootActions patch={patch} place={looked} />, foot)}
    </fieldset>
  );
}

/** The place that what is chosen belongs to: there new effects come, and it is looked at. */
function placeLookedAt(patch: Patch, chosen: MixChosen): PlaceId {
  if (chosen?.kind === 'place')
    return chosen.id === 'main' || nameOfPlace(patch, chosen.id) !== 'a place that is gone' ? chosen.id : 'main';
  if (chosen?.kind === 'effect') return effectsIn(patch).find(({ effect }) => effect.id === chosen.id)?.place ?? 'main';
  return 'main';
}

/** Every effect in its family, with what it does, and its presets beside it so that they are found as well. */
const CHOICES: readonly Choice[] = FAMILIES.flatMap((family) =>
  EFFECTS.filter((kind) => kind.family === family).flatMap(({ id, label, help, presets }): Choice[] => [
    { id, name: label, group: family, help: `${help} Presets: ${presets.map(({ name }) => name).join(', ')}.` },
  ]),
);

function FootActions({ patch, place }: { patch: Patch; place: PlaceId }) {
  const dispatch = useAppDispatch();
  const add = (kind: string) => {
    let id: string | undefined;
    dispatch(
      editPatch(patch.id, (old) => {
        const made = addEffect(old, place, kind);
        id = made?.id;
        return made?.patch ?? old;
      }),
    );
    if (id === undefined)
      dispatch(notice('info', 'There is no room for another effect here: a chain has twelve at the most.', 'full'));
    else dispatch(choosingSlice.actions.mixChosenSet({ kind: 'effect', id }));
  };
  const share = (kind: string) => {
    const poolId = newId();
    let made = false;
    dispatch(
      editPatch(patch.id, (old) => {
        const next = addPool(old, poolId, kind);
        made = next !== undefined;
        return next?.patch ?? old;
      }),
    );
    dispatch(
      made
        ? choosingSlice.actions.mixChosenSet({ kind: 'place', id: `pool.${poolId}` })
        : notice('info', 'A patch has eight shared effects at the most.', 'full'),
    );
  };
  return (
    <>
      <Chooser
        label={<span className="max-w-52 truncate">+ effect on {nameOfPlace(patch, place)}</span>}
        title="Adds an effect at the end of the chain of what is chosen"
        choices={CHOICES}
        onChoose={add}
      />
      <Chooser
        label="+ shared effect"
        title={`Adds a place that several can send to, with ${effectKind('reverb').label}, echo or what you choose`}
        choices={CHOICES}
        onChoose={share}
      />
      <Gather patch={patch} place={place} />
      <Without ids={['*']} patch={patch} label="Hear without effects" />
    </>
  );
}

/** Puts the chosen layers, or the one that is looked at, into one group with a chain of its own. */
function Gather({ patch, place }: { patch: Patch; place: PlaceId }) {
  const dispatch = useAppDispatch();
  const several = useAppSelector((state) => state.choosing.chosenLayerIds).filter((id) =>
    patch.layers.some((layer) => layer.id === id),
  );
  const [kind, looked] = place.split('.');
  const ids = several.length > 1 ? several : kind === 'layer' ? [looked] : [];
  const names = patch.layers.filter((layer) => ids.includes(layer.id)).map((layer) => layer.name);
  const title =
    ids.length === 0
      ? 'Choose layers first: Shift or Control and a click takes several, Control A all'
      : `Puts ${names.join(', ')} into one group, with a chain of its own`;
  const gather = () => {
    const id = newId();
    let done = false;
    dispatch(
      editPatch(patch.id, (old) => {
        const next = groupLayers(old, ids, id, 'Together');
        done = next !== old;
        return next;
      }),
    );
    if (!done) return void dispatch(notice('info', 'A patch has no room for another group.', 'full'));
    dispatch(choosingSlice.actions.layersChosen([]));
    dispatch(choosingSlice.actions.mixChosenSet({ kind: 'place', id: `group.${id}` }));
  };
  return (
    <button className="button max-[1000px]:hidden" disabled={ids.length === 0} title={title} onClick={gather}>
      {ids.length > 1 ? `Gather ${ids.length} in a group` : 'Gather in a group'}
    </button>
  );
}
