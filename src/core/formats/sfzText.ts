import { FileError } from './fileError';
import { SfzOpcodes } from './sfzOpcodes';

/** Told each region when it has been read, good until the function returns; and `<control>`, which holds for what follows, whenever more of it has been read. */
export interface SfzListener { region: (opcodes: SfzOpcodes) => void; control?: (opcodes: SfzOpcodes) => void }
export interface SfzEnd { regions: number; /** Headers that mean nothing here, and how often they stood there. */ otherHeaders: Map<string, number>; control: SfzOpcodes }

/** The levels above regions, from the widest. */
const ABOVE = ['global', 'master', 'group'] as const;
const DEEPEST_INCLUDE = 16;
const MOST_REGIONS = 200_000;
const HEADER = /<\s*([a-z_]+)\s*>/y;

/**
 * Cuts a line into headers and opcodes. The name of an opcode stands before `=`, and after the line's start, a space or a header; its value goes on to the next of either,
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

/** A piece of a line without the plain spaces around it. */
function trimmed(line: string, from: number, to: number): string {
  let end = to;
  while (end > from && line.charCodeAt(end - 1) === 32) end--;
  return line.slice(from, end).trim();
}

/** Letters, digits, `_` and `$`. */
const isNameCode = (code: number): boolean => (code >= 97 && code <= 122) || (code >= 48 && code <= 57) || code === 95 || (code >= 65 && code <= 90) || code === 36;
const isBorder = (sign: string): boolean => sign === ' ' || sign === '>' || sign.trim() === '';

/**
 * Reads the text of an SFZ file (SFZ v1 opcode list, sfzformat documentation): headers with their inheritance, `#define`, `#include` (looked up by `include`, which
 * gives undefined for what is not there), comments. Later opcodes replace earlier ones. Throws a {@link FileError}.
 */
export function readSfzText(text: string, name: string, include: (path: string) => string | undefined, listener: SfzListener): SfzEnd {
  const defines: [string, string][] = [];
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
  const header = (title: string) => {
    close();
    const level = (ABOVE as readonly string[]).indexOf(title);
    if (title === 'region') {
      region.begin(changed ? new Map(above.flatMap((opcodes) => [...opcodes])) : undefined);
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
  const opcode = (opcodeName: string, value: string) => target?.set(opcodeName, value);
  const expand = (line: string): string => {
    if (!line.includes('$')) return line;
    let out = line;
    for (const [variable, value] of defines) out = out.replaceAll(variable, value);
    return out;
  };
  const read = (source: string, file: string, path: readonly string[]): void => {
    if (path.length > DEEPEST_INCLUDE) throw new FileError(file, `is included more than ${DEEPEST_INCLUDE} deep`);
    const text = !source.includes('/*') ? source : source.replace(/\/\*[\s\S]*?\*\//g, (comment) => comment.replace(/[^\n]/g, ' '));
    text.split(/\r\n?|\n/).forEach((raw, number) => {
      const line = (raw.includes('//') ? raw.replace(/(^|\s)\/\/.*$/, '$1') : raw).trim();
      if (line === '') return;
      const directive = line.startsWith('#');
      const define = directive && /^#define\s+(\$\w+)\s+(\S+)/.exec(line);
      if (define) {
        defines.push([define[1], define[2]]);
        // The longest name first, so that $KEYS is not taken for $KEY and an S.
        defines.sort((a, b) => b[0].length - a[0].length);
        return;
      }
      const included = directive && /^#include\s+"([^"]+)"/.exec(line);
      if (included) {
        const wanted = cleanPath(included[1]);
        if (wanted === undefined) throw new FileError(`${file}, line ${number + 1}`, `#include "${included[1]}" leads out of the folder`);
        if (path.includes(wanted)) throw new FileError(`${file}, line ${number + 1}`, `#include "${included[1]}" includes itself`);
        const inner = include(wanted);
        if (inner === undefined) throw new FileError(`${file}, line ${number + 1}`, `#include "${included[1]}" is not in the folder`);
        read(inner, wanted, [...path, wanted]);
        return;
      }
      cut(expand(line), header, opcode);
    });
  };
  read(text, name, [name]);
  close();
  return { regions, otherHeaders, control };
}

/** A path with plain slashes and no dots in it; undefined where it leads out of its folder. */
export function cleanPath(path: string): string | undefined {
  const slashed = path.replaceAll('\\', '/');
  if (/^([a-z]:|\/)/i.test(slashed)) return undefined;
  if (!/(?:^|\/)\.{0,2}(?:\/|$)/.test(slashed)) return slashed;
  const out: string[] = [];
  for (const step of slashed.split('/')) {
    if (step === '' || step === '.') continue;
    if (step !== '..') out.push(step);
    else if (out.pop() === undefined) return undefined;
  }
  return out.join('/');
}
