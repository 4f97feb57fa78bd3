import { writeFileSync } from 'node:fs';
import { sumOf, type Kept } from './kept';
import { PARTS } from './parts';

const HEAD = `# Proof

What was promised, what was tried of it, and what came out. \`npm run proof\` tries all of it on as many cores as there are
and writes this page; \`npm run proof NAME\` tries one part, \`--of COUNT\` the first items of it. It goes on where it was
stopped. Every item has a number, which is its seed: the same number tries the same thing.
`;

const thousands = (count: number): string => String(count).replace(/\B(?=(\d{3})+$)/g, ' ');
/** Failures that are told; the rest is counted. */
const TOLD = 20;

/** Writes what is known of all parts. */
export function writePage(path: string, kept: Kept): void {
  const parts = PARTS.map((part) => {
    const { outcome, items, seconds } = sumOf(kept[part.name]);
    const { failures } = outcome;
    const lines = [
      `## ${part.name}`,
      '',
      `${part.promise}.`,
      '',
      `- **Against:** ${part.against}.`,
      items === 0
        ? '- **Not tried yet.**'
        : `- **Tried:** ${thousands(items)} of ${thousands(part.count)} ${part.items}, numbers 0 to ${items - 1}, in ${Math.round(seconds)} s of one core, at ${kept[part.name].code}.`,
    ];
    if (items === 0) return lines.join('\n');
    const counts = Object.entries(outcome.tried).sort(([a], [b]) => a.localeCompare(b));
    lines.push(`- **How much:** ${counts.map(([what, count]) => `${thousands(count)} ${what}`).join('; ')}.`);
    const figures = Object.entries(outcome.figures);
    if (figures.length > 0)
      lines.push(
        '- **The worst:**',
        ...figures.map(([what, value]) => `  - ${Number(value.toPrecision(3))} ${what}`).sort(),
      );
    lines.push(`- **Came out:** ${failures.length === 0 ? 'nothing failed' : `${failures.length} failed`}.`);
    for (const failure of failures.slice(0, TOLD))
      lines.push(`  - ${failure.split('\n')[0].replace(/\s+/g, ' ').slice(0, 300)}`);
    return lines.join('\n');
  });
  writeFileSync(path, `${HEAD}\n${parts.join('\n\n')}\n`);
}
