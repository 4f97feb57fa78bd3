import { reach, ValidationError } from 'yup';
import { brokenLink } from './links';
import { newRig } from './defaults';
import { migrate, MIGRATIONS, problemOf, RigError } from './read';
import { rigSchema, type Rig } from './schema';
import { RIG_VERSION } from './limits';

/** What could be read of a damaged rig, and what was mended or left out, in sentences. */
export interface Salvaged {
  rig: Rig;
  mended: string[];
}

type Json = Record<string, unknown>;
type Step = string | number;
const MOST_MENDINGS = 2000;

const stepsOf = (path: string): Step[] =>
  [...path.matchAll(/([^.[\]]+)|\[(\d+)\]/g)].map((match) => (match[2] === undefined ? match[1] : Number(match[2])));
const at = (json: unknown, steps: readonly Step[]): unknown =>
  steps.reduce<unknown>((value, step) => (value as Record<Step, unknown> | undefined)?.[step], json);

/**
 * Reads as much of a rig as there is: texts that are too long are cut, numbers brought into their range, and what
 * cannot be mended is left out with the smallest list item it
 * stands in (a zone, a window, a layer …). Undefined where nothing of a rig is left. Never throws.
 */
export function salvageRig(given: unknown): Salvaged | undefined {
  let json: Json;
  try {
    json = migrate(JSON.parse(JSON.stringify(given)), RIG_VERSION, MIGRATIONS);
  } catch {
    return undefined;
  }
  const mended: string[] = [];
  const blank = newRig('salvaged', 'Rescued rig') as unknown as Json;
  for (let n = 0; n < MOST_MENDINGS; n++) {
    const fault = firstFault(json);
    if (!fault) return { rig: json as unknown as Rig, mended };
    if (!mend(json, fault, blank, mended)) return undefined;
  }
  return undefined;
}

function firstFault(json: Json): RigError | undefined {
  try {
    rigSchema.validateSync(json, { strict: true, abortEarly: true });
  } catch (error) {
    if (!(error instanceof ValidationError)) return new RigError('', String(error));
    return new RigError(error.path ?? '', problemOf(error));
  }
  const broken = brokenLink(json as unknown as Rig);
  return broken && new RigError(broken.place, broken.problem);
}

function mend(json: Json, { place, problem }: RigError, blank: Json, mended: string[]): boolean {
  const steps = stepsOf(place);
  if (steps.length === 0) return false;
  const last = steps[steps.length - 1];
  const owner = at(json, steps.slice(0, -1)) as Record<Step, unknown> | undefined;
  const value = owner?.[last];
  if (owner && typeof value === 'string' && /is longer than (\d+)/.test(problem)) {
    owner[last] = value.slice(0, Number(/is longer than (\d+)/.exec(problem)![1]));
    mended.push(`${place}: cut to its longest length`);
    return true;
  }
  const range = typeof value === 'number' && Number.isFinite(value) ? rangeAt(place) : undefined;
  if (owner && range && typeof value === 'number') {
    const held = Math.min(range.high, Math.max(range.low, /whole/.test(problem) ? Math.round(value) : value));
    if (held !== value) {
      owner[last] = held;
      mended.push(`${place}: ${value} became ${held}`);
      return true;
    }
  }
  // The smallest thing in a list that holds the fault.
  for (let depth = steps.length; depth > 0; depth--) {
    if (typeof steps[depth - 1] !== 'number') continue;
    const list = at(json, steps.slice(0, depth - 1));
    if (!Array.isArray(list)) continue;
    list.splice(steps[depth - 1] as number, 1);
    mended.push(`${place}: ${problem}; left out`);
    return true;
  }
  if (JSON.stringify(json[steps[0] as string]) === JSON.stringify(blank[steps[0] as string])) return false;
  json[steps[0] as string] = blank[steps[0] as string];
  mended.push(`${place}: ${problem}; begun anew`);
  return true;
}

function rangeAt(place: string): { low: number; high: number } | undefined {
  try {
    const { meta } = (
      reach(rigSchema, place) as unknown as { describe: () => { meta?: { low?: number; high?: number } } }
    ).describe();
    return meta?.low === undefined ? undefined : { low: meta.low, high: meta.high! };
  } catch {
    return undefined;
  }
}
