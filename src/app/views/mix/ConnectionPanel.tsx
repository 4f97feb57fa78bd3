import { deleteConnection, takeConnection, updateConnection } from '../../../core/rig/edits/mix';
import { nameOfPlace, placesIn } from '../../../core/rig/mix';
import type { Connection, Patch } from '../../../core/rig/schema';
import { Part, Row } from '../../parts/Part';
import { TargetStrip } from '../../parts/TargetStrip';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, notice, told, useAppDispatch, useAppSelector } from '../../document/store';
import { Without } from './Without';

/** A connection in numbers: its level, its mute, where it goes. */
export function ConnectionPanel({ patch, connection }: { patch: Patch; connection: Connection }) {
  const dispatch = useAppDispatch();
  const pairs = useAppSelector((state) => state.rig.rig!.pairs);
  const listening = useStore(session, (now) => now.ears.listening);
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const { id, from, to, kind, tap } = connection;
  const alone = listening?.kind === 'connection' && listening.id === id;
  const takeTo = (place: string) => {
    let done = false;
    change((old) => {
      const next = takeConnection(old, id, place);
      done = next !== old;
      return next;
    });
    if (!done)
      dispatch(
        notice(
          'info',
          `It cannot flow to ${nameOfPlace(patch, place)}: it would flow in a circle, or flows there already.`,
          'flow',
        ),
      );
  };
  return (
    <>
      <h2 className="flex items-baseline gap-2">
        <span className="min-w-0 truncate text-[15px] font-bold">{nameOfPlace(patch, from)}</span>
        <span className="text-[12px] whitespace-nowrap text-faint">
          {kind === 'send' ? 'sends to' : 'flows to'} {nameOfPlace(patch, to, pairs)}
        </span>
      </h2>
      <Part title="How much">
        <TargetStrip patch={patch} target={`connection.${id}.level`} />
        <div className="flex gap-1.5">
          <button
            className="button px-2! py-0.5!"
            aria-pressed={!connection.on}
            title="Nothing goes this way (M)"
            onClick={() => change((old) => updateConnection(old, id, { on: !connection.on }))}
          >
            mute
          </button>
          <button
            className="button px-2! py-0.5!"
            aria-pressed={alone}
            title="Only this is heard (L)"
            onClick={() => session.ears.listenTo(alone ? null : { kind: 'connection', id })}
          >
            hear alone
          </button>
        </div>
      </Part>
      <Part title="Its way">
        <Row label="goes to">
          <select
            className="field min-w-0"
            aria-label="Goes to"
            value={to}
            onChange={(event) => takeTo(event.target.value)}
          >
            {[...(from === 'main' ? [] : placesIn(patch)), ...pairs.slice(1).map((pair) => `pair.${pair.id}`)]
              .filter((place) => !place.startsWith('layer.') && place !== from)
              .map((place) => (
                <option key={place} value={place}>
                  {nameOfPlace(patch, place, pairs)}
                </option>
              ))}
          </select>
        </Row>
        {kind === 'send' && (
          <Row label="branches off">
            <select
              className="field"
              value={tap}
              onChange={(event) =>
                change((old) => updateConnection(old, id, { tap: event.target.value as 'before' | 'after' }))
              }
            >
              <option value="after">after the strip</option>
              <option value="before">before the strip</option>
            </select>
          </Row>
        )}
      </Part>
      <Part title="Heard">
        <Without ids={[id]} patch={patch} label="without" />
      </Part>
      {kind === 'send' && (
        <button
          className="button self-start"
          onClick={() => {
            change((old) => deleteConnection(old, id));
            dispatch(told('The send is gone.'));
          }}
        >
          Delete this send
        </button>
      )}
    </>
  );
}
