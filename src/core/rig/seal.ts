/** The JSON text of an item of a list, and its seal, as they were worked out once. */
interface Written {
  text: string;
  seal: number;
}

/**
 * An edit replaces the few items that it changes: the others need not be written out again. What was written once is
 * not changed in place afterwards.
 */
const known = new WeakMap<object, Written>();

/** FNV-1a, 32 bits, over the UTF-16 units of a text (G. Fowler, L. C. Noll, K.-P. Vo). */
function sealOfText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}

const jsonOf = (value: unknown): string => JSON.stringify(value) ?? 'null';

function written(item: unknown): Written {
  const before = typeof item === 'object' && item !== null ? known.get(item) : undefined;
  if (before) return before;
  const text = jsonOf(item);
  const now = { text, seal: sealOfText(text) };
  if (typeof item === 'object' && item !== null) known.set(item, now);
  return now;
}

const isDocument = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What JSON keeps of an object. */
const partsOf = (value: object): [string, unknown][] => Object.entries(value).filter(([, part]) => part !== undefined);

/**
 * A short number that changes with any change of a value, as far as its JSON text does: kept beside a rig that was
 * checked, it tells that the rig is still the same and need not be checked again. Lists of the value stand in the text
 * that is sealed by the seals of their items. Against accidents, not against forgery.
 */
export function sealOf(value: unknown): number {
  if (!isDocument(value)) return sealOfText(jsonOf(value));
  const parts = partsOf(value).map(([name, part]) => [
    name,
    Array.isArray(part) ? part.map((item) => written(item).seal) : part,
  ]);
  return sealOfText(jsonOf(parts));
}

/** The JSON text of a rig: what JSON.stringify gives, for the price of what changed since it was written last. */
export function textOf(value: object): string {
  const parts = partsOf(value).map(([name, part]) => {
    const text = Array.isArray(part) ? `[${part.map((item) => written(item).text).join(',')}]` : jsonOf(part);
    return `${JSON.stringify(name)}:${text}`;
  });
  return `{${parts.join(',')}}`;
}
