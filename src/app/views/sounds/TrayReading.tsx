import type { ReactNode } from 'react';
import { MEANINGS, type Meaning } from '../../../core/mapping/names';
import type { Plan } from '../../../core/mapping/planModel';
import { tray } from '../../jobs/tray';
import { MEANING_WORDS } from './TrayFiles';

/** How the files were understood, what should be looked at, and how far the reading has come. */
export function TrayReading({
  plan,
  doubles,
  soundName,
  whole,
  children,
}: {
  plan: Plan | null;
  doubles: number;
  soundName: string;
  whole: boolean;
  children: ReactNode;
}) {
  const failed = tray.files.filter((file) => file.state === 'failed');
  const columns =
    plan?.reading?.columns.filter((column) => column.texts.length > 1 || column.meaning !== 'nothing') ?? [];
  const warnings = [
    ...(plan?.warnings ?? []),
    ...(doubles > 0
      ? [
          `${doubles} of these ${doubles === 1 ? 'is' : 'are'} in “${soundName}” already, in the same place: the same audio would sound twice as loud`,
        ]
      : []),
  ];
  return (
    <aside
      aria-label="How it was understood"
      tabIndex={0}
      className="flex min-h-0 flex-col gap-3 overflow-y-auto border-l border-line p-3.5 [scrollbar-width:thin]"
    >
      {tray.busy && (
        <div role="status" className="flex flex-col gap-1.5">
          <p>
            Reading {tray.done} of {tray.total} files …
          </p>
          <div
            role="progressbar"
            aria-label="Files read"
            aria-valuemin={0}
            aria-valuemax={tray.total}
            aria-valuenow={tray.done}
            className="h-2 overflow-hidden rounded-full border border-edge"
          >
            <div className="h-full bg-ink" style={{ width: `${(100 * tray.done) / Math.max(1, tray.total)}%` }} />
          </div>
          <button className="button self-start" onClick={() => tray.cancel()}>
            Stop reading
          </button>
        </div>
      )}
      {(tray.problems.length > 0 || failed.length > 0) && (
        <section aria-label="What did not come in" className="rounded-md border border-alarm p-2">
          <h3 className="heading text-alarm!">Did not come in</h3>
          <ul className="text-[12px]">
            {tray.problems.map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
            {failed.slice(0, 40).map((file) => (
              <li key={file.path}>
                {file.path}: {file.problem}
              </li>
            ))}
            {failed.length > 40 && <li>and {failed.length - 40} more</li>}
          </ul>
          {failed.length > 0 && <p className="text-[12px] text-faint">The others are here.</p>}
        </section>
      )}
      {plan && !whole && (
        <section aria-label="Understood as">
          <h3 className="heading">Understood as</h3>
          <ul className="list-disc pl-4 text-[12.5px]">
            {plan.explanation.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </section>
      )}
      {warnings.length > 0 && (
        <section aria-label="To look at">
          <h3 className="heading">To look at</h3>
          <ul className="list-disc pl-4 text-[12.5px] text-alarm">
            {warnings.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </section>
      )}
      {columns.length > 0 && (
        <section aria-label="Parts of the names" className="flex flex-col gap-1.5">
          <h3 className="heading">Parts of the names</h3>
          {columns.map(({ column, meaning, texts }) => (
            <label key={column} className="flex items-center gap-2 text-[12px]">
              <span className="min-w-0 flex-1 truncate" title={texts.join(', ')}>
                {texts.length <= 3 ? texts.join(', ') : `${texts[0]} … ${texts[texts.length - 1]}`}
              </span>
              <select
                className="field w-36"
                aria-label={`What “${texts[0]}” means`}
                value={meaning}
                onChange={(event) =>
                  tray.setOptions({
                    corrections: { ...tray.options.corrections, [column]: event.target.value as Meaning },
                  })
                }
              >
                {MEANINGS.map((each) => (
                  <option key={each} value={each}>
                    {MEANING_WORDS[each]}
                  </option>
                ))}
              </select>
            </label>
          ))}
          {Object.keys(tray.options.corrections).length > 0 && (
            <button className="button self-start px-2! py-0!" onClick={() => tray.setOptions({ corrections: {} })}>
              Guess again
            </button>
          )}
        </section>
      )}
      <div className="mt-auto flex flex-col gap-2 pt-2">{children}</div>
    </aside>
  );
}
