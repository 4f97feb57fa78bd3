import { byRule } from './byRule';

const finding = (rule: string, grade: 'sure' | 'taste', n: number) =>
  ({ rule, grade, n }) as never as Parameters<typeof byRule>[0][number] & { n: number };

test('findings of one rule and grade stand together, where the first of them stood', () => {
  const all = [
    finding('stretched', 'taste', 1),
    finding('gap', 'sure', 2),
    finding('stretched', 'taste', 3),
    finding('stretched', 'sure', 4),
  ];
  expect(byRule(all).map((group) => group.map(({ n }) => n))).toEqual([[1, 3], [2], [4]]);
  expect(byRule([])).toEqual([]);
});
