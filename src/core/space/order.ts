/**
 * Refused: things that move each other in a circle. `members` lists them in the order in which they move one another.
 */
export class CycleError extends Error {
  constructor(readonly members: readonly string[]) {
    super(`these move each other in a circle: ${[...members, members[0]].join(' → ')}`);
  }
}

/**
 * The nodes in an order in which everything comes after what moves it; ties keep the given order.
 * Throws a {@link CycleError} that names the members of a circle.
 */
export function topologicalOrder(nodes: readonly string[], moversOf: (node: string) => readonly string[]): string[] {
  const order: string[] = [];
  const done = new Set<string>();
  const path: string[] = [];
  const visit = (node: string): void => {
    if (done.has(node)) return;
    const at = path.indexOf(node);
    if (at >= 0) throw new CycleError(path.slice(at).reverse());
    path.push(node);
    for (const mover of moversOf(node)) visit(mover);
    path.pop();
    done.add(node);
    order.push(node);
  };
  for (const node of nodes) visit(node);
  return order;
}
