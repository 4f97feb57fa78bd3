/**
 * Random acts from inside the page, hundreds in a second: what hands do, told to the elements themselves. Hands from
 * outside (see `walks.ts`) are slower by a factor of ten, and truer.
 */
import type { Page } from '@playwright/test';
import type { Walk } from './actsInside';
import { bundle } from './browser';

/** Keys that hands press, as a driver of browsers names them. */
export const KEYS = [
  'Control+z',
  'Control+Shift+z',
  'Escape',
  'PageDown',
  'PageUp',
  'Space',
  'h',
  'm',
  's',
  'Control+d',
  'Delete',
  'Control+a',
  'Control+c',
  'Control+v',
  'Control+k',
  'Enter',
  'Tab',
  'F1',
  'r',
  't',
  'c',
];
export const SLIDER_KEYS = ['ArrowLeft', 'ArrowRight', 'Home', 'End', 'Delete', 'ArrowUp', 'PageUp', '5', '-', 'Enter'];
const TEXTS = ['', '-9e99', '12', 'C#4', '0', '½ “odd” 名', '1e309', ' ', '\u202e', 'x'.repeat(300)];

/**
 * So many acts by this seed, wherever the page is, counted by their kind. Each waits until the page has answered the
 * one before.
 */
export async function walkInside(
  page: Page,
  seed: number,
  acts: number,
  notPressed: RegExp,
): Promise<Record<string, number>> {
  const walk: Walk = { seed, acts, notPressed: notPressed.source, keys: KEYS, sliderKeys: SLIDER_KEYS, texts: TEXTS };
  code ??= await bundle('bench/actsInside.ts', 'inside');
  return page.evaluate<Record<string, number>>(`${code};inside.act(${JSON.stringify(walk)})`);
}
let code: string | undefined;
