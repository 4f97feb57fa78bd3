import { hasZones } from '../../../core/rig/parameters';
import { useCallback, useEffect } from 'react';
import { createPortal } from 'react-dom';
import { useNavigate, useOutletContext, useParams } from 'react-router';
import { useFrames, useStore } from '../../parts/useLive';
import { soundsSlice } from './soundsSlice';
import type { Patch, Sound } from '../../../core/rig/schema';
import { selectPatch, store, useAppDispatch, useAppSelector } from '../../document/store';
import { tray } from '../../jobs/tray';
import { collectAnswers, onAnswer } from './answers';
import { SoundActions } from './SoundActions';
import { SoundList } from './SoundList';
import { TrayView } from './TrayView';
import { LastAnswer, KindParts, KindWorkbench, Workbench } from './Workbench';

/**
 * Samples under the hands: the sounds of the rig, the map of one of them, its zones as a table and their samples as
 * waveforms; or the tray of what is being brought in.
 */
export function SoundsView() {
  const { patchId, soundId } = useParams();
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const foot = useOutletContext<HTMLDivElement | null>();
  useStore(tray, () => tray.version);
  const sound =
    rig.sounds.find((candidate) => candidate.id === soundId) ??
    rig.sounds.find((candidate) => patch.layers.some((layer) => layer.soundId === candidate.id)) ??
    rig.sounds[0];
  const open = useCallback(
    (id: string) => {
      tray.open = false;
      void navigate(`/patch/${patchId}/sounds/${id}`);
    },
    [navigate, patchId],
  );
  const soundInView = sound?.id;
  useEffect(() => {
    dispatch(soundsSlice.actions.zonesChosen([]));
  }, [dispatch, soundInView]);
  useEffect(() => {
    if (soundInView && soundInView !== soundId && !tray.open)
      void navigate(`/patch/${patchId}/sounds/${soundInView}`, { replace: true });
  }, [navigate, patchId, soundId, soundInView]);
  useFrames(collectAnswers);
  useEffect(
    () =>
      onAnswer((id, zone) => {
        if (id === soundInView && store.getState().sounds.followsPlaying)
          dispatch(soundsSlice.actions.zonesChosen([zone]));
      }),
    [dispatch, soundInView],
  );

  return (
    <div className="grid h-full grid-cols-[var(--left)_minmax(0,1fr)]">
      {tray.open ? (
        <TrayView patch={patch} sound={sound} onDone={open} />
      ) : (
        <>
          <aside aria-label="Sounds" className="flex min-h-0 flex-col gap-3 border-r border-line p-3">
            <SoundList rig={rig} patch={patch} sound={sound} onOpen={open} />
            <KindColumn patch={patch} sound={sound} />
            <Hearing />
            {sound && hasZones(sound.kind) && <LastAnswer />}
          </aside>
          {sound && !hasZones(sound.kind) ? (
            <KindWorkbench key={sound.id} sound={sound} patch={patch} />
          ) : sound ? (
            <Workbench key={sound.id} soundId={sound.id} />
          ) : (
            <div className="grid place-items-center p-6 text-center">
              <div>
                <p className="mb-2 font-bold">This rig has no sound yet.</p>
                <p className="mb-3 text-faint">
                  Drop a folder of recordings here, an SFZ file with its samples, or a SoundFont.
                </p>
              </div>
            </div>
          )}
        </>
      )}
      {foot && createPortal(<SoundActions sound={sound} />, foot)}
    </div>
  );
}

/** What the keys play while a sound is in view, and whether the choice follows them. */
function Hearing() {
  const dispatch = useAppDispatch();
  const { alone, followsPlaying } = useAppSelector((state) => state.sounds);
  return (
    <div className="flex flex-col gap-1.5">
      <div role="group" aria-label="The keys play" className="flex gap-1">
        <button
          className="button flex-1 justify-center px-2! py-0.5!"
          aria-pressed={alone}
          title="The keys play this sound alone, over its whole range"
          onClick={() => dispatch(soundsSlice.actions.aloneSet(true))}
        >
          this sound
        </button>
        <button
          className="button flex-1 justify-center px-2! py-0.5!"
          aria-pressed={!alone}
          title="The keys play the whole patch"
          onClick={() => dispatch(soundsSlice.actions.aloneSet(false))}
        >
          the patch
        </button>
      </div>
      <label className="flex items-center gap-2 text-[12px]">
        <input
          type="checkbox"
          checked={followsPlaying}
          onChange={(event) => dispatch(soundsSlice.actions.followSet(event.target.checked))}
        />{' '}
        choose the zone that answers
      </label>
    </div>
  );
}

/** What a synth, or grains, have in the left column: parts to be taken apart, and what the hands do. */
function KindColumn({ patch, sound }: { patch: Patch; sound: Sound | undefined }) {
  if (!sound || sound.kind === 'multisample') return null;
  return <KindParts key={sound.id} patch={patch} sound={sound} />;
}
