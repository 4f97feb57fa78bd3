/**
 * Random acts from inside the page, hundreds in a second: what hands do, told to the elements themselves. Hands from
 * outside (see `walks.ts`) are slower by a factor of ten, and truer.
 */
import type { Page } from '@playwright/test';
import type { Walk, Walked } from './actsInside';
import { bundle } from './browser';

/** Keys as hands from outside name them, as the page hears them. */
const KEYS = [
  'Control+z',
  'Control+Shift+z',
  'Escape',
  'PageDown',
  'PageUp',
  ' ',
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
const SLIDER_KEYS = ['ArrowLeft', 'ArrowRight', 'Home', 'End', 'Delete', 'ArrowUp', 'PageUp', '5', '-', 'Enter'];
const TEXTS = ['', '-9e99', '12', 'C#4', '0', '½ “odd” 名', '1e309', ' ', '\u202e', 'x'.repeat(300)];

/** So many acts by this seed, wherever the page is. Each waits until the page has answered the one before. */
export async function walkInside(page: Page, seed: number, acts: number, notPressed: RegExp): Promise<Walked> {
  const walk: Walk = { seed, acts, notPressed: notPressed.source, keys: KEYS, sliderKeys: SLIDER_KEYS, texts: TEXTS };
  code ??= await bundle('bench/actsInside.ts', 'inside');
  return page.evaluate<Walked>(`${code};inside.act(${JSON.stringify(walk)})`);
}
let code: string | undefined;
