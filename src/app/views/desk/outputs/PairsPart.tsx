import { X } from 'lucide-react';
import { addPair, deletePair, renamePair } from '../../../../core/rig/edits/pairs';
import type { Rig } from '../../../../core/rig/schema';
import { settingsSlice } from '../../../document/settingsSlice';
import { edit, useAppDispatch } from '../../../document/store';
import { TextBox } from '../../../parts/TextBox';
import { useRefresh } from '../../../parts/useLive';
import { session } from '../../../sound/session';
import { LONGEST_NAME, MOST_PAIRS } from '../../../../core/rig/limits';

/** Pairs of outputs by name, and the channels that this machine gives them. */
export function PairsPart({ rig }: { rig: Rig }) {
  const dispatch = useAppDispatch();
  useRefresh(session);
  useRefresh(session.audio);
  const { missing } = session.pairs;
  return (
    <section aria-label="Pairs of outputs" className="mb-3 border-t border-line pt-2">
      <h3 className="heading mb-1">Pairs of outputs</h3>
      <ul className="flex flex-col gap-1">
        {rig.pairs.map((pair, n) => (
          <li key={pair.id} className="flex items-center gap-1.5">
            <TextBox
              label={`Name of pair ${n + 1}`}
              className="flex-1"
              text={pair.name}
              longest={LONGEST_NAME}
              onChange={(name) => {
                // The channels go by the name, and with it.
                const at = session.pairs.channelsOf(pair.id);
                dispatch(settingsSlice.actions.channelsChosen({ name, pair: at }));
                dispatch(edit((old) => renamePair(old, pair.id, name)));
              }}
            />
            <select
              className="field"
              aria-label={`Channels of ${pair.name} here`}
              value={session.pairs.channelsOf(pair.id)}
              onChange={(event) =>
                dispatch(settingsSlice.actions.channelsChosen({ name: pair.name, pair: Number(event.target.value) }))
              }
            >
              {Array.from({ length: MOST_PAIRS }, (_, at) => (
                <option key={at} value={at}>
                  channels {2 * at + 1} and {2 * at + 2}
                  {session.audio.hasPair(at) ? '' : ' (not there)'}
                </option>
              ))}
            </select>
            <button
              className="button-bare"
              aria-label={`Remove ${pair.name}`}
              title={n === 0 ? 'The first pair is where main goes: it stays' : 'What went there goes its own way again'}
              disabled={n === 0}
              onClick={() => dispatch(edit((old) => deletePair(old, pair.id)))}
            >
              <X size={14} />
            </button>
          </li>
        ))}
      </ul>
      {rig.pairs.length < MOST_PAIRS && (
        <button
          className="button mt-1"
          onClick={() => dispatch(edit((old) => addPair(old, SUGGESTED[rig.pairs.length - 1] ?? 'pair')))}
        >
          + pair
        </button>
      )}
      <p className="mt-1 text-[12px] text-faint">
        Main goes to the first. In Mix, any place, and main, can be sent to the others or flow there instead.
      </p>
      {missing.length > 0 && (
        <p role="status" className="mt-1 text-[12.5px] text-alarm">
          This device has {session.audio.channels} channels: {missing.map((name) => `“${name}”`).join(', ')}{' '}
          {missing.length === 1 ? 'has' : 'have'} none here. What goes there is heard in the first pair.
        </p>
      )}
    </section>
  );
}
const SUGGESTED = ['phones', 'drummer', 'spare'];
