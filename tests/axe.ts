import type { Page } from '@playwright/test';
import axe from 'axe-core';

/** Runs axe in the page (past its content security policy) and gives what it found: rule and places. */
export default async function findings(page: Page): Promise<{ rule: string; places: string[] }[]> {
  await page.evaluate(axe.source);
  const { violations } = await page.evaluate(() =>
    (window as unknown as { axe: typeof axe }).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'best-practice'],
    }),
  );
  return violations.map(({ id, nodes }) => ({ rule: id, places: nodes.map((node) => node.html.slice(0, 160)) }));
}
