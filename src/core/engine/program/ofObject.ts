/**
 * A function of objects that never change, worked out once for each: parts of a document that an edit leaves as they are
 * stay the same objects. What it gives must not be changed either.
 */
export function ofObject<K extends object, V>(make: (key: K) => V): (key: K) => V {
  const known = new WeakMap<K, V>();
  return (key) => {
    let found = known.get(key);
    if (found === undefined) known.set(key, (found = make(key)));
    return found;
  };
}
