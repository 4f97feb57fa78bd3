import { useState } from 'react';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { troubles } from '../../show/troubles';

/**
 * What is wrong now, in one line; a touch shows the others. Where nothing is, its room stays, so that nothing moves
 * under the fingers.
 */
export function TroubleLine() {
  const list = useStore(troubles, (now) => now.list);
  const status = useStore(session.midi, (midi) => midi.status.text);
  const [all, setAll] = useState(false);
  const shown = all ? list : list.slice(0, 1);
  return (
    <div
      role="status"
      aria-label="What is wrong"
      className={`shrink-0 text-[15px] ${list.length > 0 ? 'border-b border-line bg-ochre/15' : ''}`}
      data-testid="trouble"
    >
      <ul className="min-h-10 [@media(max-height:520px)]:min-h-0">
        {list.length === 0 && (
          <li className="flex min-h-10 items-center px-5 text-faint max-sm:px-3 [@media(max-height:520px)]:hidden">
            {status}
          </li>
        )}
        {shown.map(({ id, text, action }) => (
          <li key={id} className="flex min-h-10 items-center gap-3 px-5 max-sm:px-3">
            <span className="min-w-0 flex-1 truncate" title={text}>
              {text}
            </span>
            {action && (
              <button className="h-10 shrink-0 rounded-md border border-edge bg-sheet px-4" onClick={action.run}>
                {action.label}
              </button>
            )}
            {!all && list.length > 1 && (
              <button className="h-10 shrink-0 rounded-md px-3 underline" onClick={() => setAll(true)}>
                and {list.length - 1} more
              </button>
            )}
          </li>
        ))}
        {all && list.length > 1 && (
          <li>
            <button className="h-10 px-5 underline" onClick={() => setAll(false)}>
              less
            </button>
          </li>
        )}
      </ul>
    </div>
  );
}
