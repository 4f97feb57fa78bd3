import { createPortal } from 'react-dom';
import { nameOfEntry } from '../../../core/rig/setlist';
import { signed } from '../../parts/format';
import type { Rig, Setlist } from '../../../core/rig/schema';

/** What is printed: the whole show on one page, seen on paper alone. */
export function PrintedSetlist({ rig, setlist }: { rig: Rig; setlist: Setlist }) {
  const lines = setlist.entries.reduce(
    (sum, { notes, kind }) => sum + 1.4 + (notes ? notes.split('\n').length * 0.8 : 0) + (kind === 'song' ? 0.8 : 0),
    3 + setlist.notes.split('\n').length,
  );
  let sum = 0;
  return createPortal(
    // Small enough for one page: an A4 page holds about 52 lines at 12 points.
    <article className="printed" style={{ fontSize: `${Math.max(4, Math.min(13, (52 * 12) / lines)).toFixed(1)}pt` }}>
      <h1>{setlist.name}</h1>
      {setlist.notes && <p className="notes">{setlist.notes}</p>}
      <table>
        <tbody>
          {setlist.entries.map((entry, n) => {
            const begins = sum;
            sum += entry.minutes;
            const patches = entry.patches.map((id) => rig.patches.find((patch) => patch.id === id)!);
            return (
              <tr key={entry.id} className={entry.kind}>
                <td>{n + 1}</td>
                <td>
                  <b>{nameOfEntry(rig, entry)}</b>
                  {(entry.kind === 'song' ||
                    (entry.name !== '' && entry.kind === 'patch' && entry.name !== patches[0].name)) && (
                    <div>{patches.map(({ name }) => name).join(' → ')}</div>
                  )}
                  {entry.notes && <div className="notes">{entry.notes}</div>}
                </td>
                <td>
                  {entry.kind === 'pause' ? '' : `♩ = ${entry.tempo ?? patches[0].tempo}`}
                  {entry.transpose !== 0 ? ` · ${signed(entry.transpose)}` : ''}
                </td>
                <td>{entry.minutes > 0 ? `${entry.minutes}′` : ''}</td>
                <td>
                  {begins > 0 ? `${Math.floor(begins / 60)}:${String(Math.round(begins % 60)).padStart(2, '0')}` : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </article>,
    document.body,
  );
}
