import { FileError } from './fileError';

/** A region with everything it inherits: opcodes by name, as written. */
export type SfzRegion = Map<string, string>;
export interface SfzText { control: SfzRegion; regions: SfzRegion[]; /** Headers that mean nothing here, and how often they stood there. */ otherHeaders: Map<string, number> }

const LEVELS = ['global', 'master', 'group', 'region'] as const;
const DEEPEST_INCLUDE = 16;
const MOST_REGIONS = 200_000;
/** A header, or the name of an opcode: at the start, or after a space or a header. A value goes on to the next of either. */
const MARK = /<\s*([a-z_]+)\s*>|(?<![^\s>])([A-Za-z0-9_$]+)=/g;

/**
 * Reads the text of an SFZ file (SFZ v1 opcode list, sfzformat documentation): headers with their inheritance, `#define`, `#include` (looked up by `include`, which
 * gives undefined for what is not there), comments. Later opcodes replace earlier ones. Throws a {@link FileError}.
 */
export function readSfzText(text: string, name: string, include: (path: string) => string | undefined): SfzText {
  const defines: [string, string][] = [];
  const control: SfzRegion = new Map();
  const open: Record<(typeof LEVELS)[number], SfzRegion> = { global: new Map(), master: new Map(), group: new Map(), region: new Map() };
  const regions: SfzRegion[] = [];
  const otherHeaders = new Map<string, number>();
  let target: SfzRegion | null = null;
  let inRegion = false;

  /** What regions inherit now; undefined once a level above them has changed. */
  let inherited: SfzRegion | undefined;

  const closeRegion = () => {
    if (inRegion) {
      inherited ??= new Map([...open.global, ...open.master, ...open.group]);
      const region = new Map(inherited);
      for (const [opcode, value] of open.region) region.set(opcode, value);
      regions.push(region);
    }
    if (regions.length > MOST_REGIONS) throw new FileError(name, `has more than ${MOST_REGIONS} regions`);
    inRegion = false;
  };
  const header = (title: string) => {
    closeRegion();
    if (title === 'control') target = control;
    else if ((LEVELS as readonly string[]).includes(title)) {
      const level = LEVELS.indexOf(title as 'group');
      // A header begins anew, and so does everything below it.
      for (const below of LEVELS.slice(level)) open[below] = new Map();
      target = open[title as 'group'];
      inRegion = title === 'region';
      if (!inRegion) inherited = undefined;
    } else {
      otherHeaders.set(title, (otherHeaders.get(title) ?? 0) + 1);
      target = null;
    }
  };
  const expand = (line: string): string => {
    if (!line.includes('$')) return line;
    let out = line;
    for (const [variable, value] of defines) out = out.replaceAll(variable, value);
    return out;
  };
  const read = (source: string, file: string, path: readonly string[]): void => {
    if (path.length > DEEPEST_INCLUDE) throw new FileError(file, `is included more than ${DEEPEST_INCLUDE} deep`);
    const lines = source.replace(/\/\*[\s\S]*?\*\//g, (comment) => comment.replace(/[^\n]/g, ' ')).split(/\r\n?|\n/);
    lines.forEach((raw, number) => {
      const line = raw.replace(/(^|\s)\/\/.*$/, '$1').trim();
      if (line === '') return;
      const define = /^#define\s+(\$\w+)\s+(\S+)/.exec(line);
      if (define) {
        defines.push([define[1], define[2]]);
        // The longest name first, so that $KEYS is not taken for $KEY and an S.
        defines.sort((a, b) => b[0].length - a[0].length);
        return;
      }
      const included = /^#include\s+"([^"]+)"/.exec(line);
      if (included) {
        const wanted = cleanPath(included[1]);
        if (wanted === undefined) throw new FileError(`${file}, line ${number + 1}`, `#include "${included[1]}" leads out of the folder`);
        if (path.includes(wanted)) throw new FileError(`${file}, line ${number + 1}`, `#include "${included[1]}" includes itself`);
        const inner = include(wanted);
        if (inner === undefined) throw new FileError(`${file}, line ${number + 1}`, `#include "${included[1]}" is not in the folder`);
        read(inner, wanted, [...path, wanted]);
        return;
      }
      const expanded = expand(line);
      let opcode = '';
      let from = 0;
      MARK.lastIndex = 0;
      for (let match = MARK.exec(expanded); match; match = MARK.exec(expanded)) {
        if (opcode) target?.set(opcode, expanded.slice(from, match.index).trim());
        if (match[1]) header(match[1]);
        opcode = match[1] ? '' : match[2].toLowerCase();
        from = MARK.lastIndex;
      }
      if (opcode) target?.set(opcode, expanded.slice(from).trim());
    });
  };
  read(text, name, [name]);
  closeRegion();
  return { control, regions, otherHeaders };
}

/** A path with plain slashes and no dots in it; undefined where it leads out of its folder. */
export function cleanPath(path: string): string | undefined {
  const out: string[] = [];
  const slashed = path.replaceAll('\\', '/');
  if (/^([a-z]:|\/)/i.test(slashed)) return undefined;
  for (const step of slashed.split('/')) {
    if (step === '' || step === '.') continue;
    if (step !== '..') out.push(step);
    else if (out.pop() === undefined) return undefined;
  }
  return out.join('/');
}
