import { useEffect, useState } from 'react';
import { metresOf } from '../../../../core/measure/loopDelay';
import { measureLoop } from '../../../../host/loopMeasure';
import { askForNames, canChooseDevice, outputDevices, type OutputDevice } from '../../../../host/outputDevices';
import { settingsSlice } from '../../../document/settingsSlice';
import { useAppDispatch, useAppSelector } from '../../../document/store';
import { useRefresh } from '../../../parts/useLive';
import { useTick } from '../../../parts/useTick';
import { session } from '../../../sound/session';

/** The sound device of this machine, and how long a key takes to be heard. */
export function DevicePart() {
  const dispatch = useAppDispatch();
  const { device, latency } = useAppSelector((state) => state.settings);
  const [devices, setDevices] = useState<readonly OutputDevice[]>([]);
  const [problem, setProblem] = useState('');
  useRefresh(session.audio);
  useEffect(() => {
    let live = true;
    const look = () =>
      void outputDevices().then((found) => {
        if (live) setDevices(found);
      });
    look();
    navigator.mediaDevices?.addEventListener?.('devicechange', look);
    return () => {
      live = false;
      navigator.mediaDevices?.removeEventListener?.('devicechange', look);
    };
  }, []);
  const isAway = device !== null && !devices.some(({ id, name }) => id === device.id || name === device.name);
  const all = device && isAway ? [...devices, device] : devices;
  return (
    <section aria-label="Sound device" className="mb-3">
      <h3 className="heading mb-1">Device of this machine</h3>
      {canChooseDevice() ? (
        <div className="flex items-center gap-1.5">
          <select
            className="field min-w-0 flex-1"
            aria-label="Sound device"
            value={device?.id ?? ''}
            onChange={(event) => {
              const chosen = all.find(({ id }) => id === event.target.value) ?? null;
              dispatch(settingsSlice.actions.deviceChosen(chosen));
            }}
          >
            <option value="">the one that the system has chosen</option>
            {all.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
                {isAway && id === device?.id ? ' (not there: that of the system plays)' : ''}
              </option>
            ))}
          </select>
          {devices.length === 0 && (
            <button
              className="button"
              title="Browsers tell the names of devices once an input was permitted"
              onClick={() => {
                setProblem('');
                askForNames()
                  .then(outputDevices)
                  .then(setDevices, (error: Error) => setProblem(error.message));
              }}
            >
              Find devices …
            </button>
          )}
        </div>
      ) : (
        <p className="text-[12.5px] text-faint">This browser plays to the device that the system has chosen.</p>
      )}
      {problem !== '' && (
        <p role="status" className="text-[12.5px] text-alarm">
          No names: {problem}.
        </p>
      )}
      <label className="mt-1.5 flex items-center justify-between gap-2">
        Latency wanted
        <select
          className="field"
          value={latency}
          onChange={(event) =>
            dispatch(settingsSlice.actions.latencyChosen(event.target.value === 'safe' ? 'safe' : 'lowest'))
          }
        >
          <option value="lowest">the lowest there is</option>
          <option value="safe">safe: for a machine that is busy</option>
        </select>
      </label>
      <Latency />
    </section>
  );
}

function Latency() {
  useTick(true, 1);
  const [measured, setMeasured] = useState<{ ms?: number; problem?: string; busy?: boolean }>({});
  const ms = session.audio.latencyMs;
  const { context } = session.audio;
  const all = ms ? ms.base + ms.output : 0;
  const measure = () => {
    if (!context) return;
    setMeasured({ busy: true });
    measureLoop(context).then(
      (found) => setMeasured({ ms: found }),
      (error: Error) => setMeasured({ problem: error.message }),
    );
  };
  return (
    <div className="mt-1 text-[12.5px] text-faint" role="status" aria-label="Latency">
      {!ms ? (
        'How long a key takes is told once sound runs.'
      ) : (
        <>
          A key is heard about <b className="number text-ink">{all.toFixed(0)} ms</b> after it is struck (
          {ms.base.toFixed(1)} ms here, {ms.output.toFixed(1)} ms in the device): as if the loudspeaker stood{' '}
          {metresOf(all).toFixed(1)} m away.{' '}
          <button className="button px-2! py-0!" disabled={measured.busy} onClick={measure}>
            {measured.busy ? 'listening …' : 'Measure by a loop'}
          </button>
        </>
      )}
      {measured.ms !== undefined && (
        <p>
          From output to input and back: <b className="number text-ink">{measured.ms.toFixed(1)} ms</b>.
        </p>
      )}
      {measured.problem !== undefined && <p className="text-alarm">Not measured: {measured.problem}.</p>}
    </div>
  );
}
