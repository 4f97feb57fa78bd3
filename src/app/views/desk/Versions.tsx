import { Suspense, useEffect, useMemo, useState } from 'react';
import { contentOf, keepVersion, switchVersion } from '../../../core/rig/edits/versions';
import type { Patch } from '../../../core/rig/schema';
import { editPatch, newId, notice, selectPatch, store, useAppDispatch, useAppSelector } from '../../document/store';
import { versionLevels } from '../../jobs/versionLevels';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { late } from '../../parts/late';
import { ABOUT_BUTTON } from './patchButtons';

/** Comes after the page stands. */
const VersionsMenu = late(
  () => import('./VersionsMenu'),
  (there) => there.VersionsMenu,
);

/** This and that: versions of the patch side by side, switched under held notes. */
export function Versions({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [pressed, setPressed] = useState(false);
  const keep = () => {
    dispatch(editPatch(patch.id, (old) => keepVersion(old, [newId(), newId()])));
    const made = selectPatch(store.getState(), patch.id)!.versions;
    const now = made.at(-1)!.name;
    const before = made.at(-2)!.name;
    dispatch(
      notice(
        'info',
        `“${patch.name}” is kept as it is as version ${before}; you go on with ${now}, which is the same until you change it. A click on ${before} or ${now} switches, also under held notes.`,
        'compare',
      ),
    );
  };
  if (patch.versions.length === 0)
    return (
      <button
        className="button px-2! py-0! text-[12px] max-[1180px]:hidden"
        disabled={readOnly}
        title="Keeps the patch as it is as version A and goes on with B: switch between them under held notes"
        onClick={keep}
      >
        compare
      </button>
    );
  return (
    <div role="group" aria-label="Versions" className="flex items-center gap-0.5">
      {patch.versions.map(({ id, name }) => (
        <button
          dir="auto"
          key={id}
          className="button max-w-16 truncate px-2! py-0! text-[12px]"
          aria-pressed={id === patch.version}
          disabled={readOnly}
          title={
            id === patch.version
              ? `Version ${name}: what you hear and change now`
              : `Version ${name}: as it was left; a click goes on with it, also under held notes`
          }
          onClick={() => dispatch(editPatch(patch.id, (old) => switchVersion(old, id)))}
        >
          {name}
        </button>
      ))}
      <Suspense
        fallback={
          <button {...ABOUT_BUTTON} onClick={() => setPressed(true)}>
            …
          </button>
        }
      >
        <VersionsMenu patch={patch} onKeep={keep} pressed={pressed} />
      </Suspense>
    </div>
  );
}

/** The dB by which the version that plays is turned down. */
export function useTrim(patch: Patch): number {
  const rig = useAppSelector((state) => state.rig.rig)!;
  const measured = useRefresh(versionLevels);
  const takes = useRefresh(session.takes);
  const present = useMemo(() => contentOf(patch), [patch]);
  const [trim, setTrim] = useState(0);
  // An edit is measured once the hand has come to rest; until then the last trim holds.
  useEffect(() => {
    if (patch.versions.length === 0) {
      setTrim(0);
      return undefined;
    }
    const timer = setTimeout(() => setTrim(versionLevels.trimOf(rig, patch, present)), 250);
    return () => clearTimeout(timer);
  }, [rig, patch, present, measured, takes]);
  return trim;
}
