/**
 * Pages for the player in ChordPro, the open format for words with chords (chordpro.org, “ChordPro file format
 * specification”; from memory): chords in square brackets where they are played, directives in braces, lines that begin
 * with # are remarks. Everything that is not known is left in the text and shown nowhere.
 */

/** A chord over the words that follow it; null: words without one. */
export interface PagePart {
  chord: string | null;
  text: string;
}
export type PageLine =
  { kind: 'words'; parts: PagePart[] } | { kind: 'remark'; text: string } | { kind: 'tab'; text: string };
export type SectionKind = 'plain' | 'verse' | 'chorus' | 'bridge' | 'tab';
export interface PageSection {
  kind: SectionKind;
  /** What stands over it; empty: nothing. */
  label: string;
  lines: PageLine[];
}
export interface Page {
  title: string;
  subtitle: string;
  /** As it is written; empty: nobody says. */
  key: string;
  sections: PageSection[];
}

const SECTIONS: Readonly<Record<string, [SectionKind, label: string]>> = {
  start_of_verse: ['verse', ''],
  sov: ['verse', ''],
  start_of_chorus: ['chorus', 'Chorus'],
  soc: ['chorus', 'Chorus'],
  start_of_bridge: ['bridge', 'Bridge'],
  sob: ['bridge', 'Bridge'],
  start_of_tab: ['tab', ''],
  sot: ['tab', ''],
};
const ENDS = /^(end_of_(verse|chorus|bridge|tab)|eov|eoc|eob|eot)$/;
const REMARKS = /^(comment|c|comment_italic|ci|comment_box|cb|highlight)$/;

/** A page as it is being read: the section that words go into, if one was begun. */
class PageReader {
  readonly page: Page = { title: '', subtitle: '', key: '', sections: [] };
  private section: PageSection | null = null;

  words(line: string): void {
    if (this.section?.kind === 'tab') this.section.lines.push({ kind: 'tab', text: line });
    else if (line.trim() !== '') this.open().lines.push({ kind: 'words', parts: partsOf(line) });
    // An empty line ends a paragraph that nobody began.
    else if (this.section?.kind === 'plain') this.section = null;
    else this.section?.lines.push({ kind: 'words', parts: [] });
  }

  /** What is not known is passed over. */
  directive(name: string, value: string): void {
    const { page } = this;
    if (name === 'title' || name === 't') page.title = value;
    else if (name === 'subtitle' || name === 'st') page.subtitle = value;
    else if (name === 'key') page.key = value;
    else if (Object.hasOwn(SECTIONS, name)) this.begin(SECTIONS[name][0], labelled(value) || SECTIONS[name][1]);
    else if (ENDS.test(name)) this.section = null;
    else if (REMARKS.test(name)) this.open().lines.push({ kind: 'remark', text: value });
    else if (name === 'chorus') this.chorusAgain(value);
  }

  /** The chorus as it was written last. */
  private chorusAgain(label: string): void {
    const last = this.page.sections.filter(({ kind }) => kind === 'chorus').at(-1);
    this.begin('chorus', label || (last?.label ?? 'Chorus'));
    if (last) this.section!.lines = [...last.lines];
    this.section = null;
  }

  private begin(kind: SectionKind, label: string): void {
    this.page.sections.push((this.section = { kind, label, lines: [] }));
  }
  private open(): PageSection {
    if (!this.section) this.begin('plain', '');
    return this.section!;
  }
}

/** Reads a page. It never fails: what is no directive is words. */
export function readPage(text: string): Page {
  const reader = new PageReader();
  for (const raw of text.split(/\r\n|\r|\n/)) {
    const line = raw.trimEnd();
    if (line.startsWith('#')) continue;
    const found = /^\s*\{\s*([a-z_]+)\s*(?:[:\s]\s*(.*?))?\s*\}\s*$/i.exec(line);
    if (found) reader.directive(found[1].toLowerCase(), (found[2] ?? '').trim());
    else reader.words(line);
  }
  const { page } = reader;
  for (const { lines } of page.sections) while (lines.length > 0 && isEmpty(lines[lines.length - 1])) lines.pop();
  return { ...page, sections: page.sections.filter(({ lines, label }) => lines.length > 0 || label !== '') };
}
const isEmpty = (line: PageLine): boolean => line.kind === 'words' && line.parts.length === 0;
/** A label is the value itself, or what an attribute of that name says. */
const labelled = (value: string): string => /^label\s*=\s*"([^"]*)"/i.exec(value)?.[1] ?? value;

function partsOf(line: string): PagePart[] {
  const parts: PagePart[] = [];
  const pattern = /\[([^\]]*)\]/g;
  let from = 0;
  let chord: string | null = null;
  for (let found = pattern.exec(line); found; found = pattern.exec(line)) {
    const text = line.slice(from, found.index);
    if (text !== '' || chord !== null) parts.push({ chord, text });
    chord = found[1].trim();
    from = pattern.lastIndex;
  }
  const text = line.slice(from);
  if (text !== '' || chord !== null) parts.push({ chord, text });
  return parts;
}

const LETTERS: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
const SHARPS = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'] as const;
const FLATS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'] as const;
const NOTE = /^([A-G])(##|#|bb|b|♯|♭)?/;
const ACCIDENTALS: Readonly<Record<string, number>> = { '#': 1, '##': 2, '♯': 1, b: -1, bb: -2, '♭': -1 };
const semitoneOf = (letter: string, accidental = ''): number =>
  (LETTERS[letter] + (ACCIDENTALS[accidental] ?? 0) + 12) % 12;

/**
 * Whether a key is written in flats: those of fewer accidentals, and of six each as it is commonly done, F sharp major
 * and E flat minor (circle of fifths; common practice, no source).
 */
function isFlat(semitone: number, isMinor: boolean): boolean {
  const major = isMinor ? (semitone + 3) % 12 : semitone;
  return [5, 10, 3, 8, 1].includes(major) || (isMinor && major === 6);
}

interface Keyed {
  semitone: number;
  isMinor: boolean;
}
/** A key as it is written: `D`, `F#m`, `Bb minor`. Undefined where it is none. */
function keyOf(text: string): Keyed | undefined {
  const found = NOTE.exec(text.trim());
  if (!found) return undefined;
  return {
    semitone: semitoneOf(found[1], found[2]),
    isMinor: /^(m(?!aj)|min|-|\s*minor)/i.test(text.trim().slice(found[0].length)),
  };
}

/**
 * A chord moved by semitones: its root and its bass, written in flats or sharps; what follows the root stays. A text
 * that is no chord (`N.C.`, `x2`) stays as it is.
 */
export function transposeChord(chord: string, semitones: number, inFlats: boolean): string {
  const names = inFlats ? FLATS : SHARPS;
  const move = (note: string): string | undefined => {
    const found = NOTE.exec(note);
    if (!found) return undefined;
    const to = names[(((semitoneOf(found[1], found[2]) + semitones) % 12) + 12) % 12];
    return to + note.slice(found[0].length);
  };
  const [root, ...bass] = chord.split('/');
  // Words that begin with a letter of a note are no chords.
  if (
    !/^[A-G](##|#|bb|b|♯|♭)?(m|M|maj|min|dim|aug|sus|add|omit|no|alt|o|ø|°|\+|-|Δ|\^|\d|\(|\)|#|b|♯|♭|,|\.)*$/.test(
      root,
    )
  )
    return chord;
  const moved = move(root);
  if (moved === undefined) return chord;
  return [moved, ...bass.map((note) => move(note) ?? note)].join('/');
}

/** The key that a page is in: as it says, or else that of its first chord. */
function keyOfPage(text: string): Keyed | undefined {
  const said = keyOf(readPage(text).key);
  if (said) return said;
  const first = /\[([A-G][^\]]*)\]/.exec(text)?.[1];
  return first === undefined ? undefined : keyOf(first);
}

/**
 * A page as it is sung, some semitones higher: all chords and its key, in flats or sharps by the key that it comes to.
 * Untransposed it stays letter by letter as it was written.
 */
export function transposePage(text: string, semitones: number): string {
  if (semitones % 12 === 0) return text;
  const key = keyOfPage(text);
  const inFlats = key !== undefined && isFlat((((key.semitone + semitones) % 12) + 12) % 12, key.isMinor);
  return text
    .split(/(\r\n|\r|\n)/)
    .map((line) => {
      if (line.startsWith('#')) return line;
      const said = /^(\s*\{\s*key\s*:\s*)([^}]*?)(\s*\}\s*)$/i.exec(line);
      if (said) return said[1] + transposeChord(said[2].replace(/\s+min(or)?$/i, 'm'), semitones, inFlats) + said[3];
      return line.replace(/\[([^\]]*)\]/g, (_, chord: string) => `[${transposeChord(chord, semitones, inFlats)}]`);
    })
    .join('');
}
