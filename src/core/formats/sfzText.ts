import { FileError } from './fileError';
import { plainOpcode, SfzOpcodes, type Inherited } from './sfzOpcodes';
import { plainPath } from './paths';

/**
 * Told each region when it has been read, good until the function returns; and `<control>`, which holds for what
 * follows, whenever more of it has been read.
 */
export interface SfzListener {
  region: (opcodes: SfzOpcodes) => void;
  control?: (opcodes: SfzOpcodes) => void;
}
export interface SfzEnd {
  regions: number;
  /** Headers that mean nothing here, and how often they stood there. */ otherHeaders: Map<string, number>;
  control: SfzOpcodes;
}

/** The levels above regions, from the widest. */
const ABOVE = ['global', 'master', 'group'] as const;
const DEEPEST_INCLUDE = 16;
const MOST_REGIONS = 200_000;
/** Directives stand at the beginning of a line, after a header or among opcodes. */
const DIRECTIVE = /(?<=^|[\s>])#(?:define\s+(\$\w+)\s+((?:(?!#(?:define|include)\b)[^\s<])+)|include\s+"([^"]+)")/g;
/**
 * What no honest file goes beyond: letters of a line, of what a variable stands for, and of all text that is read,
 * included or put in for variables; files included.
 */
export const SFZ_LIMITS = { line: 20_000, value: 2000, text: 64e6, includes: 2000 } as const;
const HEADER = /<\s*([a-z_]+)\s*>/y;

/**
 * Cuts a line into headers and opcodes. The name of an opcode stands before `=`, and after the line's start, a space or
 * a header; its value goes on to the next of either,
 * so that names of files may hold spaces.
 */
function cut(line: string, onHeader: (title: string) => void, onOpcode: (name: string, value: string) => void): void {
  let name = '';
  let from = 0;
  let equals = line.indexOf('=');
  let angle = line.indexOf('<');
  while (equals >= 0 || angle >= 0) {
    if (angle >= 0 && (equals < 0 || angle < equals)) {
      HEADER.lastIndex = angle;
      const match = HEADER.exec(line);
      if (match) {
        if (name) onOpcode(name, trimmed(line, from, angle));
        name = '';
        from = HEADER.lastIndex;
        onHeader(match[1]);
      }
      angle = line.indexOf('<', match ? from : angle + 1);
      if (equals >= 0 && equals < from) equals = line.indexOf('=', from);
    } else {
      let start = equals;
      while (start > from && isNameCode(line.charCodeAt(start - 1))) start--;
      if (start < equals && (start === 0 || isBorder(line[start - 1]))) {
        if (name) onOpcode(name, trimmed(line, from, start));
        name = line.slice(start, equals).toLowerCase();
        from = equals + 1;
      }
      equals = line.indexOf('=', equals + 1);
    }
  }
  if (name) onOpcode(name, trimmed(line, from, line.length));
}

/**
 * What comes after `//` is a comment, but within a path that has not come to its ending. Each place is looked at once,
 * however many there are.
 */
function withoutComment(line: string): string {
  const first = line.search(/\S/);
  let equals = -1;
  let next = line.indexOf('=');
  let inPath = false;
  for (let at = line.indexOf('//'); at >= 0; at = line.indexOf('//', at + 2)) {
    if (at <= first || line[at - 1].trim() === '') return line.slice(0, at);
    // The opcode in whose value it stands is the one of the last `=` before it.
    let last = equals;
    while (next >= 0 && next < at) {
      last = next;
      next = line.indexOf('=', next + 1);
    }
    if (last > equals) {
      equals = last;
      inPath = /(?:^|[\s>])(?:sample|default_path)$/i.test(line.slice(Math.max(0, last - 20), last));
    }
    if (!inPath || /\.[a-z0-9]{2,5}$/i.test(line.slice(Math.max(equals + 1, at - 6), at))) return line.slice(0, at);
  }
  return line;
}

/** A piece of a line without the plain spaces around it. */
function trimmed(line: string, from: number, to: number): string {
  let end = to;
  while (end > from && line.charCodeAt(end - 1) === 32) end--;
  return line.slice(from, end).trim();
}

/** Letters, digits, `_` and `$`. */
const isNameCode = (code: number): boolean =>
  (code >= 97 && code <= 122) || (code >= 48 && code <= 57) || code === 95 || (code >= 65 && code <= 90) || code === 36;
const isBorder = (sign: string): boolean => sign === ' ' || sign === '>' || sign.trim() === '';

/**
 * Reads the text of an SFZ file (SFZ v1 opcode list, sfzformat documentation): headers with their inheritance,
 * `#define`, `#include` (looked up by `include`, which
 * gives undefined for what is not there), comments. Later opcodes replace earlier ones. Throws a {@link FileError}.
 */
export function readSfzText(
  text: string,
  name: string,
  include: (path: string) => string | undefined,
  listener: SfzListener,
): SfzEnd {
  const defines = new Map<string, string>();
  /** Their names, the longest first, so that $KEYS is not taken for $KEY and an S. */
  let variables: string[] = [];
  const control = new SfzOpcodes();
  const region = new SfzOpcodes();
  const above = ABOVE.map(() => new Map<string, string>());
  const otherHeaders = new Map<string, number>();
  let regions = 0;
  /** Whether something above the regions has changed since the last one began. */
  let changed = false;
  let target: { set: (name: string, value: string) => unknown } | null = null;

  const close = () => {
    if (target === control) listener.control?.(control);
    if (target !== region) return;
    if (++regions > MOST_REGIONS) throw new FileError(name, `has more than ${MOST_REGIONS} regions`);
    listener.region(region);
  };
  /** What a region has from above: of two headers the nearer one's. */
  const inherited = (): Iterable<Inherited> => {
    const nearest = new Map<string, Inherited>();
    above.forEach((opcodes, level) => {
      for (const [opcode, value] of opcodes) nearest.set(opcode, [opcode, value, level]);
    });
    return nearest.values();
  };
  const header = (title: string) => {
    close();
    const level = (ABOVE as readonly string[]).indexOf(title);
    if (title === 'region') {
      region.begin(changed ? inherited() : undefined);
      changed = false;
      target = region;
    } else if (title === 'control') target = control;
    else if (level >= 0) {
      // A header begins anew, and so does everything below it.
      for (let below = level; below < above.length; below++) above[below] = new Map();
      changed = true;
      target = above[level];
    } else {
      otherHeaders.set(title, (otherHeaders.get(title) ?? 0) + 1);
      target = null;
    }
  };
  const opcode = (opcodeName: string, value: string) => target?.set(plainOpcode(opcodeName), value);
  const expand = (line: string): string => {
    if (!line.includes('$')) return line;
    let out = line;
    for (const variable of variables) {
      out = out.replaceAll(variable, () => defines.get(variable)!);
      if (out.length > SFZ_LIMITS.line)
        throw new FileError(
          name,
          `“${line.slice(0, 40)}…” becomes longer than ${SFZ_LIMITS.line} letters once its variables are put in`,
        );
    }
    count(name, out.length);
    return out;
  };
  let letters = 0;
  let includes = 0;
  const count = (file: string, more: number): void => {
    letters += more;
    if (letters > SFZ_LIMITS.text)
      throw new FileError(
        file,
        `comes to more than ${SFZ_LIMITS.text / 1e6} million letters with everything that it includes`,
      );
  };
  const includeFile = (given: string, place: string, path: readonly string[]): void => {
    const wanted = plainPath(given);
    if (wanted === undefined) throw new FileError(place, `#include "${given}" leads out of the folder`);
    if (path.includes(wanted)) throw new FileError(place, `#include "${given}" includes itself`);
    const inner = include(wanted);
    if (inner === undefined) throw new FileError(place, `#include "${given}" is not in the folder`);
    if (++includes > SFZ_LIMITS.includes)
      throw new FileError(place, `more than ${SFZ_LIMITS.includes} files are included`);
    read(inner, wanted, [...path, wanted]);
  };
  const read = (source: string, file: string, path: readonly string[]): void => {
    if (path.length > DEEPEST_INCLUDE) throw new FileError(file, `is included more than ${DEEPEST_INCLUDE} deep`);
    count(file, source.length);
    const text = !source.includes('/*')
      ? source
      : source.replace(/\/\*[\s\S]*?\*\//g, (comment) => comment.replace(/[^\n]/g, ' '));
    text.split(/\r\n?|\n/).forEach((raw, number) => {
      const line = (raw.includes('//') ? withoutComment(raw) : raw).trim();
      if (line === '') return;
      if (line.length > SFZ_LIMITS.line)
        throw new FileError(`${file}, line ${number + 1}`, `is longer than ${SFZ_LIMITS.line} letters`);
      if (!line.includes('#')) return cut(expand(line), header, opcode);
      let from = 0;
      for (const found of line.matchAll(DIRECTIVE)) {
        cut(expand(line.slice(from, found.index)), header, opcode);
        from = found.index + found[0].length;
        const [, variable, value, included] = found;
        if (variable) {
          defines.set(variable, expand(value));
          variables = [...defines.keys()].sort((a, b) => b.length - a.length);
        } else includeFile(expand(included), `${file}, line ${number + 1}`, path);
      }
      cut(expand(line.slice(from)), header, opcode);
    });
  };
  read(text, name, [name]);
  close();
  return { regions, otherHeaders, control };
}
