import { useMemo } from 'react';
import { readPage, type PageLine, type PagePart } from '../../core/formats/chordPro';

/** A player's page as it is read: chords over the words they belong to, sections by their names. */
export function PageText({ text }: { text: string }) {
  const page = useMemo(() => readPage(text), [text]);
  return (
    <div className="flex flex-col gap-[0.9em] leading-[1.25]">
      {(page.title || page.key) && (
        <p className="flex flex-wrap items-baseline gap-x-[1em]">
          <b>{page.title}</b>
          {page.subtitle && <span className="text-[0.8em] text-faint">{page.subtitle}</span>}
          {page.key && <span className="text-[0.8em] text-ochre">{page.key}</span>}
        </p>
      )}
      {page.sections.map(({ kind, label, lines }, i) => (
        <section
          key={i}
          aria-label={label || kind}
          className={
            kind === 'chorus' ? 'border-l-[3px] border-teal pl-[0.6em]' : kind === 'bridge' ? 'pl-[1.2em]' : ''
          }
        >
          {label && <h3 className="text-[0.72em] font-bold text-faint">{label}</h3>}
          {lines.map((line, n) => (
            <Line key={n} line={line} />
          ))}
        </section>
      ))}
    </div>
  );
}

function Line({ line }: { line: PageLine }) {
  if (line.kind === 'remark') return <p className="text-[0.85em] text-ochre italic">{line.text}</p>;
  if (line.kind === 'tab') return <pre className="number overflow-x-auto text-[0.7em] leading-tight">{line.text}</pre>;
  if (line.parts.length === 0) return <p className="h-[0.6em]" />;
  const hasChords = line.parts.some(({ chord }) => chord !== null);
  return (
    <p className="break-words">
      {line.parts.flatMap(wordsOf).map(({ chord, text }, i) =>
        hasChords ? (
          <span key={i} className="inline-flex flex-col align-bottom whitespace-pre">
            <b className="h-[1.15em] pr-[0.3em] text-[0.82em] text-teal">{chord ?? ''}</b>
            <span>{text === '' ? ' ' : text}</span>
          </span>
        ) : (
          <span key={i}>{text}</span>
        ),
      )}
    </p>
  );
}

/** Word by word, so that a line may be broken between them; the chord stands over the first. */
const wordsOf = ({ chord, text }: PagePart): PagePart[] => {
  const words = text.split(/(?<=\s)(?=\S)/);
  return words.map((word, i) => ({ chord: i === 0 ? chord : null, text: word }));
};
