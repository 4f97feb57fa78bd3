/** More texts than any rig has. */
const MOST = 20_000;

/** A function of texts that always gives the same, worked out once for each. What it gives must not be changed. */
export function ofText<V>(make: (text: string) => V): (text: string) => V {
  const known = new Map<string, V>();
  return (text) => {
    const before = known.get(text);
    if (before !== undefined || known.has(text)) return before as V;
    if (known.size >= MOST) known.clear();
    const made = make(text);
    known.set(text, made);
    return made;
  };
}
