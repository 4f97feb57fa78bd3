const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/**
 * Order of names as people count: `take 9` before `take 10`, folders together. Names that read alike keep a fixed
 * order.
 */
export function naturalCompare(a: string, b: string): number {
  const left = a.split('/');
  const right = b.split('/');
  for (let i = 0; i < Math.min(left.length, right.length); i++) {
    const order = collator.compare(left[i], right[i]);
    if (order !== 0) return order;
  }
  return left.length - right.length || (a < b ? -1 : a > b ? 1 : 0);
}
