import { useEffect, useMemo, useRef, useState } from 'react';
import { applyPlan, zoneOfRow } from '../../../core/rig/edits/plans';
import { addLayer, updatePatch } from '../../../core/rig/edits/layers';
import { addSamples, addSound, sameAudioTwice } from '../../../core/rig/edits/zones';
import type { Plan } from '../../../core/mapping/planModel';
import type { Patch, Sound } from '../../../core/rig/schema';
import { stopAudition } from '../../jobs/audition';
import { keyScaleOf, useWidth } from '../../parts/keyScale';
import { edit, newId, notice, useAppDispatch, useAppSelector } from '../../document/store';
import { tray } from '../../jobs/tray';
import { PlanPicture } from './PlanPicture';
import { TrayFiles } from './TrayFiles';
import { TrayOptions, type TrayTarget } from './TrayOptions';
import { TrayReading } from './TrayReading';
import { WholeSounds } from './WholeSounds';

/** What was brought in, and where each file would go: heard, changed freely, and placed in one step or not at all. */
export function TrayView({
  patch,
  sound,
  onDone,
}: {
  patch: Patch;
  sound: Sound | undefined;
  onDone: (soundId: string) => void;
}) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [target, setTarget] = useState<TrayTarget>({
    into: 'new',
    asLayer: true,
    dynamicsApart: false,
    oneList: false,
    listLayers: 1,
  });
  const [chosen, setChosen] = useState(0);
  const [mapRef, width] = useWidth<HTMLDivElement>();
  const scale = useMemo(() => keyScaleOf(width), [width]);
  // While files still come in, the plan of before stays in view; making one for each file would take the page's time.
  const shown = useRef<Plan | null>(null);
  if (!tray.busy) shown.current = tray.ready.length > 0 ? tray.plan : null;
  const plan = shown.current;
  useEffect(() => {
    if (tray.options.middleC !== middleC) tray.setOptions({ middleC });
  }, [middleC]);
  useEffect(() => stopAudition, []);
  const whole = tray.sounds.length > 0 && tray.files.length === 0;
  const doubles = useMemo(() => {
    if (!plan || target.into !== 'present' || !sound) return 0;
    const added = plan.rows.filter((row) => row.placed).map((row) => zoneOfRow(row, tray.ready[row.file].brought.plan));
    return sameAudioTwice([...sound.zones, ...added]).filter(
      ([first, second]) => first < sound.zones.length && second >= sound.zones.length,
    ).length;
  }, [plan, target.into, sound]);

  const apply = () => {
    stopAudition();
    let opened = '';
    dispatch(
      edit((old) => {
        if (whole) {
          let next = old;
          for (const each of tray.sounds.filter(({ wanted }) => wanted)) {
            const id = newId();
            opened ||= id;
            next = addSound(addSamples(next, each.samples), id, each.name.slice(0, 200) || 'unnamed', each.zones);
            if (target.asLayer)
              next = updatePatch(next, patch.id, (value) =>
                addLayer(value, newId(), each.name.slice(0, 200) || 'unnamed', id),
              );
          }
          return next;
        }
        const files = tray.ready.map((file) => file.brought.plan);
        const samples = tray.ready.map((file) => file.brought.sample);
        const made = applyPlan(old, tray.plan, files, samples, {
          soundId: target.into === 'present' && sound ? sound.id : null,
          name: tray.name || 'New sound',
          newId,
          patchId: target.asLayer ? patch.id : null,
          dynamicsApart: target.dynamicsApart,
          oneList: target.oneList,
          listLayers: target.listLayers,
        });
        [opened] = made.soundIds;
        return made.rig;
      }),
    );
    const count = whole
      ? tray.sounds.filter(({ wanted }) => wanted).length
      : tray.plan.rows.filter((row) => row.placed).length;
    dispatch(
      notice(
        'info',
        whole
          ? `${count} ${count === 1 ? 'sound' : 'sounds'} brought in. Control Z takes ${count === 1 ? 'it' : 'them'} back.`
          : `${count} zones placed. Control Z takes them back.`,
      ),
    );
    tray.clear();
    onDone(opened);
  };
  const placed = whole
    ? tray.sounds.filter(({ wanted }) => wanted).length
    : (plan?.rows.filter((row) => row.placed).length ?? 0);

  return (
    <>
      <TrayOptions plan={plan} target={target} onTarget={setTarget} sound={sound} whole={whole} />
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_var(--right)]">
        <div ref={mapRef} className="grid min-h-0 grid-rows-[minmax(120px,210px)_minmax(0,1fr)]">
          {whole ? (
            <WholeSounds />
          ) : (
            <>
              {width > 0 && <PlanPicture plan={plan} scale={scale} chosen={chosen} onChoose={setChosen} />}
              <TrayFiles plan={plan} patch={patch} sound={sound} chosen={chosen} onChoose={setChosen} />
            </>
          )}
        </div>
        <TrayReading plan={plan} doubles={doubles} soundName={sound?.name ?? ''} whole={whole}>
          <div className="flex gap-2">
            <button
              className="button flex-1 justify-center bg-ink! text-paper!"
              disabled={placed === 0 || tray.busy || readOnly}
              onClick={apply}
            >
              {whole
                ? `Bring in ${placed} ${placed === 1 ? 'sound' : 'sounds'}`
                : `Place ${placed} ${placed === 1 ? 'file' : 'files'}`}
            </button>
            <button
              className="button"
              onClick={() => {
                stopAudition();
                tray.clear();
              }}
            >
              Give up
            </button>
          </div>
          <button
            className="self-start text-[12px] text-faint underline"
            onClick={() => {
              tray.open = false;
              tray.setOptions({});
            }}
          >
            Keep it for later, back to the map
          </button>
        </TrayReading>
      </div>
    </>
  );
}
