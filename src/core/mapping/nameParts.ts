/**
 * A piece of a file's name: a note name, a word with a number, digits, or a word. `column` is its place among the
 * pieces of the path.
 */
export interface NamePart {
  text: string;
  kind: 'note' | 'numbered' | 'digits' | 'word';
  column: number;
}

const NOTE = /^(?:[A-Ga-g](?:#|♯|♭|b|s)?\d(?!\d)|[A-G](?:#|♯|♭|b|s)?-[12](?!\d))/;
const NUMBERED =
  /^(?:(?:velocity|vel|dynamic|dyn|layer|lyr|level|round[\s_-]?robin|rr)[\s_-]?|(?:alt|take|var|seq|round|v|r))(?=\d)\d+/i;
const SEPARATOR = /^[\s_.,;()[\]{}+=~&'!@-]+/;

const MOST_LETTERS = 400;

/**
 * The pieces of a path without its ending, folder names first. Pieces are what stands between separators; glued ones
 * come apart where a note
 * name, a counted word (`v12`, `rr2`) or digits begin.
 */
export function partsOfName(path: string): NamePart[] {
  const parts: NamePart[] = [];
  const add = (text: string, kind: NamePart['kind']) => parts.push({ text, kind, column: parts.length });
  // Nobody tells a key in the thousandth letter: so much of a path, its end, is looked at.
  const segments = path.slice(-MOST_LETTERS).split('/');
  segments.forEach((segment, s) => {
    let rest = s === segments.length - 1 ? segment.replace(/\.[A-Za-z0-9]{1,5}$/, '') : segment;
    let boundary = true;
    while (rest.length > 0) {
      const separator = SEPARATOR.exec(rest);
      if (separator) {
        rest = rest.slice(separator[0].length);
        boundary = true;
        continue;
      }
      const note = boundary ? NOTE.exec(rest) : null;
      const numbered = boundary && !note ? NUMBERED.exec(rest) : null;
      const digits = note || numbered ? null : /^\d+/.exec(rest);
      if (note) add(note[0], 'note');
      else if (numbered) add(numbered[0], 'numbered');
      else if (digits) add(digits[0], 'digits');
      const found = note ?? numbered ?? digits;
      if (found) {
        rest = rest.slice(found[0].length);
        boundary = true;
        continue;
      }
      const word = /^[^\s_.,;()[\]{}+=~&'!@\d-]+/.exec(rest)![0];
      // A word ends before a note name that starts with a capital in it: `HullC4`.
      const glued = /(?<=[a-z])[A-G](?:#|♯|♭|b|s)?$/.exec(word);
      const cut = glued && /^\d(?!\d)/.test(rest.slice(word.length)) ? glued.index : word.length;
      add(rest.slice(0, cut), 'word');
      rest = rest.slice(cut);
      boundary = cut < word.length;
    }
  });
  return parts;
}
