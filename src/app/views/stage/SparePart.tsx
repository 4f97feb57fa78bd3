import { useState } from 'react';
import { isNear } from '../../../core/remote/messages';
import { keptPlace } from '../../show/spare/awayLine';
import { spare } from '../../show/spare/spare';
import { spareState } from '../../show/spareState';
import { useStore } from '../../parts/useLive';
import { PlaceFields } from './PlaceFields';
import { SpareLine } from './SpareLine';

/**
 * A second machine that plays along: this page joins another one here; the other one lets it in by its code, as it does any
 * device.
 */
export function SparePart() {
  const { line, role, problem } = useStore(spareState, ({ now }) => now);
  const kept = keptPlace();
  const [place, setPlace] = useState({ address: kept?.address ?? '', port: kept?.port ?? 4180 });
  const [code, setCode] = useState('');
  const [name, setName] = useState(spare.name);
  const [byItself, setByItself] = useState(spare.byItself);
  const joined = line !== 'none';
  return (
    <section aria-label="A second machine" className="flex flex-col gap-2">
      <h3 className="heading">A second machine</h3>
      <p className="text-faint">
        Another computer with Wavicle can play everything along, mute, and take over in mid-song. On the machine that
        plays, offer pairing; here, on the other one, type its address and its code.
      </p>
      {(joined || problem !== '') && <SpareLine within />}
      {joined ? (
        <button className="button h-11 self-start" onClick={() => spare.end()}>
          {role === 'follows' ? 'play along no more' : 'end it'}
        </button>
      ) : (
        <div className="flex flex-wrap items-center gap-3">
          <PlaceFields
            label="address"
            place={place}
            put={setPlace}
            fits={isNear}
            example="an address of this network, such as 192.168.1.20"
          />
          <label className="flex items-center gap-2">
            code
            <input
              className="field number h-10 w-36 uppercase"
              value={code}
              maxLength={16}
              autoComplete="off"
              onChange={(event) => setCode(event.target.value)}
              onKeyDown={(event) => event.stopPropagation()}
            />
          </label>
          <label className="flex items-center gap-2">
            called
            <input
              className="field h-10 w-44"
              value={name}
              maxLength={40}
              onChange={(event) => setName(event.target.value)}
              onBlur={() => spare.setName(name)}
              onKeyDown={(event) => event.stopPropagation()}
            />
          </label>
          <button
            className="button h-11"
            disabled={place.address === '' || code.trim() === ''}
            onClick={() => {
              spare.setName(name);
              spare.join(place.address, place.port, code);
            }}
          >
            Play along
          </button>
          {kept && (
            <button className="button h-11" onClick={() => spare.resume()}>
              Play along again at {kept.address}
            </button>
          )}
        </div>
      )}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={byItself}
          onChange={(event) => {
            spare.setByItself(event.target.checked);
            setByItself(event.target.checked);
          }}
        />
        takes over by itself when nothing has come for half a second
      </label>
      <p className="text-faint">
        Choose that where a cable joins both: a radio network may be away for longer, and then both would be heard. Else
        a touch takes over, or what was learned for “take over” in Going through the show.
      </p>
    </section>
  );
}
