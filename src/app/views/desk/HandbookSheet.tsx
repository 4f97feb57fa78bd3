import { marked } from 'marked';
import { useEffect, useMemo, useRef } from 'react';
import text from '../../../../docs/handbook.md?raw';
import { SheetFrame } from '../../parts/Sheet';
import { useView } from '../../parts/useView';

/** Pictures of the handbook; those of the build go with it, so that it is all there without a network. */
const pictures = import.meta.glob<string>('../../../../docs/screenshots/*.png', {
  eager: true,
  query: '?url',
  import: 'default',
});
const pictureOf = (href: string): string => pictures[`../../../../docs/${href}`] ?? href;
const slugOf = (title: string): string =>
  title
    .toLowerCase()
    .replace(/[^a-z]+/g, '-')
    .replace(/^-|-$/g, '');

/** The chapter that a view belongs to. */
const CHAPTER: Record<string, string> = {
  layers: 'layer-split-crossfade',
  sounds: 'bring-in-sounds',
  control: 'move-things',
  mix: 'mix',
  check: 'check',
  stage: 'the-show',
};

/** The whole job in its order; opens where one is. */
export function HandbookSheet() {
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
  const chapters = useMemo(() => [...text.matchAll(/^## (.+)$/gm)].map(([, title]) => title), []);
  const go = (slug: string) => box.current?.querySelector(`#handbook-${slug}`)?.scrollIntoView({ block: 'start' });
  useEffect(() => {
    const slug = CHAPTER[location.pathname.startsWith('/stage') ? 'stage' : view];
    if (slug) go(slug);
  }, [view]);
  return (
    <SheetFrame title="Handbook" wide="very">
      <nav aria-label="Chapters" className="sticky -top-3.5 z-10 -mx-1 mb-2 flex flex-wrap gap-1 bg-sheet px-1 py-1.5">
        {chapters.map((title) => (
          <button key={title} className="button px-2! py-0! text-[12px]" onClick={() => go(slugOf(title))}>
            {title}
          </button>
        ))}
      </nav>
      <div ref={box} className="handbook text-[13px]" dangerouslySetInnerHTML={{ __html: html }} />
    </SheetFrame>
  );
}
