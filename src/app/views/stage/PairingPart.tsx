import { lazy, Suspense, useEffect, useState } from 'react';
import { useRefresh } from '../../parts/useLive';
import { isAddress } from '../../../core/remote/messages';
import { pairing } from '../../show/pairing';
import { PlaceFields, type Place } from './PlaceFields';

const SparePart = lazy(async () => ({ default: (await import('./SparePart')).SparePart }));

const spaced = (code: string): string => `${code.slice(0, 4)} ${code.slice(4)}`;

/**
 * A tablet as a pad, a phone as the list: nothing is offered until it is asked for, and the code on this page lets one
 * device in.
 */
export function PairingPart() {
  useRefresh(pairing);
  const { state, room, devices, problem, lost } = pairing;
  const [at, setAt] = useState(0);
  const addresses = room?.addresses ?? [];
  const host = addresses[Math.min(at, addresses.length - 1)] ?? location.hostname;
  const link = room ? `http://${host}${location.port ? `:${location.port}` : ''}/remote#${room.code}` : '';
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto">
      {state !== 'open' ? (
        <div className="flex flex-col items-start gap-3">
          <p>
            A tablet or a phone in the same network can be a pad, the macros, the setlist or the stage display, several
            at once. Nothing is offered to the network until you ask for it, and each device needs a code from this
            page.
          </p>
          {state === 'lost' ? (
            <button className="button h-11 text-[16px]" onClick={() => pairing.close()}>
              End the pairing
            </button>
          ) : (
            <button className="button h-11 text-[16px]" disabled={state === 'opening'} onClick={() => pairing.open()}>
              Offer pairing
            </button>
          )}
        </div>
      ) : (
        <>
          <div className="flex flex-wrap items-start gap-5">
            {room && <Qr text={link} />}
            <div className="flex min-w-60 flex-1 flex-col gap-2">
              <p>
                Scan it with the device, or open{' '}
                <b className="break-all">{`http://${host}${location.port ? `:${location.port}` : ''}/remote`}</b> there
                and type
              </p>
              <p className="number text-[38px] leading-none tracking-wider" data-testid="pairing-code">
                {room ? spaced(room.code) : '…'}
              </p>
              <p className="text-faint">It lets one device in, for ten minutes; then another code stands here.</p>
              {addresses.length > 1 && (
                <label className="flex items-center gap-2">
                  this machine is at
                  <select className="field h-10" value={at} onChange={(event) => setAt(Number(event.target.value))}>
                    {addresses.map((address, i) => (
                      <option key={address} value={i}>
                        {address}
                      </option>
                    ))}
                  </select>
                </label>
              )}
              <button className="button h-11 self-start" onClick={() => pairing.close()}>
                End the pairing
              </button>
            </div>
          </div>
          <section aria-label="Devices">
            <h3 className="heading">Devices</h3>
            {devices.length === 0 && <p className="text-faint">None yet.</p>}
            <ul>
              {devices.map(({ id, name, latency }) => (
                <li key={id} className="flex min-h-11 items-center gap-3 border-b border-line">
                  <span dir="auto" className="min-w-0 flex-1 truncate text-[16px]">
                    {name}
                  </span>
                  <span className="number text-faint">
                    {latency === null ? '' : `${Math.round(latency)} ms there and back`}
                  </span>
                  <button className="button h-10" onClick={() => pairing.dismiss(id)}>
                    send away
                  </button>
                </li>
              ))}
            </ul>
            <label className="mt-2 flex items-center gap-2">
              When a device is lost, what it held
              <select
                className="field h-10"
                value={lost}
                onChange={(event) => pairing.setLost(event.target.value as 'rest' | 'stay')}
              >
                <option value="rest">goes back to rest</option>
                <option value="stay">stays where it is</option>
              </select>
            </label>
          </section>
        </>
      )}
      {problem && (
        <p role="alert" className="text-alarm">
          {problem}
        </p>
      )}
      <Suspense fallback={null}>
        <SparePart />
      </Suspense>
      {state === 'open' && <OscPart />}
    </div>
  );
}

/** The link as a picture that cameras read. */
function Qr({ text }: { text: string }) {
  const [picture, setPicture] = useState('');
  useEffect(() => {
    let live = true;
    void import('qrcode')
      .then(({ toString }) => toString(text, { type: 'svg', margin: 2, errorCorrectionLevel: 'M' }))
      .then((svg) => {
        if (live) setPicture(`data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`);
      })
      .catch(() => undefined);
    return () => {
      live = false;
    };
  }, [text]);
  return picture ? (
    <img src={picture} width={220} height={220} alt={`Code to scan: ${text}`} className="rounded-lg bg-white" />
  ) : (
    <div className="h-[220px] w-[220px]" />
  );
}

const HERE = '127.0.0.1';

function OscPart() {
  const { osc } = pairing;
  const [hear, setHear] = useState({ address: HERE, port: 9000 });
  const [send, setSend] = useState({ address: HERE, port: 9001 });
  const row = (title: string, place: Place, put: (place: Place) => void, on: boolean, toggle: () => void) => (
    <div className="flex min-h-11 flex-wrap items-center gap-2">
      <span className="w-24">{title}</span>
      <PlaceFields
        hideLabel
        label={`${title} address`}
        place={place}
        put={put}
        fits={isAddress}
        example="an address such as 127.0.0.1"
        disabled={on}
      />
      <button className="button h-10" aria-pressed={on} onClick={toggle}>
        {on ? 'on' : 'off'}
      </button>
    </div>
  );
  return (
    <section aria-label="OSC">
      <h3 className="heading">Open Sound Control (UDP)</h3>
      <p className="text-faint">
        Hears /wavicle/macro/1 0.5, /wavicle/xy/1 0.2 0.8, /wavicle/next, /wavicle/previous, /wavicle/step 3,
        /wavicle/silence; tells /wavicle/stage and /wavicle/macro/N. Off unless you switch it on; 127.0.0.1 is this
        machine alone.
      </p>
      {row('hear at', hear, setHear, osc.in !== null, () => pairing.setOsc(osc.in ? null : hear, osc.out))}
      {row('tell', send, setSend, osc.out !== null, () => pairing.setOsc(osc.in, osc.out ? null : send))}
      {osc.problem && (
        <p role="alert" className="text-alarm">
          {osc.problem}
        </p>
      )}
    </section>
  );
}
