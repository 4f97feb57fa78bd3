import { useRef, useState } from 'react';
import { readPage } from '../../../core/formats/chordPro';
import { safeName } from '../../../core/formats/safeName';
import { notice, useAppDispatch } from '../../document/store';
import { download } from '../../jobs/working';
import { LONGEST_PAGE } from '../../../core/rig/limits';

interface Props {
  name: string;
  text: string;
  onText: (text: string) => void;
}

/** The player's page of an entry: written here in ChordPro, read from a file, written to one. */
export function PageField({ name, text, onText }: Props) {
  const dispatch = useAppDispatch();
  const chooser = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState(false);
  const { sections } = readPage(text);
  const take = async (file: File) => {
    const read = (await file.text()).replace(/^\uFEFF/, '');
    if (read.length > LONGEST_PAGE)
      dispatch(
        notice(
          'problem',
          `“${file.name}” has ${read.length} characters, a page ${LONGEST_PAGE} at the most. Nothing was changed.`,
          'page',
        ),
      );
    else if (read.includes('\0'))
      dispatch(notice('problem', `“${file.name}” is no text. Nothing was changed.`, 'page'));
    else {
      onText(read);
      setOpen(true);
    }
  };
  return (
    <>
      <button className="button h-9" aria-expanded={open} onClick={() => setOpen(!open)}>
        page {text === '' ? '…' : `· ${sections.length} ${sections.length === 1 ? 'section' : 'sections'}`}
      </button>
      <button className="button h-9" onClick={() => chooser.current?.click()}>
        from a file …
      </button>
      {text !== '' && (
        <button
          className="button h-9"
          onClick={() => download(new TextEncoder().encode(text), `${safeName(name)}.cho`, 'text/plain')}
        >
          as a file
        </button>
      )}
      <input
        ref={chooser}
        type="file"
        accept=".cho,.chordpro,.chopro,.crd,.pro,.txt"
        className="hidden"
        tabIndex={-1}
        aria-label={`Page for ${name}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void take(file);
        }}
      />
      {open && (
        <textarea
          className="field number min-h-40 basis-full w-full resize-y text-[13px] leading-snug"
          rows={10}
          aria-label={`Words and chords of ${name}`}
          placeholder={'{title: …}\n{key: D}\n{start_of_verse}\n[D]Words with [G]chords in brackets\n{end_of_verse}'}
          spellCheck={false}
          key={text}
          defaultValue={text}
          maxLength={LONGEST_PAGE}
          onBlur={(event) => {
            if (event.target.value !== text) onText(event.target.value);
          }}
        />
      )}
    </>
  );
}
