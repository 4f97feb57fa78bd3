/** A paragraph, a point of a list or a block of commands as it stands on the page, under its heading. */
export interface Paragraph {
  heading: string;
  text: string;
}
const MOST_FOUND = 12;
const AROUND = 60;

/** Paragraphs in which all words stand, with what is around the first; parts of words will do. */
export function lookUp<P extends Paragraph>(paragraphs: readonly P[], typed: string): (P & { snippet: string })[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  return paragraphs
    .filter(({ heading, text }) => words.every((word) => `${heading} ${text}`.toLowerCase().includes(word)))
    .slice(0, MOST_FOUND)
    .map((each) => {
      const at = Math.max(0, each.text.toLowerCase().indexOf(words[0]));
      const from = Math.max(0, at - AROUND);
      const to = Math.min(each.text.length, at + 2 * AROUND);
      const around = each.text.slice(from, to);
      return { ...each, snippet: `${from > 0 ? '… ' : ''}${around}${to < each.text.length ? ' …' : ''}` };
    });
}
