import { useRefresh } from '../../../parts/useLive';
import { session } from '../../../sound/session';

/** The face of the instrument that ships with the product: what it was told. */
export function StandInPanel() {
  const { standIn } = session.outputs;
  useRefresh(standIn);
  return (
    <section aria-label="Stand-in instrument" className="mt-3 rounded-lg border border-line px-3 py-2">
      <h3 className="heading">The stand-in shows</h3>
      {standIn.words.length === 0 && <p className="text-[12.5px] text-faint">Nothing was told yet.</p>}
      <ul className="number text-[12.5px]">
        {standIn.words.map((line) => (
          <li key={line}>{line}</li>
        ))}
        {standIn.tempo > 0 && (
          <li>
            clock {standIn.tempo.toFixed(1)} quarters a minute, {standIn.runs ? 'runs' : 'stands'}
          </li>
        )}
      </ul>
    </section>
  );
}
