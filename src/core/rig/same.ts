/**
 * Whether two documents hold the same; what both share is not looked at, so that it costs no more than what differs.
 * Objects, lists, numbers, texts, truth values and null, as rigs hold them.
 */
export function holdsTheSame(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (
    typeof a !== 'object' ||
    typeof b !== 'object' ||
    a === null ||
    b === null ||
    Array.isArray(a) !== Array.isArray(b)
  )
    return false;
  const [keys, others] = [Object.keys(a), Object.keys(b)];
  return (
    keys.length === others.length &&
    keys.every(
      (key) =>
        Object.hasOwn(b, key) && holdsTheSame((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]),
    )
  );
}
