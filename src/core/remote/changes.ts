/**
 * What has changed between two states of a document whose parts are only ever replaced: parts that are the same object are
 * left out, of lists whose members have ids only other members are told.
 */
export type Change =
  /** A part as it is now. */
  | { value: unknown }
  /** A list by its ids, and those members that are new or other than they were. */
  | { ids: string[]; items: { id: string }[] }
  /** It is not there any more. */
  | { gone: true };
export type Changes = [key: string, change: Change][];

interface Member {
  id: string;
}
const isList = (value: unknown): value is Member[] =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.every((each) => typeof each === 'object' && each !== null && typeof (each as Member).id === 'string');

/** What brings `before` to `after`; all of it where there was nothing before. */
export function changesOf<T extends object>(before: T | null, after: T): Changes {
  const changes: Changes = [];
  const old = (before ?? {}) as Record<string, unknown>;
  for (const [key, value] of Object.entries(after)) {
    if (value === undefined || (before && old[key] === value)) continue;
    const was = old[key];
    if (!isList(value) || new Set(value.map(({ id }) => id)).size < value.length) changes.push([key, { value }]);
    else {
      const known = new Map(Array.isArray(was) ? (was as Member[]).map((each) => [each.id, each]) : []);
      changes.push([
        key,
        { ids: value.map(({ id }) => id), items: value.filter((each) => known.get(each.id) !== each) },
      ]);
    }
  }
  for (const key of Object.keys(old))
    if ((after as Record<string, unknown>)[key] === undefined && old[key] !== undefined)
      changes.push([key, { gone: true }]);
  return changes;
}

/**
 * The state after changes; parts that were not told stay the same objects. Throws where a member is named that nobody has
 * told of. What comes out is only as good as what was told: whoever uses it reads it as any file.
 */
export function applyChanges(before: object | null, changes: Changes): object {
  const parts = new Map<string, unknown>(Object.entries(before ?? {}));
  for (const [key, change] of changes) {
    if ('gone' in change) parts.delete(key);
    else if ('value' in change) parts.set(key, change.value);
    else {
      const was = parts.get(key);
      const known = new Map<string, Member>(isList(was) ? was.map((each) => [each.id, each]) : []);
      for (const item of change.items) known.set(item.id, item);
      parts.set(
        key,
        change.ids.map((id) => {
          const member = known.get(id);
          if (!member) throw new Error(`“${key}” names ${id}, of which nothing was told`);
          return member;
        }),
      );
    }
  }
  return Object.fromEntries(parts);
}
