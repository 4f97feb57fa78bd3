import { marked } from 'marked';
import { useEffect, useMemo, useRef, useState } from 'react';
import text from '../../../../docs/handbook.md?raw';
import { useAppSelector } from '../../document/store';
import { slugOf, VIEWS } from '../../parts/help/places';
import { SheetFrame } from '../../parts/Sheet';
import { useView } from '../../parts/useView';
import { lookUp, type Paragraph } from './handbookSearch';

/** Pictures of the handbook; those of the build go with it, so that it is all there without a network. */
const pictures = import.meta.glob<string>('../../../../docs/screenshots/*.png', {
  eager: true,
  query: '?url',
  import: 'default',
});
const pictureOf = (href: string): string => pictures[`../../../../docs/${href}`] ?? href;
const CHAPTERS = [...text.matchAll(/^## (.+)$/gm)].map(([, title]) => title);
/** What is drawn, by the heading it stands under. */
function paragraphsIn(box: Element): (Paragraph & { block: Element })[] {
  let heading = '';
  const out: (Paragraph & { block: Element })[] = [];
  for (const block of box.querySelectorAll('h2, h3, h4, p, li, pre')) {
    const text = block.textContent.replace(/\s+/g, ' ').trim();
    if (/^H\d$/.test(block.tagName)) heading = text;
    else if (text !== '') out.push({ heading, text, block });
  }
  return out;
}

/** The whole job in its order; opens where one is, or where it was asked to. */
export function HandbookSheet() {
  const page = useAppSelector((state) => state.desk.page);
  const [typed, setTyped] = useState('');
  const view = useView();
  const box = useRef<HTMLDivElement>(null);
  const html = useMemo(() => {
    const renderer = new marked.Renderer();
    renderer.heading = ({ text: title, depth }) =>
      `<h${depth + 1} id="handbook-${slugOf(title)}">${title}</h${depth + 1}>`;
    renderer.image = ({ href, text: alt }) => `<img src="${pictureOf(href)}" alt="${alt}" loading="lazy" />`;
    // It is a file of ours and nobody else’s.
    return marked.parse(text, { renderer, async: false });
  }, []);
  const go = (slug: string) => box.current?.querySelector(`#handbook-${slug}`)?.scrollIntoView({ block: 'start' });
  useEffect(() => {
    const here = location.pathname.startsWith('/stage') ? 'stage' : view;
    go(slugOf(page ?? VIEWS[here as keyof typeof VIEWS].page));
  }, [view, page]);
  const found = typed.trim() === '' || !box.current ? [] : lookUp(paragraphsIn(box.current), typed);
  return (
    <SheetFrame title="Handbook" wide="very">
      <nav aria-label="Chapters" className="sticky -top-3.5 z-10 -mx-1 mb-2 flex flex-wrap gap-1 bg-sheet px-1 py-1.5">
        <input
          type="search"
          className="field w-44"
          aria-label="Look in the handbook"
          placeholder="look for words …"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => event.key !== 'Escape' && event.stopPropagation()}
        />
        {CHAPTERS.map((title) => (
          <button key={title} className="button px-2! py-0! text-[12px]" onClick={() => go(slugOf(title))}>
            {title}
          </button>
        ))}
      </nav>
      {typed.trim() !== '' && (
        <ul aria-label="Found in the handbook" className="mb-3 text-[12.5px]">
          {found.map((each, i) => (
            <li key={i} className="border-t border-line">
              <button
                className="w-full py-1 text-left"
                onClick={() => {
                  const there = () => each.block.scrollIntoView({ block: 'center' });
                  there();
                  // Pictures that load on the way move what is below them.
                  setTimeout(there, 400);
                  each.block.classList.add('found');
                  setTimeout(() => each.block.classList.remove('found'), 2000);
                }}
              >
                <b>{each.heading}</b> <span className="text-faint">{each.snippet}</span>
              </button>
            </li>
          ))}
          {found.length === 0 && <li className="text-faint">These words stand nowhere in it.</li>}
        </ul>
      )}
      <div ref={box} className="handbook text-[13px]" dangerouslySetInnerHTML={{ __html: html }} />
    </SheetFrame>
  );
}
