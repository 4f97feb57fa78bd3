import { parseArgs, type ParseArgsConfig } from 'node:util';
import { isMoverKind, parseSource, SETTABLE } from '../core/space/source';
import { Failure } from './failure';

/** Options as texts and one positional argument where `what` names it. Everything else is bad usage. */
export function readArguments(
  args: string[],
  options: ParseArgsConfig['options'],
  what: string | null,
): { values: Record<string, string | string[] | boolean | undefined>; file: string } {
  const { values, positionals } = parsed(args, options);
  const wanted = what ? 1 : 0;
  if (positionals.length < wanted) throw new Failure(`${what} is missing`, 2);
  if (positionals.length > wanted) throw new Failure(`"${positionals[wanted]}" is one argument too many`, 2);
  return { values: values as Record<string, string | string[] | boolean | undefined>, file: positionals[0] ?? '' };
}

/** The same for a command that takes any number of positional arguments, one at least. */
export function readPaths(
  args: string[],
  options: ParseArgsConfig['options'],
  what: string,
): { values: Record<string, string | string[] | boolean | undefined>; files: string[] } {
  const { values, positionals } = parsed(args, options);
  if (positionals.length === 0) throw new Failure(`${what} is missing`, 2);
  return { values, files: positionals };
}

function parsed(args: string[], options: ParseArgsConfig['options']) {
  try {
    return parseArgs({ args, options, allowPositionals: true, strict: true });
  } catch (error) {
    throw new Failure((error as Error).message.split('. ')[0], 2);
  }
}

type Values = Record<string, string | string[] | boolean | undefined>;

export function required(values: Values, name: string): string {
  const value = values[name];
  if (typeof value !== 'string') throw new Failure(`--${name} is missing`, 2);
  return value;
}

/** A number option within limits, or its default. */
export function numberOption(
  values: Values,
  name: string,
  low: number,
  high: number,
  otherwise?: number,
  whole = true,
): number {
  const text = otherwise === undefined ? required(values, name) : (values[name] as string | undefined);
  if (text === undefined) return otherwise!;
  const value = text.trim() === '' ? NaN : Number(text);
  if (!(value >= low && value <= high) || (whole && !Number.isInteger(value)))
    throw new Failure(`--${name} ${text}: expected a ${whole ? 'whole ' : ''}number from ${low} to ${high}`, 2);
  return value;
}

/** `--set SOURCE=VALUE` as often as wanted: sources that stay put while a patch is played. */
export function setOptions(values: Values): Map<string, number> {
  const set = new Map<string, number>();
  for (const text of (values.set as string[] | undefined) ?? []) {
    const [id, value, ...rest] = text.split('=');
    const source = parseSource(id);
    if (value === undefined || value.trim() === '' || rest.length > 0 || Number.isNaN(Number(value)))
      throw new Failure(`--set ${text}: expected SOURCE=VALUE, such as cc.1=64`, 2);
    if (!source) throw new Failure(`--set ${text}: "${id}" names no source`, 2);
    if (!SETTABLE.has(source.kind))
      throw new Failure(
        `--set ${text}: ${id} ${isMoverKind(source.kind) ? 'moves by itself' : 'comes with each strike'} and cannot be set`,
        2,
      );
    if (Number(value) < source.low || Number(value) > source.high)
      throw new Failure(`--set ${text}: ${id} goes from ${source.low} to ${source.high}`, 2);
    set.set(id, Number(value));
  }
  return set;
}
